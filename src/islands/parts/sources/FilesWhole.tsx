import { ShieldCheck } from 'lucide-react'
import type { DoctorReport } from '../../../contract'
import { messages } from '../../../messages'
import { useDoctor, useExamine, useRepair } from '../../api/doctor-queries'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { momentWords, sizeWords } from '../../format/words'
import { Failed, Loading } from '../shared/States'

const REPAIR_WORDS: Readonly<Record<DoctorReport['damages'][number]['repair'], string>> = {
  'fetch again': messages.sources.itCanBeFetchedAgain,
  'read again': messages.sources.itIsReadAgainFrom,
  'make again': messages.sources.itCanBeMadeAgain,
  restore: messages.sources.itCanBeRestoredFrom,
  forget: messages.sources.itCanBeRemoved,
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
        {messages.sources.areAllFilesWhole}
      </h2>
      {query.isPending && <Loading what={messages.sources.looking} />}
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {query.data && !report && <p className="quiet mt-1">{messages.sources.notCheckedYetItIs}</p>}
      {report && <Report report={report} />}
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="btn btn-sm"
          disabled={running || examine.isPending}
          onClick={() => examine.mutate()}
        >
          <ShieldCheck size={15} aria-hidden="true" /> {running ? job.message : messages.sources.checkNow}
        </button>
        {report && report.damages.length > 0 && (
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={running || repair.isPending}
            onClick={() => repair.mutate()}
          >
            {messages.sources.repairWhatCanBeRepaired}
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
          ? messages.sources.theTablesAndTheLedger(messages.counts.files(fileCount), sizeWords(bytes))
          : messages.sources.damagedOrMissing(messages.counts.thingsAre(damages.length))}{' '}
        <span className="quiet font-normal">{momentWords(at)}</span>
      </p>
      {remaking > 0 && (
        <p className="quiet mt-1">{messages.sources.whatHearingNeedsOfIs(messages.counts.sounds(remaking))}</p>
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
