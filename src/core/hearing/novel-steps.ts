import { median } from './breakdown-steps'
import { CELL_BANDS } from './cells'

/** What of a track is compared, step by step (`BREAKDOWN_HOP`). */
export interface ComparedSteps {
  /** Power of each of `CELL_BANDS` bands, dB relative to full scale. */
  readonly levels: Float32Array
  /** Share of power in narrow peaks. */
  readonly tonal: Float32Array
  /** Steps that say nothing of what is around them: voices, silence, and what is explained. */
  readonly apart: Uint8Array
}

export interface NovelSteps {
  /** Whether something new sounds at a step. */
  readonly flags: Uint8Array
  /** By how much each band is louder than usual at a step, dB. */
  readonly bands: readonly Float32Array[]
}

/** Levels below this are alike, dB. */
const FLOOR_DB = -85
/** A step is compared together with those this far before and after it. */
const CONTEXT_STEPS = 2
/** What is nearer than this (3 s) may be the same event; what is farther away than that (a minute) is not looked at. */
const NEAR_STEPS = 94
const FAR_STEPS = 1900
/** A difference of one band counts for no more than this, dB. */
const DIFFERENCE_MAX_DB = 10
/** Every second step is compared with every second one. */
const STRIDE = 2
/** Nothing is called new where it can be compared with less than this (20 s): it cannot be known what comes again. */
const COMPARED_MIN = 312
/** What is usual is the median over this many steps to each side (30 s), found anew every second. */
const USUAL_STEPS = 938
const USUAL_EVERY = 32
/** A machine may repeat itself exactly: what is nearer to its likeness than this is never new, dB a band. */
const USUAL_NOVELTY_MIN_DB = 2
/** Evidence is the mean over this many steps to each side. */
const SMOOTH_STEPS = 4
/**
 * Evidence that something else sounds: for each dB by which the nearest likeness is farther than usual, for each dB by which the middle band is louder than
 * usual, and for each share of power less in peaks. By how much the likeness has to be farther whatever else is told, and the evidence that is enough. Fitted
 * on mixes of five minutes (logistic regression, four to fit and four to measure, both ways), then moved towards novelty: drums are louder and less tonal too.
 */
const EVIDENCE = { novelty: 2, rise: 0.1, lessTonal: 8, none: -0.45, noveltyMinDb: 0.6, least: 2 }

/**
 * Steps at which something sounds that the rest of the track does not bring: music repeats itself, an effect comes once. A step is new by how far its bands are
 * from those of the step most like it within a minute (after Foote, 2000; nearest likeness in place of a checkerboard), set against what is usual there.
 *
 * Nothing is new where there is too little to compare with.
 */
export function novelSteps({ levels, tonal, apart }: ComparedSteps): NovelSteps {
  const steps = apart.length
  const flags = new Uint8Array(steps)
  const novelty = noveltyOf(levels, apart)
  const known = Uint8Array.from(apart, (flag, step) => (flag || Number.isNaN(novelty[step] as number) ? 0 : 1))
  const column = new Float32Array(steps)
  const bands = Array.from({ length: CELL_BANDS }, (_, band) => {
    for (let step = 0; step < steps; step++)
      column[step] = Math.max(FLOOR_DB, levels[step * CELL_BANDS + band] as number)
    return beyondUsual(column, known)
  })
  const [newer, tonality] = [beyondUsual(novelty, known, USUAL_NOVELTY_MIN_DB), beyondUsual(tonal, known)]
  const evidence = newer.map(
    (farther, step) =>
      EVIDENCE.none +
      EVIDENCE.novelty * farther +
      EVIDENCE.rise * median(bands.map((band) => band[step] as number)) -
      EVIDENCE.lessTonal * (tonality[step] as number),
  )
  for (let step = 0; step < steps; step++) {
    if (!known[step]) continue
    const isNew = meanAround(newer, known, step) > EVIDENCE.noveltyMinDb
    if (isNew && meanAround(evidence, known, step) > EVIDENCE.least) flags[step] = 1
  }
  return { flags, bands }
}

/** Distance of each step to the one most like it, dB a band; not a number where there is too little to compare with. */
function noveltyOf(levels: Float32Array, apart: Uint8Array): Float32Array {
  const novelty = new Float32Array(apart.length).fill(Number.NaN)
  const compared: number[] = []
  for (let step = 0; step < apart.length; step += STRIDE) if (!apart[step]) compared.push(step)
  const size = 3 * CELL_BANDS
  const rows = new Float32Array(compared.length * size)
  compared.forEach((step, row) => {
    for (const [part, away] of [-CONTEXT_STEPS, 0, CONTEXT_STEPS].entries()) {
      const from = Math.min(apart.length - 1, Math.max(0, step + away)) * CELL_BANDS
      for (let band = 0; band < CELL_BANDS; band++)
        rows[row * size + part * CELL_BANDS + band] = Math.max(FLOOR_DB, levels[from + band] as number)
    }
  })
  let first = 0
  for (const [row, step] of compared.entries()) {
    while ((compared[first] as number) < step - FAR_STEPS) first++
    let nearest = Number.POSITIVE_INFINITY
    let count = 0
    for (let other = first; other < compared.length; other++) {
      const distance = (compared[other] as number) - step
      if (distance > FAR_STEPS) break
      if (Math.abs(distance) < NEAR_STEPS) continue
      count++
      nearest = Math.min(nearest, difference(rows, row * size, other * size, size, nearest))
    }
    if (count < COMPARED_MIN) continue
    const mean = nearest / size
    for (let same = step; same < Math.min(apart.length, step + STRIDE); same++) novelty[same] = mean
  }
  return novelty
}

/** Sum of the differences of two rows; it may end as soon as it is over `enough`. */
function difference(rows: Float32Array, a: number, b: number, size: number, enough: number): number {
  let sum = 0
  for (let k = 0; k < size; k++) {
    sum += Math.min(DIFFERENCE_MAX_DB, Math.abs((rows[a + k] as number) - (rows[b + k] as number)))
    if (sum > enough) break
  }
  return sum
}

/** How far values lie above what is usual around them, which is no less than `least`; 0 at steps that are not known. */
function beyondUsual(values: Float32Array, known: Uint8Array, least = Number.NEGATIVE_INFINITY): Float32Array {
  const beyond = new Float32Array(values.length)
  for (let from = 0; from < values.length; from += USUAL_EVERY) {
    const to = Math.min(values.length, from + USUAL_EVERY)
    const around: number[] = []
    for (let step = Math.max(0, from - USUAL_STEPS); step < Math.min(values.length, to + USUAL_STEPS); step += STRIDE)
      if (known[step]) around.push(values[step] as number)
    const usual = Math.max(least, median(around))
    for (let step = from; step < to; step++) beyond[step] = known[step] ? (values[step] as number) - usual : 0
  }
  return beyond
}

function meanAround(values: Float32Array, known: Uint8Array, step: number): number {
  let sum = 0
  let count = 0
  for (
    let other = Math.max(0, step - SMOOTH_STEPS);
    other <= Math.min(known.length - 1, step + SMOOTH_STEPS);
    other++
  ) {
    if (!known[other]) continue
    sum += values[other] as number
    count++
  }
  return sum / count
}
