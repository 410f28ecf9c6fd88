import { type Spectra, unlikeDb } from './spectra'

/** A jump within a sound: what plays up to `outS` is led over, during its last `seamS`, into what plays from `inS` on. */
export interface Seam {
  /** Both s of the source. */
  readonly outS: number
  readonly inS: number
  readonly seamS: number
}

/** How a seam sounds. */
export interface SeamQuality {
  /** 1 is not to be heard, 0 is a cut. */
  readonly quality: number
  /** The most that the level rises or falls in the seam, dB. */
  readonly levelJumpDb: number
  /** How unlike before and after are, beyond what the sound does by itself, dB. */
  readonly soundJumpDb: number
}

/** Seams that are better than this are hardly heard in a mix; below it, that is said. */
export const GOOD_QUALITY = 0.6

/** So much more halves the quality, dB. */
const HALVED_BY_LEVEL_DB = 3
const HALVED_BY_SOUND_DB = 4
/** What noise does by itself in a seam, dB. */
const USUAL_LEVEL_DB = 1
/** The level is looked at in pieces of at least this, s, and at most a quarter of the seam. */
const PIECE_S = 0.015

/** How much longer the sound gets by a jump, s; it gets shorter below 0. */
export function gainOf({ outS, inS, seamS }: Seam): number {
  return outS - seamS - inS
}

/**
 * How a seam sounds: it is made with equal power, and its level is held against that of both sides piece by piece; what would have come is compared with what
 * comes by their spectra.
 *
 * @param samples Mono. @param usualDb How unlike the sound is to itself a moment later by nature, dB.
 */
export function seamQuality(
  { samples, sampleRateHz, spectra, usualDb }: SeamContext,
  { outS, inS, seamS }: Seam,
): SeamQuality {
  const length = Math.max(1, Math.round(seamS * sampleRateHz))
  const out = Math.round(outS * sampleRateHz) - length
  const into = Math.round(inS * sampleRateHz)
  const piece = Math.min(length, Math.round(Math.max(PIECE_S, seamS / 4) * sampleRateHz))
  let levelJumpDb = 0
  for (let from = 0; from + piece <= length; from += piece) {
    let made = 0
    let expected = 0
    for (let n = from; n < from + piece; n++) {
      const angle = ((Math.PI / 2) * (n + 0.5)) / length
      const before = (samples[out + n] ?? 0) * Math.cos(angle)
      const after = (samples[into + n] ?? 0) * Math.sin(angle)
      made += (before + after) ** 2
      expected += before ** 2 + after ** 2
    }
    levelJumpDb = Math.max(levelJumpDb, Math.abs(powerDb(made / piece) - powerDb(expected / piece)))
  }
  const frame = (atS: number): number => Math.max(0, Math.min(spectra.frames - 1, Math.floor(atS / spectra.stepS)))
  const looks = [0, 0.5, 1].map((part) =>
    unlikeDb(spectra, frame(outS - seamS + part * seamS), frame(inS + part * seamS)),
  )
  const soundJumpDb = Math.max(0, looks.reduce((sum, db) => sum + db, 0) / looks.length - usualDb)
  const levelDb = Math.max(0, levelJumpDb - USUAL_LEVEL_DB)
  return {
    quality: 0.5 ** (levelDb / HALVED_BY_LEVEL_DB + soundJumpDb / HALVED_BY_SOUND_DB),
    levelJumpDb,
    soundJumpDb,
  }
}

/** A sound in which seams are looked for. */
export interface SeamContext {
  readonly samples: Float32Array
  readonly sampleRateHz: number
  readonly spectra: Spectra
  readonly usualDb: number
}

function powerDb(power: number): number {
  return 10 * Math.log10(power + 1e-9)
}
