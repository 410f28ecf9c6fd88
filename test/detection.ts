import type { DetectionFacts } from '../src/core/clearance'

/** A place where a sound was heard as it is, from its beginning on. */
export function detectionOf(
  soundId: number,
  startS: number,
  endS: number,
  more: Partial<DetectionFacts> = {},
): DetectionFacts {
  return {
    trackIndex: 0,
    soundId,
    audioSha256: `sha-${soundId}`,
    startS,
    endS,
    fromS: 0,
    toS: endS - startS,
    gainDb: -9,
    confidence: 0.999,
    speed: 1,
    treatment: 'as-is',
    cutoffHz: null,
    balance: 0,
    fadeInS: 0,
    fadeOutS: 0,
    alternativeIds: [],
    ...more,
  }
}
