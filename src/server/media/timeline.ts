import { type DecodedMedia, type DecodeOptions, MAX_TRACK_S, MediaError } from './decoder'

/** Timestamps within this of the running position are taken as gapless, s: containers round them to milliseconds. */
const JITTER_S = 0.02

/** Puts decoded blocks onto one gapless timeline that starts at 0, and hands them on. */
export class SoundTimeline {
  private frames = 0
  private sampleRateHz = 0
  private channelCount = 0

  /** @param durationS Length that the container states; what decodes beyond it is padding and cut. Null if unknown. */
  constructor(
    private readonly options: DecodeOptions,
    private readonly durationS: number | null,
  ) {}

  get isEmpty(): boolean {
    return this.frames === 0
  }

  /** Adds a block right after the last one. */
  append(channels: readonly Float32Array[], sampleRateHz: number): void {
    if (channels.length > 0 && (channels[0]?.length ?? 0) > 0) this.emit(stereo(channels), sampleRateHz)
  }

  /** Adds a block at its time; what lies before 0 is dropped, a gap is filled with silence. */
  place(timeS: number, channels: readonly Float32Array[], sampleRateHz: number): void {
    const length = channels[0]?.length ?? 0
    if (length === 0) return
    const position = Math.round(timeS * sampleRateHz)
    const jitter = JITTER_S * sampleRateHz
    if (position < 0 && this.frames === 0) {
      const drop = Math.min(length, -position)
      this.append(
        channels.map((channel) => channel.subarray(drop)),
        sampleRateHz,
      )
      return
    }
    const gap = position - this.frames
    if (gap > jitter || (this.frames === 0 && gap > 0)) {
      const silence = Math.min(gap, Math.round(MAX_TRACK_S * sampleRateHz))
      this.append(
        channels.map(() => new Float32Array(silence)),
        sampleRateHz,
      )
    }
    this.append(channels, sampleRateHz)
  }

  /** Adds a block of which only the end time is known. */
  placeEndingAt(endS: number, channels: readonly Float32Array[], sampleRateHz: number): void {
    const length = channels[0]?.length ?? 0
    if (length > 0) this.place(endS - length / sampleRateHz, channels, sampleRateHz)
  }

  /** What was put on the timeline, or null when nothing was. */
  end(): Omit<DecodedMedia, 'hasPicture'> | null {
    if (this.frames === 0) return null
    const { sampleRateHz, channelCount } = this
    return { sampleRateHz, channelCount, durationS: this.frames / sampleRateHz }
  }

  private emit(channels: readonly Float32Array[], sampleRateHz: number): void {
    if (this.sampleRateHz === 0) {
      this.sampleRateHz = sampleRateHz
      this.channelCount = channels.length
    }
    const fitted = channels.length === this.channelCount ? channels : matched(channels, this.channelCount)
    const length = (fitted[0] as Float32Array).length
    const room = this.durationS === null ? length : Math.round(this.durationS * this.sampleRateHz) - this.frames
    const take = Math.max(0, Math.min(length, room))
    if (take === 0) return
    if ((this.frames + take) / this.sampleRateHz > MAX_TRACK_S)
      throw new MediaError('too-long', `The sound track is longer than ${MAX_TRACK_S / 3600} hours. Check it in parts.`)
    this.frames += take
    for (const channel of fitted) silenceNonFinite(channel)
    this.options.onBlock(take === length ? fitted : fitted.map((channel) => channel.subarray(0, take)), sampleRateHz)
  }
}

/** Mixes more than two channels down to stereo (ITU-R BS.775: centre and surrounds at -3 dB, no LFE). */
function stereo(channels: readonly Float32Array[]): readonly Float32Array[] {
  if (channels.length <= 2) return channels
  const [left, right, centre] = channels as [Float32Array, Float32Array, Float32Array]
  const surround = channels.slice(channels.length >= 6 ? 4 : 3)
  return [left, right].map((front, side) => {
    const rear = surround[side % Math.max(1, surround.length)]
    return front.map((value, i) => value + Math.SQRT1_2 * ((centre[i] as number) + (rear?.[i] ?? 0)))
  })
}

/** A damaged float file may hold what is no number; one such sample would spoil every sum. Changes in place. */
function silenceNonFinite(channel: Float32Array): void {
  for (let i = 0; i < channel.length; i++) {
    const value = channel[i] as number
    // Only what is no number differs from itself when itself is taken away.
    if (value - value !== 0) channel[i] = 0
  }
}

function matched(channels: readonly Float32Array[], count: number): readonly Float32Array[] {
  const first = channels[0] as Float32Array
  return count === 2 ? [first, channels[1] ?? first] : [first.map((v, i) => (v + (channels[1]?.[i] ?? v)) / 2)]
}
