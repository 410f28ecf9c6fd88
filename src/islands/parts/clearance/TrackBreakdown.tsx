import type { CheckedTrackWire, SensitivityWire, TrackBreakdownWire } from '../../../contract'
import { useFindLikePart } from '../../api/find-queries'
import { clock, counted, lengthWords, shareWords } from '../../format/words'

/** Unexplained events and unheard sounds that are listed before the rest is folded away. */
const EVENTS_SHOWN = 6

/** What the track is made of beside the findings, what stands out unexplained, and how far the check can be trusted. */
export function TrackBreakdown({
  videoId,
  track,
  onSeek,
}: {
  videoId: number
  track: CheckedTrackWire
  onSeek: (timeS: number) => void
}) {
  const { breakdown, sensitivity, decoys } = track
  if (track.notListenedReason !== null) return null
  return (
    <section aria-label="The rest of the track" className="border-t ruled pt-5">
      <h2 className="text-2xl font-semibold">The rest of the track</h2>
      <p className="mt-1 max-w-3xl">{restSentence(breakdown)}</p>
      <div className="mt-4 grid grid-cols-2 gap-10 max-md:grid-cols-1">
        <Unexplained videoId={videoId} breakdown={breakdown} onSeek={onSeek} />
        <div>
          <h3 className="font-semibold">How far this can be trusted</h3>
          <p className="mt-1">{trustSentence(decoys)}</p>
          <Unheard sensitivity={sensitivity} />
        </div>
      </div>
    </section>
  )
}

/** What the track is made of, in a sentence or two. */
export function restSentence({ secondsOf, explainedFraction, unexplained }: TrackBreakdownWire): string {
  const parts = (
    [
      ['speech', secondsOf.speech],
      ['music', secondsOf.music],
      ['a bed of noise', secondsOf.noise],
      ['silence', secondsOf.silence],
    ] as const
  )
    .filter(([, seconds]) => seconds >= 0.5)
    .sort((a, b) => b[1] - a[1])
    .map(([name, seconds]) => `${lengthWords(seconds)} of ${name}`)
  const made =
    parts.length > 0 ? `Beside the findings there is ${parts.join(', ')}.` : 'There is nothing beside the findings.'
  const left =
    unexplained.length === 0
      ? 'Nothing else stands out.'
      : `${shareWords(explainedFraction)} of the track is explained.`
  return `${made} ${left}`
}

/** What the listening for sounds that cannot be there says, in a sentence. */
export function trustSentence({ listenedFor, heard }: CheckedTrackWire['decoys']): string {
  if (listenedFor === 0) return 'Nothing was listened for.'
  const tried = `${counted(listenedFor, 'sound')} that cannot be in the track, because ${listenedFor === 1 ? 'it was' : 'they were'} turned backwards, ${listenedFor === 1 ? 'was' : 'were'} listened for too`
  if (heard === 0) return `${tried}, and none was heard.`
  return `${tried}, and ${heard} seemed to be there: take what is only possible with care.`
}

interface UnexplainedProps {
  readonly breakdown: TrackBreakdownWire
  readonly videoId: number
  readonly onSeek: (timeS: number) => void
}

function Unexplained({ breakdown, videoId, onSeek }: UnexplainedProps) {
  const { unexplained } = breakdown
  const { findLike, error } = useFindLikePart()
  return (
    <div>
      <h3 className="font-semibold">Unexplained</h3>
      {unexplained.length === 0 ? (
        <p className="quiet mt-1">No event stands out that is neither speech, music nor a sound of your libraries.</p>
      ) : (
        <>
          <p className="quiet mt-1">
            {counted(unexplained.length, 'event')} that {unexplained.length === 1 ? 'is' : 'are'} no sound of your
            libraries. Say above where they are from.
          </p>
          <details className="mt-2" open={unexplained.length <= EVENTS_SHOWN}>
            <summary className="cursor-pointer">Where they are</summary>
            <ul aria-label="Unexplained events" className="mt-1 max-h-64 overflow-y-auto">
              {unexplained.map((event) => (
                <li key={event.startS} className="flex items-baseline gap-3 py-0.5">
                  <button
                    type="button"
                    className="underline decoration-from-font underline-offset-2"
                    aria-label={`Play the event at ${clock(event.startS)}`}
                    onClick={() => onSeek(event.startS)}
                  >
                    {clock(event.startS)}
                  </button>
                  <span className="quiet text-sm">
                    {lengthWords(event.endS - event.startS)}, {event.lowHz.toLocaleString('en-GB')} to{' '}
                    {event.highHz.toLocaleString('en-GB')} Hz, {event.levelDb.toFixed(0)} dB
                  </span>
                  <button
                    type="button"
                    className="text-sm underline decoration-from-font underline-offset-2"
                    aria-label={`Find sounds like the event at ${clock(event.startS)}`}
                    onClick={() => findLike({ videoId, startS: event.startS, endS: event.endS })}
                  >
                    Sounds like it
                  </button>
                </li>
              ))}
            </ul>
          </details>
          {error && (
            <p role="alert" className="text-error">
              {error.message}
            </p>
          )}
        </>
      )}
    </div>
  )
}

/** From which level the sounds that were not heard would have been. */
function Unheard({ sensitivity }: { sensitivity: readonly SensitivityWire[] }) {
  if (sensitivity.length === 0) return null
  const levels = sensitivity.flatMap(({ fromDb }) => (fromDb === null ? [] : [fromDb])).sort((a, b) => a - b)
  const middle = levels[levels.length >> 1]
  return (
    <>
      {middle !== undefined && (
        <p className="mt-2">
          {counted(sensitivity.length, 'sound')} {sensitivity.length === 1 ? 'was' : 'were'} not heard. Half of them
          would have been from {levelWords(middle)} upward, against their files.
        </p>
      )}
      <details className="mt-2">
        <summary className="cursor-pointer">From which level each would have been heard</summary>
        <ul aria-label="Sounds that were not heard" className="mt-1 max-h-64 overflow-y-auto text-sm">
          {sensitivity.map(({ soundId, title, fromDb }) => (
            <li key={soundId} className="flex justify-between gap-4 py-0.5 pr-3" style={{ contentVisibility: 'auto' }}>
              <span className="min-w-0 truncate">{title}</span>
              <span className="quiet whitespace-nowrap">
                {fromDb === null ? 'at no level for sure' : `from ${levelWords(fromDb)}`}
              </span>
            </li>
          ))}
        </ul>
      </details>
    </>
  )
}

function levelWords(levelDb: number): string {
  return `${levelDb > 0 ? '+' : levelDb < 0 ? '\u2212' : ''}${Math.abs(levelDb).toFixed(0)} dB`
}
