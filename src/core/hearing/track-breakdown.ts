import { Fft } from '../audio/fft'
import type { TimeRange } from '../time-range'
import { beyondSteps, flaggedRanges } from './beyond-heard'
import { BREAKDOWN_HOP, coveredSteps, decibels, guarded, type SegmentKind, SILENCE_DB } from './breakdown-steps'
import { bandPower, CELL_BANDS, CELL_POWER_UNIT, CELL_SIZE, CELL_WINDOW } from './cells'
import { HEARING_RATE_HZ } from './constants'
import type { Detection } from './detections'
import type { Track } from './track'
import { type UnexplainedEvent, unexplainedEvents } from './unexplained-events'

export interface Segment {
  readonly kind: SegmentKind
  readonly startS: number
  readonly endS: number
}

/** What a track is made of, after the sounds that were heard are taken away. */
export interface TrackBreakdown {
  readonly segments: readonly Segment[]
  readonly unexplained: readonly UnexplainedEvent[]
  /** Stretches of heard sounds in which more is there than they explain: without them much of the power is left. */
  readonly beyondHeard: readonly TimeRange[]
  /** Seconds of each kind, of heard sounds, and of unexplained events; heard sounds and events lie over the segments. */
  readonly secondsOf: Readonly<Record<SegmentKind | 'heard' | 'unexplained', number>>
  /** Share of the track that nothing unexplained stands out of, 0 to 1. */
  readonly explainedFraction: number
}

/** A voice is there above this probability; a pause of less than `SPEECH_HANG` steps belongs to it. */
const SPEECH_MIN = 0.5
const SPEECH_HANG = 8
/** Share of power that stands in narrow peaks, above which a stretch is music. Measured on music, ambience and machine noise. */
const TONAL_MIN = 0.27
/** A bin is a peak when it is this many times the median around it. */
const PEAK_RATIO = 5
/** Steps over which kinds are decided (4 s) and the shortest segment (0.4 s). */
const KIND_STEPS = 125
const SEGMENT_MIN = 12
/**
 * Divides a track into speech, music, noise and silence, and finds what stands out of them.
 *
 * @param rest The track without the sounds that were heard. @param speech Probability of a voice for each step of 32 ms.
 * @param heard The sounds that were heard. @param whole The track with them.
 */
export function trackBreakdown(
  rest: Track,
  speech: Float32Array,
  heard: readonly Detection[],
  whole: Track = rest,
): TrackBreakdown {
  const steps = Math.max(1, Math.ceil(rest.frames / BREAKDOWN_HOP))
  const { levels, tonal, total } = analysed(rest, steps)
  const voiced = hungOver(speech, steps)
  const kinds = kindsOf(steps, voiced, tonal, total)
  const segments = segmentsOf(kinds, rest.frames / HEARING_RATE_HZ)
  const covered = coveredSteps(heard, steps)
  const beyond = beyondSteps({ rest, whole }, voiced, heard, steps)
  const explained = covered.map((flag, step) => (flag && !beyond[step] ? 1 : 0))
  const unexplained = unexplainedEvents({ levels, tonal, total, kinds, guard: guarded(voiced, explained) })
  const seconds = (kind: SegmentKind): number =>
    segments.reduce((sum, segment) => sum + (segment.kind === kind ? segment.endS - segment.startS : 0), 0)
  const unexplainedS = unexplained.reduce((sum, event) => sum + event.endS - event.startS, 0)
  const durationS = Math.max(1e-9, rest.frames / HEARING_RATE_HZ)
  return {
    segments,
    unexplained,
    beyondHeard: flaggedRanges(beyond, durationS),
    secondsOf: {
      speech: seconds('speech'),
      music: seconds('music'),
      noise: seconds('noise'),
      silence: seconds('silence'),
      heard: Math.min(durationS, (covered.reduce((sum, flag) => sum + flag, 0) * BREAKDOWN_HOP) / HEARING_RATE_HZ),
      unexplained: unexplainedS,
    },
    explainedFraction: Math.max(0, 1 - unexplainedS / durationS),
  }
}

interface Analysis {
  /** Power of each band, dB relative to full scale, step by step. */
  readonly levels: Float32Array
  /** Share of power in narrow peaks. */
  readonly tonal: Float32Array
  /** Power of all bands, dB. */
  readonly total: Float32Array
}

function analysed(track: Track, steps: number): Analysis {
  const fft = new Fft(CELL_SIZE)
  const levels = new Float32Array(steps * CELL_BANDS)
  const tonal = new Float32Array(steps)
  const total = new Float32Array(steps)
  const powers = new Float32Array(CELL_SIZE / 2)
  const re = new Float32Array(CELL_SIZE)
  const im = new Float32Array(CELL_SIZE)
  for (let step = 0; step < steps; step++) {
    const at = step * BREAKDOWN_HOP + BREAKDOWN_HOP / 2 - CELL_SIZE / 2
    const samples = track.midSamples(at, at + CELL_SIZE)
    for (let n = 0; n < CELL_SIZE; n++) re[n] = (samples[n] as number) * (CELL_WINDOW[n] as number)
    im.fill(0)
    fft.forward(re, im)
    for (let k = 0; k < CELL_SIZE / 2; k++)
      powers[k] = ((re[k] as number) ** 2 + (im[k] as number) ** 2) * CELL_POWER_UNIT
    let all = 0
    for (let band = 0; band < CELL_BANDS; band++) {
      const sum = bandPower(powers, band)
      levels[step * CELL_BANDS + band] = decibels(sum)
      all += sum
    }
    total[step] = decibels(all)
    tonal[step] = peakShare(powers)
  }
  return { levels, tonal, total }
}

/** Share of the power between 100 Hz and 5 kHz that stands in bins far above those around them. */
function peakShare(powers: Float32Array): number {
  const roots = powers.subarray(0, PEAK_END + 8).map(Math.sqrt)
  let peaks = 0
  let all = 1e-15
  // The mean of the square roots of eight neighbours stands for the median, at a fraction of its cost: four to seven bins away.
  let below = sumOf(roots, 0, 4)
  let above = sumOf(roots, 11, 15)
  for (let k = 7; k < PEAK_END; k++) {
    const root = roots[k] as number
    const around = (below + above) / 8
    all += root
    if (root * root > PEAK_RATIO * around * around) peaks += root
    below += (roots[k - 3] as number) - (roots[k - 7] as number)
    above += (roots[k + 8] as number) - (roots[k + 4] as number)
  }
  return peaks / all
}

/** Peaks are looked for up to this bin (5 kHz). */
const PEAK_END = 320

function sumOf(values: Float32Array, from: number, to: number): number {
  let sum = 0
  for (let k = from; k < to; k++) sum += values[k] as number
  return sum
}

/** Flags of speech, with pauses between words filled. */
function hungOver(speech: Float32Array, steps: number): Uint8Array {
  const flags = new Uint8Array(steps)
  let last = Number.NEGATIVE_INFINITY
  for (let step = 0; step < steps; step++) {
    if ((speech[step] ?? 0) < SPEECH_MIN) continue
    if (step - last <= SPEECH_HANG) flags.fill(1, Math.max(0, last), step)
    flags[step] = 1
    last = step
  }
  return flags
}

function kindsOf(steps: number, voiced: Uint8Array, tonal: Float32Array, total: Float32Array): SegmentKind[] {
  const kinds: SegmentKind[] = []
  for (let step = 0; step < steps; step++) {
    const from = Math.max(0, step - (KIND_STEPS >> 1))
    const to = Math.min(steps, step + (KIND_STEPS >> 1) + 1)
    let share = 0
    let count = 0
    for (let other = from; other < to; other++) {
      if (voiced[other] || (total[other] as number) < SILENCE_DB) continue
      share += tonal[other] as number
      count++
    }
    if (voiced[step]) kinds.push('speech')
    else if ((total[step] as number) < SILENCE_DB) kinds.push('silence')
    else kinds.push(share / Math.max(1, count) > TONAL_MIN ? 'music' : 'noise')
  }
  return kinds
}

/** Runs of one kind; those that are too short join the one before. */
function segmentsOf(kinds: readonly SegmentKind[], durationS: number): Segment[] {
  const runs: { kind: SegmentKind; from: number; to: number }[] = []
  kinds.forEach((kind, step) => {
    const last = runs[runs.length - 1]
    if (last?.kind === kind) last.to = step + 1
    else runs.push({ kind, from: step, to: step + 1 })
  })
  const merged: typeof runs = []
  for (const run of runs) {
    const last = merged[merged.length - 1]
    if (last && (run.to - run.from < SEGMENT_MIN || last.kind === run.kind)) last.to = run.to
    else if (last && last.to - last.from < SEGMENT_MIN) Object.assign(last, { kind: run.kind, to: run.to })
    else merged.push({ ...run })
  }
  const second = (step: number): number => Math.min(durationS, (step * BREAKDOWN_HOP) / HEARING_RATE_HZ)
  return merged.map(({ kind, from, to }) => ({ kind, startS: second(from), endS: second(to) }))
}
