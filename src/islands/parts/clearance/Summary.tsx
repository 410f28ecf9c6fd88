import type { CheckDetail, CheckedTrackWire, FindingWire, VerdictWire } from '../../../contract'
import { clock, counted } from '../../format/words'
import { VerdictMark } from '../shared/VerdictMark'
import { notExaminedWords, summarySentence } from './summary-sentence'

const VERDICTS: readonly VerdictWire[] = ['not-allowed', 'no-papers', 'owes-credit', 'clear']

interface SummaryProps {
  readonly check: CheckDetail
  readonly track: CheckedTrackWire | null
  readonly onPick: (detectionId: number, startS: number) => void
}

/** What the check comes to, beside the video: the state in a sentence, the verdicts, the first open points, the facts of the file. */
export function Summary({ check, track, onPick }: SummaryProps) {
  const { findings } = check
  const count = (verdict: VerdictWire): number => findings.filter((finding) => finding.verdict === verdict).length
  return (
    <section aria-label="Summary" className="flex flex-col justify-between gap-4">
      <div>
        <p className="font-display text-3xl font-semibold leading-tight" data-testid="summary">
          {summarySentence(check.videoState)}
        </p>
        <ul className="mt-4 flex flex-wrap gap-x-6 gap-y-2" aria-label="Verdicts">
          {VERDICTS.filter((verdict) => count(verdict) > 0).map((verdict) => (
            <li key={verdict} className="flex items-center gap-2" data-verdict={verdict}>
              <span className="font-display text-2xl font-semibold">{count(verdict)}</span>
              <VerdictMark verdict={verdict} />
            </li>
          ))}
        </ul>
        <OpenList findings={findings} onPick={onPick} />
      </div>
      <dl className="flex flex-wrap gap-x-8 gap-y-2 text-sm">
        <Fact name="File">{check.fileName}</Fact>
        {track && <Fact name="Length">{clock(track.durationS)}</Fact>}
        {track?.map && <Loudness map={track.map} />}
        <Fact name="Listened for">{counted(check.listenedFor, 'sound')}</Fact>
        <Fact name="Not examined">{notExaminedWords(check)}</Fact>
        {check.factsSha256 && (
          <Fact name="Facts of the check">
            <a href={`/api/checks/${check.id}/facts`} className="underline underline-offset-2" download>
              {check.factsSha256.slice(0, 12)}
            </a>
          </Fact>
        )}
      </dl>
    </section>
  )
}

function Loudness({ map }: { readonly map: NonNullable<CheckedTrackWire['map']> }) {
  return (
    <>
      <Fact name="Loudness">{map.integratedLufs === null ? 'silent' : `${map.integratedLufs.toFixed(1)} LUFS`}</Fact>
      <Fact name="True peak">{map.truePeakDbtp === null ? '–' : `${map.truePeakDbtp.toFixed(1)} dBTP`}</Fact>
      {map.loudnessRangeLu !== null && <Fact name="Loudness range">{map.loudnessRangeLu.toFixed(1)} LU</Fact>}
    </>
  )
}

/** Open sounds listed beside the video; more are found below. */
const OPEN_SHOWN = 3

function OpenList({
  findings,
  onPick,
}: {
  readonly findings: readonly FindingWire[]
  readonly onPick: SummaryProps['onPick']
}) {
  const open = findings.filter(({ verdict }) => verdict === 'no-papers' || verdict === 'not-allowed')
  if (open.length === 0) return null
  return (
    <ul aria-label="Open points" className="mt-4 max-w-2xl">
      {open.slice(0, OPEN_SHOWN).map((finding) => {
        const first = finding.detections[0]
        return (
          <li key={finding.soundId} className="grid grid-cols-[auto_1fr] gap-x-3 border-t ruled py-1.5">
            <button
              type="button"
              className="self-start underline decoration-from-font underline-offset-2"
              aria-label={`Play ${finding.title} in the video`}
              onClick={() => first && onPick(first.id, first.startS)}
            >
              {clock(first?.startS ?? 0)}
            </button>
            <span className="min-w-0">
              <span className="font-semibold">{finding.title}.</span> {finding.sentence}
            </span>
          </li>
        )
      })}
      {open.length > OPEN_SHOWN && (
        <li className="quiet border-t ruled py-1.5">{open.length - OPEN_SHOWN} more below</li>
      )}
    </ul>
  )
}

function Fact({ name, children }: { readonly name: string; readonly children: React.ReactNode }) {
  return (
    <div className="min-w-0">
      <dt className="small-label">{name}</dt>
      <dd className="break-words">{children}</dd>
    </div>
  )
}
