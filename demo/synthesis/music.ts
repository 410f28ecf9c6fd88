import type { Recipe } from './recipes'
import {
  type Chance,
  filtered,
  inRoom,
  mixIn,
  RATE_HZ,
  saw,
  seconds,
  shaped,
  strike,
  tone,
  whiteNoise,
} from './toolkit'

/** Moods of the music beds; a bed's second number is a place in this list. */
export const MOODS = ['calm', 'hopeful', 'tense', 'dark', 'playful', 'grand'] as const

/** Semitones of each mood's scale, and its chords as steps of the scale. */
const HARMONY: readonly { readonly scale: readonly number[]; readonly chords: readonly number[] }[] = [
  { scale: [0, 2, 4, 7, 9], chords: [0, 3, 1, 2] },
  { scale: [0, 2, 4, 5, 7, 9, 11], chords: [0, 4, 5, 3] },
  { scale: [0, 1, 3, 5, 7, 8, 10], chords: [0, 1, 0, 4] },
  { scale: [0, 2, 3, 5, 7, 8, 10], chords: [0, 5, 2, 4] },
  { scale: [0, 2, 4, 6, 7, 9, 11], chords: [0, 1, 4, 0] },
  { scale: [0, 2, 3, 5, 7, 9, 10], chords: [0, 3, 6, 4] },
]

/** What a bed is made of. */
export const BED_STEMS = ['pad', 'figure', 'pulse', 'voice'] as const
type BedStem = (typeof BED_STEMS)[number]

/** A music bed: pad, plucked figure, pulse and, if asked, a voice without words. */
export const musicBed: Recipe = (chance, tempoBpm = 90, mood = 0, voice = 0, bars = 4) =>
  played(BED_STEMS, chance, { tempoBpm, mood, voice, bars })

/** One of the four by itself, as it sounds in the bed of the same seed and numbers. @param stem Its place in the list. */
export const bedStem: Recipe = (chance, stem = 0, tempoBpm = 90, mood = 0, voice = 0, bars = 4) =>
  played([BED_STEMS[stem] as BedStem], chance, { tempoBpm, mood, voice, bars })

function barFramesAt(tempoBpm: number): number {
  return Math.round((240 / tempoBpm) * RATE_HZ)
}

/** Some bars of a bed, cut at beats: they join without a seam. @param toBar Up to the end of the last, with what dies away after it. */
export const bedPart: Recipe = (chance, fromBar = 0, toBar = 1, tempoBpm = 90, mood = 0, voice = 0, bars = 4) => {
  const barFrames = barFramesAt(tempoBpm)
  return played(BED_STEMS, chance, { tempoBpm, mood, voice, bars }).map((channel) =>
    channel.slice(fromBar * barFrames, toBar === bars ? channel.length : toBar * barFrames),
  )
}

/** A bed cut down to its first and its last bar. */
export const bedCutDown: Recipe = (chance, tempoBpm = 90, mood = 0, voice = 0, bars = 4) => {
  const barFrames = barFramesAt(tempoBpm)
  return played(BED_STEMS, chance, { tempoBpm, mood, voice, bars }).map((channel) => {
    const [head, tail] = [channel.slice(0, barFrames), channel.slice((bars - 1) * barFrames)]
    const out = new Float32Array(head.length + tail.length)
    out.set(head)
    out.set(tail, head.length)
    return out
  })
}

interface BedNumbers {
  readonly tempoBpm: number
  readonly mood: number
  readonly voice: number
  readonly bars: number
}

/** The whole bed that was played last, which its parts are cut from and its takes are levelled by. */
let playedLast = { name: '', channels: [] as readonly Float32Array[] }

/** The bed with only some of its stems heard. */
function played(heard: readonly BedStem[], chance: Chance, numbers: BedNumbers): Float32Array[] {
  if (heard !== BED_STEMS) return playedAnew(heard, chance, numbers)
  const name = JSON.stringify([chance.state, numbers])
  if (playedLast.name !== name) playedLast = { name, channels: playedAnew(heard, chance, numbers) }
  return playedLast.channels.map((channel) => channel.slice())
}

/** All chance is drawn as if all stems were heard, so that they are what they are in the whole. */
function playedAnew(
  heard: readonly BedStem[],
  chance: Chance,
  { tempoBpm, mood, voice, bars }: BedNumbers,
): [Float32Array, Float32Array] {
  const beatS = 60 / tempoBpm
  const lengthS = bars * 4 * beatS
  const { scale, chords } = HARMONY[mood] as (typeof HARMONY)[number]
  const rootHz = 98 * 2 ** (Math.floor(chance.between(0, 7)) / 12)
  const hz = (step: number): number =>
    rootHz * 2 ** (Math.floor(step / scale.length) + (scale[step % scale.length] as number) / 12)
  const out = seconds(lengthS)
  const add = (stem: BedStem, samples: Float32Array, atS: number, gain: number): void => {
    if (heard.includes(stem)) mixIn(out, samples, atS, gain)
  }
  for (let bar = 0; bar < bars; bar++) {
    const chord = chords[bar % chords.length] as number
    const atS = bar * 4 * beatS
    for (const step of [0, 2, 4]) add('pad', pad(hz(chord + step), 4 * beatS), atS, 0.16)
    for (let eighth = 0; eighth < 8; eighth++) {
      const step = chord + ([0, 2, 4, 7, 4, 2, 5, 4][(eighth + bar) % 8] as number) + scale.length
      if (chance.unit() < 0.8) add('figure', pluck(hz(step)), atS + (eighth * beatS) / 2, 0.3)
    }
    for (let beat = 0; beat < 4; beat++) add('pulse', pulse(chance, beat % 2 === 0), atS + beat * beatS, 0.35)
    if (voice > 0) add('voice', sung(hz(chord + 2) * 2, 3.6 * beatS, chance), atS, 0.4)
  }
  return inRoom(out, 0.8, 0.3, chance)
}

function pad(frequencyHz: number, lengthS: number): Float32Array {
  const raw = tone(lengthS, () => frequencyHz, saw)
  return shaped(filtered(raw, 'low', frequencyHz * 3), (t) => Math.min(1, t / 0.3, (lengthS - t) / 0.2))
}

function pluck(frequencyHz: number): Float32Array {
  return shaped(
    tone(
      0.6,
      () => frequencyHz,
      (cycles) => Math.sin(2 * Math.PI * cycles) + 0.3 * Math.sin(6 * Math.PI * cycles),
    ),
    strike(0.003, 0.5),
  )
}

function pulse(chance: Chance, low: boolean): Float32Array {
  return low
    ? shaped(
        tone(0.25, (t) => 55 + 90 * Math.exp(-t / 0.03)),
        strike(0.002, 0.25),
      )
    : shaped(filtered(whiteNoise(0.12, chance), 'high', 5000), strike(0.001, 0.08))
}

/** A voice on an open vowel: a bright source through three formants, with vibrato. */
function sung(frequencyHz: number, lengthS: number, chance: Chance): Float32Array {
  const rate = chance.between(4.8, 5.6)
  const source = tone(lengthS, (t) => frequencyHz * (1 + 0.008 * Math.sin(2 * Math.PI * rate * t)), saw)
  const out = seconds(lengthS)
  for (const [formantHz, gain] of [
    [700, 1],
    [1150, 0.5],
    [2600, 0.25],
  ] as const)
    mixIn(out, filtered(source, 'band', formantHz, 8), 0, gain)
  return shaped(out, (t) => Math.min(1, t / 0.15, (lengthS - t) / 0.3))
}
