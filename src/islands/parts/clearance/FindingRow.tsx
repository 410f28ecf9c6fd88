import { Download } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'wouter'
import type { FindingWire, RelativeWire } from '../../../contract'
import { isBarred } from '../../../core/clearance'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { useDownload } from '../../api/queries'
import { placeRuns, runWords } from '../../format/places'
import { treatmentWords } from '../../format/words'
import { OnTheWordOf } from '../shared/OnTheWordOf'
import { VerdictMark } from '../shared/VerdictMark'
import { Quote, Reasons } from '../terms/Reasons'

interface FindingRowProps {
  readonly finding: FindingWire
  readonly selectedId: number | null
  readonly onPick: (detectionId: number, startS: number) => void
}

/** One finding: verdict, the deciding reason with its words, where it is heard, what would settle it. */
export function FindingRow({ finding, selectedId, onPick }: FindingRowProps) {
  const [whole, setWhole] = useState(false)
  const deciding = finding.reasons[0]
  const open = isBarred(finding)
  return (
    <li className="border-t ruled py-4" data-finding={finding.title}>
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h3 className="text-lg font-semibold">{finding.title}</h3>
        <VerdictMark verdict={finding.verdict} />
      </div>
      <p className="quiet text-sm">
        {[finding.maker, finding.sourceName, finding.licence].filter(Boolean).join(' · ')}
      </p>
      <p className="mt-1.5 max-w-3xl">{finding.sentence}</p>
      {deciding?.quote && finding.verdict !== 'no-papers' && <Quote text={deciding.quote} />}
      <Places finding={finding} selectedId={selectedId} onPick={onPick} />
      {finding.ground && (
        <p className="quiet mt-2 text-sm" data-testid="ground">
          {messages.clearance.restsOn(
            <Link
              href={`/papers?q=${encodeURIComponent(finding.ground.title)}`}
              className="underline underline-offset-2"
            >
              {messages.clearance.thePapersOf(finding.ground.title)}
            </Link>,
            finding.ground.why,
          )}{' '}
          <OnTheWordOf declared={finding.ground.declared} />
        </p>
      )}
      <Alternatives finding={finding} />
      {open && (
        <div className="mt-3">
          <p className="small-label">{messages.common.whatWouldSettleIt}</p>
          <ul className="list-disc pl-5">
            {finding.settlements.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ul>
          {finding.verdict === 'no-papers' && !finding.sold && <Acquire finding={finding} />}
        </div>
      )}
      <button
        type="button"
        className="btn btn-ghost btn-xs mt-2 -ml-2"
        aria-expanded={whole}
        onClick={() => setWhole(!whole)}
      >
        {whole ? messages.clearance.hideTheClauses : messages.clearance.allClauses(finding.reasons.length)}
      </button>
      {whole && (
        <div className="mt-2 max-w-3xl">
          <Reasons reasons={finding.reasons} />
        </div>
      )}
    </li>
  )
}

/** So many places are shown until all are asked for: a sound may be used hundreds of times. */
const PLACES_SHOWN = 12

/** Where a sound is heard; what is looped is one place. */
function Places({ finding, selectedId, onPick }: FindingRowProps) {
  const [all, setAll] = useState(false)
  const runs = placeRuns(finding.detections)
  const shown = all ? runs : runs.slice(0, PLACES_SHOWN)
  return (
    <ul className="mt-2 flex flex-wrap gap-2" aria-label={messages.clearance.whereIsHeard(finding.title)}>
      {shown.map((run) => {
        const { first, weakest, places } = run
        const isSelected = places.some(({ id }) => id === selectedId)
        return (
          <li key={first.id}>
            <button
              type="button"
              className={`rounded border px-2 py-0.5 text-sm hover:bg-base-200 ${isSelected ? 'border-base-content bg-base-200 font-semibold' : 'ruled'}`}
              onClick={() => onPick(first.id, first.startS)}
            >
              {runWords(run)}
              <span className="quiet">
                {' '}
                ·{' '}
                {[weakest.certainty, messages.clearance.db(first.gainDb.toFixed(0)), treatmentWords(first)]
                  .filter(Boolean)
                  .join(', ')}
              </span>
            </button>
          </li>
        )
      })}
      {runs.length > shown.length && (
        <li>
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => setAll(true)}>
            {messages.clearance.allPlaces(runs.length)}
          </button>
        </li>
      )}
    </ul>
  )
}

/** Other sounds that this may as well be: they are no findings of their own. */
function Alternatives({ finding }: { finding: FindingWire }) {
  const named = (same: boolean): string =>
    finding.alternatives
      .filter(({ sameRecording }) => sameRecording === same)
      .map(({ title, sourceName }) => `${title} (${sourceName})`)
      .join(', ')
  const relatives = (relation: RelativeWire['relation']): string =>
    finding.relatives
      .filter((one) => one.relation === relation)
      .map(({ title, sourceName }) => `“${title}” (${sourceName})`)
      .join(', ')
  return (
    <>
      {finding.stems.length > 0 && (
        <p className="quiet mt-2 text-sm">{messages.clearance.heardInItAsThey(finding.stems.join(', '))}</p>
      )}
      {named(true) && <p className="quiet mt-2 text-sm">{messages.clearance.theSameRecordingAs(named(true))}</p>}
      {relatives('lies-in-it') && (
        <p className="quiet mt-2 text-sm">{messages.clearance.liesInItThatIs(relatives('lies-in-it'))}</p>
      )}
      {relatives('holds-it') && (
        <p className="quiet mt-2 text-sm">{messages.clearance.itLiesInALonger(relatives('holds-it'))}</p>
      )}
      {named(false) && <p className="quiet mt-2 text-sm">{messages.clearance.itMayAlsoBeThey(named(false))}</p>}
    </>
  )
}

function Acquire({ finding }: { finding: FindingWire }) {
  const download = useDownload()
  const job = useJobOf('download', String(finding.soundId))
  const running = isUnderWay(job)
  return (
    <>
      <button
        type="button"
        className="btn btn-sm mt-2"
        disabled={running || download.isPending}
        onClick={() => download.mutate({ id: finding.soundId })}
      >
        <Download size={16} aria-hidden="true" />{' '}
        {running ? job.message : messages.clearance.downloadItFrom(finding.sourceName)}
      </button>
      {job?.state === 'failed' && (
        <p role="alert" className="mt-1 text-error">
          {job.message}
        </p>
      )}
    </>
  )
}
