import fs from 'node:fs'
import path from 'node:path'
import { DEMO_LIBRARIES, DEMO_SOUNDS, type DemoLibrary, type DemoSound } from './catalogue'
import { encoded, previewOf } from './encode'
import { Chance, finished, RATE_HZ } from './toolkit'

/** Raised when a recipe or the layout changes, so that an older library is made anew. */
const LIBRARY_VERSION = 3

/** The samples of one demo sound. */
export function soundOf(sound: DemoSound): Float32Array[] {
  const made = sound.sameAs ? DEMO_SOUNDS.find(({ title }) => title === sound.sameAs) : sound
  const seed = DEMO_SOUNDS.indexOf(made as DemoSound) + 1
  return finished(sound.recipe(new Chance(seed), ...sound.numbers))
}

/** Makes the files of one library: originals, previews and the catalogue. */
export async function makeOneLibrary(dir: string, library: DemoLibrary): Promise<void> {
  const folder = path.join(dir, library)
  fs.mkdirSync(folder, { recursive: true })
  const rows: object[] = []
  for (const sound of DEMO_SOUNDS.filter((one) => one.library === library)) {
    const channels = soundOf(sound)
    fs.writeFileSync(path.join(folder, `${sound.id}.${sound.format}`), await encoded(channels, sound.format))
    fs.writeFileSync(path.join(folder, `${sound.id}.preview.ogg`), await previewOf(channels))
    const { recipe, numbers, sameAs, library: _library, listedDurationS, ...row } = sound
    // How often it was taken is made up like the rest: a few sounds very often, most seldom.
    const taken = Math.round(4000 ** new Chance(DEMO_SOUNDS.indexOf(sound) + 1).between(0, 1))
    rows.push({ ...row, taken, durationS: listedDurationS ?? (channels[0]?.length ?? 0) / RATE_HZ })
  }
  fs.writeFileSync(path.join(folder, 'catalogue.json'), JSON.stringify(rows, null, 1))
}

/**
 * Makes the files that the stand-in libraries serve, each library in a thread of its own.
 *
 * Does nothing when they are there already; a half-made library is made anew.
 *
 * @param inThread Runs `makeOneLibrary(dir, library)` in a worker thread.
 */
export async function makeLibraries(
  dir: string,
  inThread: (library: DemoLibrary) => Promise<void>,
  say: (line: string) => void,
): Promise<void> {
  const stamp = path.join(dir, 'made')
  if (fs.existsSync(stamp) && fs.readFileSync(stamp, 'utf8') === String(LIBRARY_VERSION)) return
  say(`Synthesising ${DEMO_SOUNDS.length} sounds for the stand-in libraries (a minute or two) …`)
  fs.rmSync(dir, { recursive: true, force: true })
  await Promise.all(DEMO_LIBRARIES.map(inThread))
  fs.writeFileSync(stamp, String(LIBRARY_VERSION))
}
