import type { CheckDetail, CheckedTrackWire, SensitivityWire, TrackBreakdownWire } from '../../../contract'
import type { TimeRange } from '../../../core/time-range'
import { messages } from '../../../messages'
import { useFindLikePart } from '../../api/find-queries'
import { usePartWords } from '../../api/word-queries'
import { clock, lengthWords, shareWords } from '../../format/words'

type CheckedFile = Pick<CheckDetail, 'videoId' | 'exportId'>

/** Unexplained events and unheard sounds that are listed before the rest is folded away. */
const EVENTS_SHOWN = 6
/** Of so many events it is said what they sound like: each takes a moment to be described. */
const EVENTS_DESCRIBED = 12
const WORDS_SHOWN = 3
/** Less of something in a track is not spoken of, s. */
const SAID_MIN_S = 0.5

/** What the track is made of beside the findings, what stands out unexplained, and how far the check can be trusted. */
export function TrackBreakdown({
  file,
  track,
  onSeek,
}: {
  /** The finished file, and the video that it is of. */
  file: CheckedFile
  track: CheckedTrackWire
  onSeek: (timeS: number) => void
}) {
  const { breakdown, sensitivity, decoys, otherSpeeds } = track
  if (track.notListenedReason !== null) return null
  return (
    <section aria-label={messages.clearance.theRestOfTheTrack} className="border-t ruled pt-5">
      <h2 className="text-2xl font-semibold">{messages.clearance.theRestOfTheTrack}</h2>
      <p className="mt-1 max-w-3xl">{restSentence(breakdown)}</p>
      <div className="mt-4 grid grid-cols-2 gap-10 max-md:grid-cols-1">
        <Unexplained file={file} breakdown={breakdown} onSeek={onSeek} isMain={track.index === 0} />
        <div>
          <h3 className="font-semibold">{messages.clearance.howFarThisCanBe}</h3>
          <p className="mt-1">{trustSentence(decoys)}</p>
          {speedSentences(otherSpeeds).map((sentence) => (
            <p key={sentence} className="mt-2">
              {sentence}
            </p>
          ))}
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
      [messages.clearance.aBedOfNoise, secondsOf.noise],
      ['silence', secondsOf.silence],
    ] as const
  )
    .filter(([, seconds]) => seconds >= SAID_MIN_S)
    .sort((a, b) => b[1] - a[1])
    .map(([name, seconds]) => messages.clearance.lengthOfSound(lengthWords(seconds), name))
  const made =
    parts.length > 0
      ? messages.clearance.besideTheFindingsThereIs(parts.join(', '))
      : messages.clearance.thereIsNothingBesideThe
  const left =
    unexplained.length === 0
      ? messages.clearance.nothingElseStandsOut
      : messages.clearance.ofTheTrackIsExplained(shareWords(explainedFraction))
  return `${made} ${left}`
}

/** Where nothing would stand out, in a sentence; null where everywhere something would. */
export function limitSentence({ secondsOf }: Pick<TrackBreakdownWire, 'secondsOf'>): string | null {
  if (secondsOf.speech < SAID_MIN_S) return null
  return messages.clearance.notNoticedUnderSpeech(lengthWords(secondsOf.speech))
}

/** What the listening for sounds that cannot be there says, in a sentence. */
export function trustSentence({ listenedFor, heard }: CheckedTrackWire['decoys']): string {
  if (listenedFor === 0) return messages.clearance.nothingWasListenedFor
  const tried = messages.clearance.thatCannotBeInTheTrack(listenedFor)
  if (heard === 0) return messages.clearance.andNoneWasHeard(tried)
  return messages.clearance.andSeemedToBeThere(tried, heard)
}

/** What was searched for at other speeds, and how; and that nothing was searched for backwards. */
export function speedSentences({ inFull, lookedUp, not }: CheckedTrackWire['otherSpeeds']): string[] {
  if (inFull + lookedUp + not === 0) return []
  return [
    ...(inFull > 0 ? [messages.clearance.speedsInFull(inFull)] : []),
    ...(lookedUp > 0 ? [messages.clearance.speedsLookedUp(lookedUp)] : []),
    ...(not > 0 ? [messages.clearance.speedsNot(not)] : []),
    messages.clearance.notBackwards,
  ]
}

/** How many of the sounds that were not heard are of a kind that is missed more often than others; null where none is. */
export function missedSentence(sensitivity: readonly Pick<SensitivityWire, 'kind'>[]): string | null {
  const countOf = (kind: SensitivityWire['kind']): number => sensitivity.filter((one) => one.kind === kind).length
  const [tones, clicks] = [countOf('tone'), countOf('click')]
  return tones + clicks > 0 ? messages.clearance.areMissedMoreOften(tones, clicks) : null
}

interface UnexplainedProps {
  readonly breakdown: TrackBreakdownWire
  readonly file: CheckedFile
  readonly onSeek: (timeS: number) => void
  /** Only of the first sound track can a part be described. */
  readonly isMain: boolean
}

function Unexplained({ breakdown, file, onSeek, isMain }: UnexplainedProps) {
  const { unexplained } = breakdown
  const { findLike, error } = useFindLikePart()
  const limit = limitSentence(breakdown)
  return (
    <div>
      <h3 className="font-semibold">{messages.clearance.unexplained}</h3>
      {unexplained.length === 0 ? (
        <p className="quiet mt-1">{messages.clearance.noEventStandsOutThat}</p>
      ) : (
        <>
          <p className="quiet mt-1">{messages.clearance.noSoundOfYourLibraries(unexplained.length)}</p>
          <details className="mt-2" open={unexplained.length <= EVENTS_SHOWN}>
            <summary className="cursor-pointer">{messages.clearance.whereTheyAre}</summary>
            <ul aria-label={messages.clearance.unexplainedEvents} className="mt-1 max-h-64 overflow-y-auto">
              {unexplained.map((event, at) => (
                <li key={event.startS} className="flex items-baseline gap-3 py-0.5">
                  <button
                    type="button"
                    className="underline decoration-from-font underline-offset-2"
                    aria-label={messages.clearance.playTheEventAt(clock(event.startS))}
                    onClick={() => onSeek(event.startS)}
                  >
                    {clock(event.startS)}
                  </button>
                  <span className="quiet text-sm">
                    {messages.clearance.toHzDb(
                      lengthWords(event.endS - event.startS),
                      event.lowHz.toLocaleString('en-GB'),
                      event.highHz.toLocaleString('en-GB'),
                      event.levelDb.toFixed(0),
                    )}
                  </span>
                  {isMain && at < EVENTS_DESCRIBED && <EventWords file={file} event={event} />}
                  <button
                    type="button"
                    className="text-sm underline decoration-from-font underline-offset-2"
                    aria-label={messages.clearance.findSoundsLikeTheEvent(clock(event.startS))}
                    onClick={() => findLike({ videoId: file.videoId, startS: event.startS, endS: event.endS })}
                  >
                    {messages.clearance.soundsLikeIt}
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
      {limit && <p className="mt-2">{limit}</p>}
    </div>
  )
}

/** What an event may be, by what the sounds nearest to it are called. Nothing until that is known, and where nothing is near. */
function EventWords({ file, event }: { file: CheckedFile; event: TimeRange }) {
  const { data } = usePartWords(file, event)
  const names = [...(data?.category ? [data.category.name] : []), ...(data?.words ?? []).map(({ word }) => word)]
  const words = [...new Set(names.map((name) => name.toLowerCase()))].slice(0, WORDS_SHOWN)
  if (words.length === 0) return null
  return <span className="text-sm">{messages.clearance.maybe(words.join(', '))}</span>
}

/** What is said of a sound that is missed more often than others. */
const KIND_WORDS = {
  tone: messages.clearance.fewFrequencies,
  click: messages.clearance.shortClick,
  noise: null,
} as const

/** From which level the sounds that were not heard would have been, and which of them are missed more often. */
function Unheard({ sensitivity }: { sensitivity: readonly SensitivityWire[] }) {
  if (sensitivity.length === 0) return null
  const levels = sensitivity.flatMap(({ fromDb }) => (fromDb === null ? [] : [fromDb])).sort((a, b) => a - b)
  const middle = levels[levels.length >> 1]
  const missed = missedSentence(sensitivity)
  return (
    <>
      {middle !== undefined && (
        <p className="mt-2">{messages.clearance.notHeardHalfOfThem(sensitivity.length, levelWords(middle))}</p>
      )}
      {missed && <p className="quiet mt-1">{missed}</p>}
      <details className="mt-2">
        <summary className="cursor-pointer">{messages.clearance.fromWhichLevelEachWould}</summary>
        <ul aria-label={messages.clearance.soundsThatWereNotHeard} className="mt-1 max-h-64 overflow-y-auto text-sm">
          {sensitivity.map(({ soundId, title, fromDb, kind }) => (
            <li key={soundId} className="flex justify-between gap-4 py-0.5 pr-3" style={{ contentVisibility: 'auto' }}>
              <span className="min-w-0 truncate">{title}</span>
              <span className="quiet whitespace-nowrap">
                {kind && KIND_WORDS[kind] && `${KIND_WORDS[kind]}, `}
                {fromDb === null ? messages.clearance.atNoLevelForSure : messages.clearance.from(levelWords(fromDb))}
              </span>
            </li>
          ))}
        </ul>
      </details>
    </>
  )
}

function levelWords(levelDb: number): string {
  return messages.clearance.levelDb(levelDb > 0 ? '+' : levelDb < 0 ? '\u2212' : '', Math.abs(levelDb).toFixed(0))
}
