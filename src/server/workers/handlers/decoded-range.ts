import type { TimeRange } from '../../../core/time-range'
import { workers as messages } from '../../../messages/server/workers'
import { decodeMedia, soundDecoder } from '../../media/choose'
import { MediaError } from '../../media/decoder'
import { concatFloat32 } from '../concat-float32'
import { type Pulse, PulseTeller } from '../pulse'

/** Samples of a range of a file. @throws Error when there is no sound in it. */
export async function decodeRange(
  path: string,
  { startS, endS }: TimeRange,
  pulse: Pulse | undefined,
): Promise<{ channels: Float32Array[]; rateHz: number }> {
  const teller = new PulseTeller(pulse)
  const parts: Float32Array[][] = []
  let rateHz = 0
  let frames = 0
  await decodeMedia(soundDecoder, path, {
    untilS: endS,
    onBlock: (channels, rate) => {
      rateHz = rate
      const length = channels[0]?.length ?? 0
      const from = Math.max(0, Math.round(startS * rate) - frames)
      const to = Math.min(length, Math.round(endS * rate) - frames)
      if (to > from) parts.push(channels.map((channel) => channel.slice(from, to)))
      frames += length
      teller.decoded(length, rate)
    },
  })
  teller.computing()
  if (parts.length === 0) throw new MediaError('outside', messages.thereNoSoundInThat)
  const channels = (parts[0] as Float32Array[]).map((_, index) =>
    concatFloat32(parts.map((part) => part[index] as Float32Array)),
  )
  return { channels, rateHz }
}
