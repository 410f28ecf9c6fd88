import type { PictureEventKind } from '../picture'
import { moments as messages } from '../wording/moments'
import type { MomentKind, MomentsDocument } from './moment'
import type { CutSignals } from './signals'

export const SUGGESTION_KINDS = [
  'shot-change',
  'flash',
  'stop',
  'title-in',
  'title-out',
  'word',
  'habit',
  'quiet-span',
  'speech-pause',
] as const
export type SuggestionKind = (typeof SUGGESTION_KINDS)[number]

/** A place where a sound may be wanted. */
export interface Suggestion {
  readonly kind: SuggestionKind
  readonly atS: number
  readonly endS: number | null
  /** What the moment would be called. */
  readonly words: string
  readonly momentKind: MomentKind
  /** Why, in a sentence. */
  readonly reason: string
  /** How sure it is that this is what it says, 0 to 1. */
  readonly confidence: number
  /** A sound that was taken in such a place before. */
  readonly soundId: number | null
}

/** A word that is spoken and names a sound. */
export interface SpokenWord {
  readonly words: string
  readonly atS: number
  readonly said: string
}

/** Which sound the creator takes for what. */
export interface SoundHabit {
  readonly words: string
  readonly soundId: number
  readonly title: string
  /** How often it was picked for it; 0 where it was only said. */
  readonly count: number
}

export interface SuggestionInput {
  readonly signals: CutSignals
  readonly spoken: readonly SpokenWord[]
  readonly habits: readonly SoundHabit[]
  readonly document: MomentsDocument
  /** Words made alike: "doors slamming" and "door slams" are the same. */
  readonly stems: (words: string) => string
}

/** Nearer to a moment than this, nothing is suggested, s. */
const AT_MOMENT_S = 0.4
/** What was put aside is not suggested again within this, s. */
const DISMISSED_S = 0.3
/** Longer without any sound event or moment is a quiet span, s. */
const QUIET_S = 15
const PAUSE_MIN_S = 1.2
const PAUSE_MAX_S = 8
/** Spans and pauses are suggested so often at most. */
const SPANS_MAX = 8

const PICTURE_WORDS: Readonly<Record<PictureEventKind, readonly [string, MomentKind, string]>> = {
  'shot-change': [messages.shotChange, 'spot', messages.thePictureChangesAtOnce],
  flash: ['flash', 'hit', messages.pictureFlashesUpAndAs],
  stop: [messages.movementStops, 'hit', messages.somethingMovesAndStandsStill],
  'title-in': [messages.titleComes, 'spot', messages.lettersAppearInThePicture],
  'title-out': [messages.titleGoes, 'spot', messages.lettersGoFromThePicture],
}

/** What may be wanted, by time. Nothing that a moment stands for already, and nothing that was put aside. */
export function suggestionsFor(input: SuggestionInput): Suggestion[] {
  const all = [
    ...pictureSuggestions(input),
    ...wordSuggestions(input),
    ...habitSuggestions(input),
    ...quietSpans(input),
    ...speechPauses(input),
  ]
  return all
    .filter((one) => isOpen(one, input.document) && one.atS < input.signals.durationS)
    .sort((a, b) => a.atS - b.atS || b.confidence - a.confidence)
}

function isOpen({ kind, atS, endS }: Suggestion, { moments, dismissed }: MomentsDocument): boolean {
  if (dismissed.some((one) => one.kind === kind && Math.abs(one.atS - atS) < DISMISSED_S)) return false
  // A habit is of a moment that is there.
  if (kind === 'habit') return true
  return !moments.some((moment) =>
    endS === null
      ? Math.abs(moment.atS - atS) < AT_MOMENT_S
      : moment.atS < endS && (moment.endS ?? moment.atS) >= atS && moment.kind !== 'music',
  )
}

function pictureSuggestions({ signals }: SuggestionInput): Suggestion[] {
  return signals.picture.map(({ kind, timeS, confidence }) => {
    const [words, momentKind, reason] = PICTURE_WORDS[kind]
    return { kind, atS: timeS, endS: null, words, momentKind, reason, confidence, soundId: null }
  })
}

function wordSuggestions({ spoken, habits, stems }: SuggestionInput): Suggestion[] {
  return spoken.map(({ words, atS, said }) => {
    const habit = habits.find((one) => stems(one.words) === stems(words))
    return {
      kind: 'word',
      atS,
      endS: null,
      words,
      momentKind: 'spot',
      reason: habit ? messages.isSpokenHereAndKnown(words, said, habit.title) : messages.isSpokenHere(words, said),
      confidence: habit ? 0.8 : 0.6,
      soundId: habit?.soundId ?? null,
    }
  })
}

/** Moments that have no sound yet, and words for which a sound was taken before. */
function habitSuggestions({ document, habits, stems }: SuggestionInput): Suggestion[] {
  const byWords = new Map<string, SoundHabit>()
  for (const habit of habits) {
    const known = byWords.get(stems(habit.words))
    if (!known || habit.count > known.count) byWords.set(stems(habit.words), habit)
  }
  return document.moments.flatMap((moment): Suggestion[] => {
    const habit = moment.words === '' ? undefined : byWords.get(stems(moment.words))
    if (!habit || moment.soundId !== null || moment.kind === 'silence') return []
    const often = habit.count > 1 ? ` (${habit.count} times)` : ''
    return [
      {
        kind: 'habit',
        atS: moment.atS,
        endS: moment.endS,
        words: moment.words,
        momentKind: moment.kind,
        reason: messages.youPutOn(habit.title, habit.words, often),
        confidence: Math.min(1, 0.6 + habit.count / 10),
        soundId: habit.soundId,
      },
    ]
  })
}

/** Long stretches in which neither the cut nor the plan has any sound event. */
function quietSpans({ signals, document }: SuggestionInput): Suggestion[] {
  const busy = [
    ...signals.soundEventsS.map((timeS) => [timeS, timeS] as const),
    ...document.moments.map(({ atS, endS }) => [atS, endS ?? atS] as const),
    [signals.durationS, signals.durationS] as const,
  ].sort((a, b) => a[0] - b[0])
  const found: Suggestion[] = []
  let fromS = 0
  for (const [startS, endS] of busy) {
    if (startS - fromS > QUIET_S) {
      const lengthS = Math.round(startS - fromS)
      found.push({
        kind: 'quiet-span',
        atS: fromS,
        endS: startS,
        words: messages.ambience,
        momentKind: 'ambience',
        reason: messages.forSecondsThereNoSound(lengthS),
        confidence: Math.min(0.9, 0.4 + lengthS / 100),
        soundId: null,
      })
    }
    fromS = Math.max(fromS, endS)
  }
  return found.sort((a, b) => b.confidence - a.confidence).slice(0, SPANS_MAX)
}

/** Where somebody stops speaking for a moment and then goes on. */
function speechPauses({ signals }: SuggestionInput): Suggestion[] {
  const speech = signals.segments.filter(({ kind }) => kind === 'speech')
  const found: Suggestion[] = []
  for (let at = 1; at < speech.length; at++) {
    const [fromS, toS] = [(speech[at - 1] as { endS: number }).endS, (speech[at] as { startS: number }).startS]
    const lengthS = toS - fromS
    if (lengthS < PAUSE_MIN_S || lengthS > PAUSE_MAX_S) continue
    const isFilled = signals.soundEventsS.some((timeS) => timeS >= fromS && timeS < toS)
    if (isFilled) continue
    found.push({
      kind: 'speech-pause',
      atS: fromS,
      endS: toS,
      words: messages.pauseInTheSpeech,
      momentKind: 'spot',
      reason: messages.nobodySpeaksForSThen(lengthS.toFixed(1)),
      confidence: Math.min(0.8, 0.35 + lengthS / 10),
      soundId: null,
    })
  }
  return found.sort((a, b) => b.confidence - a.confidence).slice(0, SPANS_MAX)
}
