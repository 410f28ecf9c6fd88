import { CELL_COLUMNS, CELLS, cellDistance, type FrameMeasures, frameIndexAt } from './frames'

/** What happens in a picture and may want a sound. */
export const PICTURE_EVENT_KINDS = ['shot-change', 'flash', 'stop', 'title-in', 'title-out'] as const
export type PictureEventKind = (typeof PICTURE_EVENT_KINDS)[number]

export interface PictureEvent {
  readonly kind: PictureEventKind
  readonly timeS: number
  /** 0 to 1. */
  readonly confidence: number
}

/** A cut changes the cells at least so much, 0 to 1. */
const CHANGE_MIN = 0.035
/** And so many times as much as the frames around it do. */
const CHANGE_RATIO = 4
/** Frames around that are compared with. */
const AROUND_FRAMES = 8
/** Two changes lie at least this far apart, s. */
const CHANGE_GAP_S = 0.2

const FLASH_MIN = 0.1
/** After a flash the picture is as it was within this time, s. */
const FLASH_S = 0.35
/** So much of the jump may be left then. */
const FLASH_REST = 0.35

/** Movement before a stop lasts so long at least, s. */
const MOVED_S = 0.35
const STILL_S = 0.3
/** What counts as movement: the mean difference of two frames, 0 to 1. */
const MOVED_MIN = 0.0007
/** Afterwards there is at most so much of it. */
const STILL_FRACTION = 0.3
const STOP_GAP_S = 0.6

/** Edges of a cell that letters bring with them, of 255. */
const TITLE_EDGE_RISE = 36
const TITLE_CELLS_MIN = 4
/** Letters stand in a few rows and not all over the picture. */
const TITLE_CELLS_MAX = CELLS * 0.4
const TITLE_ROWS_MAX = 4
/** A title may take so long to come or go, s. */
const TITLE_FADE_S = 0.45
const TITLE_STAYS_S = 0.7
/** Cells without letters change less than this meanwhile, of 255. */
const TITLE_REST_CHANGE = 10

/** Shot changes, flashes, movements that stop at once, and titles that come and go, by time. */
export function pictureEvents(measures: FrameMeasures): PictureEvent[] {
  const flashes = findFlashes(measures)
  const changes = findShotChanges(measures, flashes)
  const cutTimes = changes.map(({ timeS }) => timeS)
  const titles = findTitles(measures, cutTimes)
  // Letters that have come or gone are still then: no movement has stopped.
  const stops = findStops(measures, cutTimes).filter(
    (stop) => !titles.some(({ timeS }) => stop.timeS >= timeS && stop.timeS <= timeS + TITLE_FADE_S + STILL_S),
  )
  return [...changes, ...flashes, ...stops, ...titles].sort((a, b) => a.timeS - b.timeS)
}

function timeOf({ timesS }: FrameMeasures, index: number): number {
  return timesS[index] as number
}

/** A short jump of brightness after which the picture is as it was. */
function findFlashes(measures: FrameMeasures): PictureEvent[] {
  const { luma, count } = measures
  const found: PictureEvent[] = []
  for (let i = 1; i < count - 1; i++) {
    const rise = (luma[i] as number) - (luma[i - 1] as number)
    if (rise < FLASH_MIN) continue
    const until = frameIndexAt(measures, timeOf(measures, i) + FLASH_S)
    for (let after = i + 1; after <= until; after++) {
      const rest = cellDistance(measures, i - 1, after)
      if ((luma[after] as number) - (luma[i - 1] as number) > FLASH_REST * rise || rest > FLASH_REST * rise) continue
      found.push({ kind: 'flash', timeS: timeOf(measures, i), confidence: Math.min(1, 0.5 + rise) })
      i = after
      break
    }
  }
  return found
}

/** Where one frame has little to do with the one before, and its neighbours have much. Source: frame differencing with a local threshold. */
function findShotChanges(measures: FrameMeasures, flashes: readonly PictureEvent[]): PictureEvent[] {
  const { count } = measures
  const distances = new Float32Array(count)
  for (let i = 1; i < count; i++) distances[i] = cellDistance(measures, i - 1, i)
  const found: PictureEvent[] = []
  for (let i = 1; i < count; i++) {
    const distance = distances[i] as number
    if (distance < CHANGE_MIN) continue
    const around: number[] = []
    for (let k = Math.max(1, i - AROUND_FRAMES); k <= Math.min(count - 1, i + AROUND_FRAMES); k++)
      if (k !== i) around.push(distances[k] as number)
    around.sort((a, b) => a - b)
    const usual = Math.max(0.004, around[around.length >> 1] ?? 0)
    const timeS = timeOf(measures, i)
    const last = found[found.length - 1]
    if (distance < CHANGE_RATIO * usual || (last && timeS - last.timeS < CHANGE_GAP_S)) continue
    if (flashes.some((flash) => timeS >= flash.timeS - 0.05 && timeS <= flash.timeS + FLASH_S)) continue
    const confidence = Math.min(1, 0.4 + distance * 2 + Math.min(0.3, distance / usual / 60))
    found.push({ kind: 'shot-change', timeS, confidence })
  }
  return found
}

/** Where something that moved is still at once: a hit. Cuts do not count as movement. */
function findStops(measures: FrameMeasures, cutTimes: readonly number[]): PictureEvent[] {
  const { motion, count } = measures
  const found: PictureEvent[] = []
  for (let i = 1; i < count; i++) {
    const timeS = timeOf(measures, i)
    const last = found[found.length - 1]
    if (last && timeS - last.timeS < STOP_GAP_S) continue
    const from = frameIndexAt(measures, timeS - MOVED_S)
    const to = frameIndexAt(measures, timeS + STILL_S)
    if (i - from < 3 || to - i < 3 || timeOf(measures, to) - timeS < STILL_S * 0.8) continue
    if (cutTimes.some((cutS) => cutS > timeS - MOVED_S - 0.02 && cutS < timeS + STILL_S + 0.02)) continue
    const before = lowerQuartile(motion, from, i)
    if (before < MOVED_MIN) continue
    const after = highest(motion, i, to + 1)
    // The frame just before still moves: else the stop was earlier.
    if (after > STILL_FRACTION * before || (motion[i - 1] as number) < before * 0.6) continue
    found.push({
      kind: 'stop',
      timeS,
      confidence: Math.min(1, 0.4 + Math.min(0.3, 40 * before) + 0.3 * (1 - after / before)),
    })
  }
  return found
}

function lowerQuartile(values: Float32Array, from: number, to: number): number {
  const sorted = values.slice(from, to).sort()
  return sorted[sorted.length >> 2] ?? 0
}

function highest(values: Float32Array, from: number, to: number): number {
  let most = 0
  for (let i = from; i < to; i++) most = Math.max(most, values[i] as number)
  return most
}

/** Where letters appear in a picture that stays as it is otherwise, or go from it. */
function findTitles(measures: FrameMeasures, cutTimes: readonly number[]): PictureEvent[] {
  const found: PictureEvent[] = []
  for (let i = 1; i < measures.count; i++) {
    const timeS = timeOf(measures, i)
    const before = i - 1
    const settled = frameIndexAt(measures, timeS + TITLE_FADE_S)
    if (settled <= i) continue
    if (cutTimes.some((cutS) => cutS > timeS - 0.02 && cutS <= timeS + TITLE_FADE_S)) continue
    for (const kind of ['title-in', 'title-out'] as const) {
      const last = found.filter((event) => event.kind === kind).pop()
      if (last && timeS - last.timeS < TITLE_STAYS_S) continue
      const [without, withLetters] = kind === 'title-in' ? [before, settled] : [settled, before]
      const cells = lettersIn(measures, without, withLetters)
      if (!cells || !isFirstFrame(measures, cells, i, kind)) continue
      if (!stays(measures, cells, kind, { timeS, settled, before, cutTimes })) continue
      found.push({ kind, timeS, confidence: Math.min(1, 0.45 + cells.length / 40) })
    }
  }
  return found
}

/** Cells in which letters stand in one frame and not in the other; null where the difference is no title. */
function lettersIn({ edges, cells }: FrameMeasures, without: number, withLetters: number): number[] | null {
  const lettered: number[] = []
  let rest = 0
  const rows = new Set<number>()
  for (let cell = 0; cell < CELLS; cell++) {
    const rise = (edges[withLetters * CELLS + cell] as number) - (edges[without * CELLS + cell] as number)
    if (rise >= TITLE_EDGE_RISE) {
      lettered.push(cell)
      rows.add(Math.floor(cell / CELL_COLUMNS))
    } else rest += Math.abs((cells[withLetters * CELLS + cell] as number) - (cells[without * CELLS + cell] as number))
  }
  const others = CELLS - lettered.length
  if (lettered.length < TITLE_CELLS_MIN || lettered.length > TITLE_CELLS_MAX || rows.size > TITLE_ROWS_MAX) return null
  return rest / others < TITLE_REST_CHANGE ? lettered : null
}

/** Whether the letters begin to change with this frame: the first of a fade is when the title comes. */
function isFirstFrame(measures: FrameMeasures, cells: readonly number[], i: number, kind: PictureEventKind): boolean {
  const here = cellsChange(measures, cells, i - 1, i)
  const earlier = i >= 2 ? cellsChange(measures, cells, i - 2, i - 1) : 0
  return here > 0.5 && (kind === 'title-in' || kind === 'title-out') && here > 2 * earlier
}

function cellsChange({ cells }: FrameMeasures, which: readonly number[], a: number, b: number): number {
  let sum = 0
  for (const cell of which) sum += Math.abs((cells[b * CELLS + cell] as number) - (cells[a * CELLS + cell] as number))
  return sum / which.length
}

/** Letters stay for a while after they came, and stood for a while before they went. */
function stays(
  measures: FrameMeasures,
  cells: readonly number[],
  kind: 'title-in' | 'title-out',
  { timeS, settled, before, cutTimes }: { timeS: number; settled: number; before: number; cutTimes: readonly number[] },
): boolean {
  const [seen, other] =
    kind === 'title-in'
      ? [settled, frameIndexAt(measures, timeS + TITLE_STAYS_S)]
      : [before, frameIndexAt(measures, timeS - TITLE_STAYS_S)]
  if (seen === other) return false
  const [fromS, toS] = [timeOf(measures, Math.min(seen, other)), timeOf(measures, Math.max(seen, other))]
  if (cutTimes.some((cutS) => cutS > fromS && cutS <= toS)) return false
  const edgesOf = (frame: number): number =>
    cells.reduce((sum, cell) => sum + (measures.edges[frame * CELLS + cell] as number), 0) / cells.length
  return edgesOf(other) > 0.6 * edgesOf(seen)
}
