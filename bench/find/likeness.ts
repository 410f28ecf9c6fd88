import { DEMO_SOUNDS } from '../../demo/synthesis/catalogue'
import { Chance, finished, RATE_HZ } from '../../demo/synthesis/toolkit'
import { likenessOf } from '../../src/core/likeness'

const TOP = 10
/** Seeds of the takes that are looked for; those of the catalogue are far below. */
const OTHER_SEEDS = 10_000

/** How often another take of a recipe (same numbers, other seed) finds the first among all demo sounds, and its family in the top ten. */
export function likenessRates(): string {
  const sounds = DEMO_SOUNDS.filter(({ sameAs }) => !sameAs)
  const vectors = sounds.map((sound, at) => vectorOf(sound, at + 1))
  let own = 0
  let family = 0
  for (const [at, sound] of sounds.entries()) {
    const take = vectorOf(sound, OTHER_SEEDS + at)
    const nearest = vectors
      .map((vector, index) => ({ index, likeness: dot(take, vector) }))
      .sort((a, b) => b.likeness - a.likeness)
      .slice(0, TOP)
    if (nearest.some(({ index }) => index === at)) own++
    const size = Math.min(TOP, sounds.filter(({ recipe }) => recipe === sound.recipe).length)
    family += nearest.filter(({ index }) => sounds[index]?.recipe === sound.recipe).length / size
  }
  const percent = (share: number): string => `${((100 * share) / sounds.length).toFixed(1)} %`
  const chance = ((100 * TOP) / sounds.length).toFixed(1)
  return `${sounds.length} takes; the other take is in the top ten for ${percent(own)} (by chance ${chance} %), ${percent(family)} of the top ten are of the family`
}

function vectorOf(sound: (typeof DEMO_SOUNDS)[number], seed: number): Float32Array {
  const [samples] = finished(sound.recipe(new Chance(seed), ...sound.numbers))
  return likenessOf(samples as Float32Array, RATE_HZ)?.vector ?? new Float32Array(0)
}

function dot(a: Float32Array, b: Float32Array): number {
  return a.reduce((sum, value, at) => sum + value * (b[at] ?? 0), 0)
}
