import fs from 'node:fs'
import { openStretch } from 'signalsmith-stretch'
import { Resampler } from '../../../core/audio'
import { MIX_RATE_HZ, type PcmSource, Stretcher } from '../../../core/mix'
import { chosenDecoder, decodeMedia } from '../../media/choose'
import { PulseTeller } from '../pulse'
import type { DecodedFile, MixSourceTask, StretchTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

const BYTES_EACH = 4
/** Frames that are read from a file at once, and how many such stretches are kept: a sound may be placed in several places at once. */
const READ_FRAMES = 1 << 14
const HELD_STRETCHES = 24

/** Decodes a sound to the rate of mixes, into a file. */
export function decodeMixSource({ path, into, pulse }: MixSourceTask): Promise<TaskResult<DecodedFile>> {
  return asTaskResult(async () => {
    const teller = new PulseTeller(pulse)
    return withWriter(into, async (writer) => {
      await decodeMedia(chosenDecoder(), path, {
        onBlock: (channels, rateHz) => {
          writer.push(channels, rateHz)
          teller.decoded(channels[0]?.length ?? 0, rateHz)
        },
      })
    })
  })
}

/** Stretches a decoded sound to another speed, into a file. Its pitch stays. */
export function stretchMixSource({ source, rate, into }: StretchTask): Promise<TaskResult<DecodedFile>> {
  return asTaskResult(async () => {
    const stretcher = new Stretcher(await openStretch())
    const { source: samples, close } = fileSource(source)
    try {
      return await withWriter(into, async (writer) => {
        stretcher.stretch(samples, rate, (channels) => writer.push(channels, MIX_RATE_HZ))
      })
    } finally {
      close()
    }
  })
}

async function withWriter(into: string, write: (writer: FrameWriter) => Promise<void>): Promise<DecodedFile> {
  const file = fs.openSync(into, 'wx')
  try {
    const writer = new FrameWriter(file)
    await write(writer)
    writer.end()
    return { path: into, lengthFrames: writer.lengthFrames, channelCount: writer.channelCount }
  } finally {
    fs.closeSync(file)
  }
}

class FrameWriter {
  lengthFrames = 0
  channelCount = 0
  private resamplers: Resampler[] | null = null

  constructor(private readonly file: number) {}

  push(channels: readonly Float32Array[], rateHz: number): void {
    if (this.channelCount === 0) {
      this.channelCount = channels.length
      if (rateHz !== MIX_RATE_HZ)
        this.resamplers = channels.map(() => new Resampler({ fromHz: rateHz, toHz: MIX_RATE_HZ }))
    }
    this.write(this.resamplers ? channels.map((samples, at) => this.resampler(at).push(samples)) : channels)
  }

  end(): void {
    if (this.resamplers) this.write(this.resamplers.map((one) => one.flush()))
  }

  private resampler(at: number): Resampler {
    return this.resamplers?.[at] as Resampler
  }

  private write(channels: readonly Float32Array[]): void {
    const frames = channels[0]?.length ?? 0
    const out = new Float32Array(frames * channels.length)
    for (const [at, samples] of channels.entries())
      for (let n = 0; n < frames; n++) out[n * channels.length + at] = samples[n] as number
    const bytes = Buffer.from(out.buffer)
    for (let done = 0; done < bytes.length; ) done += fs.writeSync(this.file, bytes, done)
    this.lengthFrames += frames
  }
}

/** A decoded file as audio that can be read anywhere; it holds the stretches that were read last. @returns It, and what closes it. */
export function fileSource({ path, lengthFrames, channelCount }: DecodedFile): { source: PcmSource; close(): void } {
  const file = fs.openSync(path, 'r')
  const held = new Map<number, Float32Array>()
  const stretchAt = (from: number): Float32Array => {
    const known = held.get(from)
    if (known) return known
    const oldest = held.size < HELD_STRETCHES ? undefined : held.entries().next().value
    if (oldest) held.delete(oldest[0])
    const samples = oldest?.[1] ?? new Float32Array(READ_FRAMES * channelCount)
    const bytes = Buffer.from(samples.buffer)
    const wanted = Math.max(0, Math.min(READ_FRAMES, lengthFrames - from)) * channelCount * BYTES_EACH
    for (let done = 0; done < wanted; ) {
      const read = fs.readSync(file, bytes, done, wanted - done, from * channelCount * BYTES_EACH + done)
      if (read === 0) throw new Error(`${path} is shorter than it was written`)
      done += read
    }
    held.set(from, samples)
    return samples
  }
  return {
    close: () => fs.closeSync(file),
    source: {
      sampleRateHz: MIX_RATE_HZ,
      channelCount,
      lengthFrames,
      read(channel, fromFrame, out) {
        const end = Math.min(out.length, lengthFrames - fromFrame)
        let n = Math.min(out.length, Math.max(0, -fromFrame))
        out.fill(0, 0, n)
        while (n < end) {
          const from = Math.floor((fromFrame + n) / READ_FRAMES) * READ_FRAMES
          const samples = stretchAt(from)
          const stop = Math.min(end, from + READ_FRAMES - fromFrame)
          let at = (fromFrame + n - from) * channelCount + channel
          for (; n < stop; n++, at += channelCount) out[n] = samples[at] as number
        }
        out.fill(0, Math.max(0, n))
      },
    },
  }
}
