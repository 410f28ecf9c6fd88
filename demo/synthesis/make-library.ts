import fs from 'node:fs'
import path from 'node:path'
import { DEMO_SOUNDS, type DemoLibrary, type DemoSound } from './catalogue'
import { encoded, previewOf } from './encode'
import { Chance, finished, loudestOf, PEAK, RATE_HZ } from './toolkit'

/** The samples of one demo sound. */
export function soundOf(sound: DemoSound): Float32Array[] {
  const made = sound.sameAs ? DEMO_SOUNDS.find(({ title }) => title === sound.sameAs) : wholeOf(sound)
  const seed = DEMO_SOUNDS.indexOf(made as DemoSound) + 1
  const channels = sound.recipe(new Chance(seed), ...sound.numbers)
  if (!made || !sound.of) return finished(channels)
  // Neither louder than in the whole nor faded: stems add up to it, and parts join.
  const gain = PEAK / loudestOf(made.recipe(new Chance(seed), ...made.numbers))
  return channels.map((channel) => channel.map((value) => gain * value))
}

/** The sound that a take is of, or itself. */
function wholeOf(sound: DemoSound): DemoSound | undefined {
  return sound.of ? DEMO_SOUNDS.find(({ library, id }) => library === sound.library && id === sound.of?.id) : sound
}

/** The file that a library hands out for a sound. @throws Error where it has none of that id. */
export async function originalOf(library: DemoLibrary, id: string): Promise<Uint8Array> {
  const sound = DEMO_SOUNDS.find((one) => one.library === library && one.id === id)
  if (!sound) throw new Error(`${library} has no sound ${id}`)
  return encoded(soundOf(sound), sound.format)
}

/** A sound as the catalogue of its library lists it. @param frames Length of what was made, samples. */
export function catalogueRow(sound: DemoSound, frames: number): object {
  const { recipe: _recipe, numbers: _numbers, sameAs: _sameAs, library: _library, listedDurationS, ...row } = sound
  // How often it was taken is made up like the rest: a few sounds very often, most seldom.
  const taken = Math.round(4000 ** new Chance(DEMO_SOUNDS.indexOf(sound) + 1).between(0, 1))
  return { ...row, taken, durationS: listedDurationS ?? frames / RATE_HZ }
}

/** Makes the catalogue and the previews of one library in a folder. */
export async function makeLibrary(folder: string, library: DemoLibrary): Promise<void> {
  fs.rmSync(folder, { recursive: true, force: true })
  fs.mkdirSync(folder, { recursive: true })
  const rows: object[] = []
  for (const sound of DEMO_SOUNDS.filter((one) => one.library === library)) {
    const channels = soundOf(sound)
    fs.writeFileSync(path.join(folder, `${sound.id}.preview.ogg`), await previewOf(channels))
    rows.push(catalogueRow(sound, channels[0]?.length ?? 0))
  }
  fs.writeFileSync(path.join(folder, 'catalogue.json'), `${JSON.stringify(rows, null, 1)}\n`)
}
