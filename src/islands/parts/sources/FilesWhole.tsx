import { ShieldCheck } from 'lucide-react'
import type { DoctorReport } from '../../../contract'
import { useDoctor, useExamine, useRepair } from '../../api/doctor-queries'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { counted, momentWords, sizeWords } from '../../format/words'
import { Failed, Loading } from '../shared/States'

const REPAIR_WORDS: Readonly<Record<DoctorReport['damages'][number]['repair'], string>> = {
  'fetch again': 'It can be fetched again.',
  'read again': 'It is read again from your folder, if it still lies there.',
  'make again': 'It can be made again.',
  restore: 'It can be restored from a backup.',
  forget: 'It can be removed.',
  none: '',
}

/** Whether every stored file is as it was stored, and what repairs what is not. */
export function FilesWhole() {
  const query = useDoctor()
  const examine = useExamine()
  const repair = useRepair()
  const job = useJobOf('doctor', 'all')
  const running = isUnderWay(job)
  const report = query.data?.report
  return (
    <section aria-labelledby="files-whole" className="mt-10 border-t ruled pt-5">
      <h2 id="files-whole" className="text-xl font-semibold">
        Are all files whole?
      </h2>
      {query.isPending && <Loading what="Looking" />}
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {query.data && !report && <p className="quiet mt-1">Not checked yet. It is checked once a week by itself.</p>}
      {report && <Report report={report} />}
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="btn btn-sm"
          disabled={running || examine.isPending}
          onClick={() => examine.mutate()}
        >
          <ShieldCheck size={15} aria-hidden="true" /> {running ? job.message : 'Check now'}
        </button>
        {report && report.damages.length > 0 && (
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={running || repair.isPending}
            onClick={() => repair.mutate()}
          >
            Repair what can be repaired
          </button>
        )}
      </div>
      {repair.data && (
        <p role="status" className="mt-2">
          {repair.data.sentence}
        </p>
      )}
      {(repair.error ?? examine.error) && (
        <p role="alert" className="mt-2 text-error">
          {(repair.error ?? examine.error)?.message}
        </p>
      )}
    </section>
  )
}

function Report({ report }: { report: DoctorReport }) {
  const { at, fileCount, bytes, damages, remaking } = report
  return (
    <>
      <p className={`mt-1 ${damages.length > 0 ? 'font-semibold text-error' : ''}`}>
        {damages.length === 0
          ? `${counted(fileCount, 'file')} (${sizeWords(bytes)}), the tables and the ledger are as they were stored.`
          : `${counted(damages.length, 'thing is', 'things are')} damaged or missing.`}{' '}
        <span className="quiet font-normal">{momentWords(at)}</span>
      </p>
      {remaking > 0 && (
        <p className="quiet mt-1">What hearing needs of {counted(remaking, 'sound')} is being made again.</p>
      )}
      {damages.length > 0 && (
        <ul className="mt-2 max-h-72 max-w-3xl space-y-1 overflow-y-auto border-l-2 border-error pl-3">
          {damages.map(({ sentence, repair, sha256 }) => (
            <li key={`${sha256} ${sentence}`}>
              {sentence} <span className="quiet">{REPAIR_WORDS[repair]}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  )
}
