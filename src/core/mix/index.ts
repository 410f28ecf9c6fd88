/** Rate that mixes are made at. */
export const MIX_RATE_HZ = 48_000

export { type DeliverOptions, deliverMix, type MixBlock, type MixedAudio, type MixResult } from './deliver'
export { type Dip, dipsUnder, withDip } from './duck'
export { fadesGain, gainOfDb } from './gains'
export {
  gainToSit,
  LEVEL_TO_VOICE_LU,
  type LevelsToVoice,
  loudnessBeside,
  suggestedGainDb,
  voiceLoudness,
} from './levels'
export { TruePeakLimiter } from './limiter'
export type { Masking, PlacedSignal } from './masking'
export { Mixer, type MixInput } from './mixer'
export { atAnotherSpeed, memorySource, type PcmSource } from './pcm'
export { placedLoudness } from './placed-loudness'
export { type OverVoice, placedMasking, placedOverVoice, VOICE_AROUND_S } from './placed-masking'
export { runsOf, type SourceRun } from './runs'
export { Stretcher, type StretchModule, stretchedChannels } from './stretch'
