import { HEARING_RATE_HZ } from '../constants'
import { type PatchProducts, TEMPLATES_AT_ONCE } from './patch-products'
import { COMPONENTS, PATCH_HOP } from './patch-shape'
import { PlainProducts } from './plain-products'
import { LOOKUP_SPEEDS, type TemplateRows } from './sound-templates'
import type { PatchRows } from './track-patches'
import { wasmProducts } from './wasm-products'

/** A place at which a sound may be, at some speed: by its likeness to the track's map alone. */
export interface Proposal {
  /** Index into the list of sounds that was looked up. */
  readonly soundIndex: number
  /** How far the likeness stands out of what the template usually gets in this track, standard deviations. */
  readonly z: number
  /** Frame of the track in the middle of the patch. */
  readonly at: number
  /** Frame of the sound that lies there. */
  readonly centre: number
  /** To 3 %. */
  readonly speed: number
}

/** Likenesses under this are of no use. */
const Z_MIN = 3
/** A peak is the highest within so many patches to both sides (0.2 s). */
const PEAK_REACH = 5
/** At most so many proposals for each sound, range of speeds and minute: one that is like everything says nothing. */
const PER_SOUND_AND_MINUTE = 4
/** Each of so many ranges of speed has proposals of its own. */
const SPEED_RANGES = 3
/** Proposals of one sound are one where the starts that they imply and their speeds are this near. */
const SAME_START_FRAMES = 0.08 * HEARING_RATE_HZ
const SAME_SPEED = 0.04

/** SIMD WebAssembly where it runs, else plain TypeScript. */
export function bestProducts(): PatchProducts {
  return wasmProducts() ?? new PlainProducts()
}

/**
 * Looks sounds up in a stretch of track.
 *
 * @param sounds Null entries are passed over. @returns Proposals in no order.
 */
export function proposalsIn(
  { start, rows }: PatchRows,
  sounds: readonly (TemplateRows | null)[],
  products: PatchProducts,
): Proposal[] {
  const count = rows.length / COMPONENTS
  if (count === 0) return []
  products.loadPatches(rows, COMPONENTS)
  const most = Math.ceil((PER_SOUND_AND_MINUTE * count * PATCH_HOP) / HEARING_RATE_HZ / 60)
  return sounds.flatMap((templates, soundIndex) => {
    if (!templates || templates.speeds.length === 0) return []
    return bestOfAll(templates, count, products).flatMap(({ height, which }) =>
      peaksOf(height, most).map((patch): Proposal => {
        const template = which[patch] as number
        return {
          soundIndex,
          z: height[patch] as number,
          at: start + patch * PATCH_HOP,
          centre: templates.centres[template] as number,
          speed: LOOKUP_SPEEDS[templates.speeds[template] as number] as number,
        }
      }),
    )
  })
}

/** The best of some proposals, without those that say the same. @param most How many, with those. */
export function bestProposals(proposals: readonly Proposal[], most: number): Proposal[] {
  const kept = new Map<number, Proposal[]>()
  for (const one of [...proposals].sort((a, b) => b.z - a.z).slice(0, most)) {
    const others = kept.get(one.soundIndex) ?? []
    kept.set(one.soundIndex, others)
    if (!others.some((other) => isSame(one, other))) others.push(one)
  }
  return [...kept.values()].flat()
}

function isSame(one: Proposal, other: Proposal): boolean {
  const start = ({ at, centre, speed }: Proposal): number => at - centre / speed
  return Math.abs(start(one) - start(other)) < SAME_START_FRAMES && Math.abs(one.speed / other.speed - 1) < SAME_SPEED
}

interface Answers {
  /** For each patch how far the template stands out that does most. */
  readonly height: Float32Array
  readonly which: Uint16Array
}

/**
 * What answers at each patch, by ranges of speed: where the speed is hard to tell, a wrong one may stand out more than the right one
 * beside it.
 */
function bestOfAll({ values, speeds }: TemplateRows, count: number, products: PatchProducts): Answers[] {
  const ranges = Array.from({ length: SPEED_RANGES }, () => ({
    height: new Float32Array(count).fill(Number.NEGATIVE_INFINITY),
    which: new Uint16Array(count),
  }))
  const some = new Int8Array(TEMPLATES_AT_ONCE * COMPONENTS)
  for (let first = 0; first < speeds.length; first += TEMPLATES_AT_ONCE) {
    const here = Math.min(TEMPLATES_AT_ONCE, speeds.length - first)
    some.fill(0)
    some.set(values.subarray(first * COMPONENTS, (first + here) * COMPONENTS))
    const sums = products.multiply(some)
    for (let template = first; template < first + here; template++) {
      const range = Math.floor(((speeds[template] as number) * SPEED_RANGES) / LOOKUP_SPEEDS.length)
      const { height, which } = ranges[range] as (typeof ranges)[number]
      takeHigher(sums.subarray((template - first) * count, (template - first + 1) * count), template, height, which)
    }
  }
  return ranges
}

function takeHigher(sums: Int32Array, template: number, height: Float32Array, which: Uint16Array): void {
  const count = sums.length
  let sum = 0
  let square = 0
  for (let patch = 0; patch < count; patch++) {
    const value = sums[patch] as number
    sum += value
    square += value * value
  }
  const mean = sum / count
  const scale = 1 / Math.sqrt(square / count - mean * mean + 1)
  for (let patch = 0; patch < count; patch++) {
    const z = ((sums[patch] as number) - mean) * scale
    if (z <= (height[patch] as number)) continue
    height[patch] = z
    which[patch] = template
  }
}

function peaksOf(height: Float32Array, most: number): number[] {
  const peaks: number[] = []
  for (let patch = 0; patch < height.length; patch++) {
    const z = height[patch] as number
    if (z < Z_MIN) continue
    let isPeak = true
    for (let near = Math.max(0, patch - PEAK_REACH); near <= patch + PEAK_REACH && isPeak; near++) {
      const other = height[near] ?? Number.NEGATIVE_INFINITY
      isPeak = other < z || (other === z && near >= patch)
    }
    if (isPeak) peaks.push(patch)
  }
  return peaks.sort((a, b) => (height[b] as number) - (height[a] as number)).slice(0, most)
}
