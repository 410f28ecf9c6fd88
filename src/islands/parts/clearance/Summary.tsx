import type { CheckDetail, CheckedTrackWire, PointWire, VerdictWire } from '../../../contract'
import { isBarred } from '../../../core/clearance'
import { messages } from '../../../messages'
import { clock } from '../../format/words'
import { VerdictMark } from '../shared/VerdictMark'
import { keyOfPoint, POINT_WORDS } from './point-words'
import { notExaminedWords, summarySentence } from './summary-sentence'

const VERDICTS: readonly VerdictWire[] = ['not-allowed', 'no-papers', 'owes-credit', 'clear']

interface SummaryProps {
  readonly check: CheckDetail
  readonly track: CheckedTrackWire | null
  readonly onPick: (detectionId: number, startS: number) => void
  readonly onSeek: (timeS: number) => void
}

/** What the check comes to, beside the video: the state in a sentence, the verdicts, the first open points, the facts of the file. */
export function Summary({ check, track, onPick, onSeek }: SummaryProps) {
  const { findings } = check
  const count = (verdict: VerdictWire): number => findings.filter((finding) => finding.verdict === verdict).length
  const onWord = findings.filter(({ ground }) => ground?.declared).length
  return (
    <section aria-label={messages.clearance.summary} className="flex flex-col justify-between gap-4">
      <div>
        <p className="font-display text-3xl font-semibold leading-tight" data-testid="summary">
          {summarySentence(check.videoState)}
        </p>
        <ul className="mt-4 flex flex-wrap gap-x-6 gap-y-2" aria-label={messages.clearance.verdicts}>
          {VERDICTS.filter((verdict) => count(verdict) > 0).map((verdict) => (
            <li key={verdict} className="flex items-center gap-2" data-verdict={verdict}>
              <span className="font-display text-2xl font-semibold">{count(verdict)}</span>
              <VerdictMark verdict={verdict} />
            </li>
          ))}
        </ul>
        {onWord > 0 && (
          <p className="quiet mt-2 text-sm" data-testid="on-word">
            {messages.clearance.onTheCreatorsWordAlone(onWord)}
          </p>
        )}
        <OpenList check={check} onPick={onPick} onSeek={onSeek} />
      </div>
      <dl className="flex flex-wrap gap-x-8 gap-y-2 text-sm">
        <Fact name={messages.common.file}>{check.fileName}</Fact>
        {track && <Fact name={messages.common.length}>{lengthWords(track)}</Fact>}
        {track?.map && <Loudness map={track.map} />}
        <Fact name={messages.clearance.listenedFor}>{messages.counts.sounds(check.listenedFor)}</Fact>
        <Fact name={messages.clearance.notExamined}>{notExaminedWords(check)}</Fact>
        {check.factsSha256 && (
          <Fact name={messages.clearance.factsOfTheCheck}>
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
      <Fact name={messages.common.loudness}>
        {map.integratedLufs === null
          ? messages.clearance.silent
          : messages.clearance.lufs(map.integratedLufs.toFixed(1))}
      </Fact>
      <Fact name={messages.clearance.truePeak}>
        {map.truePeakDbtp === null ? '–' : messages.clearance.dbtp(map.truePeakDbtp.toFixed(1))}
      </Fact>
      {map.loudnessRangeLu !== null && (
        <Fact name={messages.clearance.loudnessRange}>{messages.clearance.lu(map.loudnessRangeLu.toFixed(1))}</Fact>
      )}
    </>
  )
}

/** "0:21.1 of 0:38.0" when the track breaks off. */
function lengthWords({ durationS, missing }: CheckedTrackWire): string {
  const statedS = Math.max(durationS, ...missing.map(({ endS }) => endS))
  return statedS > durationS ? messages.clearance.partOfLength(clock(durationS), clock(statedS)) : clock(durationS)
}

/** Open matters listed beside the video; when there are more, they are found below. */
const OPEN_SHOWN = 4

interface OpenMatter {
  readonly key: string
  readonly name: string
  readonly sentence: string
  /** Null when it is about the whole of the file. */
  readonly startS: number | null
  readonly detectionId: number | null
}

/** What was not examined comes first: the rest rests on it. Then sounds, then what nothing explains. */
function openMatters({ points, findings }: CheckDetail): OpenMatter[] {
  const barred = findings.filter(isBarred)
  const open = points.filter(({ isOpen }) => isOpen)
  const ofPoint = (point: PointWire): OpenMatter => ({
    key: keyOfPoint(point),
    name: POINT_WORDS[point.kind],
    sentence: point.sentence,
    startS: point.places[0]?.startS ?? null,
    detectionId: null,
  })
  return [
    ...open.filter(({ isUnexamined }) => isUnexamined).map(ofPoint),
    ...barred.map(({ soundId, title, sentence, detections }) => ({
      key: `sound ${soundId}`,
      name: title,
      sentence,
      startS: detections[0]?.startS ?? null,
      detectionId: detections[0]?.id ?? null,
    })),
    ...open.filter(({ isUnexamined }) => !isUnexamined).map(ofPoint),
  ]
}

function OpenList({ check, onPick, onSeek }: Pick<SummaryProps, 'check' | 'onPick' | 'onSeek'>) {
  const open = openMatters(check)
  if (open.length === 0) return null
  return (
    <ul aria-label={messages.clearance.openPoints} className="mt-4">
      {open.slice(0, OPEN_SHOWN).map(({ key, name, sentence, startS, detectionId }) => (
        <li key={key} className="grid grid-cols-[3.5rem_1fr] gap-x-3 border-t ruled py-1.5">
          {startS === null ? (
            <span className="quiet">{messages.clearance.allOfIt}</span>
          ) : (
            <button
              type="button"
              className="justify-self-start self-start underline decoration-from-font underline-offset-2"
              aria-label={messages.clearance.playInTheVideo(name)}
              onClick={() => (detectionId === null ? onSeek(startS) : onPick(detectionId, startS))}
            >
              {clock(startS)}
            </button>
          )}
          <span className="min-w-0">
            <span className="font-semibold">{name}.</span> {sentence}
          </span>
        </li>
      ))}
      {open.length > OPEN_SHOWN && (
        <li className="quiet border-t ruled py-1.5">{messages.clearance.moreBelow(open.length - OPEN_SHOWN)}</li>
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
