import { Fft } from '../audio/fft'
import { joinedRanges, rangesWithout, type TimeRange } from '../time-range'
import { BAND_STARTS, CELL_BANDS, FIRST_BIN } from './cells'
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
/** Windows of the bands, frames: two to a step. */
const BAND_SIZE = 1024
/** Less than this beside a heard sound is its own end, which is told less exactly, s. */
const LEFT_MIN_S = 0.08

/** A step of the middle and the side: mean power of all, and of each band. */
interface Powers {
  readonly mid: number
  readonly side: number
  readonly midBands: Float32Array
  readonly sideBands: Float32Array
}

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
  const steps = stepPowers(track)
  const opposed = rangesOf(steps, isOpposed, track)
  const partly = rangesWithout(rangesOf(steps, isPartlyOpposed, track, isOfItsOwn), opposed)
  return { opposed, partlyOpposed: partly.filter(({ startS, endS }) => endS - startS >= LEFT_MIN_S) }
}

function stepPowers(track: Track): Powers[] {
  const bands = new BandPowers()
  const steps: Powers[] = []
  for (let from = 0; from < track.frames; from += STEP_FRAMES) {
    const to = Math.min(track.frames, from + STEP_FRAMES)
    const mid = track.midSamples(from, to)
    const side = track.sideSamples(from, to)
    steps.push({ mid: powerOf(mid), side: powerOf(side), ...bands.of(mid, side) })
  }
  return steps
}

/** Runs of steps that are opposed, where one of them is so together with those beside it. @param isMeant Which of the runs count. */
function rangesOf(
  steps: readonly Powers[],
  isSo: (steps: readonly Powers[]) => boolean,
  track: Track,
  isMeant: (steps: readonly Powers[], from: number, to: number) => boolean = () => true,
): TimeRange[] {
  const ranges: TimeRange[] = []
  for (let from = 0; from < steps.length; from++) {
    if (!isSo([steps[from] as Powers])) continue
    let to = from + 1
    while (to < steps.length && isSo([steps[to] as Powers])) to++
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
function isOfItsOwn(steps: readonly Powers[], from: number, to: number): boolean {
  if (to - from >= Math.min(LASTING_STEPS, steps.length)) return true
  const bands = opposedBands(steps.slice(from, to))
  const level = (first: number, end: number): number =>
    meanOver(steps.slice(Math.max(0, first), Math.min(steps.length, end)), bands)
  // Where the track begins and ends nothing else need do so: a codec leaves a few frames beyond.
  const begins =
    from >= EDGE_STEPS && level(from, Math.min(to, from + EDGE_STEPS)) > EDGE_RATIO * level(from - EDGE_STEPS, from)
  const ends =
    to + EDGE_STEPS <= steps.length &&
    level(Math.max(from, to - EDGE_STEPS), to) > EDGE_RATIO * level(to, to + EDGE_STEPS)
  return begins || ends
}

/** Mean power of some bands in some steps, of middle and side; 0 for no steps. */
function meanOver(steps: readonly Powers[], bands: readonly number[]): number {
  const sum = steps.reduce(
    (all, { midBands, sideBands }) =>
      bands.reduce((some, band) => some + (midBands[band] as number) + (sideBands[band] as number), all),
    0,
  )
  return sum / Math.max(1, steps.length)
}

/** What is left of opposed stretches beside heard sounds. */
export function opposedBeside(opposed: readonly TimeRange[], heard: readonly TimeRange[]): TimeRange[] {
  return rangesWithout(opposed, joinedRanges(heard)).filter(({ startS, endS }) => endS - startS >= LEFT_MIN_S)
}

/** Whether a run of steps is opposed where it is taken with what lies around it. */
function isSoTogether(
  steps: readonly Powers[],
  isSo: (steps: readonly Powers[]) => boolean,
  from: number,
  to: number,
): boolean {
  const reach = TOGETHER_STEPS >> 1
  for (let step = from; step < to; step++)
    if (isSo(steps.slice(Math.max(0, step - reach), step + reach + 1))) return true
  return false
}

function isOpposed(steps: readonly Powers[]): boolean {
  return outweighs(
    steps.reduce((sum, { side }) => sum + side, 0),
    steps.reduce((sum, { mid }) => sum + mid, 0),
  )
}

/** Whether that is so in some bands at least, and of what is heard these are enough. */
function isPartlyOpposed(steps: readonly Powers[]): boolean {
  if (isOpposed(steps)) return true
  const bands = opposedBands(steps)
  if (bands.length < OPPOSED_BANDS) return false
  const side = bands.reduce((sum, band) => sum + bandPower(steps, 'sideBands', band), 0)
  return side > OPPOSED_SHARE * steps.length * meanOver(steps, ALL_BANDS)
}

function opposedBands(steps: readonly Powers[]): number[] {
  return ALL_BANDS.filter((band) => outweighs(bandPower(steps, 'sideBands', band), bandPower(steps, 'midBands', band)))
}

function bandPower(steps: readonly Powers[], of: 'midBands' | 'sideBands', band: number): number {
  return steps.reduce((sum, step) => sum + (step[of][band] as number), 0)
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

/** Mean powers of the bands of two signals, in one transform. */
class BandPowers {
  private readonly fft = new Fft(BAND_SIZE)
  private readonly re = new Float32Array(BAND_SIZE)
  private readonly im = new Float32Array(BAND_SIZE)
  private readonly window = Float32Array.from(
    { length: BAND_SIZE },
    (_, n) => Math.sin((Math.PI * (n + 0.5)) / BAND_SIZE) ** 2,
  )

  of(mid: Float32Array, side: Float32Array): Pick<Powers, 'midBands' | 'sideBands'> {
    const midBands = new Float32Array(CELL_BANDS)
    const sideBands = new Float32Array(CELL_BANDS)
    const starts = mid.length > BAND_SIZE ? [0, mid.length - BAND_SIZE] : [0]
    for (const start of starts) {
      for (let n = 0; n < BAND_SIZE; n++) {
        const weight = this.window[n] as number
        this.re[n] = weight * (mid[start + n] ?? 0)
        this.im[n] = weight * (side[start + n] ?? 0)
      }
      this.fft.forward(this.re, this.im)
      for (let band = 0; band < CELL_BANDS; band++) this.addBand(band, starts.length, midBands, sideBands)
    }
    return { midBands, sideBands }
  }

  /** The middle is the even part of the spectrum, the side the odd one. */
  private addBand(band: number, windows: number, mid: Float32Array, side: Float32Array): void {
    // Full-scale noise has power 1: the window's energy is three eighths of its length; four times for the two halves.
    const unit = 2 / (BAND_SIZE * BAND_SIZE * 0.375) / 4 / windows
    for (let k = FIRST_BIN + (BAND_STARTS[band] as number); k < FIRST_BIN + (BAND_STARTS[band + 1] as number); k++) {
      const re = this.re[k] as number
      const im = this.im[k] as number
      const mirroredRe = this.re[BAND_SIZE - k] as number
      const mirroredIm = this.im[BAND_SIZE - k] as number
      mid[band] = (mid[band] as number) + unit * ((re + mirroredRe) ** 2 + (im - mirroredIm) ** 2)
      side[band] = (side[band] as number) + unit * ((im + mirroredIm) ** 2 + (mirroredRe - re) ** 2)
    }
  }
}
