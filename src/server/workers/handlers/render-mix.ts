import fs from 'node:fs'
import { broadcastWaveHeader, pcm24 } from '../../../core/formats/broadcast-wave'
import { escapedMarkup } from '../../../core/formats/markup'
import { atAnotherSpeed, deliverMix, gainOfDb, MIX_RATE_HZ, Mixer, type MixResult } from '../../../core/mix'
import type { DeliverTask, MixFileTask, MixingTask, MixPartTask, StemTask, TaskResult } from '../tasks'
import { fileSource } from './mix-sources'
import { asTaskResult } from './task-result'

const BLOCK_FRAMES = 1 << 14
const BYTES_EACH = 4

/** Mixes a stretch of a score into its place of a file. @returns How long the whole mix is, frames. */
export function mixPart({ fromFrame, frames, into, ...mixing }: MixPartTask): Promise<TaskResult<number>> {
  return asTaskResult(async () =>
    withMixer(mixing, (mixer) => {
      const file = fs.openSync(into, 'r+')
      try {
        const end = Math.min(mixer.lengthFrames, fromFrame + frames)
        for (let from = fromFrame; from < end; from += BLOCK_FRAMES) {
          const count = Math.min(BLOCK_FRAMES, end - from)
          const [left, right] = [new Float32Array(count), new Float32Array(count)]
          mixer.render(from, left, right)
          const both = new Float32Array(2 * count)
          for (let n = 0; n < count; n++) {
            both[2 * n] = left[n] as number
            both[2 * n + 1] = right[n] as number
          }
          writeAll(file, new Uint8Array(both.buffer), from * 2 * BYTES_EACH)
        }
        return mixer.lengthFrames
      } finally {
        fs.closeSync(file)
      }
    }),
  )
}

/** Brings a mix that was made to its loudness, through its limiter, into a file. */
export function deliverMixFile(task: DeliverTask): Promise<TaskResult<MixResult>> {
  return asTaskResult(async () => {
    const { source, close } = fileSource(task.mixed)
    try {
      const file = new WaveFile(task)
      const mixed = {
        lengthFrames: source.lengthFrames,
        sampleRateHz: source.sampleRateHz,
        render: (from: number, left: Float32Array, right: Float32Array): void => {
          source.read(0, from, left)
          source.read(1, from, right)
        },
      }
      const result = deliverMix(mixed, task.score.delivery, {
        leastFrames: task.leastFrames,
        onBlock: ({ left, right }) => file.push([left, right]),
      })
      file.end(result)
      return result
    } finally {
      close()
    }
  })
}

/** Writes one layer alone. */
export function renderStem(task: StemTask): Promise<TaskResult<boolean>> {
  return asTaskResult(async () =>
    withMixer(task, (mixer) => {
      const { layerId, lengthFrames, gainDb } = task
      const stem = new WaveFile(task)
      const gain = gainOfDb(gainDb)
      for (let from = 0; from < lengthFrames; from += BLOCK_FRAMES) {
        const frames = Math.min(BLOCK_FRAMES, lengthFrames - from)
        const [left, right] = [new Float32Array(frames), new Float32Array(frames)]
        mixer.renderLayer(layerId, from, left, right)
        stem.push([left, right].map((side) => side.map((value) => value * gain)))
      }
      stem.end(null)
      return true
    }),
  )
}

function withMixer<T>({ score, sources, speech }: MixingTask, work: (mixer: Mixer) => T): T {
  const opened = sources.map((file) => ({ ...file, ...fileSource(file) }))
  try {
    const byKey = new Map(
      opened.map(({ key, stretchRate, source }) => [
        key,
        stretchRate === null ? source : atAnotherSpeed(source, stretchRate),
      ]),
    )
    return work(new Mixer({ score, sources: byKey, speech, sampleRateHz: MIX_RATE_HZ }))
  } finally {
    for (const { close } of opened) close()
  }
}

function writeAll(file: number, bytes: Uint8Array, at: number): void {
  for (let done = 0; done < bytes.length; ) done += fs.writeSync(file, bytes, done, bytes.length - done, at + done)
}

/** A Broadcast Wave file that is written piece by piece; its head, which tells what came of it, last. */
class WaveFile {
  private readonly file: number
  private frames = 0
  private at: number

  constructor(private readonly task: MixFileTask) {
    this.file = fs.openSync(task.path, 'wx')
    this.at = this.header(null).length
  }

  push(channels: readonly Float32Array[]): void {
    this.write(pcm24(channels), this.at)
    this.at += (channels[0]?.length ?? 0) * channels.length * 3
    this.frames += channels[0]?.length ?? 0
  }

  end(result: MixResult | null): void {
    // Six bytes a frame: no chunk of these is odd.
    this.write(this.header(result), 0)
    fs.fsyncSync(this.file)
    fs.closeSync(this.file)
  }

  private header(result: MixResult | null): Uint8Array {
    const { title, writtenAt } = this.task
    return broadcastWaveHeader({
      sampleRateHz: MIX_RATE_HZ,
      channelCount: 2,
      lengthFrames: this.frames,
      description: title,
      originationDate: writtenAt.slice(0, 10),
      originationTime: writtenAt.slice(11, 19),
      timeReferenceFrames: 0,
      integratedLufs: result?.integratedLufs ?? null,
      truePeakDbtp: result?.truePeakDbtp ?? null,
      ixml: `<?xml version="1.0" encoding="UTF-8"?><BWFXML><IXML_VERSION>2.0</IXML_VERSION><PROJECT>${escapedMarkup(title).replace(/[^\x20-\x7e]/g, '?')}</PROJECT></BWFXML>`,
    })
  }

  private write(bytes: Uint8Array, at: number): void {
    writeAll(this.file, bytes, at)
  }
}
