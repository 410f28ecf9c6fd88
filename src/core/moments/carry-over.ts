import type { CutSection } from '../recut'
import type { MomentsEdit } from './edits'
import type { MomentsDocument, MomentValues } from './moment'

/** What a new cut did to a moment. */
export interface CarriedMoment {
  readonly id: string
  readonly what: 'moved' | 'cut-out' | 'unsure'
  /** In the old cut, s. */
  readonly fromS: number
  /** In the new one, s; for what was cut out, the place where it was taken out. */
  readonly toS: number
}

export interface CarryOver {
  readonly edit: MomentsEdit
  /** What changed, by time; moments that stayed are not in it. */
  readonly carried: readonly CarriedMoment[]
  readonly stayed: number
}

/** Two sections are told apart by less than this only by chance, s. */
const MOVED_MIN_S = 0.004
/** Times that are nearer are the same, s. */
const SAME_S = 1e-6
/** A section that is less alike than this is told as unsure. */
const SURE_SCORE = 0.5

/** Where a time of the old cut is in the new one. */
export function carriedTime(
  sections: readonly CutSection[],
  timeS: number,
): { readonly timeS: number; readonly isThere: boolean; readonly isSure: boolean } {
  const at = Math.max(0, sections.filter(({ startS }) => startS <= timeS).length - 1)
  const section = sections[at]
  if (!section) return { timeS, isThere: true, isSure: false }
  const { shiftS, score } = section
  if (shiftS !== null)
    return { timeS: Math.max(0, timeS + shiftS), isThere: true, isSure: score !== null && score >= SURE_SCORE }
  // Where it was taken out: behind what came before it, else before what comes after it.
  const before = sections
    .slice(0, at)
    .reverse()
    .find((one) => one.shiftS !== null)
  const after = sections.slice(at + 1).find((one) => one.shiftS !== null)
  const placeS = before
    ? before.endS + (before.shiftS as number)
    : after
      ? after.startS + (after.shiftS as number)
      : timeS
  return { timeS: Math.max(0, placeS), isThere: false, isSure: true }
}

/**
 * Carries moments over to a new cut. What moved is moved, what was cut out is marked and stands where it was taken out.
 *
 * @param sections Without any, every moment stays at its time.
 * @param newDurationS Length of the new cut, s: nothing is put behind its end.
 * @param undone What a cut did that is taken back: what was not touched since goes exactly where it was.
 */
export function carriedOver(
  document: MomentsDocument,
  sections: readonly CutSection[],
  newDurationS: number,
  undone: readonly CarriedMoment[] = [],
): CarryOver {
  const changes: { id: string; to: Partial<MomentValues> }[] = []
  const carried: CarriedMoment[] = []
  let stayed = 0
  for (const moment of document.moments) {
    const { id, atS, endS, cutOutFromS } = moment
    const back = undone.find((one) => one.id === id && Math.abs(one.toS - atS) < SAME_S)
    if (back) {
      changes.push({ id, to: valuesBefore(moment, back) })
      carried.push({ id, what: 'moved', fromS: atS, toS: back.fromS })
      continue
    }
    const place = carriedTime(sections, atS)
    const toS = Math.min(newDurationS, place.timeS)
    const end = endS === null ? null : carriedTime(sections, endS)
    // A span keeps its length where its end was cut out or went elsewhere.
    const newEndS =
      endS === null || end === null
        ? null
        : end.isThere && end.timeS >= toS && end.timeS - toS <= 2 * (endS - atS)
          ? Math.min(newDurationS, end.timeS)
          : Math.min(newDurationS, toS + (endS - atS))
    const what = !place.isThere ? 'cut-out' : place.isSure ? 'moved' : 'unsure'
    const isMoved =
      Math.abs(toS - atS) >= MOVED_MIN_S || (endS !== null && Math.abs((newEndS ?? 0) - endS) >= MOVED_MIN_S)
    if (what !== 'cut-out' && !isMoved) {
      stayed++
      continue
    }
    changes.push({
      id,
      to: { atS: toS, endS: newEndS, ...(what === 'cut-out' ? { cutOutFromS: cutOutFromS ?? atS } : {}) },
    })
    carried.push({ id, what, fromS: atS, toS })
  }
  const moved = document.dismissed.map((one) => ({ ...one, atS: carriedTime(sections, one.atS).timeS }))
  const isSame = moved.every(({ atS }, index) => atS === document.dismissed[index]?.atS)
  const edits: MomentsEdit[] = [{ do: 'change', changes }]
  if (!isSame) edits.push({ do: 'recall', suggestions: document.dismissed }, { do: 'dismiss', suggestions: moved })
  return { edit: { do: 'all', edits }, carried, stayed }
}

/** Place of a moment before a cut moved it. A span keeps its length. */
function valuesBefore({ endS, atS, cutOutFromS }: MomentValues, { fromS, what }: CarriedMoment): Partial<MomentValues> {
  const isOutByIt = what === 'cut-out' && cutOutFromS === fromS
  return {
    atS: fromS,
    endS: endS === null ? null : endS + (fromS - atS),
    ...(isOutByIt ? { cutOutFromS: null } : {}),
  }
}
