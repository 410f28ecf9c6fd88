import type { UnexplainedEvent } from '../hearing'
import { opposedBeside } from '../hearing/opposed'
import { namesInWords } from '../names-in-words'
import { coveredFraction, joinedRanges, rangesWithout, type TimeRange } from '../time-range'
import { clearance as messages } from '../wording/clearance'
import { type AnswerKind, findAnswer, type PointAnswer } from './answers'
import type { CheckFacts, DetectionFacts, TrackFacts } from './facts'
import { ABOUT_WHICH, POINT_KINDS, type PointKind, UNEXAMINED } from './point-kinds'

/** Something of a video that is not examined, not explained, or cannot be told, and that keeps it from being ready until it is settled. */
export interface Point {
  readonly kind: PointKind
  /** Null when it is about the whole file. */
  readonly trackIndex: number | null
  /** In the track; empty when it is about the whole of it. */
  readonly places: readonly TimeRange[]
  /** Sounds that it is about. */
  readonly soundIds: readonly number[]
  readonly sentence: string
  /** Answers that a creator can give; empty when only another check helps. */
  readonly answerKinds: readonly AnswerKind[]
  /** The answer on record, also one that does not settle it. */
  readonly answer: PointAnswer | null
  readonly isOpen: boolean
  /** Whether it means that a part of the file was not examined. */
  readonly isUnexamined: boolean
}

/** A stretch of one kind is worth a point from this length on, s. */
const STRETCH_MIN_S = 1
/** Stretches of music that lie no further apart are one piece of music, s. */
const MUSIC_GAP_S = 4
/** What a heard sound explains reaches this far beyond its ends, s. */
const HEARD_MARGIN_S = 0.3
/** What stands out is taken for a heard sound up to this far beyond its ends, s: less than what a check leaves out around one. */
const EVENT_MARGIN_S = 0.1

/** What points are made from. */
export interface PointSources {
  readonly facts: CheckFacts
  /** Sounds that are listed now, as they are now, and were not listened for. */
  readonly unlistedIds: readonly number[]
  /** Sounds that were listened for by an excerpt of them. */
  readonly inPartIds: readonly number[]
  /** Names of sources that are connected and of which nothing could be read yet. */
  readonly unreadSources: readonly string[]
  readonly answers: readonly PointAnswer[]
  /** Who said for the whole channel that its voices are its own; null while nobody did. */
  readonly ownSpeech: { readonly by: string; readonly at: string } | null
}

/** Every point of a check but those about the papers of a sound, in the order of {@link POINT_KINDS}. */
export function pointsOf(sources: PointSources): Point[] {
  const { facts } = sources
  return [...listPoints(sources), ...facts.tracks.flatMap((track) => trackPoints(track, facts.detections, sources))]
    .map((point) => answeredPoint(point, sources))
    .sort((a, b) => POINT_KINDS.indexOf(a.kind) - POINT_KINDS.indexOf(b.kind))
}

type Draft = Pick<Point, 'kind' | 'trackIndex' | 'places' | 'soundIds' | 'sentence' | 'answerKinds'>

/** A point with the answer to it, if there is one. A stretch that is said to be from a sound is settled only by that sound being heard there. */
export function answeredPoint(
  draft: Draft,
  { facts, answers, ownSpeech }: Omit<PointSources, 'unlistedIds' | 'inPartIds' | 'unreadSources'>,
): Point {
  const isUnexamined = UNEXAMINED.includes(draft.kind)
  if (draft.kind === 'speech' && ownSpeech) return { ...draft, answer: null, isOpen: false, isUnexamined }
  const found = findAnswer(draft, facts.file.sha256, answers)
  const answer = found && draft.answerKinds.includes(found.kind) ? found : null
  const isOpen = answer === null || (answer.kind === 'from' && !ABOUT_WHICH.includes(draft.kind))
  return { ...draft, answer, isOpen, isUnexamined }
}

function listPoints({ facts: { reference }, unlistedIds, inPartIds, unreadSources }: PointSources): Draft[] {
  const whole = { trackIndex: null, places: [] }
  const count = reference.notListenedFor.length
  const points: Draft[] = []
  if (reference.listenedFor.length === 0)
    points.push({
      ...whole,
      kind: 'nothing-listened-for',
      soundIds: [],
      sentence: messages.noSoundWasListenedFor,
      answerKinds: [],
    })
  if (unreadSources.length > 0)
    points.push({
      ...whole,
      kind: 'unread-source',
      soundIds: [],
      sentence: messages.wereNotReadYet(namesInWords(unreadSources), unreadSources.length),
      answerKinds: [],
    })
  if (unlistedIds.length > 0)
    points.push({
      ...whole,
      kind: 'list-grew',
      soundIds: unlistedIds,
      sentence: messages.cameOrChangedSince(unlistedIds.length),
      answerKinds: [],
    })
  if (count > 0)
    points.push({
      ...whole,
      kind: 'not-listened-for',
      soundIds: reference.notListenedFor.map(({ soundId }) => soundId),
      sentence: messages.yourSourcesCouldNotBe(counted(count, 'sound')),
      answerKinds: ['accepted'],
    })
  if (inPartIds.length > 0)
    points.push({
      ...whole,
      kind: 'known-in-part',
      soundIds: inPartIds,
      sentence: messages.knownByAnExcerpt(inPartIds.length),
      answerKinds: ['accepted'],
    })
  return points
}

function trackPoints(track: TrackFacts, detections: readonly DetectionFacts[], sources: PointSources): Draft[] {
  const base = { trackIndex: track.index, soundIds: [] }
  const name = trackName(track, sources.facts.tracks.length)
  if (track.notListenedReason !== null)
    return [
      {
        ...base,
        kind: 'track',
        places: [],
        sentence: messages.wasNotListenedTo(name, track.notListenedReason),
        answerKinds: ['own', 'accepted'],
      },
    ]
  const heard = detections.filter(({ trackIndex }) => trackIndex === track.index)
  return [
    ...unfinishedPoints(track, name),
    ...undecodedPoints(track, name),
    ...opposedPoints(track, heard, name),
    ...stretchPoints(track, heard, { name, ownSpeech: sources.ownSpeech }),
    ...eventPoints(track, heard, name),
  ]
}

function unfinishedPoints(track: TrackFacts, name: string): Draft[] {
  if (track.stages.every(({ isComplete }) => isComplete)) return []
  return [
    {
      kind: 'unfinished',
      trackIndex: track.index,
      places: [],
      soundIds: [],
      sentence: messages.wasNotSearchedEndCheck(name),
      answerKinds: [],
    },
  ]
}

function undecodedPoints(track: TrackFacts, name: string): Draft[] {
  const base = { kind: 'undecoded', trackIndex: track.index, soundIds: [] } as const
  const answerKinds = ['own', 'accepted'] as const
  const points = track.missing.map(
    (range): Draft => ({
      ...base,
      places: [range],
      sentence: messages.couldNotBeDecodedFrom(name, clock(range.startS), clock(range.endS)),
      answerKinds,
    }),
  )
  if (track.end === 'whole' || points.length > 0) return points
  const why = track.end === 'stalled' ? messages.decodingStopped : messages.fileBreaksOffOrDamaged
  const at = { startS: track.durationS, endS: track.durationS }
  return [
    {
      ...base,
      places: [at],
      sentence: messages.atInHowMuchMissing(why, clock(track.durationS), lowerFirst(name)),
      answerKinds,
    },
  ]
}

/**
 * Stretches in which left and right oppose each other: one point for all of a track. What was heard there is taken out of the side, and they are what is left. Where
 * the side was not searched yet, a heard sound explains those in which that is all there is; under something else, what was heard is that.
 */
function opposedPoints(track: TrackFacts, heard: readonly DetectionFacts[], name: string): Draft[] {
  const isSideSearched = track.stages.some(({ name: stage }) => stage === 'side')
  const whole = isSideSearched ? (track.opposed ?? []) : opposedBeside(track.opposed ?? [], heard)
  const places = [...whole, ...(track.partlyOpposed ?? [])].sort((a, b) => a.startS - b.startS)
  if (places.length === 0) return []
  const say = whole.length > 0 ? messages.leftAndRightOppose : messages.leftAndRightOpposeInPart
  return [
    {
      kind: 'opposed',
      trackIndex: track.index,
      places,
      soundIds: [],
      sentence: say(lowerFirst(name), clock((places[0] as TimeRange).startS), places.length, isSideSearched),
      answerKinds: ['own', 'accepted'],
    },
  ]
}

/** Speech, music and noise that no heard sound explains: all speech and all noise of a track are one point each, each piece of music is one. */
function stretchPoints(
  track: TrackFacts,
  heard: readonly DetectionFacts[],
  { name, ownSpeech }: { readonly name: string } & Pick<PointSources, 'ownSpeech'>,
): Draft[] {
  const explained = rangesWithout(
    joinedRanges(heard.map(({ startS, endS }) => ({ startS: startS - HEARD_MARGIN_S, endS: endS + HEARD_MARGIN_S }))),
    track.beyondHeard ?? [],
  )
  const left = (kind: 'speech' | 'music' | 'noise', gapS: number): TimeRange[] => {
    const own = track.segments.filter((segment) => segment.kind === kind)
    const ranges = joinedRanges(kind === 'speech' ? own : rangesWithout(own, explained), gapS)
    return ranges.filter(({ startS, endS }) => endS - startS >= STRETCH_MIN_S)
  }
  const base = { trackIndex: track.index, soundIds: [] }
  const points: Draft[] = []
  const speech = left('speech', 0)
  if (speech.length > 0)
    points.push({
      ...base,
      kind: 'speech',
      places: speech,
      sentence: ownSpeech ? messages.holdsSpeech(name) : messages.holdsSpeechOfNobodyKnown(name),
      answerKinds: ['own', 'from', 'accepted'],
    })
  for (const piece of left('music', MUSIC_GAP_S))
    points.push({
      ...base,
      kind: 'music',
      places: [piece],
      sentence: messages.holdsMusicFromThatNo(name, clock(piece.startS), clock(piece.endS)),
      answerKinds: ['own', 'from', 'accepted'],
    })
  const noise = left('noise', 0)
  if (noise.length > 0)
    points.push({
      ...base,
      kind: 'noise',
      places: noise,
      sentence: messages.holdsBedNoiseRoomWind(name, counted(noise.length, 'place')),
      answerKinds: ['own', 'from', 'accepted'],
    })
  return points
}

/** What stands out, but for what lies within a heard sound: of one that was looked for later that was not known when it was found to stand out. */
function eventPoints(track: TrackFacts, heard: readonly DetectionFacts[], name: string): Draft[] {
  const { beyondHeard } = track
  const explained = beyondHeard
    ? rangesWithout(joinedRanges(heard), beyondHeard).map(({ startS, endS }) => ({
        startS: startS - EVENT_MARGIN_S,
        endS: endS + EVENT_MARGIN_S,
      }))
    : []
  const events = track.unexplained.filter((event) => !explained.some((range) => coveredFraction(event, [range]) === 1))
  return alikeEvents(events).map((events) => ({
    kind: 'event',
    trackIndex: track.index,
    soundIds: [],
    places: events.map(({ startS, endS }) => ({ startS, endS })),
    sentence:
      events.length === 1
        ? messages.somethingStandsOutAtThat(lowerFirst(name), clock((events[0] as UnexplainedEvent).startS))
        : messages.somethingStandsOutInPlaces(
            lowerFirst(name),
            events.length,
            clock((events[0] as UnexplainedEvent).startS),
          ),
    answerKinds: ['own', 'from', 'accepted'],
  }))
}

/** Events are alike when their bands overlap by so much and their levels and lengths differ by no more than this. */
const BAND_OVERLAP_MIN = 0.6
const LEVEL_APART_DB = 8
const LENGTH_RATIO_MAX = 2.5

/** Events in groups of those that are like the first of their group, in order of time. */
export function alikeEvents(events: readonly UnexplainedEvent[]): UnexplainedEvent[][] {
  const groups: UnexplainedEvent[][] = []
  for (const event of [...events].sort((a, b) => a.startS - b.startS)) {
    const group = groups.find(([first]) => first && isAlike(first, event))
    if (group) group.push(event)
    else groups.push([event])
  }
  return groups
}

function isAlike(one: UnexplainedEvent, other: UnexplainedEvent): boolean {
  const octaves = (low: number, high: number): number => Math.max(0, Math.log2(Math.max(high, 1) / Math.max(low, 1)))
  const shared = octaves(Math.max(one.lowHz, other.lowHz), Math.min(one.highHz, other.highHz))
  const all = octaves(Math.min(one.lowHz, other.lowHz), Math.max(one.highHz, other.highHz))
  const lengths = [one.endS - one.startS, other.endS - other.startS].sort((a, b) => a - b) as [number, number]
  return (
    shared >= BAND_OVERLAP_MIN * all &&
    Math.abs(one.levelDb - other.levelDb) <= LEVEL_APART_DB &&
    lengths[1] <= LENGTH_RATIO_MAX * Math.max(lengths[0], 0.02)
  )
}

/** "The sound track", or "Track 2 (deu, 5.1)" in a file with several. */
export function trackName({ index, language, channelLayout }: TrackFacts, trackCount: number): string {
  if (trackCount === 1) return messages.theSoundTrack
  return `Track ${index + 1} (${[language, channelLayout].filter(Boolean).join(', ')})`
}

/** "1:04.3". */
export function clock(seconds: number): string {
  const tenths = Math.round(seconds * 10)
  const minutes = Math.floor(tenths / 600)
  return `${minutes}:${((tenths - minutes * 600) / 10).toFixed(1).padStart(4, '0')}`
}

function counted(count: number, one: string): string {
  return `${count.toLocaleString('en-GB')} ${count === 1 ? one : `${one}s`}`
}

function lowerFirst(text: string): string {
  return text[0]?.toLowerCase() + text.slice(1)
}
