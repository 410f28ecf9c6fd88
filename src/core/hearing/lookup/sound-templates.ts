import { HEARING_RATE_HZ } from '../constants'
import { BANDS_AN_OCTAVE, bandMap, MAP_BANDS } from './band-map'
import { bandCosines, patchComponents } from './cosines'
import { COMPONENTS, PATCH_BANDS, PATCH_FRAMES, SOUND_HOP, TRACK_HOP, USUAL_WEIGHTS } from './patch-shape'

/** Speeds that a sound is looked up at, 5 % apart, from 0.75 to 1.34. */
export const LOOKUP_SPEEDS: readonly number[] = Array.from({ length: 13 }, (_, at) => 1.05 ** (at - 6))
/** At most so many places of a sound, this part of a patch apart, and each at least half as telling as the best. */
const ANCHORS_MAX = 3
const ANCHORS_APART = 0.8
const ANCHOR_MIN = 0.5
/** Contrast of a map: how much a power counts against the loudest. */
const CONTRAST = 4

/** Of a long sound the beginning is looked up, frames (two minutes). */
const READ_MAX_FRAMES = 120 * HEARING_RATE_HZ

/** What a sound is looked up by. */
export interface TemplateRows {
  /** Template after template, `COMPONENTS` numbers each; each template has a scale of its own. */
  readonly values: Int8Array
  /** Frame of the sound, at the hearing rate, that each template has in its middle. */
  readonly centres: Uint32Array
  /** Place of each template's speed in `LOOKUP_SPEEDS`. */
  readonly speeds: Uint8Array
}

/**
 * The templates of a sound.
 *
 * @param samples Mono at the hearing rate. Not modified. @returns Silence has no templates.
 */
export function soundTemplates(samples: Float32Array): TemplateRows {
  const { frames, power } = bandMap(samples.subarray(0, READ_MAX_FRAMES), SOUND_HOP)
  flatten(power, frames)
  const made = anchorsOf(power, frames).flatMap((anchor) =>
    LOOKUP_SPEEDS.flatMap((_, at) => {
      const values = templateOf(power, frames, anchor, at)
      return values ? [{ values, centre: anchor * SOUND_HOP, speed: at }] : []
    }),
  )
  const values = new Int8Array(made.length * COMPONENTS)
  for (const [at, one] of made.entries()) values.set(one.values, at * COMPONENTS)
  return {
    values,
    centres: Uint32Array.from(made, ({ centre }) => centre),
    speeds: Uint8Array.from(made, ({ speed }) => speed),
  }
}

/**
 * Divides by the spectrum that speech and music have on the whole: level up to 540 Hz, from there on 8 dB less an octave. Fitted to beds of
 * the project's own making.
 */
function flatten(power: Float32Array, frames: number): void {
  for (let band = 0; band < MAP_BANDS; band++) {
    const gain = 10 ** ((0.82 * Math.max(0, band - 42)) / BANDS_AN_OCTAVE)
    for (let n = 0; n < frames; n++) power[n * MAP_BANDS + band] = (power[n * MAP_BANDS + band] as number) * gain
  }
}

/** Middles of the stretches in which most stands out, frames of the sound's map. */
function anchorsOf(power: Float32Array, frames: number): number[] {
  const length = PATCH_FRAMES * (TRACK_HOP / SOUND_HOP)
  const sums = new Float64Array(frames + 1)
  const loudest = levelsOf(power, frames).reduce((most, level) => Math.max(most, level), 0)
  if (!(loudest > 0)) return []
  for (let n = 0; n < frames; n++) {
    let contrast = 0
    for (let band = 0; band < MAP_BANDS; band++)
      contrast += Math.log1p((CONTRAST * (power[n * MAP_BANDS + band] as number)) / loudest)
    sums[n + 1] = (sums[n] as number) + contrast
  }
  const told = Float64Array.from({ length: frames }, (_, n) => {
    const from = Math.max(0, n - (length >> 1))
    const to = Math.min(frames, n - (length >> 1) + length)
    return (sums[to] as number) - (sums[from] as number)
  })
  const best = told.reduce((most, one) => Math.max(most, one), 0)
  const order = Array.from(told.keys()).sort((a, b) => (told[b] as number) - (told[a] as number) || a - b)
  const anchors: number[] = []
  for (const n of order) {
    if (anchors.length === ANCHORS_MAX || (told[n] as number) < ANCHOR_MIN * best) break
    const middle = middleOfPlateau(told, n)
    if (anchors.every((other) => Math.abs(other - middle) >= ANCHORS_APART * length)) anchors.push(middle)
  }
  return anchors
}

/** A short sound tells as much wherever it lies in the patch: it is taken in the middle. */
function middleOfPlateau(told: Float64Array, from: number): number {
  let to = from
  while (to + 1 < told.length && (told[to + 1] as number) > 0.999 * (told[from] as number)) to++
  return (from + to) >> 1
}

/** Mean power of each frame. */
function levelsOf(power: Float32Array | Float64Array, frames: number): Float64Array {
  const levels = new Float64Array(frames)
  for (let n = 0; n < frames; n++) {
    let sum = 0
    for (let at = n * MAP_BANDS; at < (n + 1) * MAP_BANDS; at++) sum += power[at] as number
    levels[n] = sum / MAP_BANDS
  }
  return levels
}

/** A patch of the sound as it is at the speed at a place of `LOOKUP_SPEEDS`, or null where nothing is to be seen. */
function templateOf(power: Float32Array, frames: number, anchor: number, at: number): Int8Array | null {
  const map = playedMap(power, frames, anchor, at)
  const levels = levelsOf(map, PATCH_FRAMES)
    .sort()
    .reverse()
    .subarray(0, PATCH_FRAMES >> 2)
  const loud = levels.reduce((sum, value) => sum + value, 0) / levels.length
  if (!(loud > 0)) return null
  const gain = CONTRAST / loud
  const rows = new Float64Array(PATCH_FRAMES * PATCH_BANDS)
  for (let pair = 0; pair < rows.length; pair++) {
    const both = (1 + gain * (map[2 * pair] as number)) * (1 + gain * (map[2 * pair + 1] as number))
    rows[pair] = (0.5 / Math.LN10) * Math.log(both)
  }
  const values = new Float32Array(COMPONENTS)
  patchComponents(bandCosines(rows), 0, values)
  let largest = 0
  for (let k = 0; k < COMPONENTS; k++) {
    const value = (values[k] as number) * (USUAL_WEIGHTS[k] as number)
    values[k] = value
    largest = Math.max(largest, Math.abs(value))
  }
  if (!(largest > 0)) return null
  const small = new Int8Array(COMPONENTS)
  for (let k = 0; k < COMPONENTS; k++) small[k] = Math.round((127 * (values[k] as number)) / largest)
  return small
}

/** Where each band of a map comes from when a sound is played at a speed: between a band and the next, and how far; as many bands as there are. */
function movedBands(speed: number): { readonly low: Uint8Array; readonly part: Float64Array; readonly count: number } {
  const low = new Uint8Array(MAP_BANDS)
  const part = new Float64Array(MAP_BANDS)
  const shift = BANDS_AN_OCTAVE * Math.log2(speed)
  let count = 0
  for (; count < MAP_BANDS && count - shift <= MAP_BANDS - 1; count++) {
    const place = Math.max(0, count - shift)
    low[count] = Math.floor(place)
    part[count] = place - Math.floor(place)
  }
  return { low, part, count }
}

const MOVED_BANDS = LOOKUP_SPEEDS.map(movedBands)

/** The map around a place as it is at another speed: time by that factor, bands moved along; silence outside of the sound. */
function playedMap(power: Float32Array, frames: number, anchor: number, at: number): Float64Array {
  const out = new Float64Array(PATCH_FRAMES * MAP_BANDS)
  const { low, part, count } = MOVED_BANDS[at] as (typeof MOVED_BANDS)[number]
  const step = (TRACK_HOP / SOUND_HOP) * (LOOKUP_SPEEDS[at] as number)
  for (let n = 0; n < PATCH_FRAMES; n++) {
    const time = anchor + (n - (PATCH_FRAMES >> 1)) * step
    const early = Math.floor(time)
    for (const [frame, share] of [
      [early, 1 - (time - early)],
      [early + 1, time - early],
    ] as const) {
      if (frame < 0 || frame >= frames || share === 0) continue
      const from = frame * MAP_BANDS
      for (let band = 0; band < count; band++) {
        const under = from + (low[band] as number)
        const over = (low[band] as number) + 1 < MAP_BANDS ? under + 1 : under
        const far = part[band] as number
        const value = (1 - far) * (power[under] as number) + far * (power[over] as number)
        out[n * MAP_BANDS + band] = (out[n * MAP_BANDS + band] as number) + share * value
      }
    }
  }
  return out
}
