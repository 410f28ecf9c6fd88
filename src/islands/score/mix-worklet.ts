import { atAnotherSpeed, Mixer, memorySource, type PcmSource, TruePeakLimiter } from '../../core/mix'
import { EMPTY_SCORE, type Score } from '../../core/score'
import type { TimeRange } from '../../core/time-range'
import { LateClock } from './late-clock'
import { MadeAhead } from './made-ahead'
import { MIX_PROCESSOR, type MixMessage, type MixReport } from './mix-messages'

declare class AudioWorkletProcessor {
  readonly port: MessagePort
}
declare function registerProcessor(name: string, processor: typeof AudioWorkletProcessor): void
declare const sampleRate: number
declare const currentTime: number

/** Frames that are told of at once. */
const REPORT_FRAMES = 4096
/** So much is made before it is heard, s: as long as picture and sound come together. */
const AHEAD_S = 1
const QUANTUM_FRAMES = 128
/** Over so many frames the sound comes in after a jump. */
const RISE_FRAMES = 240

/** Makes the mix in the audio thread, by the code that also writes it to files. */
class MixProcessor extends AudioWorkletProcessor {
  private readonly sources = new Map<string, PcmSource>()
  private score: Score = EMPTY_SCORE
  private speech: readonly TimeRange[] = []
  private mixer: Mixer | null = null
  /** Whether the score, or its audio, is another than the mixer has. */
  private isChanged = true
  private limiter: TruePeakLimiter | null = null
  private nextFrame: number | null = null
  private ahead: MadeAhead | null = null
  /** When the first frame that was made ahead was to be heard, by the audio clock, s; null once it has begun. */
  private beginsAtS: number | null = null
  private readonly late = new LateClock()
  private readonly left = new Float32Array(REPORT_FRAMES)
  private readonly right = new Float32Array(REPORT_FRAMES)
  private filled = 0
  private risingFrames = 0

  constructor() {
    super()
    this.port.onmessage = ({ data }: MessageEvent<MixMessage>) => this.take(data)
  }

  process(_inputs: unknown, [output]: readonly Float32Array[][]): boolean {
    const [left, right] = output ?? []
    if (!left || !right) return true
    if (this.nextFrame === null) return true
    if (this.beginsAtS !== null) this.begin(this.beginsAtS)
    this.late.look(Date.now() / 1000, currentTime)
    const given = this.ahead?.take(left, right) ?? 0
    if (given < left.length) {
      this.ahead = null
      this.make(left.subarray(given), right.subarray(given), this.nextFrame + given)
    }
    this.rise(left, right)
    this.nextFrame += left.length
    this.collect(left, right)
    return true
  }

  /** Fills both sides with the mix from a frame on. */
  private make(left: Float32Array, right: Float32Array, fromFrame: number): void {
    if (!this.mixer || this.isChanged) {
      const { score, sources, speech, mixer } = this
      this.mixer = new Mixer({ score, sources, speech, sampleRateHz: sampleRate, ...(mixer ? { before: mixer } : {}) })
      this.isChanged = false
    }
    this.limiter ??= new TruePeakLimiter({ ceilingDbtp: this.score.delivery.ceilingDbtp, sampleRateHz: sampleRate })
    // The limiter looks ahead: what it gives now was put into it so much before.
    this.mixer.render(fromFrame + this.limiter.latencyFrames, left, right)
    this.limiter.process(left, right)
  }

  private makeAhead(fromFrame: number): void {
    const frames = QUANTUM_FRAMES * Math.round((AHEAD_S * sampleRate) / QUANTUM_FRAMES)
    const [left, right] = [new Float32Array(frames), new Float32Array(frames)]
    for (let at = 0; at < frames; at += QUANTUM_FRAMES)
      this.make(left.subarray(at, at + QUANTUM_FRAMES), right.subarray(at, at + QUANTUM_FRAMES), fromFrame + at)
    this.ahead = new MadeAhead(fromFrame, left, right)
  }

  /** Begins where the mix has come to meanwhile. */
  private begin(atS: number): void {
    this.beginsAtS = null
    this.late.begin()
    const passed = Math.max(0, Math.round((currentTime - atS) * sampleRate))
    this.goTo((this.nextFrame ?? 0) + passed)
  }

  private goTo(frame: number): void {
    this.nextFrame = frame
    if (this.ahead && !this.ahead.goTo(frame)) this.ahead = null
  }

  private take(message: MixMessage): void {
    switch (message.kind) {
      case 'source':
        this.sources.set(message.key, sourceOf(message))
        this.isChanged = true
        break
      case 'score':
        // A limiter that begins anew gives silence first: it goes on as long as its ceiling is the same.
        if (message.score.delivery.ceilingDbtp !== this.score.delivery.ceilingDbtp) this.limiter = null
        this.score = message.score
        this.speech = message.speech
        this.isChanged = true
        break
      case 'play':
        this.nextFrame = message.fromFrame
        this.limiter = null
        this.makeAhead(message.fromFrame)
        this.beginsAtS = message.atContextTimeS
        this.filled = 0
        break
      case 'move':
        if (this.nextFrame === null) break
        this.goTo(this.nextFrame + message.byFrames)
        this.risingFrames = RISE_FRAMES
        // What is on its way to the page was played before the move.
        this.filled = 0
        break
      case 'stop':
        this.nextFrame = null
        this.ahead = null
        break
    }
  }

  /** After a jump the sound comes in over some samples: it does not click. */
  private rise(left: Float32Array, right: Float32Array): void {
    for (let n = 0; n < left.length && this.risingFrames > 0; n++, this.risingFrames--) {
      const gain = 1 - this.risingFrames / RISE_FRAMES
      left[n] = (left[n] as number) * gain
      right[n] = (right[n] as number) * gain
    }
  }

  private collect(left: Float32Array, right: Float32Array): void {
    this.left.set(left, this.filled)
    this.right.set(right, this.filled)
    this.filled += left.length
    if (this.filled < REPORT_FRAMES) return
    this.filled = 0
    const report: MixReport = {
      nextFrame: this.nextFrame ?? 0,
      contextTimeS: currentTime + left.length / sampleRate,
      left: this.left.slice(),
      right: this.right.slice(),
      mostLimitedDb: this.limiter?.mostReducedDb ?? 0,
      underruns: this.late.count,
    }
    this.port.postMessage(report)
  }
}

function sourceOf({ channels, stretchRate }: Extract<MixMessage, { kind: 'source' }>): PcmSource {
  const source = memorySource(channels, sampleRate)
  return stretchRate === null ? source : atAnotherSpeed(source, stretchRate)
}

registerProcessor(MIX_PROCESSOR, MixProcessor)
