import { Archive } from 'lucide-react'
import { useForm } from 'react-hook-form'
import { BackupPlan, type BackupWire } from '../../../contract'
import { messages } from '../../../messages'
import { useBackUp, useBackups, useSaveBackupPlan } from '../../api/doctor-queries'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { momentWords, sizeWords } from '../../format/words'
import { Failed, Loading } from '../shared/States'

/** Backups: into which folder they go, how often, what the last one came to. */
export function Backups() {
  const query = useBackups()
  return (
    <section aria-labelledby="backups" className="mt-10 border-t ruled pt-5">
      <h2 id="backups" className="text-xl font-semibold">
        {messages.sources.backups}
      </h2>
      {query.isPending && <Loading what={messages.sources.looking} />}
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {query.data && <PlanForm key={JSON.stringify(query.data.plan)} backups={query.data} />}
    </section>
  )
}

interface Fields {
  folder: string
  keepCount: number
  everyDays: string
}

function PlanForm({ backups }: { backups: BackupWire }) {
  const { plan, last } = backups
  const save = useSaveBackupPlan()
  const backUp = useBackUp()
  const job = useJobOf('backup', 'all')
  const running = isUnderWay(job)
  const { register, handleSubmit } = useForm<Fields>({
    defaultValues: {
      folder: plan?.folder ?? '',
      keepCount: plan?.keepCount ?? 7,
      everyDays: String(plan?.everyDays ?? (plan ? '' : 1)),
    },
  })
  const submit = handleSubmit(async ({ folder, keepCount, everyDays }) => {
    const wanted = BackupPlan.safeParse({
      folder: folder.trim(),
      keepCount: Number(keepCount),
      everyDays: everyDays === '' ? null : Number(everyDays),
    })
    if (!wanted.success) return
    await save.mutateAsync(wanted.data).then(
      () => backUp.mutate(),
      () => undefined,
    )
  })
  const problem = save.error ?? backUp.error
  return (
    <>
      <p className={last ? 'mt-1' : 'quiet mt-1'}>
        {last
          ? messages.sources.theLastOneOfWhich(
              momentWords(last.at),
              messages.counts.files(last.fileCount),
              sizeWords(last.bytes),
              sizeWords(last.newBytes),
            )
          : messages.sources.noBackupYetABackup}
      </p>
      <form className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2" onSubmit={(event) => void submit(event)}>
        <label className="block min-w-64 flex-1">
          <span className="small-label block">{messages.sources.folderWithItsWholePath}</span>
          <input className="input input-sm w-full" spellCheck={false} {...register('folder', { required: true })} />
        </label>
        <label className="block">
          <span className="small-label block">{messages.sources.howOften}</span>
          <select className="select select-sm" {...register('everyDays')}>
            <option value="1">{messages.sources.eachDay}</option>
            <option value="7">{messages.sources.eachWeek}</option>
            <option value="">{messages.sources.onlyByHand}</option>
          </select>
        </label>
        <label className="block w-20">
          <span className="small-label block">{messages.sources.keep}</span>
          <input
            className="input input-sm w-full tabular-nums"
            type="number"
            min={1}
            max={100}
            {...register('keepCount')}
          />
        </label>
        <button type="submit" className="btn btn-sm" disabled={running || save.isPending}>
          <Archive size={15} aria-hidden="true" /> {running ? job.message : messages.sources.saveAndBackUpNow}
        </button>
      </form>
      {job?.state === 'failed' && (
        <p role="alert" className="mt-2 text-error">
          {job.message}
        </p>
      )}
      {problem && (
        <p role="alert" className="mt-2 text-error">
          {problem.message}
        </p>
      )}
    </>
  )
}
