import type { Score } from '../../core/score'
import type { TimeRange } from '../../core/time-range'

/** What the audio thread is told. */
export type MixMessage =
  | {
      readonly kind: 'source'
      readonly key: string
      readonly channels: readonly Float32Array[]
      /** Speed that they were stretched to, or null. */
      readonly stretchRate: number | null
    }
  | { readonly kind: 'score'; readonly score: Score; readonly speech: readonly TimeRange[] }
  /** Plays so that a frame is heard at a time of the audio clock, s: what has passed of it when it is ready is left out. */
  | { readonly kind: 'play'; readonly fromFrame: number; readonly atContextTimeS: number }
  /** It goes on so much later or earlier in the mix. */
  | { readonly kind: 'move'; readonly byFrames: number }
  | { readonly kind: 'stop' }

/** What it tells, some ten times a second while it plays. */
export interface MixReport {
  /** Frame of the mix that is made next, and the time of the audio clock at which it will be, s. */
  readonly nextFrame: number
  readonly contextTimeS: number
  /** What was made since the last report. */
  readonly left: Float32Array
  readonly right: Float32Array
  readonly mostLimitedDb: number
  /** How often the audio came too late, since it began. */
  readonly underruns: number
}

export const MIX_PROCESSOR = 'good-thud-mix'
