import { missingRanges, type TimeRange } from '../../core/time-range'
import { media as messages } from '../../messages/server/media'
import { type ChannelLayout, foldedDown } from './channel-layout'
import { type DecodedMedia, type DecodeOptions, MAX_TRACK_S, MediaError } from './decoder'

/** Timestamps within this of the running position are taken as gapless, s: containers round them to milliseconds. */
const JITTER_S = 0.02
/** A longer gap is damage and no pause, s. */
export const MAX_GAP_S = 600
/** Silence is laid down in pieces of this many frames. */
const SILENCE_FRAMES = 48_000

/** Puts decoded blocks onto one gapless timeline that starts at 0, and hands them on. */
export class SoundTimeline {
  private frames = 0
  private sampleRateHz = 0
  private channelCount = 0

  private readonly decoded: TimeRange[] = []

  /**
   * @param durationS Length that the container states; what decodes beyond it is padding and cut. Null if unknown.
   * @param layout Roles of the channels that come, for more than two; null where they are not known.
   */
  constructor(
    private readonly options: Pick<DecodeOptions, 'onBlock'>,
    private readonly durationS: number | null,
    private readonly layout: ChannelLayout | null = null,
  ) {}

  /** Length of what is on it, s. */
  get lengthS(): number {
    return this.sampleRateHz === 0 ? 0 : this.frames / this.sampleRateHz
  }

  get isEmpty(): boolean {
    return this.frames === 0
  }

  /** Adds a block right after the last one. */
  append(channels: readonly Float32Array[], sampleRateHz: number): void {
    if (channels.length > 0 && (channels[0]?.length ?? 0) > 0)
      this.emit(foldedDown(channels, this.layout), sampleRateHz, true)
  }

  /** Adds a block at its time; what lies before 0 is dropped, a gap is filled with silence. @throws {MediaError} bad-times, for a gap over ten minutes. */
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
      if (gap > MAX_GAP_S * sampleRateHz)
        throw new MediaError('bad-times', messages.fileDamagedSoundSaidGo(MAX_GAP_S / 60))
      for (let left = gap; left > 0; left -= SILENCE_FRAMES) {
        const quiet = new Float32Array(Math.min(left, SILENCE_FRAMES))
        this.emit(channels.length > 1 ? [quiet, quiet.slice()] : [quiet], sampleRateHz, false)
      }
    }
    this.append(channels, sampleRateHz)
  }

  /** Adds a block of which only the end time is known. */
  placeEndingAt(endS: number, channels: readonly Float32Array[], sampleRateHz: number): void {
    const length = channels[0]?.length ?? 0
    if (length > 0) this.place(endS - length / sampleRateHz, channels, sampleRateHz)
  }

  /** What was put on the timeline, or null when nothing was. */
  end(): Pick<DecodedMedia, 'sampleRateHz' | 'channelCount' | 'durationS'> | null {
    if (this.frames === 0) return null
    const { sampleRateHz, channelCount } = this
    return { sampleRateHz, channelCount, durationS: this.frames / sampleRateHz }
  }

  /** What was not decoded, though it should be there. A track that begins late misses nothing before it. @param statedS Null if unknown. */
  missing(statedS: number | null): TimeRange[] {
    return missingRanges(this.decoded, { statedS, startS: this.decoded[0]?.startS ?? 0 })
  }

  /** @param isSound False for silence that stands for something that never came. */
  private emit(channels: readonly Float32Array[], sampleRateHz: number, isSound: boolean): void {
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
      throw new MediaError('too-long', messages.soundTrackLongerThanHours(MAX_TRACK_S / 3600))
    if (isSound) this.noteDecoded(this.frames / this.sampleRateHz, (this.frames + take) / this.sampleRateHz)
    this.frames += take
    for (const channel of fitted) silenceNonFinite(channel)
    this.options.onBlock(take === length ? fitted : fitted.map((channel) => channel.subarray(0, take)), sampleRateHz)
  }

  private noteDecoded(startS: number, endS: number): void {
    const last = this.decoded[this.decoded.length - 1]
    if (last && startS - last.endS < 1e-6) this.decoded[this.decoded.length - 1] = { startS: last.startS, endS }
    else this.decoded.push({ startS, endS })
  }
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
