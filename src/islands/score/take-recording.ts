import { takeBounds } from '../../core/audio'
import { MIX_RATE_HZ } from '../../core/mix'
import type { TimeRange } from '../../core/time-range'
import type { RecordedBlock } from './record-messages'

/** A sound has ten minutes at most, s. */
export const LONGEST_TAKE_S = 600

/** What was recorded at once. */
export interface Take {
  readonly channels: readonly Float32Array<ArrayBuffer>[]
  /** Where in the video it begins, s. */
  readonly startS: number
  /** Where something is heard in it, s from its start. */
  readonly bounds: TimeRange
  readonly recordedAt: Date
}

/** Gathers what is recorded, and where in the video it was. */
export class TakeRecording {
  private readonly blocks: RecordedBlock[] = []
  private readonly startsS: number[] = []
  private frames = 0

  /** @param latencyS By so much later than it sounded a sample comes. */
  constructor(private readonly latencyS: number) {}

  get lengthS(): number {
    return this.frames / MIX_RATE_HZ
  }

  /** @param videoS Where the video stands now. @param nowS Time of the audio clock now, s. */
  push(block: RecordedBlock, videoS: number, nowS: number): void {
    this.startsS.push(videoS - (nowS - block.contextTimeS) - this.lengthS - this.latencyS)
    this.blocks.push(block)
    this.frames += block.channels[0]?.length ?? 0
  }

  /** @returns Null where nothing was heard. */
  end(): Take | null {
    const count = Math.max(0, ...this.blocks.map(({ channels }) => channels.length))
    const channels = Array.from({ length: count }, (_, at) => this.joined(at))
    const bounds = takeBounds(channels, MIX_RATE_HZ)
    if (!bounds) return null
    // The picture starts with a jerk, and messages come late: what most of them say is true.
    const startS = [...this.startsS].sort((a, b) => a - b)[Math.floor(this.startsS.length / 2)] ?? 0
    return { channels, startS, bounds, recordedAt: new Date() }
  }

  /** One channel; a block that has it not gives its first. */
  private joined(at: number): Float32Array<ArrayBuffer> {
    const whole = new Float32Array(this.frames)
    let filled = 0
    for (const { channels } of this.blocks) {
      const samples = channels[at] ?? channels[0]
      if (!samples) continue
      whole.set(samples, filled)
      filled += samples.length
    }
    return whole
  }
}

/** Peak of a block, 0 to 1. */
export function peakOf({ channels }: RecordedBlock): number {
  let most = 0
  for (const channel of channels) for (const sample of channel) most = Math.max(most, Math.abs(sample))
  return Math.min(1, most)
}
