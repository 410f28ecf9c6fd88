/** Audio that can be read anywhere: a decoded file in memory, or one that is read piece by piece. */
export interface PcmSource {
  readonly sampleRateHz: number
  readonly channelCount: number
  readonly lengthFrames: number
  /**
   * Writes samples of a channel into `out`, from a frame on; silence where the source has none.
   *
   * @param fromFrame A whole number; may be negative or beyond the end.
   */
  read(channel: number, fromFrame: number, out: Float32Array): void
}

/** A source whose samples are in memory. @param channels Equally long, full scale 1. Not modified. */
export function memorySource(channels: readonly Float32Array[], sampleRateHz: number): PcmSource {
  const lengthFrames = channels[0]?.length ?? 0
  return {
    sampleRateHz,
    channelCount: channels.length,
    lengthFrames,
    read(channel, fromFrame, out) {
      out.fill(0)
      const samples = channels[channel]
      if (!samples || fromFrame >= lengthFrames || fromFrame + out.length <= 0) return
      const skipped = Math.max(0, -fromFrame)
      out.set(samples.subarray(fromFrame + skipped, fromFrame + out.length), skipped)
    },
  }
}

/** A source whose samples were stretched to another speed, on the times of the source that it was made from. */
export function atAnotherSpeed(stretched: PcmSource, rate: number): PcmSource {
  return { ...stretched, sampleRateHz: stretched.sampleRateHz / rate }
}

const HALF_POWER = Math.SQRT1_2

/** Gains of a channel on the left and on the right. */
type Share = readonly [number, number]

/** Shares of the channels in the order of WAVE files: front left, front right, centre, low, back or side. Source: ITU-R BS.775-3, annex 4. */
const FRONT: readonly Share[] = [
  [1, 0],
  [0, 1],
]
const CENTRE: Share = [HALF_POWER, HALF_POWER]
const NONE: Share = [0, 0]
const LEFT_BEHIND: Share = [HALF_POWER, 0]
const RIGHT_BEHIND: Share = [0, HALF_POWER]
const SHARES: Readonly<Record<number, readonly Share[]>> = {
  2: FRONT,
  3: [...FRONT, CENTRE],
  4: [...FRONT, LEFT_BEHIND, RIGHT_BEHIND],
  5: [...FRONT, CENTRE, LEFT_BEHIND, RIGHT_BEHIND],
  6: [...FRONT, CENTRE, NONE, LEFT_BEHIND, RIGHT_BEHIND],
  7: [...FRONT, CENTRE, NONE, CENTRE, LEFT_BEHIND, RIGHT_BEHIND],
  8: [...FRONT, CENTRE, NONE, LEFT_BEHIND, RIGHT_BEHIND, LEFT_BEHIND, RIGHT_BEHIND],
}

/** How loud each channel of a source is on the left and on the right; one channel alone stands on both as it is. */
export function stereoShares(channelCount: number): readonly Share[] {
  if (channelCount === 1) return [[1, 1]]
  return SHARES[channelCount] ?? Array.from({ length: channelCount }, (_, at) => FRONT[at] ?? NONE)
}
