import { likeness as messages } from '../wording/likeness'
import { bandCentresHz, FLOOR_DB, MEL_BANDS, type MelFrames } from './mel-frames'

/** What can be said of a sound in words. */
export interface Traits {
  readonly durationS: number
  /** Middle of its energy on the scale of octaves, Hz. */
  readonly brightnessHz: number
  /** From a tenth of the peak's level to the peak, s. */
  readonly attackS: number
  /** From the peak until it is 30 dB down, s. */
  readonly decayS: number
  /** 0 for a pure tone, 1 for noise that fills all bands. */
  readonly noisiness: number
  /** Share of the energy below 200 Hz. */
  readonly lowShare: number
}

const LOW_HZ = 200

/** @param durationS Of the whole sound. */
export function traitsOf(frames: MelFrames, durationS: number): Traits {
  const centres = bandCentresHz()
  const { count, levelsDb, energies, hopS } = frames
  const bands = new Float64Array(MEL_BANDS)
  for (let frame = 0; frame < count; frame++)
    for (let band = 0; band < MEL_BANDS; band++)
      bands[band] = (bands[band] as number) + 10 ** ((levelsDb[frame * MEL_BANDS + band] as number) / 10)
  const total = bands.reduce((a, b) => a + b, 0)
  const octaves = bands.reduce((sum, power, band) => sum + power * Math.log2(centres[band] as number), 0) / total
  const low = bands.reduce((sum, power, band) => sum + ((centres[band] as number) < LOW_HZ ? power : 0), 0)
  let peak = 0
  for (let frame = 0; frame < count; frame++) if ((energies[frame] as number) > (energies[peak] as number)) peak = frame
  const peakEnergy = energies[peak] as number
  let start = peak
  while (start > 0 && (energies[start - 1] as number) > peakEnergy / 100) start--
  let end = peak
  while (end + 1 < count && (energies[end + 1] as number) > peakEnergy / 1000) end++
  const mean = bands.map((power) => 10 * Math.log10(power / total + 1e-9))
  const flat = mean.reduce((a, b) => a + b, 0) / MEL_BANDS - 10 * Math.log10(1 / MEL_BANDS)
  return {
    durationS,
    brightnessHz: 2 ** octaves,
    attackS: (peak - start) * hopS,
    decayS: (end - peak) * hopS,
    noisiness: Math.max(0, Math.min(1, 1 - flat / (FLOOR_DB / 2))),
    lowShare: low / total,
  }
}

/** Differences below these are not heard as such. */
const LENGTH_S = 0.1
const LENGTH_RATIO = 1.12
const BRIGHTNESS_OCTAVES = 0.35
const TIME_RATIO = 1.8
const TIME_S = 0.04
const NOISINESS = 0.15
const LOW_SHARE = 0.2

/**
 * What sets a sound apart from another, in words: "brighter", "0.4 s longer", "slower attack". What differs most comes first.
 *
 * @returns At most four; empty where nothing differs that would be heard.
 */
export function traitDifferences(of: Traits, from: Traits): string[] {
  const differences: { words: string; weight: number }[] = []
  const say = (weight: number, words: string): void => {
    if (weight >= 1) differences.push({ words, weight })
  }
  const longer = of.durationS - from.durationS
  const ratio = Math.max(of.durationS, from.durationS) / Math.max(0.01, Math.min(of.durationS, from.durationS))
  if (Math.abs(longer) >= LENGTH_S && ratio >= LENGTH_RATIO)
    say(1 + Math.log2(ratio), `${Math.abs(longer).toFixed(1)} s ${longer > 0 ? 'longer' : 'shorter'}`)
  const octaves = Math.log2(of.brightnessHz / from.brightnessHz)
  say(Math.abs(octaves) / BRIGHTNESS_OCTAVES, octaves > 0 ? 'brighter' : 'darker')
  say(timeWeight(of.attackS, from.attackS), of.attackS > from.attackS ? messages.slowerAttack : messages.fasterAttack)
  say(timeWeight(of.decayS, from.decayS), of.decayS > from.decayS ? messages.ringsLonger : messages.endsSooner)
  const noise = of.noisiness - from.noisiness
  say(Math.abs(noise) / NOISINESS, noise > 0 ? 'noisier' : messages.moreTonal)
  const low = of.lowShare - from.lowShare
  say(Math.abs(low) / LOW_SHARE, low > 0 ? messages.moreLowEnd : messages.lessLowEnd)
  return differences
    .sort((a, b) => b.weight - a.weight)
    .slice(0, 4)
    .map(({ words }) => words)
}

function timeWeight(a: number, b: number): number {
  if (Math.abs(a - b) < TIME_S) return 0
  return Math.abs(Math.log2((a + 0.01) / (b + 0.01))) / Math.log2(TIME_RATIO)
}
