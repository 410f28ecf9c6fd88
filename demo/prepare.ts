import { once } from 'node:events'
import fs from 'node:fs'
import path from 'node:path'
import type { Readable } from 'node:stream'
import { Worker } from 'node:worker_threads'
import { suggestedGainDb } from '../src/core/mix'
import { type Moment, newMoment, SHORT_LIST_SLOTS } from '../src/core/moments'
import {
  EMPTY_SCORE,
  layerName,
  newLayer,
  type PlacedAudio,
  placedForMoment,
  type ScoreEdit,
  scoreWithEdit,
} from '../src/core/score'
import { optionsFromEnvironment } from '../src/server/app'
import { takeInExport } from '../src/server/checks/start-check'
import type { App } from '../src/server/context'
import { bringCut } from '../src/server/cuts/bring-cut'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { addFolder } from '../src/server/folders/folders'
import { changeMoments } from '../src/server/moments/moments'
import { placeOrder } from '../src/server/orders/orders'
import { declarePapers } from '../src/server/papers/declare'
import { type Preparation, settled } from '../src/server/preparing'
import { setOwnSpeech } from '../src/server/rows/own-speech'
import { changeScore } from '../src/server/score/score'
import { loadSourceFacts } from '../src/server/score/source-facts'
import { findSetting, setSetting } from '../src/server/settings'
import { makeCollection } from '../src/server/shelf/collections'
import { editShelf, keepSound } from '../src/server/shelf/edit-shelf'
import { setCaptions } from '../src/server/videos/captions'
import { createVideo } from '../src/server/videos/videos'
import { DEMO_LIBRARIES, type DemoLibrary } from './synthesis/catalogue'
import { ALSO_ACQUIRED, DEMO_CUTS, DEMO_MOMENTS, DEMO_VIDEOS, type DemoVideo } from './videos'

/** Collections of the channel, and what is in them. */
const KEPT: readonly (readonly [string, readonly string[]])[] = [
  [
    'Chapter openings',
    ['Swell, slow dawn', 'Reveal hit, cold iron', 'Whoosh, big and low', 'Hit, black water', 'Black water (single)'],
  ],
  [
    'The dome',
    ['Dome motor, starts and stops', 'Dome shutter, slow and heavy', 'Slew servo, long arc', 'Knock on the hatch'],
  ],
  ['Nights', ['Owl, four calls', 'Ridge wind, steady', 'Shimmer, falling dust']],
]
/** Speaking takes about so long, s a word. */
const WORD_S = 0.36

const LIBRARY_NAMES: Readonly<Record<DemoLibrary, string>> = {
  'tin-barn': 'Tin Barn Commons',
  'heron-slate': 'Heron & Slate',
  'pell-marrow': 'Pell & Marrow',
  skerryview: 'Skerryview Free Collection',
}
/** How long each takes beside the other steps, s. */
const LISTENING_S: Readonly<Record<DemoLibrary, number>> = {
  'tin-barn': 10,
  'heron-slate': 11,
  'pell-marrow': 32,
  skerryview: 32,
}
const FILES = path.join(import.meta.dirname, '..', '..', 'demo', 'files')

/** What the demo's folder is filled with: everything is done by using the application. */
export const preparation: Preparation = {
  title: 'Preparing the demo',
  steps: [
    // One that is searched while one types is left for whoever looks at the demo to connect. One after the other, so that of two libraries' copies of one recording the same comes first each time.
    ...DEMO_LIBRARIES.map((library, index) => ({
      id: library,
      words: `listening to the sounds of ${LIBRARY_NAMES[library]} (library ${index + 1} of ${DEMO_LIBRARIES.length})`,
      typicalS: LISTENING_S[library],
      kinds: ['mirror'] as const,
      run: (app: App) => mirror(app, [library]),
    })),
    {
      id: 'acquired',
      words: 'downloading what the channel already uses',
      typicalS: 17,
      kinds: ['download'],
      run: acquire,
    },
    {
      id: 'folder',
      words: 'looking through the channel’s own folder',
      typicalS: 3,
      kinds: ['scan'],
      run: addOwnFolder,
    },
    ...DEMO_VIDEOS.map((demo) => ({
      id: demo.file,
      words: `checking “${demo.title}”`,
      typicalS: 22,
      kinds: ['check', 'purchase'] as const,
      run: (app: App, signal: AbortSignal) => checkVideo(app, demo, signal),
    })),
    { id: 'cut', words: 'reading a rough cut', typicalS: 4, kinds: ['cut'], run: noteMoments },
    { id: 'shelf', words: 'putting sounds on the Shelf', typicalS: 1, kinds: [], run: fillShelf },
    { id: 'weeks', words: 'letting some weeks pass at the libraries', typicalS: 4, kinds: ['mirror'], run: timePasses },
  ],
}

/** Asks libraries for what they have, and listens to it. */
async function mirror(app: App, ids: readonly DemoLibrary[]): Promise<void> {
  // Before the first video asks who holds its licences.
  if (!(await findSetting(app.db, 'licensee')))
    await setSetting(app.db, 'licensee', 'Small Hours (two people, one hill)')
  for (const id of ids) await app.jobs.enqueue('mirror', id, `Synchronising ${LIBRARY_NAMES[id]}`)
}

async function acquire(app: App): Promise<void> {
  for (const title of new Set([...DEMO_VIDEOS.flatMap(({ acquired }) => acquired), ...ALSO_ACQUIRED]))
    await app.jobs.enqueue('download', String(await soundId(app, title)), `Downloading ${title}`)
}

/** Makes a video of the channel, brings its finished file, and buys what was bought for it. */
async function checkVideo(app: App, demo: DemoVideo, signal: AbortSignal): Promise<void> {
  const there = await app.db.selectFrom('videos').select('id').where('title', '=', demo.title).executeTakeFirst()
  const uses = {
    places: [...demo.places],
    earns: demo.earns,
    territory: 'worldwide' as const,
    publishOn: inDays(9),
    videoLicence: null,
    platforms: [],
    audience: null,
    seats: null,
    publisher: 'licensee' as const,
  }
  const { id } = there ?? (await createVideo(app, { title: demo.title, uses }, inDays(0)))
  const checked = await app.db.selectFrom('checks').select('id').where('video_id', '=', id).executeTakeFirst()
  if (!checked) await takeInExport(app, id, { name: demo.file, ...shipped(demo.file), signal })
  await settled(app, signal)
  for (const title of demo.bought ?? []) await buy(app, title, id)
}

/** A file that the demo brings. */
function shipped(name: string): { readonly body: Readable; readonly sizeBytes: number } {
  const file = path.join(FILES, name)
  return { body: fs.createReadStream(file), sizeBytes: fs.statSync(file).size }
}

/** The rough cut of an episode, and what was noted while it played. */
async function noteMoments(app: App, signal: AbortSignal): Promise<void> {
  const [cut] = DEMO_CUTS
  if (!cut) return
  const video = await app.db.selectFrom('videos').select('id').where('title', '=', cut.title).executeTakeFirstOrThrow()
  const there = await app.db.selectFrom('cuts').select('id').where('video_id', '=', video.id).executeTakeFirst()
  if (!there) await bringCut(app, video.id, { name: cut.file, ...shipped(cut.file), signal })
  await settled(app, signal)
  const moments = await Promise.all(
    DEMO_MOMENTS.map(async ({ atS, endS, words, kind, weight, note, picked, shortList }, index) =>
      newMoment(`demo-${index + 1}`, atS, {
        endS: endS ?? null,
        words,
        kind,
        weight: weight ?? 'must',
        note: note ?? '',
        soundId: picked ? await soundId(app, picked) : null,
        shortList: await Promise.all(
          (shortList ?? []).map(async ([title, reason], place) => ({
            slot: SHORT_LIST_SLOTS[place] ?? 'F',
            soundId: await soundId(app, title),
            reason,
          })),
        ),
      }),
    ),
  )
  await changeMoments(app, video.id, { revision: 0, edits: [{ do: 'add', moments }] })
  await placePicked(app, video.id, moments)
}

/** The sounds that were picked for moments, in their places; the cut's own sound is part of the mix. */
async function placePicked(app: App, videoId: number, moments: readonly Moment[]): Promise<void> {
  const own: ScoreEdit = { do: 'add-layer', layer: newLayer('demo-cut', layerName('cut'), 'cut'), atIndex: 0 }
  const edits: ScoreEdit[] = [own]
  let score = scoreWithEdit(EMPTY_SCORE, own).document
  for (const [index, moment] of moments.entries()) {
    if (moment.soundId === null) continue
    const row = await app.db
      .selectFrom('analyses')
      .leftJoin('active_grants', 'active_grants.sound_id', 'analyses.sound_id')
      .select(['duration_s', 'loudness_lufs', 'copy_sha256'])
      .where('analyses.sound_id', '=', moment.soundId)
      .orderBy('active_grants.id', 'desc')
      .executeTakeFirstOrThrow()
    const { soundId } = moment
    const audio: PlacedAudio = row.copy_sha256
      ? { kind: 'copy', sha256: row.copy_sha256, soundId }
      : { kind: 'preview', soundId }
    const sourceOf = await loadSourceFacts(app.db, [audio])
    const { edit } = placedForMoment(score, {
      moment,
      audio,
      source: sourceOf(audio, { durationS: row.duration_s }),
      gainDb: suggestedGainDb(moment.kind, row.loudness_lufs, null),
      ids: { placement: `demo-place-${index + 1}`, layer: `demo-layer-${index + 1}` },
    })
    score = scoreWithEdit(score, edit).document
    edits.push(edit)
  }
  await changeScore(app, videoId, { revision: 0, edits })
}

/** What the channel kept, how it put it in order, and the captions of its videos. */
async function fillShelf(app: App): Promise<void> {
  for (const [name, titles] of KEPT) {
    const there = await app.db.selectFrom('collections').select('id').where('name', '=', name).executeTakeFirst()
    const collectionId = there?.id ?? (await makeCollection(app, name))
    for (const title of titles) {
      const id = await soundId(app, title)
      await editShelf(app, { do: 'put', soundIds: [id], collectionId, beforeId: null })
    }
  }
  await keepSound(app, await soundId(app, 'Kettle, only the whistle'), { note: 'The real one is too soft.' })
  const habit = async (title: string, words: string): Promise<void> =>
    editShelf(app, { do: 'habit', soundIds: [await soundId(app, title)], words })
  await habit('Kettle, only the whistle', 'kettle')
  await habit('Switch clack, old panel', 'jump cut')
  await habit('Shimmer, falling dust', 'stars')
  await editShelf(app, { do: 'rename', soundIds: [await soundId(app, 'Knock on the hatch')], title: 'Hatch knock' })
  for (const { title, narration } of DEMO_VIDEOS) {
    const video = await app.db.selectFrom('videos').select('id').where('title', '=', title).executeTakeFirstOrThrow()
    await setCaptions(app, video.id, { name: `${title}.srt`, text: captionsOf(narration) })
  }
}

/** The narration as SubRip. */
function captionsOf(narration: (typeof DEMO_VIDEOS)[number]['narration']): string {
  const time = (seconds: number): string => new Date(seconds * 1000).toISOString().slice(11, 23).replace('.', ',')
  return narration
    .map(([atS, sentence], index) => {
      const endS = atS + sentence.split(' ').length * WORD_S
      return `${index + 1}\n${time(atS)} --> ${time(endS)}\n${sentence}\n`
    })
    .join('\n')
}

async function soundId(app: App, title: string): Promise<number> {
  const sound = await app.db.selectFrom('sounds').select('id').where('title', '=', title).executeTakeFirstOrThrow()
  return sound.id
}

async function buy(app: App, title: string, videoId: number): Promise<void> {
  const id = await soundId(app, title)
  const held = await app.db.selectFrom('grants').select('id').where('sound_id', '=', id).executeTakeFirst()
  const ordered = await app.db.selectFrom('orders').select('id').where('sound_id', '=', id).executeTakeFirst()
  if (held || ordered) return
  const lowest = await app.db
    .selectFrom('sound_tiers')
    .selectAll()
    .where('sound_id', '=', id)
    .orderBy('position')
    .executeTakeFirstOrThrow()
  await placeOrder(app, id, { tier: lowest.key, priceMinor: lowest.price_minor, videoId })
}

/** A folder of recordings made on the hill, one with papers in its tags, and a file of which nobody knows where it is from. */
async function addOwnFolder(app: App, signal: AbortSignal): Promise<void> {
  const folder = path.join(`${app.store.dataDir}-folders`, 'Hill recordings')
  const thread = new Worker(path.join(import.meta.dirname, 'own-folder.mjs'), { workerData: folder })
  const [grabbed] = (await once(thread, 'message', { signal })) as [string]
  const there = await app.db.selectFrom('sources').select('id').where('kind', '=', 'folder').executeTakeFirst()
  if (!there) await addFolder(app, { path: folder, name: 'Hill recordings', defaultTerms: null })
  await settled(app, signal)
  const own = await app.db
    .selectFrom('sounds')
    .select('id')
    .where('maker', '=', 'Small Hours')
    .where('id', 'not in', app.db.selectFrom('grants').select('sound_id'))
    .execute()
  const made = { from: 'the hill', who: 'Small Hours', when: '', note: '', terms: { kind: 'own' as const } }
  for (const { id } of own) await declarePapers(app, id, made)
  const body = fs.createReadStream(grabbed) satisfies Readable
  const { soundId: id } = await takeInFromElsewhere(app, { name: path.basename(grabbed), body, range: null, signal })
  const said = { from: '', who: '', when: '', note: 'was on the old laptop', terms: { kind: 'unknown' as const } }
  await declarePapers(app, id, said)
}

/** Two libraries change their terms, a sound is withdrawn, the plan comes near its end; then everything is synchronised again. */
async function timePasses(app: App): Promise<void> {
  await app.db.transaction().execute((trx) => setOwnSpeech(trx, 'Small Hours'))
  const { libraries } = optionsFromEnvironment()
  const tell = async (library: DemoLibrary, what: object): Promise<void> => {
    await fetch(`${libraries[library]?.address}/control`, { method: 'POST', body: JSON.stringify(what) })
  }
  await tell('skerryview', { edition: 2 })
  const { external_id } = await app.db
    .selectFrom('sounds')
    .select('external_id')
    .where('id', '=', await soundId(app, 'Lamp pull cord'))
    .executeTakeFirstOrThrow()
  await tell('tin-barn', { withdrawn: [external_id] })
  await tell('heron-slate', { planUntil: inDays(12), edition: 8 })
  await mirror(app, DEMO_LIBRARIES)
}

function inDays(days: number): string {
  return new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10)
}
