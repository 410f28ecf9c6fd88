import { scaleOf, type TimeView } from './view'

/** Something that stands at a time on the map. */
export interface MapMark {
  readonly id: string
  readonly startS: number
  /** Null for an instant. */
  readonly endS: number | null
  readonly label: string
}

export interface PlacedMark<T extends MapMark> {
  readonly mark: T
  /** Row from the top, from 0. */
  readonly lane: number
  readonly leftPx: number
  readonly widthPx: number
  /** Where the label begins, px from the left edge of the map; null where there is no room and it is shown on pointing. */
  readonly labelPx: number | null
}

const LETTER_PX = 7.4
/** Mark before the words, and room behind them. */
const LABEL_EXTRA_PX = 26
const MARK_MIN_PX = 4
const GAP_PX = 6

/** Room that a label needs, px. */
export function labelRoomPx(label: string): number {
  return label.length * LETTER_PX + LABEL_EXTRA_PX
}

/**
 * Puts the marks that are in view into lanes, so that neither marks nor labels lie over each other. Labels make room by lanes; when all lanes
 * are full they are left out, the chosen one last.
 *
 * @param marks By start. @param lanesMax At least 1. @param chosenId Its label is always shown.
 */
export function placedMarks<T extends MapMark>(
  marks: readonly T[],
  view: TimeView,
  widthPx: number,
  { lanesMax, chosenId = null }: { lanesMax: number; chosenId?: string | null },
): PlacedMark<T>[] {
  const scale = scaleOf(view, widthPx)
  const visible = marks.filter(({ startS, endS }) => (endS ?? startS) >= view.startS && startS <= view.endS)
  // Ends of what stands in each lane so far, px: of marks, and of labels.
  const ends = Array.from({ length: lanesMax }, () => Number.NEGATIVE_INFINITY)
  const placed: PlacedMark<T>[] = []
  // The chosen one has its place first.
  const chosen = visible.find(({ id }) => id === chosenId)
  const taken = chosen ? placeWithLabel(chosen, scale, widthPx) : null
  for (const mark of visible) {
    const left = scale.x(mark.startS)
    const width = Math.max(MARK_MIN_PX, scale.x(mark.endS ?? mark.startS) - left)
    if (mark === chosen && taken) {
      placed.push({ mark, lane: 0, leftPx: left, widthPx: width, labelPx: taken.labelPx })
      ends[0] = Math.max(ends[0] as number, taken.endPx)
      continue
    }
    const { labelPx, endPx, startPx } = placeWithLabel(mark, scale, widthPx)
    const free = ends.findIndex(
      (end, lane) => end + GAP_PX <= startPx && !(lane === 0 && taken && overlaps(taken, { startPx, endPx })),
    )
    if (free >= 0) {
      ends[free] = endPx
      placed.push({ mark, lane: free, leftPx: left, widthPx: width, labelPx })
      continue
    }
    // Without its label, in the lane where it hides least.
    const lane = ends.reduce((best, end, index) => (end < (ends[best] as number) ? index : best), 0)
    ends[lane] = Math.max(ends[lane] as number, left + width)
    placed.push({ mark, lane, leftPx: left, widthPx: width, labelPx: null })
  }
  return placed
}

interface Room {
  readonly startPx: number
  readonly endPx: number
}

function overlaps(a: Room, b: Room): boolean {
  return a.startPx < b.endPx + GAP_PX && b.startPx < a.endPx + GAP_PX
}

/** Label at the mark; near the right edge so far to the left that it ends there. */
function placeWithLabel(
  mark: MapMark,
  { x }: ReturnType<typeof scaleOf>,
  widthPx: number,
): Room & { readonly labelPx: number } {
  const left = x(mark.startS)
  const right = Math.max(left + MARK_MIN_PX, x(mark.endS ?? mark.startS))
  const room = labelRoomPx(mark.label)
  const labelPx = Math.max(0, Math.min(Math.max(left, 0), widthPx - room))
  return { labelPx, startPx: Math.min(left, labelPx), endPx: Math.max(Math.min(right, widthPx), labelPx + room) }
}
