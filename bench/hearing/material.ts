import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { DEMO_SOUNDS } from '../../demo/synthesis/catalogue'
import { bedCutDown, bedPart, bedStem, musicBed } from '../../demo/synthesis/music'
import {
  type Chance,
  drawn,
  filtered,
  finished,
  mixIn,
  RATE_HZ,
  saw,
  seconds,
  shaped,
  strike,
  whiteNoise,
} from '../../demo/synthesis/toolkit'
import { WideChance } from './wide-chance'

/** A sound of the material: left and right (the same array for mono), at 48 kHz. */
export interface BenchSound {
  readonly name: string
  readonly left: Float32Array
  readonly right: Float32Array
}

/** What mixes are made of. Sounds fall into two halves: one to tune on, one kept aside. */
export interface Material {
  readonly sounds: readonly BenchSound[]
  speech(durationS: number, chance: Chance): Float32Array
  music(durationS: number, chance: Chance): readonly [Float32Array, Float32Array]
}

/** Sounds kept aside from tuning are every second one. */
export function half(material: Material, which: 'tuning' | 'aside'): BenchSound[] {
  return material.sounds.filter((_, index) => (index % 2 === 0) === (which === 'tuning'))
}

const OF_MUSIC = [musicBed, bedStem, bedPart, bedCutDown]

/**
 * Material of the project's own making: the demo recipes with other seeds and numbers, a speaking machine of pulses and
 * formants, and a small band.
 */
export function ownMaterial(count: number): Material {
  // Music is a bed of the mixes, and its numbers name moods and voices: no other ones can be drawn.
  const effects = DEMO_SOUNDS.filter(({ recipe }) => !OF_MUSIC.includes(recipe))
  const sounds = Array.from({ length: count }, (_, index): BenchSound => {
    const base = effects[index % effects.length] as (typeof effects)[number]
    const chance = new WideChance(7001 + index * 13)
    const numbers = base.numbers.map((value) => (index < effects.length ? value : varied(value, chance)))
    const [left, right] = finished(base.recipe(chance, ...numbers)) as [Float32Array, Float32Array?]
    return { name: `own-${String(index).padStart(4, '0')}`, left, right: right ?? left }
  })
  return { sounds, speech: spoken, music: played }
}

/** Counts stay whole numbers; everything else moves by up to a quarter. */
function varied(value: number, chance: Chance): number {
  const moved = value * chance.between(0.78, 1.28)
  return Number.isInteger(value) && value <= 30 && value > 1 ? Math.max(1, Math.round(moved)) : moved
}

/**
 * Material from recordings outside the project: a folder with `sounds`, `speech` and `music`. Needs `ffmpeg` to read them.
 */
export function folderMaterial(folder: string): Material {
  const files = (name: string): string[] =>
    fs
      .readdirSync(path.join(folder, name))
      .sort()
      .map((file) => path.join(folder, name, file))
  const sounds = files('sounds')
    .map((file): BenchSound => ({ name: path.basename(file), ...stereoOf(file) }))
    .filter(({ left }) => left.length > 0.15 * RATE_HZ && left.length < 20 * RATE_HZ)
  const speech = files('speech')
  const music = files('music')
  return {
    sounds,
    speech: (durationS, chance) => strung(speech, durationS, chance)[0],
    music: (durationS, chance) => strung(music, durationS, chance),
  }
}

/** Decodes a file to left and right at 48 kHz; mono stands on both sides at its own level. */
function stereoOf(file: string): { readonly left: Float32Array; readonly right: Float32Array } {
  const channels = probedChannels(file)
  const filter = channels === 1 ? 'pan=stereo|c0=c0|c1=c0' : 'aformat=channel_layouts=stereo'
  const { stdout } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', file, '-af', filter, '-f', 'f32le', '-ar', String(RATE_HZ), '-'],
    { maxBuffer: 1 << 30 },
  )
  const samples = new Float32Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + (stdout.length & ~7)))
  const left = new Float32Array(samples.length / 2)
  const right = new Float32Array(samples.length / 2)
  for (let i = 0; i < left.length; i++) {
    left[i] = samples[2 * i] as number
    right[i] = samples[2 * i + 1] as number
  }
  return { left, right }
}

function probedChannels(file: string): number {
  const args = ['-v', 'error', '-select_streams', 'a:0', '-show_entries', 'stream=channels', '-of', 'csv=p=0', file]
  return Number.parseInt(spawnSync('ffprobe', args, { encoding: 'utf8' }).stdout, 10)
}

const decodedOnce = new Map<string, { readonly left: Float32Array; readonly right: Float32Array }>()

function onceDecoded(file: string): { readonly left: Float32Array; readonly right: Float32Array } {
  const known = decodedOnce.get(file) ?? stereoOf(file)
  decodedOnce.set(file, known)
  return known
}

function strung(files: readonly string[], durationS: number, chance: Chance): [Float32Array, Float32Array] {
  const left = seconds(durationS)
  const right = seconds(durationS)
  for (let atS = 0; atS < durationS; ) {
    const clip = onceDecoded(files[Math.floor(chance.unit() * files.length)] as string)
    mixIn(left, clip.left, atS)
    mixIn(right, clip.right, atS)
    atS += clip.left.length / RATE_HZ
  }
  return [left, right]
}

/** First two formants of vowels, Hz. Source: G. Peterson and H. Barney, 1952, rounded. */
const VOWELS = [
  [730, 1090],
  [270, 2290],
  [300, 870],
  [530, 1840],
  [570, 840],
  [640, 1190],
] as const

/** Speech-like: voiced syllables between formants, hissed consonants, pauses. No words. */
function spoken(durationS: number, chance: Chance): Float32Array {
  const out = seconds(durationS)
  for (let atS = 0.2; atS < durationS; ) {
    const syllables = 4 + Math.floor(chance.unit() * 9)
    const pitchHz = chance.between(90, 220)
    for (let k = 0; k < syllables && atS < durationS; k++) {
      const lengthS = chance.between(0.11, 0.26)
      const [f1, f2] = VOWELS[Math.floor(chance.unit() * VOWELS.length)] as (typeof VOWELS)[number]
      let phase = 0
      const bend = chance.between(-0.15, 0.12)
      const source = drawn(lengthS, (t) => {
        phase += (pitchHz * (1 + bend * (t / lengthS)) * (1 + 0.01 * chance.noise())) / RATE_HZ
        return saw(phase) + 0.05 * chance.noise()
      })
      const envelope = (t: number): number => Math.sin((Math.PI * t) / lengthS) ** 0.6
      mixIn(out, shaped(filtered(source, 'band', f1, 5), envelope), atS, 0.5)
      mixIn(out, shaped(filtered(source, 'band', f2, 8), envelope), atS, 0.35)
      mixIn(out, shaped(filtered(source, 'band', chance.between(2400, 3100), 9), envelope), atS, 0.2)
      if (chance.unit() < 0.5) {
        const hissS = chance.between(0.04, 0.11)
        const hiss = filtered(whiteNoise(hissS, chance), 'high', chance.between(2500, 5500))
        mixIn(
          out,
          shaped(hiss, (t) => Math.sin((Math.PI * t) / hissS)),
          atS - hissS / 2,
          0.25,
        )
      }
      atS += lengthS * chance.between(0.85, 1.15)
    }
    atS += chance.between(0.15, 0.7)
  }
  return out
}

/** A slow band: chords of saws, a bass, brushed noise on the beat, plucked notes. */
function played(durationS: number, chance: Chance): [Float32Array, Float32Array] {
  const left = seconds(durationS)
  const right = seconds(durationS)
  const beatS = chance.between(0.42, 0.7)
  const rootHz = chance.between(82, 130)
  for (let beat = 0; beat * beatS < durationS; beat++) {
    const atS = beat * beatS * (1 + 0.002 * chance.noise())
    const degree = [0, 5, 7, 3][Math.floor(beat / 8) % 4] as number
    const hz = rootHz * 2 ** (degree / 12)
    if (beat % 8 === 0)
      for (const step of [12, 15, 19, 24]) {
        const lengthS = beatS * 8
        let phase = chance.unit()
        const detuned = hz * 2 ** (step / 12) * (1 + 0.003 * chance.noise())
        const voice = drawn(lengthS, () => {
          phase += detuned / RATE_HZ
          return saw(phase)
        })
        const soft = shaped(filtered(voice, 'low', 1400), (t) => Math.min(1, t / 0.2, (lengthS - t) / 0.3))
        const place = chance.unit()
        mixIn(left, soft, atS, 0.1 * (1 - place))
        mixIn(right, soft, atS, 0.1 * place)
      }
    const bass = shaped(
      drawn(beatS, (t) => Math.sin(2 * Math.PI * hz * t) + 0.3 * Math.sin(4 * Math.PI * hz * t)),
      strike(0.005, beatS),
    )
    const brush = shaped(filtered(whiteNoise(0.2, chance), 'high', 3800), strike(0.002, beat % 2 ? 0.16 : 0.06))
    const pluckHz = hz * 2 ** (([0, 3, 7, 10, 12][Math.floor(chance.unit() * 5)] as number) / 12 + 2)
    const pluck = shaped(
      drawn(0.6, (t) => saw(pluckHz * t) * Math.exp(-6 * t)),
      strike(0.002, 0.5),
    )
    for (const [channel, gain] of [
      [left, chance.unit()],
      [right, chance.unit()],
    ] as const) {
      mixIn(channel, bass, atS, 0.22)
      mixIn(channel, brush, atS, 0.12)
      mixIn(channel, pluck, atS, 0.08 * gain)
    }
  }
  return [left, right]
}
