import { moments as messages } from '../wording/moments'
import type { Moment, MomentsDocument } from './moment'
import type { CutSignals } from './signals'

/** Effects a minute around one time. */
export interface PacePoint {
  readonly timeS: number
  readonly plannedPerMinute: number
  readonly presentPerMinute: number
}

/** Something about the pace that is worth a line. */
export interface PaceNote {
  readonly kind: 'crowded' | 'empty' | 'same-words'
  readonly startS: number
  readonly endS: number
  /** In a sentence, with the reason. */
  readonly words: string
}

export interface Pacing {
  readonly points: readonly PacePoint[]
  readonly notes: readonly PaceNote[]
}

/** Effects are counted over this long, s. */
const WINDOW_S = 30
const POINTS_MAX = 400
/** More shot changes a minute make a rapid scene, in which many effects are no crowd. */
const RAPID_CHANGES_PER_MINUTE = 20
/** Nothing happens for this long, s: worth a line. */
const EMPTY_S = 45
const NOTES_MAX = 6

/** Moments that are single effects, and not something that lies below or a silence. */
function isEffect({ kind, cutOutFromS }: Moment): boolean {
  return cutOutFromS === null && (kind === 'hit' || kind === 'swell' || kind === 'spot')
}

/**
 * How many effects a minute there are over time, planned and in the cut already, and what is to be said about it.
 *
 * @param stems Words made alike, to find the same gesture again. @param soundTitle What a sound is called.
 */
export function pacing(
  document: MomentsDocument,
  signals: CutSignals,
  { stems, soundTitle }: { stems: (words: string) => string; soundTitle: (soundId: number) => string },
): Pacing {
  const planned = document.moments.filter(isEffect).map(({ atS }) => atS)
  const points = pacePoints(planned, signals)
  const notes = [
    ...crowdedNotes(points, document.crowdedPerMinute, signals),
    ...emptyNotes(document, signals),
    ...sameWordsNotes(document.moments, stems, soundTitle),
  ]
  return { points, notes: notes.slice(0, NOTES_MAX) }
}

function pacePoints(planned: readonly number[], { durationS, soundEventsS }: CutSignals): PacePoint[] {
  const stepS = Math.max(1, durationS / POINTS_MAX)
  const windowS = Math.min(WINDOW_S, Math.max(1, durationS))
  const points: PacePoint[] = []
  for (let timeS = 0; timeS <= durationS; timeS += stepS) {
    // The window lies within the cut: at its ends it does not count what cannot be there.
    const fromS = Math.max(0, Math.min(durationS - windowS, timeS - windowS / 2))
    const perMinute = (times: readonly number[]): number =>
      (times.filter((one) => one >= fromS && one < fromS + windowS).length * 60) / windowS
    points.push({ timeS, plannedPerMinute: perMinute(planned), presentPerMinute: perMinute(soundEventsS) })
  }
  return points
}

function clockWords(timeS: number): string {
  return `${Math.floor(timeS / 60)}:${String(Math.floor(timeS % 60)).padStart(2, '0')}`
}

function crowdedNotes(points: readonly PacePoint[], limit: number, { picture }: CutSignals): PaceNote[] {
  const crowds: { startS: number; endS: number; most: number }[] = []
  let isOpen = false
  const changes = picture.filter(({ kind }) => kind === 'shot-change').map(({ timeS }) => timeS)
  for (const { timeS, plannedPerMinute, presentPerMinute } of points) {
    const all = plannedPerMinute + presentPerMinute
    const nearby = changes.filter((one) => Math.abs(one - timeS) <= WINDOW_S / 2).length
    const isRapid = (nearby * 60) / WINDOW_S > RAPID_CHANGES_PER_MINUTE
    const crowd = crowds[crowds.length - 1]
    const isCrowded = all > limit && !isRapid
    if (isCrowded && isOpen && crowd)
      crowds[crowds.length - 1] = { ...crowd, endS: timeS, most: Math.max(crowd.most, all) }
    else if (isCrowded) crowds.push({ startS: timeS, endS: timeS, most: all })
    isOpen = isCrowded
  }
  return crowds.map(({ startS, endS, most }) => ({
    kind: 'crowded',
    startS,
    endS,
    words: messages.crowdedUpEffectsMinuteOver(clockWords(startS), clockWords(endS), Math.round(most), limit),
  }))
}

function emptyNotes({ moments }: MomentsDocument, { durationS, soundEventsS }: CutSignals): PaceNote[] {
  const times = [...soundEventsS, ...moments.flatMap(({ atS, endS }) => [atS, endS ?? atS]), durationS].sort(
    (a, b) => a - b,
  )
  const notes: PaceNote[] = []
  let fromS = 0
  for (const timeS of times) {
    const isSilence = moments.some(
      ({ kind, atS, endS }) => kind === 'silence' && atS <= fromS + 1 && (endS ?? atS) >= timeS - 1,
    )
    if (timeS - fromS > EMPTY_S && !isSilence) {
      const lengthS = Math.round(timeS - fromS)
      const words = messages.nothingHappensFromNoSound(clockWords(fromS), clockWords(timeS), lengthS)
      notes.push({ kind: 'empty', startS: fromS, endS: timeS, words })
    }
    fromS = Math.max(fromS, timeS)
  }
  return notes
}

/** The same gesture with different sounds. */
function sameWordsNotes(
  moments: readonly Moment[],
  stems: (words: string) => string,
  soundTitle: (soundId: number) => string,
): PaceNote[] {
  const groups = new Map<string, Moment[]>()
  for (const moment of moments) {
    if (moment.words === '' || moment.soundId === null) continue
    const key = stems(moment.words)
    groups.set(key, [...(groups.get(key) ?? []), moment])
  }
  return [...groups.values()].flatMap((group) => {
    const sounds = [...new Set(group.map(({ soundId }) => soundId as number))]
    const [first] = group
    if (group.length < 2 || sounds.length < 2 || !first) return []
    const last = group[group.length - 1] as Moment
    const titles = sounds.map((id) => `“${soundTitle(id)}”`).join(', ')
    const words = messages.comesTimesWithDifferentSounds(first.words, group.length, sounds.length, titles)
    return [{ kind: 'same-words' as const, startS: first.atS, endS: last.endS ?? last.atS, words }]
  })
}
