import { heightsOf } from './candidates'
import { HEARING_RATE_HZ } from './constants'
import { blockCount, type Correlator, halved, type PreparedWindow, whitenedStretch } from './correlate'
import type { PreparedSound } from './prepare'
import { dot, energyOf, mean, unitNorm } from './products'
import type { RawDetection } from './search'
import { SPEED_MAX, SPEED_MIN } from './speed'
import type { Track } from './track'
import type { SpeedSettings } from './varispeed'

/*
 * A sound that is played faster or slower with its pitch kept is made of grains of the original, 20 to 60 ms each, laid at
 * places that follow the new speed on the whole and jitter by some milliseconds. Grains answer to the plain sound; what tells
 * them from chance is that their places lie on a line.
 */

/** Stretches that are looked for, frames (0.1 s), and how many at most. */
const ANCHOR_FRAMES = 1600
const ANCHORS_MAX = 6
/** A sound shorter than this has too few grains, frames (0.25 s). */
const SOUND_MIN_FRAMES = 4000
/** Height of an anchor from which it counts, and how many of them are combined for each window. */
const ANCHOR_MIN = 4.9
const ANSWERS_MAX = 48
/** What the loudest tenth of a second must show somewhere in a window for grains to be worth a look. Measured: 38 of 53 found with it, 40 with all sounds looked for, 24 with finds of parts alone. */
const LOUDEST_MIN = 5.5
/** Lines that are looked at closely for each window, best first. */
const LINES_MAX = 6
/** Lines closer than this are one: frames, and share of the speed. */
const SAME_LINE_FRAMES = 480
const SAME_LINE_SPEED = 0.02
/** Grains of the close look, frames (50 ms), and at most so many, spread over the sound. */
const GRAIN_FRAMES = 800
const GRAINS_MAX = 36
/** A few of them, spread over the sound, tell whether a line is worth the rest. */
const PROBES = 10
const PROBE_MIN = 3.05
/** How far a grain may lie off the line, frames (15 ms). */
const JITTER_FRAMES = 240
/** Displacements of the line, frames, at which chance is learned. */
const CHANCE_SHIFTS = [-5200, -1700, -900, 900, 1700, 4700]
/** No grain may say more than this. */
const GRAIN_CLAMP = 8
/** Height of a grain from which its place helps to fit the line. */
const GRAIN_SURE = 4.6
/** A grain this far under the loudest says nothing, dB. */
const GRAIN_RANGE_DB = 36
/** Power of the grains against all of the track (-18 dB): what lies lower was fitted, not heard. */
const AUDIBLE_MIN = 10 ** -1.8
/** Grains blend into each other: by this share of their energy, those that lie under the level sought. Measured. */
const WHOLE_SHARE = 0.75
/** A side under this part of the middle is none. */
const BALANCE_MIN = 0.12
/** By how much grains must stand out on average: many that stand out a little are a likeness of kind, not the sound. Measured. */
const LEAD_MIN = 0.9
/** Many lines are tried, and the best is taken. Measured. */
const TRIALS_COST = 3
/** A speed this near to 1 is the plain search's business. */
const PLAIN_RANGE = 0.012

interface Line {
  /** Frame of the track on which frame 0 of the sound falls. */
  readonly lag: number
  readonly speed: number
  readonly weight: number
}

interface Grain {
  /** First frame, in the lower half of the band. */
  readonly start: number
  readonly norm: number
}

interface GrainHeights {
  readonly z: Float32Array
  /** Frame of the track on which each grain's first frame was found. */
  readonly at: Float64Array
}

/** Finds sounds that are played faster or slower with their pitch kept. One instance a thread. */
export class PitchPreservedSearcher {
  constructor(private readonly correlator: Correlator) {}

  /** Whether the loudest tenth of a second of a sound stands out somewhere in a window: grains answer as the sound does as it is. A fraction of a search. */
  isAnswered(window: PreparedWindow, sound: PreparedSound): boolean {
    if (sound.samples.length < SOUND_MIN_FRAMES) return false
    const { z } = heightsOf(this.correlator.summary(window, loudestStretch(sound), 1), 1)
    return z.some((height) => height >= LOUDEST_MIN)
  }

  /** @returns Detections of at least `scoreMin`. */
  search(
    track: Track,
    windows: readonly PreparedWindow[],
    sound: PreparedSound,
    { soundIndex, scoreMin, known, whitened: [, half] }: SpeedSettings,
  ): RawDetection[] {
    if (sound.samples.length < SOUND_MIN_FRAMES) return []
    const anchors = anchorsOf(sound.samples)
    const grains = grainsOf(sound.samples, half)
    const found: RawDetection[] = []
    for (const window of windows) {
      for (const line of this.lines(window, half, anchors)) {
        if ([...known, ...found].some((find) => explains(find, line, sound.samples.length))) continue
        const find = fitted(track, window, sound, half, grains, line)
        if (find && find.score >= scoreMin) found.push({ ...find, soundIndex })
      }
    }
    return found
  }

  /** Lines that two or more anchors answer on. */
  private lines(window: PreparedWindow, half: Float32Array, anchors: readonly number[]): Line[] {
    const all = new Uint8Array(blockCount(window.frames)).fill(1)
    const answers: { anchor: number; at: number; z: number }[] = []
    for (const anchor of anchors) {
      const template = unitNorm(half.subarray(anchor >> 1, (anchor + ANCHOR_FRAMES) >> 1))
      const summary = this.correlator.summary(window, template, 1, all)
      const { z } = heightsOf(summary, 1)
      for (let chunk = 0; chunk < z.length; chunk++) {
        const height = z[chunk] as number
        if (height < ANCHOR_MIN || height < (z[chunk - 1] ?? 0) || height < (z[chunk + 1] ?? 0)) continue
        answers.push({ anchor, at: window.start + (summary.peakAt?.[chunk] ?? 0), z: height })
      }
    }
    const strongest = answers.sort((a, b) => b.z - a.z).slice(0, ANSWERS_MAX)
    const lines: Line[] = []
    for (const first of strongest) {
      for (const second of strongest) {
        if (second.anchor <= first.anchor) continue
        const speed = (second.anchor - first.anchor) / (second.at - first.at)
        if (speed < SPEED_MIN || speed > SPEED_MAX) continue
        const lag = (first.at - first.anchor / speed + second.at - second.anchor / speed) / 2
        lines.push({ lag, speed, weight: first.z ** 2 + second.z ** 2 })
      }
    }
    const apart: Line[] = []
    for (const line of lines.sort((a, b) => b.weight - a.weight)) {
      if (apart.length === LINES_MAX) break
      const same = (other: Line): boolean =>
        Math.abs(other.lag - line.lag) < SAME_LINE_FRAMES && Math.abs(other.speed / line.speed - 1) < SAME_LINE_SPEED
      if (!apart.some(same)) apart.push(line)
    }
    return apart
  }
}

/** The loudest stretch in each part of a sound. */
function anchorsOf(samples: Float32Array): number[] {
  const count = Math.max(2, Math.min(ANCHORS_MAX, Math.floor(samples.length / (1.5 * ANCHOR_FRAMES))))
  return Array.from({ length: count }, (_, part) => {
    const from = Math.floor((part * (samples.length - ANCHOR_FRAMES)) / count)
    const to = Math.floor(((part + 1) * (samples.length - ANCHOR_FRAMES)) / count)
    return loudestAt(samples, from, to) & ~1
  })
}

/** Where the loudest stretch begins, from one frame to another. */
function loudestAt(samples: Float32Array, from: number, to: number): number {
  let best = from
  let most = -1
  for (let start = from; start < to; start += ANCHOR_FRAMES / 8) {
    const energy = energyOf(samples.subarray(start, start + ANCHOR_FRAMES))
    if (energy <= most) continue
    most = energy
    best = start
  }
  return best
}

/** The loudest stretch of the loudest piece, in the lower half of the band. */
function loudestStretch({ samples, pieces }: PreparedSound): Float32Array {
  const [{ start, samples: whitened }] = pieces as [PreparedSound['pieces'][number]]
  const at = loudestAt(samples, start, start + Math.max(1, whitened.length - ANCHOR_FRAMES)) - start
  return unitNorm(halved(whitened.subarray(at, at + ANCHOR_FRAMES)))
}

function grainsOf(samples: Float32Array, half: Float32Array): Grain[] {
  const count = Math.floor(samples.length / GRAIN_FRAMES)
  const stride = Math.max(1, count / GRAINS_MAX)
  const starts = Array.from({ length: Math.floor(count / stride) }, (_, k) => Math.floor(k * stride) * GRAIN_FRAMES)
  const energies = starts.map((start) => energyOf(samples.subarray(start, start + GRAIN_FRAMES)))
  const floor = Math.max(...energies) * 10 ** (-GRAIN_RANGE_DB / 10)
  return starts.flatMap((start, k) => {
    if ((energies[k] as number) < floor) return []
    const grain = half.subarray(start >> 1, (start + GRAIN_FRAMES) >> 1)
    const norm = Math.sqrt(energyOf(grain))
    return norm > 0 ? [{ start: start >> 1, norm }] : []
  })
}

function fitted(
  track: Track,
  window: PreparedWindow,
  sound: PreparedSound,
  half: Float32Array,
  grains: readonly Grain[],
  line: Line,
): Omit<RawDetection, 'soundIndex'> | null {
  const every = Math.max(1, Math.floor(grains.length / PROBES))
  const probes = grains.filter((_, k) => k % every === 0)
  if (mean(grainHeights(window, half, probes, line).z) < PROBE_MIN) return null
  const first = grainHeights(window, half, grains, line)
  const straight = straightened(grains, first, line)
  const { z, at } = grainHeights(window, half, grains, straight)
  if (Math.abs(straight.speed - 1) < PLAIN_RANGE) return null
  const chance = CHANCE_SHIFTS.flatMap((shift) => [
    ...grainHeights(window, half, grains, { ...straight, lag: straight.lag + shift }).z,
  ])
  const usual = mean(chance)
  const spread = Math.max(0.3, deviation(chance, usual))
  const run = bestRun(z, usual + 0.5 * spread)
  const count = run.to - run.from
  if (count < 3) return null
  const lead = mean(z.subarray(run.from, run.to)) - usual
  if (lead < LEAD_MIN) return null
  const score = (lead * Math.sqrt(count)) / spread - TRIALS_COST
  const heard = grains.slice(run.from, run.to)
  const places = at.subarray(run.from, run.to)
  const gain = gainOf((from, to) => track.midSamples(from, to), sound.samples, heard, places)
  if (!(gain > 0)) return null
  if (levelAgainst(track, sound.samples, gain, heard, places) < AUDIBLE_MIN) return null
  const side = track.side ? gainOf((from, to) => track.sideSamples(from, to), sound.samples, heard, places) : 0
  const atStart = run.from === 0
  const atEnd = run.to === grains.length
  return {
    lag: Math.round(straight.lag),
    from: atStart ? 0 : 2 * (grains[run.from] as Grain).start,
    to: atEnd ? sound.samples.length : 2 * (grains[run.to - 1] as Grain).start + GRAIN_FRAMES,
    gain,
    balance: Math.abs(side) < BALANCE_MIN * gain ? 0 : Math.max(-1, Math.min(1, -side / gain)),
    fadeIn: 0,
    fadeOut: 0,
    cutoffHz: null,
    echoes: 1,
    // Comparable with what the plain search says of a find of this score.
    evidence: (score * score) / 2,
    coherence: score,
    score,
    speed: straight.speed,
    treatment: 'speed-pitch-kept',
  }
}

/** How high each grain stands out near its place on a line, and where. */
function grainHeights(window: PreparedWindow, half: Float32Array, grains: readonly Grain[], line: Line): GrainHeights {
  const z = new Float32Array(grains.length)
  const at = new Float64Array(grains.length)
  const length = GRAIN_FRAMES / 2
  const lags = JITTER_FRAMES
  grains.forEach(({ start, norm }, k) => {
    const from = 2 * Math.round((line.lag + (2 * start) / line.speed - JITTER_FRAMES) / 2)
    const around = halved(whitenedStretch(window, from - 32, from + 2 * (length + lags) + 32)).subarray(16)
    const square = energyOf(around.subarray(0, length + lags)) / (length + lags)
    if (!(square > 0)) return
    const grain = half.subarray(start, start + length)
    let best = 0
    let bestLag = 0
    for (let lag = 0; lag <= lags; lag++) {
      const sum = dot(grain, around, lag)
      if (sum > best) {
        best = sum
        bestLag = lag
      }
    }
    z[k] = Math.min(GRAIN_CLAMP, best / (norm * Math.sqrt(square)))
    at[k] = from + 2 * bestLag
  })
  return { z, at }
}

/** The straight line through the places of the grains that stand out; the first one where they are too few. */
function straightened(grains: readonly Grain[], { z, at }: GrainHeights, line: Line): Line {
  let count = 0
  let sumX = 0
  let sumY = 0
  let sumXX = 0
  let sumXY = 0
  grains.forEach(({ start }, k) => {
    if ((z[k] as number) < GRAIN_SURE) return
    const x = 2 * start
    const y = at[k] as number
    count++
    sumX += x
    sumY += y
    sumXX += x * x
    sumXY += x * y
  })
  const spread = count * sumXX - sumX * sumX
  if (count < 4 || spread <= 0) return line
  const slope = (count * sumXY - sumX * sumY) / spread
  const speed = 1 / slope
  if (!(speed > SPEED_MIN - 0.02 && speed < SPEED_MAX + 0.02)) return line
  return { ...line, speed, lag: (sumY - slope * sumX) / count }
}

/** The stretch of grains that stand out most over what is usual. */
function bestRun(z: Float32Array, usual: number): { readonly from: number; readonly to: number } {
  let best = { from: 0, to: 0, sum: 0 }
  let from = 0
  let sum = 0
  for (let k = 0; k < z.length; k++) {
    sum += (z[k] as number) - usual
    if (sum <= 0) {
      sum = 0
      from = k + 1
    } else if (sum > best.sum) best = { from, to: k + 1, sum }
  }
  return best
}

/** Level of the grains at their own places: each by least squares, and of these one that most lie under, for few are whole. */
function gainOf(
  stretch: (from: number, to: number) => Float32Array,
  samples: Float32Array,
  grains: readonly Grain[],
  at: Float64Array,
): number {
  const gains = grains.map(({ start }, k) => {
    const place = Math.round(at[k] as number)
    const heard = stretch(place, place + GRAIN_FRAMES)
    const grain = samples.subarray(2 * start, 2 * start + GRAIN_FRAMES)
    const energy = energyOf(grain) + 1e-12
    return { gain: dot(grain, heard, 0) / energy, weight: energy }
  })
  gains.sort((a, b) => Math.abs(a.gain) - Math.abs(b.gain))
  const wanted = WHOLE_SHARE * gains.reduce((sum, { weight }) => sum + weight, 0)
  let passed = 0
  for (const { gain, weight } of gains) {
    passed += weight
    if (passed >= wanted) return gain
  }
  return 0
}

/** Power of the grains at this level against all of the track where they lie. */
function levelAgainst(
  track: Track,
  samples: Float32Array,
  gain: number,
  grains: readonly Grain[],
  at: Float64Array,
): number {
  let own = 0
  let all = 1e-12
  grains.forEach(({ start }, k) => {
    const place = Math.round(at[k] as number)
    own += gain * gain * energyOf(samples.subarray(2 * start, 2 * start + GRAIN_FRAMES))
    all += energyOf(track.midSamples(place, place + GRAIN_FRAMES))
  })
  return own / all
}

/** Whether a find of the sound lies where this line would put it, with the same speed. */
function explains(find: RawDetection, line: Line, frames: number): boolean {
  const speed = find.speed ?? 1
  const middle = frames / 2
  const apart = Math.abs(find.lag + middle / speed - line.lag - middle / line.speed)
  return apart < 0.03 * HEARING_RATE_HZ && Math.abs(speed / line.speed - 1) < SAME_LINE_SPEED
}

function deviation(values: readonly number[], middle: number): number {
  return Math.sqrt(values.reduce((sum, value) => sum + (value - middle) ** 2, 0) / Math.max(1, values.length))
}
