import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { isMainThread, parentPort, Worker } from 'node:worker_threads'
import { serveHeronSlate } from '../src/standins/heron-slate'
import { servePellMarrow } from '../src/standins/pell-marrow'
import { serveQuarryHall } from '../src/standins/quarry-hall'
import { givenLibraries } from '../src/standins/secrets'
import type { LibraryFiles, LibrarySound, Standin } from '../src/standins/serve'
import { serveSkerryview } from '../src/standins/skerryview'
import { serveTinBarn } from '../src/standins/tin-barn'
import { DEMO_LIBRARIES, type DemoLibrary } from './synthesis/catalogue'
import { hallAudio } from './synthesis/hall'
import { originalOf } from './synthesis/make-library'

/*
 * Serves all stand-in libraries on free ports: `standins.mjs STATE SOUNDS`. Catalogues and previews lie in SOUNDS; originals are made when they are first
 * taken, in a thread of their own, and kept in STATE, where a library also keeps what it was told. Ends with its parent.
 */

interface Wanted {
  readonly library: DemoLibrary
  readonly id: string
}

if (isMainThread) await serveAll()
else parentPort?.on('message', (wanted: Wanted) => void answerWith(wanted))

async function answerWith(wanted: Wanted): Promise<void> {
  const bytes = await originalOf(wanted.library, wanted.id).catch((error: Error) => error.message)
  parentPort?.postMessage({ ...wanted, bytes })
}

async function serveAll(): Promise<void> {
  const [state = '', sounds = ''] = process.argv.slice(2)
  for (const library of DEMO_LIBRARIES) fs.mkdirSync(path.join(state, library), { recursive: true })
  const makeOriginal = originalsIn(state)
  const filesOf = (library: DemoLibrary): LibraryFiles => ({
    dir: path.join(sounds, library),
    original: (sound) => makeOriginal(library, sound),
  })
  const [tinBarn, heronSlate, pellMarrow, skerryview, quarryHall] = await Promise.all([
    serveTinBarn(filesOf('tin-barn'), 0),
    serveHeronSlate(filesOf('heron-slate'), 0),
    servePellMarrow(filesOf('pell-marrow'), 0, path.join(state, 'pellMarrow.orders.json')),
    serveSkerryview(filesOf('skerryview'), 0),
    serveQuarryHall({ audio: hallAudio }, 0),
  ])
  for (const [name, standin] of Object.entries({ tinBarn, heronSlate, pellMarrow, skerryview, quarryHall }))
    remember(path.join(state, `${name}.told.json`), standin)
  process.send?.({
    ready: true,
    libraries: givenLibraries({
      'tin-barn': tinBarn.url,
      'heron-slate': heronSlate.url,
      'pell-marrow': pellMarrow.url,
      skerryview: skerryview.url,
      'quarry-hall': quarryHall.url,
    }),
  })
  process.on('disconnect', () => process.exit(0))
}

/** Originals that are made once, the first time that one is asked for. */
function originalsIn(state: string): (library: DemoLibrary, sound: LibrarySound) => Promise<string> {
  let thread: Worker | null = null
  const underWay = new Map<string, Promise<string>>()
  const make = (library: DemoLibrary, id: string, file: string): Promise<string> => {
    thread ??= new Worker(fileURLToPath(import.meta.url))
    const worker = thread
    return new Promise((resolve, reject) => {
      const onMade = (made: Wanted & { readonly bytes: Uint8Array | string }): void => {
        if (made.library !== library || made.id !== id) return
        worker.off('message', onMade)
        if (typeof made.bytes === 'string') reject(new Error(made.bytes))
        else resolve(keep(file, made.bytes))
      }
      worker.on('message', onMade)
      worker.postMessage({ library, id } satisfies Wanted)
    })
  }
  return (library, { id, format }) => {
    const file = path.join(state, library, `${id}.${format}`)
    if (fs.existsSync(file)) return Promise.resolve(file)
    const made = underWay.get(file) ?? make(library, id, file).finally(() => underWay.delete(file))
    underWay.set(file, made)
    return made
  }
}

/** On a full disk the one who asked for it gets no answer; the libraries go on. */
async function keep(file: string, bytes: Uint8Array): Promise<string> {
  await fs.promises.writeFile(`${file}.part`, bytes)
  await fs.promises.rename(`${file}.part`, file)
  return file
}

/** What a library was told stays so when it is started again; faults do not. */
function remember(file: string, standin: Standin): void {
  if (fs.existsSync(file)) Object.assign(standin.control, JSON.parse(fs.readFileSync(file, 'utf8')))
  standin.onControl = () => {
    const { edition, planUntil, withdrawn } = standin.control
    fs.writeFileSync(file, JSON.stringify({ edition, planUntil, withdrawn }))
  }
}
