import { TruePeak } from './true-peak'

/** Loudness of a clip or track. Null where there is no answer (silence, or under one 400 ms block). */
export interface Loudness {
  /** Gated loudness over the whole length, LUFS. */
  readonly integratedLufs: number | null
  /** Highest inter-sample level, dB relative to full scale, or null for digital silence. */
  readonly truePeakDbtp: number | null
  /** Momentary loudness (400 ms window) every 100 ms, LUFS; silence is -120. The first value ends at 0.4 s. */
  readonly momentaryLufs: Float32Array
  /** Short-term loudness (3 s window) every 100 ms, LUFS; silence is -120. The first value ends at 3 s. */
  readonly shortTermLufs: Float32Array
  /** Highest momentary and short-term loudness, looked at every 20 ms, LUFS; null where the clip is shorter than a window. */
  readonly momentaryMaxLufs: number | null
  readonly shortTermMaxLufs: number | null
  /** Loudness range, LU: the spread between the 10th and the 95th percentile of what is not silence. Null under 3 s. */
  readonly rangeLu: number | null
}

/** An input that loudness cannot be computed for. */
export class AudioInputError extends Error {
  override readonly name = 'AudioInputError'
  constructor(
    readonly code: 'channel-count' | 'sample-rate' | 'length-mismatch',
    message: string,
  ) {
    super(message)
  }
}

/** Absolute and relative gates, in LUFS and LU. Source: ITU-R BS.1770-4, Annex 1, equations 4 to 7. */
const ABSOLUTE_GATE_LUFS = -70
const RELATIVE_GATE_LU = -10
/** Gate of the loudness range and its percentiles. Source: EBU Tech 3342, section 2. */
const RANGE_GATE_LU = -20
const RANGE_LOW = 0.1
const RANGE_HIGH = 0.95
/** Energies are gathered in hops of 20 ms: a peak of loudness that lies between two values 100 ms apart is seen too. */
const HOPS_PER_S = 50
/** Hops in a momentary and in a short-term window, and between two values. Source: EBU Tech 3341, section 2. */
const MOMENTARY_HOPS = 20
const SHORT_TERM_HOPS = 150
const VALUE_HOPS = 5
const OFFSET_DB = -0.691
const SILENCE_LUFS = -120

interface Biquad {
  readonly b0: number
  readonly b1: number
  readonly b2: number
  readonly a1: number
  readonly a2: number
}

/**
 * Streaming loudness meter: push blocks, then read the result.
 *
 * Integrated loudness after ITU-R BS.1770-4, momentary and short-term loudness after EBU Tech 3341, loudness range after EBU
 * Tech 3342; true peak by fourfold oversampling (BS.1770-4, Annex 2).
 * A full-scale 997 Hz sine in one channel reads -3.01 LUFS.
 */
export class LoudnessMeter {
  private readonly stages: readonly [Biquad, Biquad]
  private readonly state: Float64Array[]
  private readonly peak: TruePeak[]
  private readonly hop: number
  private hopFill = 0
  private hopEnergy = 0
  private readonly hops: number[] = []

  /** @param channelCount 1 or 2. @param sampleRateHz 8 000 to 192 000. @throws {AudioInputError} channel-count, sample-rate. */
  constructor(
    private readonly channelCount: number,
    sampleRateHz: number,
  ) {
    if (channelCount !== 1 && channelCount !== 2)
      throw new AudioInputError('channel-count', `${channelCount} channels: mix down to one or two first`)
    if (!(sampleRateHz >= 8000 && sampleRateHz <= 192000))
      throw new AudioInputError('sample-rate', `${sampleRateHz} Hz is outside 8 000 to 192 000`)
    this.stages = [shelf(sampleRateHz), highPass(sampleRateHz)]
    this.state = Array.from({ length: channelCount }, () => new Float64Array(4))
    this.peak = Array.from({ length: channelCount }, () => new TruePeak())
    this.hop = Math.round(sampleRateHz / HOPS_PER_S)
  }

  /** Takes one block: as many arrays as channels, of equal length. @throws {AudioInputError} channel-count, length-mismatch. */
  push(channels: readonly Float32Array[]): void {
    if (channels.length !== this.channelCount)
      throw new AudioInputError('channel-count', `the meter was made for ${this.channelCount} channels`)
    const frames = (channels[0] as Float32Array).length
    if (channels.some((channel) => channel.length !== frames))
      throw new AudioInputError('length-mismatch', 'all channels of a block must be equally long')
    channels.forEach((channel, index) => {
      this.peak[index]?.push(channel)
    })
    let done = 0
    while (done < frames) {
      const take = Math.min(frames - done, this.hop - this.hopFill)
      channels.forEach((channel, index) => {
        this.hopEnergy += this.weightedEnergy(channel.subarray(done, done + take), this.state[index] as Float64Array)
      })
      this.hopFill += take
      done += take
      if (this.hopFill === this.hop) {
        this.hops.push(this.hopEnergy / this.hop)
        this.hopEnergy = 0
        this.hopFill = 0
      }
    }
  }

  /** The result for all that was pushed so far. */
  result(): Loudness {
    const blocks = blockPowers(this.hops, MOMENTARY_HOPS)
    const longer = blockPowers(this.hops, SHORT_TERM_HOPS)
    const peak = Math.max(0, ...this.peak.map((p) => p.peak))
    return {
      integratedLufs: gatedLoudness(blocks),
      truePeakDbtp: peak > 0 ? 20 * Math.log10(peak) : null,
      momentaryLufs: Float32Array.from(blocks, powerLufs),
      shortTermLufs: Float32Array.from(longer, powerLufs),
      momentaryMaxLufs: highestLufs(this.hops, MOMENTARY_HOPS),
      shortTermMaxLufs: highestLufs(this.hops, SHORT_TERM_HOPS),
      rangeLu: loudnessRange(longer),
    }
  }

  private weightedEnergy(samples: Float32Array, state: Float64Array): number {
    const [first, second] = this.stages
    let s0 = state[0] as number
    let s1 = state[1] as number
    let s2 = state[2] as number
    let s3 = state[3] as number
    let energy = 0
    for (let i = 0; i < samples.length; i++) {
      const x = samples[i] as number
      const y = first.b0 * x + s0
      s0 = first.b1 * x - first.a1 * y + s1
      s1 = first.b2 * x - first.a2 * y
      const z = second.b0 * y + s2
      s2 = second.b1 * y - second.a1 * z + s3
      s3 = second.b2 * y - second.a2 * z
      energy += z * z
    }
    state[0] = s0
    state[1] = s1
    state[2] = s2
    state[3] = s3
    return energy
  }
}

/**
 * Loudness of a whole clip.
 *
 * @param channels Mono, or left then right: 1 or 2 arrays of equal length, full scale 1. Not modified.
 * @param sampleRateHz 8 000 to 192 000.
 * @throws {AudioInputError} channel-count, sample-rate, length-mismatch.
 */
export function clipLoudness(channels: readonly Float32Array[], sampleRateHz: number): Loudness {
  const meter = new LoudnessMeter(channels.length, sampleRateHz)
  meter.push(channels)
  return meter.result()
}

/** Mean powers of windows of so many hops, a new one every `step` hops. */
function blockPowers(hops: readonly number[], hopsPerBlock: number, step = VALUE_HOPS): number[] {
  const blocks: number[] = []
  const sums = new Float64Array(hops.length + 1)
  hops.forEach((power, index) => {
    sums[index + 1] = (sums[index] as number) + power
  })
  for (let end = hopsPerBlock; end <= hops.length; end += step)
    blocks.push(Math.max(0, (sums[end] as number) - (sums[end - hopsPerBlock] as number)) / hopsPerBlock)
  return blocks
}

function highestLufs(hops: readonly number[], hopsPerBlock: number): number | null {
  if (hops.length < hopsPerBlock) return null
  return powerLufs(blockPowers(hops, hopsPerBlock, 1).reduce((most, power) => Math.max(most, power), 0))
}

function powerLufs(power: number): number {
  return power > 0 ? Math.max(SILENCE_LUFS, OFFSET_DB + 10 * Math.log10(power)) : SILENCE_LUFS
}

function gatedLoudness(blocks: readonly number[]): number | null {
  const loud = blocks.filter((power) => powerLufs(power) > ABSOLUTE_GATE_LUFS)
  if (loud.length === 0) return null
  const threshold = powerLufs(mean(loud)) + RELATIVE_GATE_LU
  const gated = loud.filter((power) => powerLufs(power) > threshold)
  return gated.length === 0 ? null : powerLufs(mean(gated))
}

/** @param blocks Powers of the short-term windows. */
function loudnessRange(blocks: readonly number[]): number | null {
  const loud = blocks.filter((power) => powerLufs(power) > ABSOLUTE_GATE_LUFS)
  if (loud.length === 0) return null
  const threshold = powerLufs(mean(loud)) + RANGE_GATE_LU
  const sorted = loud.map(powerLufs).filter((value) => value > threshold)
  sorted.sort((a, b) => a - b)
  const at = (share: number): number => sorted[Math.round(share * (sorted.length - 1))] as number
  return at(RANGE_HIGH) - at(RANGE_LOW)
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length
}

/** The pre-filter's high shelf for any rate. Analogue prototype of the BS.1770 coefficients at 48 kHz. */
function shelf(sampleRateHz: number): Biquad {
  const frequencyHz = 1681.974450955533
  const gainDb = 3.999843853973347
  const q = 0.7071752369554196
  const k = Math.tan((Math.PI * frequencyHz) / sampleRateHz)
  const vh = 10 ** (gainDb / 20)
  const vb = vh ** 0.4996667741545416
  const a0 = 1 + k / q + k * k
  return {
    b0: (vh + (vb * k) / q + k * k) / a0,
    b1: (2 * (k * k - vh)) / a0,
    b2: (vh - (vb * k) / q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / q + k * k) / a0,
  }
}

/** The RLB high-pass for any rate. Analogue prototype of the BS.1770 coefficients at 48 kHz. */
function highPass(sampleRateHz: number): Biquad {
  const frequencyHz = 38.13547087602444
  const q = 0.5003270373238773
  const k = Math.tan((Math.PI * frequencyHz) / sampleRateHz)
  const a0 = 1 + k / q + k * k
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 }
}
