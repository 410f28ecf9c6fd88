import { RECORD_PROCESSOR, type RecordedBlock } from './record-messages'

declare class AudioWorkletProcessor {
  readonly port: MessagePort
}
declare function registerProcessor(name: string, processor: typeof AudioWorkletProcessor): void
declare const currentTime: number

/** Frames that are told of at once. */
const BLOCK_FRAMES = 4096

/** Hands on what comes from the microphone, sample for sample. */
class RecordProcessor extends AudioWorkletProcessor {
  private channels: Float32Array[] = []
  private filled = 0
  private fromS = 0

  process([input]: readonly Float32Array[][]): boolean {
    const frames = input?.[0]?.length ?? 0
    if (!input || frames === 0) return true
    if (input.length !== this.channels.length) {
      this.send()
      this.channels = input.map(() => new Float32Array(BLOCK_FRAMES))
    }
    if (this.filled === 0) this.fromS = currentTime
    for (const [at, channel] of input.entries()) this.channels[at]?.set(channel, this.filled)
    this.filled += frames
    if (this.filled + frames > BLOCK_FRAMES) this.send()
    return true
  }

  private send(): void {
    if (this.filled === 0) return
    const block: RecordedBlock = {
      contextTimeS: this.fromS,
      channels: this.channels.map((channel) => channel.slice(0, this.filled)),
    }
    this.port.postMessage(
      block,
      block.channels.map(({ buffer }) => buffer),
    )
    this.filled = 0
  }
}

registerProcessor(RECORD_PROCESSOR, RecordProcessor)
