import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, afterEach, beforeAll, beforeEach } from 'vitest'
import { previewOf } from '../demo/synthesis/encode'
import { bedPart, bedStem, musicBed } from '../demo/synthesis/music'
import { Chance } from '../demo/synthesis/toolkit'
import type { VideoInput } from '../src/contract'
import { LIBRARY_IDS, type LibraryId } from '../src/contract/library-account'
import { resampled } from '../src/core/audio'
import { writeWav } from '../src/core/formats/wav'
import { openApp } from '../src/server/app'
import { takeInExport } from '../src/server/checks/start-check'
import type { App, Pools, Services } from '../src/server/context'
import { todayIso } from '../src/server/database/open'
import type { Connector } from '../src/server/ports/connector'
import { searchSounds } from '../src/server/sounds/search-sounds'
import { KNOWN_LIBRARIES } from '../src/server/sources/connectors'
import { listSources } from '../src/server/sources/list-sources'
import type { HttpPolicy } from '../src/server/sources/source-http'
import { createVideo } from '../src/server/videos/videos'
import { createPools } from '../src/server/workers/pool'
import { serveHeronSlate } from '../src/standins/heron-slate'
import { servePellMarrow } from '../src/standins/pell-marrow'
import { serveQuarryHall } from '../src/standins/quarry-hall'
import { givenLibraries } from '../src/standins/secrets'
import type { LibrarySound, Standin } from '../src/standins/serve'
import { serveSkerryview } from '../src/standins/skerryview'
import { serveTinBarn } from '../src/standins/tin-barn'
import { knowing } from './call'
import { addAt, bed, effect } from './signals'

export const RATE_HZ = 48000
export const ROOT = path.resolve(import.meta.dirname, '..')
export const NODE_DIR = path.join(ROOT, 'dist', 'node')

/** The sounds of the two small libraries that tests use. */
export const BARN_SOUNDS: readonly Omit<LibrarySound, 'durationS'>[] = [
  barn('b1', 'Ice crack', 'fernlight', 'CC-BY-4.0'),
  barn('b2', 'Radio hum', 'brackwater', 'CC-BY-NC-4.0'),
  barn('b3', 'Dull thud', 'oddment', 'CC0-1.0'),
  barn('b4', 'Bronze bell', 'tallow', 'CC-BY-SA-4.0'),
]
export const HERON_SOUNDS: readonly Omit<LibrarySound, 'durationS'>[] = Array.from({ length: 18 }, (_, index) => ({
  ...barn(`h${index + 1}`, `Servo number ${index + 1}`, 'Sable Row', 'plan'),
  category: 'Machines',
  tags: 'robot mount',
}))

/** One sound in each of two kinds of shop: three prices, or free with or without a credit. */
export const PELL_SOUNDS: readonly Omit<LibrarySound, 'durationS'>[] = [
  { ...barn('p1', 'Crate lands', 'Anstey Room', '300') },
  { ...barn('p2', 'Vault closes', '', '450'), category: '', tags: '' },
  {
    ...barn('p3', 'Bed for a long night', 'Corrie Voss', '1500'),
    kind: 'music',
    tempoBpm: 84,
    mood: 'calm',
    vocals: true,
  },
]
export const SKERRY_SOUNDS: readonly Omit<LibrarySound, 'durationS'>[] = [
  barn('s1', 'Far owl', 'Tilda Oak', 'named'),
  barn('s2', 'Lake at dusk', 'Brae', 'open'),
]

function barn(id: string, title: string, maker: string, licence: string): Omit<LibrarySound, 'durationS'> {
  return { id, title, maker, category: 'Effects', licence, format: 'wav', tags: 'test short' }
}

/** A bed of two bars with three stems, three parts and a short version, for worlds that have it. */
export const BED_SOUNDS: readonly Omit<LibrarySound, 'durationS'>[] = [
  bedSound('bed', 'Bed for a slow dawn'),
  bedSound('bed-pad', 'pad', { is: 'stem', called: 'pad' }),
  bedSound('bed-figure', 'figure', { is: 'stem', called: 'figure' }),
  bedSound('bed-pulse', 'pulse', { is: 'stem', called: 'pulse' }),
  bedSound('bed-opening', 'opening', { is: 'piece', called: 'opening' }),
  bedSound('bed-ending', 'ending', { is: 'piece', called: 'ending' }),
]
const BED = [120, 1, 0, 2] as const
const BED_RECIPES: Readonly<Record<string, () => readonly Float32Array[]>> = {
  bed: () => musicBed(new Chance(5), ...BED),
  'bed-pad': () => bedStem(new Chance(5), 0, ...BED),
  'bed-figure': () => bedStem(new Chance(5), 1, ...BED),
  'bed-pulse': () => bedStem(new Chance(5), 2, ...BED),
  'bed-opening': () => bedPart(new Chance(5), 0, 1, ...BED),
  'bed-ending': () => bedPart(new Chance(5), 1, 2, ...BED),
}
const BED_GAIN = 0.3

function bedSound(
  id: string,
  title: string,
  of?: Omit<NonNullable<LibrarySound['of']>, 'id'>,
): Omit<LibrarySound, 'durationS'> {
  const music = { kind: 'music', tempoBpm: 120, mood: 'calm', vocals: false } as const
  return { ...barn(id, title, 'Quiet Harbour', 'plan'), ...music, ...(of ? { of: { id: 'bed', ...of } } : {}) }
}

const samplesOf = new Map<string, Float32Array>()

/** Samples of a library sound, 48 kHz mono: each id has its own. */
export function soundSamples(id: string): Float32Array {
  const known = samplesOf.get(id) ?? madeSamples(id)
  samplesOf.set(id, known)
  // Whoever asks may change them.
  return known.slice()
}

function madeSamples(id: string): Float32Array {
  const [made] = BED_RECIPES[id]?.() ?? []
  if (made) return made.map((value) => BED_GAIN * value)
  const seed = [...id].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7) % 9973
  const durationS = 0.5 + (seed % 7) * 0.12
  return effect({
    length: Math.round(durationS * RATE_HZ),
    rateHz: RATE_HZ,
    seed,
    frequencyHz: 300 + (seed % 11) * 120,
  })
}

/** What is told of a source, or undefined where it is not listed. */
export async function sourceOf(app: App, id: string) {
  return (await listSources(app)).find((one) => one.id === id)
}

/** A page of the search that knows every change. */
export const searched = (...args: Parameters<typeof searchSounds>) => knowing(() => searchSounds(...args))

/** A new folder. All of them are removed after the last test. */
export function temporaryDir(name: string): string {
  return fs.mkdtempSync(path.join(os.tmpdir(), `thud-${name}-`))
}

/** Makes the folders that the stand-ins serve. */
export async function makeLibraries(dir: string, heronSounds = HERON_SOUNDS): Promise<void> {
  for (const [library, sounds] of [
    ['tin-barn', BARN_SOUNDS],
    ['heron-slate', heronSounds],
    ['pell-marrow', PELL_SOUNDS],
    ['skerryview', SKERRY_SOUNDS],
  ] as const) {
    const folder = path.join(dir, library)
    fs.mkdirSync(folder, { recursive: true })
    const rows: LibrarySound[] = []
    for (const sound of sounds) {
      const samples = soundSamples(sound.id)
      fs.writeFileSync(path.join(folder, `${sound.id}.wav`), writeWav({ sampleRateHz: RATE_HZ, channels: [samples] }))
      fs.writeFileSync(path.join(folder, `${sound.id}.preview.ogg`), await previewOf([samples]))
      rows.push({ ...sound, durationS: samples.length / RATE_HZ })
    }
    fs.writeFileSync(path.join(folder, 'catalogue.json'), JSON.stringify(rows))
  }
}

/** A finished sound track: a bed with library sounds placed in the mix at [id, second, gain in dB]. WAV bytes. */
export function finishedTrack(durationS: number, laid: readonly (readonly [string, number, number])[]): Uint8Array {
  const low = bed({ length: durationS * 16000, rateHz: 16000, seed: 21 })
  const track = resampled(low, { fromHz: 16000, toHz: RATE_HZ })
  for (const [id, atS, gainDb] of laid) addAt(track, soundSamples(id), Math.round(atS * RATE_HZ), 10 ** (gainDb / 20))
  return writeWav({ sampleRateHz: RATE_HZ, channels: [track, track] })
}

/** Stand-ins in good spirits: no waiting between tries. */
export const QUICK: HttpPolicy = { backoffMs: 1, requestsPerS: 10_000, chance: () => 0.5 }

/** The stand-in libraries, served. */
export interface Standins {
  readonly 'tin-barn': Standin
  readonly 'heron-slate': Standin
  readonly 'pell-marrow': Awaited<ReturnType<typeof servePellMarrow>>
  readonly skerryview: Standin
}

export async function serveStandins(dir: string, nowMs: () => number = Date.now): Promise<Standins> {
  return {
    'tin-barn': await serveTinBarn({ dir: path.join(dir, 'tin-barn') }, 0),
    'heron-slate': await serveHeronSlate({ dir: path.join(dir, 'heron-slate') }, 0, nowMs),
    'pell-marrow': await servePellMarrow({ dir: path.join(dir, 'pell-marrow') }, 0),
    skerryview: await serveSkerryview({ dir: path.join(dir, 'skerryview') }, 0, nowMs),
  }
}

/** Where each stand-in answers. */
export function urlsOf(standins: Standins): Record<LibraryId, string> {
  return {
    'tin-barn': standins['tin-barn'].url,
    'heron-slate': standins['heron-slate'].url,
    'pell-marrow': standins['pell-marrow'].url,
    skerryview: standins.skerryview.url,
  }
}

/** The connectors in code, each at its stand-in. */
export function codedConnectors(standins: Standins, nowMs: () => number = Date.now): Connector[] {
  const given = givenLibraries(urlsOf(standins))
  return LIBRARY_IDS.map((id) => KNOWN_LIBRARIES[id].connect(given[id], { nowMs, httpPolicy: QUICK }))
}

/** The description of a library that ships as an example. */
export function descriptionText(id: string): string {
  return fs.readFileSync(path.join(ROOT, 'libraries', `${id}.yaml`), 'utf8')
}

/** A Quarry Hall that is as quick as it can be, for the tests of one file; its sounds are short. */
export function hallForTests(requestsPerS = 10_000): () => Standin {
  let hall: Standin
  beforeAll(async () => {
    hall = await serveQuarryHall({ audio: hallAudioForTests, requestsPerS }, 0)
  })
  beforeEach(() => {
    Object.assign(hall.control, { fault: 'none', faultsLeft: null, edition: 4, withdrawn: [] })
  })
  afterAll(() => hall.close())
  return () => hall
}

async function hallAudioForTests(index: number, part: 'preview' | 'recording'): Promise<Uint8Array> {
  const channels = [effect({ length: RATE_HZ * 0.4, rateHz: RATE_HZ, seed: index + 1 })]
  return part === 'preview' ? previewOf(channels) : writeWav({ sampleRateHz: RATE_HZ, channels })
}

/** A running application on a temporary folder, with its stand-ins. */
export interface World {
  readonly app: App
  readonly dir: string
  readonly standins: Standins
  readonly barn: Standin
  readonly heron: Standin
  /** Closes the application and opens it again on the same folder, as after a restart. */
  reopen(): Promise<void>
  close(): Promise<void>
}

let librariesDir: Promise<string> | null = null
let pools: Pools | null = null

/** Threads of all worlds of one process, which runs many files: what a thread has loaded once is there for the next. */
function sharedPools(): Pools {
  pools ??= createPools(NODE_DIR)
  return pools
}

/** Opens a world. Synthesised libraries and threads are shared by the tests of one file; own threads take the settings of the moment along. */
export async function openWorld(name: string, threads: 'shared' | 'own' = 'shared'): Promise<World> {
  return worldOn(temporaryDir(name), await serveLibraries(), threads === 'shared' ? sharedPools() : null)
}

/** A world whose subscription library has nothing but a bed in stems, parts and a short version. */
export async function openWorldWithBed(name: string): Promise<World> {
  const made = temporaryDir('bed-libraries')
  await makeLibraries(made, BED_SOUNDS)
  return worldOn(temporaryDir(name), await serveStandins(made), sharedPools())
}

/** A recording of two effects, the other one far behind the first. */
export function excerptedSamples(): Float32Array {
  const whole = new Float32Array(8 * RATE_HZ)
  whole.set(soundSamples('b1'))
  whole.set(soundSamples('behind'), 5 * RATE_HZ)
  return whole
}

/** A world in which the preview of “Ice crack” is an excerpt: the first two of its eight seconds. */
export async function openWorldWithExcerpt(name: string): Promise<World> {
  const made = temporaryDir('excerpt-libraries')
  await makeLibraries(made)
  const whole = excerptedSamples()
  const barnDir = path.join(made, 'tin-barn')
  fs.writeFileSync(path.join(barnDir, 'b1.wav'), writeWav({ sampleRateHz: RATE_HZ, channels: [whole] }))
  fs.writeFileSync(path.join(barnDir, 'b1.preview.ogg'), await previewOf([whole.subarray(0, 2 * RATE_HZ)]))
  const list = path.join(barnDir, 'catalogue.json')
  const rows = JSON.parse(fs.readFileSync(list, 'utf8')) as LibrarySound[]
  fs.writeFileSync(list, JSON.stringify(rows.map((row) => (row.id === 'b1' ? { ...row, durationS: 8 } : row))))
  return worldOn(temporaryDir(name), await serveStandins(made), sharedPools())
}

/** A world whose stand-ins serve a folder of its own, which a test may change. @param libraries As {@link makeLibraries} makes it. */
export async function openWorldOfLibraries(name: string, libraries: string): Promise<World> {
  return worldOn(temporaryDir(name), await serveStandins(libraries), sharedPools())
}

async function serveLibraries(): Promise<Standins> {
  librariesDir ??= librariesOfAll()
  return serveStandins(await librariesDir)
}

/** The libraries of all threads that test at a time: the first that needs them makes them, and the others wait. */
async function librariesOfAll(): Promise<string> {
  const made = path.join(os.tmpdir(), 'libraries')
  const making = `${made}-in-the-making`
  while (!fs.existsSync(made)) {
    if (!isMadeNow(making)) {
      await new Promise((resolve) => setTimeout(resolve, 50))
      continue
    }
    try {
      // Somebody may have made them between the two looks.
      if (fs.existsSync(made)) return made
      await makeLibraries(making)
      fs.renameSync(making, made)
    } finally {
      fs.rmSync(making, { recursive: true, force: true })
    }
  }
  return made
}

/** Makes a folder. @returns False where it is there. */
function isMadeNow(folder: string): boolean {
  return fs.mkdirSync(folder, { recursive: true }) !== undefined
}

/** Every case of the block it is called in gets a world of its own, as one that is prepared once was at its end. */
export function worldForEach(name: string, prepare: (world: World) => Promise<unknown>): () => World {
  const template = temporaryDir(`${name}-at-first`)
  let world: World
  beforeAll(async () => {
    const first = await worldOn(template, await serveLibraries(), sharedPools())
    await prepare(first)
    await closeWorld(first)
  })
  beforeEach(async () => {
    const dir = temporaryDir(name)
    fs.cpSync(template, dir, { recursive: true })
    world = await worldOn(dir, await serveLibraries(), sharedPools())
  })
  afterEach(() => world.close())
  afterAll(() => fs.rmSync(template, { recursive: true }))
  return () => world
}

async function worldOn(dir: string, standins: Standins, threads: Pools | null): Promise<World> {
  const open = (): Promise<App> =>
    openApp({
      dataDir: dir,
      nodeDir: NODE_DIR,
      libraries: givenLibraries(urlsOf(standins)),
      httpPolicy: QUICK,
      ...(threads ? { pools: threads } : {}),
    })
  const world = {
    app: await open(),
    dir,
    standins,
    barn: standins['tin-barn'],
    heron: standins['heron-slate'],
    reopen: async (): Promise<void> => {
      await world.app.close()
      world.app = await open()
    },
    close: async (): Promise<void> => {
      await closeWorld(world)
      fs.rmSync(dir, { recursive: true, force: true })
    },
  }
  return world
}

async function closeWorld({ app, standins }: Pick<World, 'app' | 'standins'>): Promise<void> {
  await app.close()
  await Promise.all(Object.values(standins).map((standin) => standin.close()))
}

/** Synchronises sources and waits. Throws when a job fails. */
export async function mirrorAll({ app }: World, ids: readonly string[] = ['tin-barn', 'heron-slate']): Promise<void> {
  const queued = await Promise.all(ids.map((id) => app.jobs.enqueue('mirror', id, `Synchronising ${id}`)))
  await app.jobs.idle()
  for (const { job } of queued) {
    const ended = await app.jobs.find(job.id)
    if (ended?.state !== 'done') throw new Error(ended?.message)
  }
}

/** Id of a sound by its title. */
export async function soundId(services: Pick<Services, 'db'>, title: string): Promise<number> {
  const row = await services.db.selectFrom('sounds').select('id').where('title', '=', title).executeTakeFirstOrThrow()
  return row.id
}

/** What a test film is for, unless it says otherwise: online, earning nothing, published today. */
export function usesOf(more: Partial<VideoInput['uses']> = {}): VideoInput['uses'] {
  return {
    places: ['online'],
    earns: false,
    territory: 'worldwide',
    publishOn: todayIso(),
    videoLicence: null,
    platforms: [],
    audience: null,
    seats: null,
    publisher: 'licensee',
    ...more,
  }
}

/** A new video. Its id. */
export async function makeVideo(app: App, title = 'A finished film', uses = usesOf()): Promise<number> {
  return (await createVideo(app, { title, uses }, todayIso())).id
}

/** Brings a finished file and waits until it was checked. */
export async function bringExport(
  app: App,
  videoId: number,
  bytes: Uint8Array,
  name = 'final.wav',
): Promise<{ readonly exportId: number; readonly checkId: number }> {
  const body = Readable.from([Buffer.from(bytes)])
  const upload = { name, body, sizeBytes: bytes.length, signal: new AbortController().signal }
  const brought = await takeInExport(app, videoId, upload)
  await app.jobs.idle()
  return brought
}

/** Downloads a sound with its papers and waits. */
export async function download(app: App, title: string): Promise<void> {
  await app.jobs.enqueue('download', String(await soundId(app, title)), title)
  await app.jobs.idle()
}
