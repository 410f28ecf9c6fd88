import { type IntervalHistogram, monitorEventLoopDelay } from 'node:perf_hooks'

/** One turn of the loop that takes longer keeps everyone waiting, ms. */
const LONG_MS = 200
const RESOLUTION_MS = 10
const LOOK_EVERY_MS = 1000

/** How long turns of the loop took, ms. */
export interface LoopDelays {
  readonly p50Ms: number
  readonly p99Ms: number
  readonly maxMs: number
}

/** Watches the loop of this process, and tells what was under way when one turn took too long. */
export class LoopMonitor {
  private readonly histogram: IntervalHistogram = monitorEventLoopDelay({ resolution: RESOLUTION_MS })
  private readonly underWay = new Map<symbol, string>()
  /** What has ended since the last look: it may be what took long. */
  private ended: string[] = []
  private timer: NodeJS.Timeout | null = null
  private worstMs = 0

  /** @param say Told in a sentence of each long turn. */
  constructor(private readonly say: (sentence: string) => void) {}

  start(): void {
    this.histogram.enable()
    this.timer = setInterval(() => this.look(), LOOK_EVERY_MS)
    this.timer.unref()
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer)
    this.histogram.disable()
  }

  /** Notes that something is under way. @returns Notes that it has ended. */
  begin(what: string): () => void {
    const key = Symbol(what)
    this.underWay.set(key, what)
    return () => {
      this.underWay.delete(key)
      this.ended.push(what)
    }
  }

  /** Since the last look. */
  delays(): LoopDelays {
    const toMs = (ns: number): number => Math.round(ns / 1e4) / 100
    const { histogram } = this
    return {
      p50Ms: toMs(histogram.percentile(50)),
      p99Ms: toMs(histogram.percentile(99)),
      maxMs: Math.max(this.worstMs, toMs(histogram.max)),
    }
  }

  /** @param text Of the statement: what it was asked with is not told. */
  sayOfStatement(text: string, tookMs: number): void {
    const words = text.replace(/\s+/g, ' ').slice(0, 120)
    this.say(`One statement of the database took ${Math.round(tookMs)} ms: ${words}`)
  }

  look(): void {
    const longestMs = this.histogram.max / 1e6
    this.worstMs = Math.max(this.worstMs, Math.round(longestMs))
    if (longestMs > LONG_MS) {
      const what = [...new Set([...this.underWay.values(), ...this.ended])]
      const names = what.slice(0, 12).join(', ') || 'nothing that is known'
      this.say(`One turn of the loop took ${Math.round(longestMs)} ms; under way: ${names}.`)
    }
    this.histogram.reset()
    this.ended = []
  }
}

const KEY = Symbol.for('good-thud.loop-monitor')

/** The monitor of this process. */
export function loopMonitor(): LoopMonitor {
  const holder = globalThis as { [KEY]?: LoopMonitor }
  if (!holder[KEY]) {
    holder[KEY] = new LoopMonitor((sentence) => {
      if (process.env.THUD_LOG !== 'quiet') console.error(sentence)
    })
    holder[KEY].start()
  }
  return holder[KEY]
}
