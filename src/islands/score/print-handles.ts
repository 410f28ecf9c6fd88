import { type LineBounds, type Placement, placementLengthS, SCORE_LIMITS } from '../../core/score'
import { messages } from '../../messages'

/** What the points of each line may be: dB, and what is added to the pan. */
export const POINT_BOUNDS = { gainPoints: SCORE_LIMITS.gainDb, panPoints: { least: -2, most: 2 } } as const
export type PointLine = keyof typeof POINT_BOUNDS

/** Bounds of a line of a placement. */
export function lineBounds(placement: Placement, which: PointLine): LineBounds {
  return { ...POINT_BOUNDS[which], lengthS: placementLengthS(placement) }
}

/** A place of a print that can be taken and moved. */
export type PrintHandle =
  | { readonly key: string; readonly what: 'fadeIn' | 'fadeOut'; readonly atS: number; readonly lengthS: number }
  | {
      readonly key: string
      readonly what: 'point'
      readonly index: number
      readonly atS: number
      readonly value: number
    }

/** The handles of a print: the inner ends of its fades, and the points of its level. `atS` is from its start. */
export function printHandles(placement: Placement): PrintHandle[] {
  const lengthS = placementLengthS(placement)
  const inS = placement.fadeIn?.lengthS ?? 0
  const outS = placement.fadeOut?.lengthS ?? 0
  const points = placement.gainPoints.flatMap(({ atS, value }, index): PrintHandle[] =>
    atS <= lengthS ? [{ key: `point-${index}`, what: 'point', index, atS, value }] : [],
  )
  return [
    { key: 'fade-in', what: 'fadeIn', atS: inS, lengthS: inS },
    ...points,
    { key: 'fade-out', what: 'fadeOut', atS: lengthS - outS, lengthS: outS },
  ]
}

/** What a handle is, with its numbers. */
export function handleValues(handle: PrintHandle): string {
  if (handle.what === 'point')
    return messages.score.levelDbAtS(handle.value > 0 ? '+' : '', handle.value.toFixed(1), handle.atS.toFixed(2))
  const name = handle.what === 'fadeIn' ? messages.score.fadeIn : messages.score.fadeOut
  return handle.lengthS > 0 ? `${name} ${handle.lengthS.toFixed(2)} s` : messages.score.none(name)
}
