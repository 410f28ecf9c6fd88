import { LoudnessMeter } from '../audio'
import type { Delivery } from '../score'
import { gainOfDb } from './gains'
import { TruePeakLimiter } from './limiter'

/** Frames that come at once. */
const BLOCK_FRAMES = 4096

/** A piece of a finished mix. Both arrays are used again for the next. */
export interface MixBlock {
  readonly fromFrame: number
  readonly left: Float32Array
  readonly right: Float32Array
}

/** A mix before its limiter, made as it is asked for or read from where it was made. */
export interface MixedAudio {
  readonly lengthFrames: number
  readonly sampleRateHz: number
  /** Fills both arrays from a frame on; silence beyond the end. */
  render(fromFrame: number, left: Float32Array, right: Float32Array): void
}

/** What a mix came to. */
export interface MixResult {
  readonly lengthFrames: number
  /** Gated loudness of what was delivered, LUFS; null for silence. */
  readonly integratedLufs: number | null
  readonly truePeakDbtp: number | null
  /** Gain that brought it to its loudness, dB. */
  readonly deliveryGainDb: number
  /** The most that the limiter took, dB, 0 or less. */
  readonly mostLimitedDb: number
}

/** How a mix is worked through. */
export interface DeliverOptions {
  /** At least so long: the mix of a video is as long as that. */
  readonly leastFrames?: number
  onBlock(block: MixBlock): void
  /** @param fraction Of all the work, 0 to 1. May throw to stop it. */
  readonly onProgress?: (fraction: number) => void
}

/**
 * Brings a mix to its delivery loudness and keeps it under its ceiling, piece by piece.
 *
 * A loudness that is wanted takes a pass of its own before; the limiter may take a little of it again, which the result tells.
 */
export function deliverMix(
  mixed: MixedAudio,
  { loudnessLufs, ceilingDbtp }: Delivery,
  { leastFrames = 0, onBlock, onProgress = () => {} }: DeliverOptions,
): MixResult {
  const { sampleRateHz } = mixed
  const lengthFrames = Math.max(leastFrames, mixed.lengthFrames)
  const passes = loudnessLufs === null ? 1 : 2
  const measuredLufs =
    passes === 1
      ? null
      : loudnessOf(mixed, {
          lengthFrames,
          onProgress: (fraction) => onProgress(fraction / passes),
        })
  const deliveryGainDb = loudnessLufs === null || measuredLufs === null ? 0 : loudnessLufs - measuredLufs
  const gain = gainOfDb(deliveryGainDb)
  const limiter = new TruePeakLimiter({ ceilingDbtp, sampleRateHz })
  const meter = new LoudnessMeter(2, sampleRateHz)
  const [left, right] = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)]
  const { latencyFrames } = limiter
  for (let from = 0; from < lengthFrames + latencyFrames; from += BLOCK_FRAMES) {
    mixed.render(from, left, right)
    for (let n = 0; n < BLOCK_FRAMES; n++) {
      left[n] = (left[n] as number) * gain
      right[n] = (right[n] as number) * gain
    }
    limiter.process(left, right)
    const first = Math.max(0, latencyFrames - from)
    const end = Math.min(BLOCK_FRAMES, lengthFrames + latencyFrames - from)
    if (end > first) {
      const block = {
        fromFrame: from + first - latencyFrames,
        left: left.subarray(first, end),
        right: right.subarray(first, end),
      }
      meter.push([block.left, block.right])
      onBlock(block)
    }
    onProgress((passes - 1 + Math.min(1, (from + BLOCK_FRAMES) / (lengthFrames + latencyFrames))) / passes)
  }
  const { integratedLufs, truePeakDbtp } = meter.result()
  return { lengthFrames, integratedLufs, truePeakDbtp, deliveryGainDb, mostLimitedDb: limiter.mostReducedDb }
}

/** Loudness of a mix before its limiter, LUFS. */
function loudnessOf(
  mixed: MixedAudio,
  {
    lengthFrames,
    onProgress,
  }: {
    readonly lengthFrames: number
    readonly onProgress: (fraction: number) => void
  },
): number | null {
  const meter = new LoudnessMeter(2, mixed.sampleRateHz)
  for (let from = 0; from < lengthFrames; from += BLOCK_FRAMES) {
    const frames = Math.min(BLOCK_FRAMES, lengthFrames - from)
    const [left, right] = [new Float32Array(frames), new Float32Array(frames)]
    mixed.render(from, left, right)
    meter.push([left, right])
    onProgress(from / lengthFrames)
  }
  return meter.result().integratedLufs
}
