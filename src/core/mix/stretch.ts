import type { PcmSource } from './pcm'

/** What is used of the compiled stretching library: plain functions over one memory. */
export interface StretchModule {
  readonly HEAP8: { readonly buffer: ArrayBufferLike }
  _main(): unknown
  _presetDefault(channels: number, sampleRateHz: number): void
  _reset(): void
  _inputLatency(): number
  _outputLatency(): number
  /** Room for the samples of each channel going in, then of each coming out. @returns Where it begins, bytes. */
  _setBuffers(channels: number, frames: number): number
  _process(framesIn: number, framesOut: number): void
}

/** Frames that go in at once. */
const BLOCK_FRAMES = 1024
const BYTES_EACH = 4

/** Makes sounds longer or shorter without changing their pitch. Keeps state, so that it is for one thread. */
export class Stretcher {
  /** @param module Freshly opened. */
  constructor(private readonly module: StretchModule) {
    module._main()
  }

  /**
   * The whole of a sound at another speed with its pitch kept: an instant at t is at t / rate. The method is that of the library (spectral, with
   * phases led along by the strongest neighbours); what it delays is taken out again.
   *
   * @param rate 0.25 to 4; 2 is twice as fast.
   * @param onBlock Gets the samples of each channel in order; the arrays are used again.
   */
  stretch(source: PcmSource, rate: number, onBlock: (channels: readonly Float32Array[]) => void): void {
    const { module } = this
    const { channelCount, sampleRateHz, lengthFrames } = source
    module._presetDefault(channelCount, sampleRateHz)
    module._reset()
    const blockOut = Math.max(1, Math.round(BLOCK_FRAMES / rate))
    const room = Math.max(BLOCK_FRAMES, blockOut) + Math.ceil(rate) + 1
    const buffers = module._setBuffers(channelCount, room)
    const view = (index: number, frames: number): Float32Array =>
      new Float32Array(module.HEAP8.buffer, buffers + index * room * BYTES_EACH, frames)
    const channels = Array.from({ length: channelCount }, (_, channel) => channel)
    const delayed = Math.round(module._outputLatency() + module._inputLatency() / rate)
    const end = Math.round(lengthFrames / rate) + delayed
    let from = 0
    for (let at = 0; at < end; ) {
      const framesOut = Math.min(blockOut, end - at)
      const to = Math.round((at + framesOut) * rate)
      for (const channel of channels) source.read(channel, from, view(channel, to - from))
      module._process(to - from, framesOut)
      const skipped = Math.min(framesOut, Math.max(0, delayed - at))
      if (skipped < framesOut)
        onBlock(channels.map((channel) => view(channelCount + channel, framesOut).subarray(skipped)))
      from = to
      at += framesOut
    }
  }
}

/** The samples of a stretched sound in memory, for each channel. */
export function stretchedChannels(stretcher: Stretcher, source: PcmSource, rate: number): Float32Array<ArrayBuffer>[] {
  const length = Math.round(source.lengthFrames / rate)
  const channels = Array.from({ length: source.channelCount }, () => new Float32Array(length))
  let at = 0
  stretcher.stretch(source, rate, (block) => {
    for (const [channel, samples] of block.entries()) channels[channel]?.set(samples, at)
    at += block[0]?.length ?? 0
  })
  return channels
}
