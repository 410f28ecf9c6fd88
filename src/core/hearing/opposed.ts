import { Fft } from '../audio/fft'
import { joinedRanges, rangesWithout, type TimeRange } from '../time-range'
import { bandPower, CELL_BANDS, CELL_POWER_UNIT, CELL_SIZE, CELL_WINDOW } from './cells'
import { HEARING_RATE_HZ } from './constants'
import { energyOf } from './products'
import type { Track } from './track'

/** Left and right are compared over so long, frames: a tenth of a second. */
const STEP_FRAMES = HEARING_RATE_HZ / 10
/** The side holds so many times the power of the middle: 9 dB. Left alone gives one; wide stereo stays under four. */
const OPPOSED_RATIO = 8
/** What is softer in the side is nothing that anybody hears, power: -60 dB. */
const AUDIBLE_POWER = 1e-6
/** Stretches no further apart are one, s. */
const GAP_S = 0.25
/** Steps of which one at least opposes the middle together with those beside it: cymbals of a stereo mix do for a moment, over what goes on in the middle. */
const TOGETHER_STEPS = 3
/** In so many bands at least the side outweighs the middle where something else goes on in it, and there is so much of it against all that is heard: 26 dB below. */
const OPPOSED_BANDS = 3
const OPPOSED_SHARE = 0.0025
/** It begins or ends there: these bands are so much louder in it than beside it, 6 dB, over so many steps. What goes on and on is told where it lasts so many. */
const EDGE_RATIO = 4
const EDGE_STEPS = 3
const LASTING_STEPS = 30
const ALL_BANDS = Array.from({ length: CELL_BANDS }, (_, band) => band)
/** Less than this beside a heard sound, or beside what is opposed as a whole, is its own end, which is told less exactly, s. */
const LEFT_MIN_S = 0.08

/** What is taken out of the side leaves this share of its power at most, over so many steps to each side (half a second in all). */
const REMAINS_SHARE = 0.25
const REMAINS_STEPS = 2

/** Mean powers of the middle and the side, step by step; of the bands `CELL_BANDS` to a step. */
interface StepPowers {
  readonly count: number
  readonly mid: Float64Array
  readonly side: Float64Array
  readonly midBands: Float32Array
  readonly sideBands: Float32Array
}

/** Something that is so of the steps from one (inclusive) to another (exclusive), taken together. */
type OfSteps = (steps: StepPowers, from: number, to: number) => boolean

/** Where left and right of a track oppose each other: what is there is audible to whoever listens in stereo, and a search of the middle does not hear it. */
export interface Opposition {
  /** Stretches in which left and right are each other turned over, so that little is left of them in the middle. */
  readonly opposed: readonly TimeRange[]
  /** Stretches in which that is so in some bands only: something else goes on in the middle. None of the others is among them. */
  readonly partlyOpposed: readonly TimeRange[]
}

/** Where left and right of a track oppose each other; nowhere in a mono track. */
export function oppositionOf(track: Track): Opposition {
  if (!track.side) return { opposed: [], partlyOpposed: [] }
  return oppositionIn(stepPowers(track), track)
}

/**
 * Where they still oppose each other when something is taken out of the side: what is left of it, 6 dB and more under what was there, is its own.
 *
 * @param takeOut Takes it out of the side of the track.
 */
export function oppositionWithout(track: Track, takeOut: () => void): Opposition {
  const before = stepPowers(track)
  takeOut()
  const after = stepPowers(track)
  withoutRemains(after.side, before.side, 1)
  withoutRemains(after.sideBands, before.sideBands, CELL_BANDS)
  return oppositionIn(after, track)
}

/** Sets to nothing what is left of powers where it is little. @param width How many of them are of a step. */
function withoutRemains(left: Float32Array | Float64Array, whole: typeof left, width: number): void {
  const around = (powers: typeof left, at: number): number => {
    let sum = 0
    for (let step = -REMAINS_STEPS; step <= REMAINS_STEPS; step++) sum += powers[at + step * width] ?? 0
    return sum
  }
  const isLittle = Array.from(left, (_, at) => around(left, at) <= REMAINS_SHARE * around(whole, at))
  isLittle.forEach((little, at) => {
    if (little) left[at] = 0
  })
}

function oppositionIn(steps: StepPowers, track: Track): Opposition {
  const opposed = rangesOf(steps, isOpposed, track)
  return { opposed, partlyOpposed: opposedBeside(rangesOf(steps, isPartlyOpposed, track, isOfItsOwn), opposed) }
}

function stepPowers(track: Track): StepPowers {
  const count = Math.ceil(track.frames / STEP_FRAMES)
  const [midBands, sideBands] = [new Float32Array(count * CELL_BANDS), new Float32Array(count * CELL_BANDS)]
  const steps = { count, mid: new Float64Array(count), side: new Float64Array(count), midBands, sideBands }
  const fft = new Fft(CELL_SIZE)
  const [midPowers, sidePowers] = [new Float32Array(CELL_SIZE / 2 + 1), new Float32Array(CELL_SIZE / 2 + 1)]
  // The middle, then the side, which are transformed as two frames of one sound.
  const both = new Float32Array(2 * STEP_FRAMES)
  for (let step = 0; step < count; step++) {
    const from = step * STEP_FRAMES
    const to = Math.min(track.frames, from + STEP_FRAMES)
    const [mid, side] = [track.midSamples(from, to), track.sideSamples(from, to)]
    steps.mid[step] = powerOf(mid)
    steps.side[step] = powerOf(side)
    both.fill(0)
    both.set(mid)
    both.set(side, STEP_FRAMES)
    const starts = mid.length > CELL_SIZE ? [0, mid.length - CELL_SIZE] : [0]
    for (const first of starts) {
      fft.framePowers(midPowers, sidePowers, both, { first, second: first + STEP_FRAMES, window: CELL_WINDOW })
      for (let band = 0, at = step * CELL_BANDS; band < CELL_BANDS; band++, at++) {
        const unit = CELL_POWER_UNIT / starts.length
        midBands[at] = (midBands[at] as number) + unit * bandPower(midPowers, band)
        sideBands[at] = (sideBands[at] as number) + unit * bandPower(sidePowers, band)
      }
    }
  }
  return steps
}

/** Runs of steps that are opposed, where one of them is so together with those beside it. @param isMeant Which of the runs count. */
function rangesOf(steps: StepPowers, isSo: OfSteps, track: Track, isMeant: OfSteps = () => true): TimeRange[] {
  const ranges: TimeRange[] = []
  for (let from = 0; from < steps.count; from++) {
    if (!isSo(steps, from, from + 1)) continue
    let to = from + 1
    while (to < steps.count && isSo(steps, to, to + 1)) to++
    if (isSoTogether(steps, isSo, from, to) && isMeant(steps, from, to))
      ranges.push({ startS: secondsAt(from, track), endS: secondsAt(to, track) })
    from = to
  }
  return joinedRanges(ranges, GAP_S)
}

/**
 * Whether a run that is opposed in part is something of its own: it begins or ends there, or lasts. Two voices of a pad that are out of tune oppose each other again and
 * again, and what is heard of them stays the same meanwhile.
 */
function isOfItsOwn(steps: StepPowers, from: number, to: number): boolean {
  if (to - from >= Math.min(LASTING_STEPS, steps.count)) return true
  const bands = opposedBands(steps, from, to)
  const level = (first: number, end: number): number => powerOver(steps, bands, first, end) / (end - first)
  // Where the track begins and ends nothing else need do so: a codec leaves a few frames beyond.
  const begins =
    from >= EDGE_STEPS && level(from, Math.min(to, from + EDGE_STEPS)) > EDGE_RATIO * level(from - EDGE_STEPS, from)
  const ends =
    to + EDGE_STEPS <= steps.count &&
    level(Math.max(from, to - EDGE_STEPS), to) > EDGE_RATIO * level(to, to + EDGE_STEPS)
  return begins || ends
}

/** What is left of opposed stretches beside others, such as those of heard sounds. */
export function opposedBeside(opposed: readonly TimeRange[], others: readonly TimeRange[]): TimeRange[] {
  return rangesWithout(opposed, joinedRanges(others)).filter(({ startS, endS }) => endS - startS >= LEFT_MIN_S)
}

/** Whether a run of steps is opposed where it is taken with what lies around it. */
function isSoTogether(steps: StepPowers, isSo: OfSteps, from: number, to: number): boolean {
  const reach = TOGETHER_STEPS >> 1
  for (let step = from; step < to; step++)
    if (isSo(steps, Math.max(0, step - reach), Math.min(steps.count, step + reach + 1))) return true
  return false
}

function isOpposed({ mid, side }: StepPowers, from: number, to: number): boolean {
  return outweighs(sumOf(side, from, to), sumOf(mid, from, to))
}

/** Whether that is so in some bands at least, and of what is heard these are enough. */
function isPartlyOpposed(steps: StepPowers, from: number, to: number): boolean {
  if (isOpposed(steps, from, to)) return true
  const bands = opposedBands(steps, from, to)
  if (bands.length < OPPOSED_BANDS) return false
  const side = bands.reduce((sum, band) => sum + bandOver(steps.sideBands, band, from, to), 0)
  return side > OPPOSED_SHARE * powerOver(steps, ALL_BANDS, from, to)
}

function opposedBands({ midBands, sideBands }: StepPowers, from: number, to: number): number[] {
  return ALL_BANDS.filter((band) => outweighs(bandOver(sideBands, band, from, to), bandOver(midBands, band, from, to)))
}

/** Power of some bands, of middle and side, added up over some steps. */
function powerOver({ midBands, sideBands }: StepPowers, bands: readonly number[], from: number, to: number): number {
  return bands.reduce((sum, band) => sum + bandOver(midBands, band, from, to) + bandOver(sideBands, band, from, to), 0)
}

/** Power of a band, added up over some steps. */
function bandOver(ofBands: Float32Array, band: number, from: number, to: number): number {
  let sum = 0
  for (let step = from; step < to; step++) sum += ofBands[step * CELL_BANDS + band] as number
  return sum
}

function sumOf(values: Float64Array, from: number, to: number): number {
  return values.subarray(from, to).reduce((sum, value) => sum + value, 0)
}

function outweighs(side: number, mid: number): boolean {
  return side > AUDIBLE_POWER && side > OPPOSED_RATIO * mid
}

function secondsAt(step: number, { frames }: Track): number {
  return Math.min(frames, step * STEP_FRAMES) / HEARING_RATE_HZ
}

function powerOf(samples: Float32Array): number {
  return energyOf(samples) / samples.length
}
