import { type Chance, RATE_HZ } from '../../demo/synthesis/toolkit'
import type { BenchSound, Material } from './material'
import { muffled, roomy, spedWithPitch, stretchedInTime } from './treat'
import { WideChance } from './wide-chance'

export type Treatment = 'as-is' | 'muffled' | 'room' | 'speed' | 'speed-pitch-kept'

/** A sound that was laid into a mix. */
export interface Laid {
  readonly name: string
  readonly startS: number
  readonly endS: number
  /** Part of the file, s. */
  readonly fromS: number
  readonly toS: number
  readonly gainDb: number
  /** Level against the bed, dB. */
  readonly ratioDb: number
  readonly balance: number
  readonly fadeInS: number
  readonly fadeOutS: number
  readonly speed: number
  readonly treatment: Treatment
}

/**
 * `sped` holds only what is played at another speed, with its pitch moving along or kept; `panned` only what is on one side alone; `opposed` only
 * what is turned over on the right; `excerpts` only parts of long sounds, under a voice. In `absent` and `unlisted` nothing is listed of what was laid in;
 * in `unlisted` voices pause for most of the time.
 */
export type SetName =
  | 'untouched'
  | 'edited'
  | 'treated'
  | 'sped'
  | 'panned'
  | 'opposed'
  | 'excerpts'
  | 'absent'
  | 'unlisted'
  | 'long'

export interface Mix {
  readonly set: SetName
  readonly left: Float32Array
  readonly right: Float32Array
  readonly laid: readonly Laid[]
  /** What was laid in and is not listed. */
  readonly unlisted: readonly Laid[]
}

const RATIOS_DB: Readonly<Record<SetName, readonly number[]>> = {
  untouched: [-18, -15, -12, -9, -6, -3, 0, 3, 6],
  edited: [-12, -9, -6, -3, 0, 3, 6],
  panned: [-18, -15, -12, -9, -6, -3, 0, 3, 6],
  opposed: [-6, -3, 0, 3, 6],
  excerpts: [-15, -9, -3],
  treated: [-6, -3, 0, 3, 6],
  sped: [-6, -3, 0, 3, 6],
  absent: [0],
  unlisted: [-6, 0, 6],
  long: [-12, -6, 0, 6],
}
const GAP_S: Readonly<Record<SetName, number>> = {
  untouched: 2,
  edited: 2,
  panned: 2,
  opposed: 2,
  excerpts: 2,
  treated: 2,
  sped: 2,
  absent: 1,
  unlisted: 3,
  long: 12,
}
/** In `unlisted` voices are there for so long in every stretch of so many seconds. */
const SPOKEN_S = 6
const SPOKEN_EVERY_S = 24
const FADE_S = 0.005
/** How long the parts of long sounds are, s, and how long they fade. */
const EXCERPTS_S = [4, 6, 10, 20]
const EXCERPT_FADE_S = 0.2
/** How loud a sound is is measured where it sounds: in steps of 20 ms that are at most 40 dB under the loudest. */
const ACTIVE_STEP = RATE_HZ / 50
const ACTIVE_MIN = 0.01

/** Whether what is laid into a set is listed. */
export function isListed(set: SetName): boolean {
  return set !== 'absent' && set !== 'unlisted'
}

/** A labelled mix. @param sounds What may be placed in the mix: for sets that are not listed, sounds that will not be. */
export function mixOf(
  set: SetName,
  material: Material,
  sounds: readonly BenchSound[],
  { durationS, seed }: { readonly durationS: number; readonly seed: number },
): Mix {
  const chance = new WideChance(seed)
  const { left, right } = bedOf(material, durationS, chance, set)
  const under = { left: left.slice(), right: right.slice() }
  const laid: Laid[] = []
  const ratios = RATIOS_DB[set]
  for (let startS = 1.5; ; ) {
    const sound = sounds[Math.floor(chance.unit() * sounds.length)] as BenchSound
    const mostS = set === 'excerpts' ? Math.max(...EXCERPTS_S) : (2 * sound.left.length) / RATE_HZ
    if (startS + mostS > durationS - 1) break
    const one = laidIn(
      { left, right },
      under,
      sound,
      set,
      ratios[laid.length % ratios.length] as number,
      startS,
      chance,
    )
    laid.push(one)
    startS = one.endS + GAP_S[set] * chance.between(0.4, 1.6)
  }
  const [listed, unlisted] = isListed(set) ? [laid, []] : [[], laid]
  return { set, left, right, laid: listed, unlisted }
}

function bedOf(material: Material, durationS: number, chance: Chance, set: SetName) {
  const speech = material.speech(durationS, chance)
  const [left, right] = material.music(durationS, chance) as [Float32Array, Float32Array]
  const speechGain = 0.08 / rmsOf(speech, [{ from: 0, to: speech.length }])
  const musicGain = set === 'excerpts' ? 0 : 0.04 / rmsOf(left, [{ from: 0, to: left.length }])
  // Music comes and goes: some stretches are speech over silence, some loud music.
  let level = 1
  for (let i = 0; i < left.length; i++) {
    if (i % (8 * RATE_HZ) === 0) level = [0.1, 0.7, 1, 1.6][Math.floor(chance.unit() * 4)] as number
    const isSpoken = set !== 'unlisted' || i % (SPOKEN_EVERY_S * RATE_HZ) < SPOKEN_S * RATE_HZ
    const voice = isSpoken ? (speech[i] as number) * speechGain : 0
    left[i] = voice + (left[i] as number) * musicGain * level
    right[i] = voice + (right[i] as number) * musicGain * level
  }
  return { left, right }
}

function laidIn(
  into: { readonly left: Float32Array; readonly right: Float32Array },
  under: { readonly left: Float32Array; readonly right: Float32Array },
  sound: BenchSound,
  set: SetName,
  ratioDb: number,
  startS: number,
  chance: Chance,
): Laid {
  const durationS = sound.left.length / RATE_HZ
  const edit = set === 'edited'
  const { fromS, toS } = partIn(set, durationS, chance)
  const balance = balanceIn(set, chance)
  const longFade = edit && toS - fromS > 1.5
  const fadeS = (): number => {
    if (set === 'excerpts') return EXCERPT_FADE_S
    return longFade && chance.unit() < 0.4 ? chance.between(0.2, 0.4) * (toS - fromS) : 0
  }
  const [fadeInS, fadeOutS] = [fadeS(), fadeS()]
  const isTreated = set === 'treated' || set === 'sped'
  const { treatment, speed, channels } = isTreated
    ? treatedAtRandom(sound, chance, set === 'sped')
    : { treatment: 'as-is' as const, speed: 1, channels: sound }
  const first = Math.round(fromS * RATE_HZ)
  const count = isTreated ? channels.left.length : Math.round(toS * RATE_HZ) - first
  const at = Math.round(startS * RATE_HZ)
  const parts = activeParts(channels.left, first, first + count)
  const level = rmsOf(channels.left, parts) || 1e-6
  const bedParts = parts.map(({ from, to }) => ({ from: at + from - first, to: at + to - first }))
  const gain = (Math.max(1e-3, rmsOf(under.left, bedParts)) / level) * 10 ** (ratioDb / 20)
  const leftGain = gain * Math.min(1, 1 - balance)
  const rightGain = gain * Math.min(1, 1 + balance)
  const rightSign = set === 'opposed' ? -1 : 1
  for (let n = 0; n < count && at + n < into.left.length; n++) {
    const t = n / RATE_HZ
    const rest = (count - n) / RATE_HZ
    const fade = Math.min(1, (t + 1e-4) / Math.max(FADE_S, fadeInS), rest / Math.max(FADE_S, fadeOutS))
    into.left[at + n] = (into.left[at + n] as number) + leftGain * fade * (channels.left[first + n] as number)
    into.right[at + n] =
      (into.right[at + n] as number) + rightSign * rightGain * fade * (channels.right[first + n] as number)
  }
  return {
    name: sound.name,
    startS: at / RATE_HZ,
    endS: (at + count) / RATE_HZ,
    fromS: first / RATE_HZ,
    toS: isTreated ? durationS : toS,
    gainDb: 10 * Math.log10((leftGain ** 2 + rightGain ** 2) / 2),
    ratioDb,
    balance: (rightGain - leftGain) / (rightGain + leftGain),
    fadeInS,
    fadeOutS,
    speed,
    treatment,
  }
}

/** The part of a sound that is laid in, s. */
function partIn(set: SetName, durationS: number, chance: Chance): { readonly fromS: number; readonly toS: number } {
  if (set === 'excerpts') {
    const lengthS = EXCERPTS_S[Math.floor(chance.unit() * EXCERPTS_S.length)] as number
    const fromS = chance.between(0, durationS - lengthS)
    return { fromS, toS: fromS + lengthS }
  }
  const edit = set === 'edited' && durationS > 0.6
  const fromS = edit && chance.unit() < 0.5 ? durationS * chance.between(0, 0.35) : 0
  const toS = edit && chance.unit() < 0.5 ? durationS * chance.between(0.65, 1) : durationS
  return { fromS, toS }
}

function balanceIn(set: SetName, chance: Chance): number {
  if (set === 'panned') return chance.unit() < 0.5 ? -1 : 1
  return set === 'edited' && chance.unit() < 0.5 ? chance.between(-0.9, 0.9) : 0
}

function treatedAtRandom(sound: BenchSound, chance: Chance, onlySped: boolean) {
  const choice = onlySped ? 2 + Math.floor(chance.unit() * 2) : Math.floor(chance.unit() * 4)
  if (choice === 0)
    return { treatment: 'muffled' as const, speed: 1, channels: muffled(sound, 800 * 2.5 ** chance.unit()) }
  if (choice === 1)
    return { treatment: 'room' as const, speed: 1, channels: roomy(sound, chance.between(0.3, 1.2), 0.5, chance) }
  const speed = 0.8 * (1.25 / 0.8) ** chance.unit()
  if (choice === 2) return { treatment: 'speed' as const, speed, channels: spedWithPitch(sound, speed) }
  return { treatment: 'speed-pitch-kept' as const, speed, channels: stretchedInTime(sound, speed) }
}

interface Part {
  readonly from: number
  readonly to: number
}

/** The steps of a sound in which something sounds: silence in it or after it says nothing of how loud it is. */
function activeParts(samples: Float32Array, from: number, to: number): Part[] {
  const steps = Array.from({ length: Math.max(1, Math.ceil((to - from) / ACTIVE_STEP)) }, (_, step) => {
    const part = { from: from + step * ACTIVE_STEP, to: Math.min(to, from + (step + 1) * ACTIVE_STEP) }
    return { ...part, level: rmsOf(samples, [part]) }
  })
  const loudest = Math.max(...steps.map(({ level }) => level))
  return steps.filter(({ level }) => level >= ACTIVE_MIN * loudest)
}

function rmsOf(samples: Float32Array, parts: readonly Part[]): number {
  let sum = 0
  let count = 0
  for (const { from, to } of parts) {
    count += to - from
    for (let i = from; i < Math.min(to, samples.length); i++) sum += (samples[i] as number) ** 2
  }
  return Math.sqrt(sum / Math.max(1, count))
}

/** Joins left and right for an encoder, scaled down where it would clip; the truth moves along. */
export function interleaved(mix: Mix): { readonly samples: Float32Array; readonly laid: readonly Laid[] } {
  let peak = 0
  for (const channel of [mix.left, mix.right]) for (const value of channel) peak = Math.max(peak, Math.abs(value))
  const scale = peak > 0.95 ? 0.95 / peak : 1
  const samples = new Float32Array(2 * mix.left.length)
  for (let i = 0; i < mix.left.length; i++) {
    samples[2 * i] = (mix.left[i] as number) * scale
    samples[2 * i + 1] = (mix.right[i] as number) * scale
  }
  return { samples, laid: mix.laid.map((one) => ({ ...one, gainDb: one.gainDb + 20 * Math.log10(scale) })) }
}
