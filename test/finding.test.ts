import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  Probe,
  SavedSearches,
  SoundCounts,
  SoundPage,
  SpokenWords,
  VocabularyWire,
  WordProposalWire,
} from '../src/contract'
import { writeWav } from '../src/core/formats/wav'
import type { Uses } from '../src/core/rights'
import * as probesRoute from '../src/pages/api/probes/index'
import * as searchRoute from '../src/pages/api/searches/[id]'
import * as searchesRoute from '../src/pages/api/searches/index'
import * as countsRoute from '../src/pages/api/sounds/counts'
import * as soundsRoute from '../src/pages/api/sounds/index'
import * as captionsRoute from '../src/pages/api/videos/[id]/captions'
import * as eventWordsRoute from '../src/pages/api/videos/[id]/event-words'
import * as vocabularyRoute from '../src/pages/api/vocabulary'
import { loadFitTable } from '../src/server/clearance/fit-table'
import { todayIso } from '../src/server/database/open'
import { probeFile } from '../src/server/finding/probes'
import { editShelf } from '../src/server/shelf/edit-shelf'
import { changeShell } from '../src/server/shell-state'
import { countSounds, searchSounds } from '../src/server/sounds/search-sounds'
import { nearbySections } from '../src/server/sounds/sections'
import { createVideo } from '../src/server/videos/videos'
import { call, knowing, serveApp, value } from './call'
import { bringExport, mirrorAll, openWorld, RATE_HZ, soundId, soundSamples, type World } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('finding')
  serveApp(world.app)
  await mirrorAll(world, ['tin-barn', 'heron-slate', 'pell-marrow', 'skerryview'])
})
afterAll(() => world.close())

const find = (query: string) => knowing(() => value(SoundPage, soundsRoute, 'GET', { query: `?${query}` }))
const titles = async (q: string, more = ''): Promise<string[]> =>
  (await find(`q=${encodeURIComponent(q)}${more}`)).sounds.map(({ title }) => title)
const counts = (query: string) => knowing(() => value(SoundCounts, countsRoute, 'GET', { query: `?${query}` }))

const BROADCAST: Uses = {
  places: ['broadcast'],
  earns: true,
  territory: 'worldwide',
  publishOn: null,
  videoLicence: null,
}

async function inHand(places: string[]): Promise<number> {
  const uses = { places, earns: true, territory: 'worldwide', countries: [], publishOn: null, videoLicence: null }
  const video = await createVideo(world.app, { title: `Video ${places.join()}`, uses } as never, todayIso())
  await changeShell(world.app, { videoInHandId: video.id })
  return video.id
}

describe('GET /api/sounds', () => {
  it('answers to words over all sources, with synonyms and typing errors', async () => {
    expect(await titles('thud')).toEqual(['Dull thud'])
    expect(await titles('thump')).toEqual(['Dull thud'])
    const slip = await find('q=crakc')
    expect(slip.corrections).toEqual([{ typed: 'crakc', shown: 'crack' }])
    expect(slip.sounds.map(({ title }) => title)).toEqual(['Ice crack'])
  })

  it('narrows down by conditions in brackets, and says what they hide', async () => {
    expect(await titles('[from Tin Barn Commons] [licence CC0]')).toEqual(['Dull thud'])
    expect(await titles('[music]')).toEqual(['Bed for a long night'])
    expect(await titles('[up to 3.00]')).toEqual(['Crate lands'])
    const hidden = await find(`q=${encodeURIComponent('thud [music]')}`)
    expect(hidden).toMatchObject({ total: 0, hides: [{ kind: 'type', hidden: 1, hiddenByItAlone: 1 }] })
  })

  it('orders', async () => {
    const lengths = (await find('sort=longest&limit=5')).sounds.map(({ durationS }) => durationS)
    expect(lengths).toEqual([...lengths].sort((a, b) => b - a))
    expect((await titles('', '&sort=name&limit=2'))[0]).toBe('Bed for a long night')
  })

  it('keeps what the terms say only where the list of offers knew every change', async () => {
    const { db, finder } = world.app
    const { offers } = await finder.ask('offers', null)
    const answers = [
      { offers: offers.slice(1), behindMs: 40 },
      { offers, behindMs: null },
      { offers: [], behindMs: null },
    ]
    const stub = { ask: async () => answers.shift() } as never
    const table = () => loadFitTable({ db, finder: stub }, { uses: BROADCAST, asOf: todayIso() })
    const [behind, whole, kept] = [await table(), await table(), await table()]
    expect(behind.byOffer.size).toBe(offers.length - 1)
    // Nothing in the database changed in between.
    expect(whole.byOffer.size).toBe(offers.length)
    expect(kept).toBe(whole)
    expect(behind.key).not.toBe(whole.key)
    expect([behind.behindMs, whole.behindMs]).toEqual([40, null])
  })

  it('says that it is behind where only what the terms say is', async () => {
    const { db, finder } = world.app
    const ask = async (name: never, task: never): Promise<unknown> => {
      const answer = await finder.ask(name, task)
      return name === 'offers' ? { ...(answer as object), behindMs: 40 } : answer
    }
    const services = { db, finder: { ask } as never }
    const context = { uses: BROADCAST, asOf: todayIso() }
    const query = { sort: 'best', limit: 5, offset: 0 } as const
    const found = async (q: string) => (await searchSounds(services, { ...query, q }, context)).behindMs
    const counted = async (q: string) => (await countSounds(services, { q, kinds: ['source'] }, context)).behindMs
    const near = async (q: string) => (await nearbySections(services, { q }, context)).behindMs
    for (const answer of [found, counted, near]) {
      expect(await answer('thud [may be used]')).toBe(40)
      expect(await answer('thud')).toBe(null)
    }
  })

  it('weighs the terms for the video in hand, by what is offered and by papers', async () => {
    const id = await inHand(['broadcast'])
    const fitting = await find(`q=${encodeURIComponent('[may be used or with a credit]')}`)
    expect(fitting.total).toBeGreaterThan(0)
    expect(fitting.sounds.every(({ fit }) => fit === 'fits' || fit === 'fits-with-credit')).toBe(true)
    const every = await find('limit=200')
    const byFit = (await counts('kinds=fit')).fit ?? []
    for (const fit of ['fits', 'fits-with-credit', 'does-not-fit', 'not-stated'] as const) {
      const shown = every.sounds.filter((sound) => sound.fit === fit).length
      expect(byFit.find((one) => one.value === fit)?.count ?? 0, fit).toBe(shown)
    }
    // A sound with papers of its own is weighed by them.
    const { job } = await world.app.jobs.enqueue('download', String(await soundId(world.app, 'Dull thud')), 'x')
    await world.app.jobs.idle()
    expect((await world.app.jobs.find(job.id))?.state).toBe('done')
    expect((await find(`q=${encodeURIComponent('thud [may be used] [here already]')}`)).total).toBe(1)
    await world.app.db.deleteFrom('videos').where('id', '=', id).execute()
  })

  it.each([
    ['sort=loudness', 400],
    ['limit=0', 400],
    ['like=sound:x', 400],
    ['like=probe:99', 404],
    ['like=sound:99999', 404],
  ])('refuses %s', async (query, status) => {
    expect((await call(soundsRoute, 'GET', { query: `?${query}` })).status).toBe(status)
  })
})

describe('the index follows the database', () => {
  it('when a sound is kept, renamed and withdrawn', async () => {
    const id = await soundId(world.app, 'Lake at dusk')
    expect(await titles('dusk [kept]')).toEqual([])
    await editShelf(world.app, { do: 'keep', soundIds: [id] })
    expect(await titles('dusk [kept]')).toEqual(['Lake at dusk'])
    await editShelf(world.app, { do: 'rename', soundIds: [id], title: 'Pond by night' })
    expect(await titles('pond')).toEqual(['Pond by night'])
    expect(await titles('"lake at dusk"')).toEqual(['Pond by night'])
    await world.app.db.updateTable('sounds').set({ withdrawn_at: '2026-01-01' }).where('id', '=', id).execute()
    expect(await titles('pond')).toEqual([])
    await world.app.db.updateTable('sounds').set({ withdrawn_at: null, own_title: null }).where('id', '=', id).execute()
    await editShelf(world.app, { do: 'unkeep', soundIds: [id] })
    expect(await titles('lake at dusk')).toEqual(['Lake at dusk'])
    expect(await titles('dusk [kept]')).toEqual([])
  })

  it('is made anew when its thread was ended, for the next question', async () => {
    await world.app.finder.close()
    expect(await titles('bronze')).toEqual(['Bronze bell'])
    const size = await world.app.finder.ask('size', null)
    expect(size).toMatchObject({ sounds: 27 })
    expect(size.bytes).toBeGreaterThan(1000)
  })
})

describe('GET /api/sounds/counts', () => {
  it('counts categories in two levels and sources, for what is asked', async () => {
    const found = await counts('q=servo')
    expect(found.source).toEqual([{ value: 'Heron & Slate', count: 18 }])
    expect(found.category).toEqual([{ value: { group: 'Machines and power', name: 'Machines' }, count: 18 }])
  })

  it('counts what was measured', async () => {
    const { length = [], channels, loops } = await counts('kinds=length,channels,loops')
    expect(length.reduce((a, b) => a + b, 0)).toBe(27)
    expect(channels).toEqual([{ value: 'mono', count: 27 }])
    expect(loops?.reduce((sum, { count }) => sum + count, 0)).toBe(27)
  })

  it('refuses a kind that is not counted', async () => {
    expect((await call(countsRoute, 'GET', { query: '?kinds=colour' })).status).toBe(400)
  })
})

describe('sounds alike', () => {
  it('leave out the sound itself, and say what differs', async () => {
    const id = await soundId(world.app, 'Ice crack')
    const found = await find(`like=sound:${id}&limit=5`)
    expect(found.likeTitle).toBe('Ice crack')
    expect(found.sounds).toHaveLength(5)
    expect(found.sounds.map((sound) => sound.id)).not.toContain(id)
    const fractions = found.sounds.map(({ likeness }) => likeness?.fraction ?? -1)
    expect(fractions).toEqual([...fractions].sort((a, b) => b - a))
    expect(found.total).toBe(26)
  })

  it('are found for a dropped file, which is not kept', async () => {
    const samples = soundSamples('b4').map((sample) => sample * 0.3)
    const raw = writeWav({ sampleRateHz: RATE_HZ, channels: [samples] })
    const probe = await value(Probe, probesRoute, 'PUT', { raw, query: '?name=mine.wav' })
    expect(probe.title).toBe('mine.wav')
    const found = await find(`like=probe:${probe.id}&limit=1`)
    expect(found).toMatchObject({ likeTitle: 'mine.wav', sounds: [{ title: 'Bronze bell' }] })
    expect(found.sounds[0]?.likeness?.fraction).toBeGreaterThan(0.9)
    expect(fs.readdirSync(path.join(world.dir, 'incoming'))).toEqual([])
  })

  it('are found for a part of a sound', async () => {
    const id = await soundId(world.app, 'Bronze bell')
    const probe = await value(Probe, probesRoute, 'POST', { body: { soundId: id, fromS: 0, toS: 0.3 } })
    expect(probe.title).toBe('Bronze bell, 0.0 to 0.3 s')
    expect((await find(`like=probe:${probe.id}`)).total).toBe(27)
  })

  it.each([
    [{ soundId: 1, fromS: 2, toS: 1 }, 400],
    [{ soundId: 99_999, fromS: 0, toS: 1 }, 404],
    [{ videoId: 99_999, fromS: 0, toS: 1 }, 404],
    [{ fromS: 0, toS: 1 }, 400],
  ])('refuses %j', async (body, status) => {
    expect((await call(probesRoute, 'POST', { body })).status).toBe(status)
  })

  it('nothing sounds like silence, and a file that is none leaves nothing behind', async () => {
    const silence = writeWav({ sampleRateHz: RATE_HZ, channels: [new Float32Array(48_000)] })
    expect((await call(probesRoute, 'PUT', { raw: silence, query: '?name=s.wav' })).status).toBe(422)
    const junk = probeFile(world.app, {
      name: 'junk.wav',
      body: Readable.from([Buffer.from('junk')]),
      range: null,
      signal: new AbortController().signal,
    })
    await expect(junk).rejects.toThrow()
    expect(fs.readdirSync(path.join(world.dir, 'incoming'))).toEqual([])
  })

  it('are told again for sounds that were listened to before they could be compared', { tags: 'long' }, async () => {
    await world.app.db.deleteFrom('likeness').execute()
    await world.app.db.updateTable('analyses').set({ channels: null }).execute()
    await world.reopen()
    serveApp(world.app)
    await world.app.jobs.idle()
    const { count } = await world.app.db
      .selectFrom('likeness')
      .select((eb) => eb.fn.countAll<number>().as('count'))
      .executeTakeFirstOrThrow()
    expect(count).toBe(27)
  })
})

describe('saved searches', () => {
  it('are saved, replaced under the same name, and forgotten', async () => {
    const save = (query: string) =>
      value(SavedSearches, searchesRoute, 'POST', { body: { name: 'Short and free', query, sort: 'best' } })
    await save('[under 1 s]')
    const { searches } = await save('[under 1 s] [free]')
    expect(searches).toEqual([
      { id: expect.any(Number), name: 'Short and free', query: '[under 1 s] [free]', sort: 'best' },
    ])
    const left = await value(SavedSearches, searchRoute, 'DELETE', { params: { id: String(searches[0]?.id) } })
    expect(left.searches).toEqual([])
    expect((await call(searchesRoute, 'POST', { body: { name: ' ', query: '', sort: 'best' } })).status).toBe(400)
  })
})

describe('the creator’s own words', () => {
  it('count from the next search on, and lines that cannot be read are named', async () => {
    expect(await titles('dunt')).toEqual([])
    const facts = await value(VocabularyWire, vocabularyRoute, 'PUT', { body: { own: 'dunt, thud\nalone' } })
    expect(facts.problems).toEqual([{ line: 2, text: 'alone' }])
    expect(facts.groupCount).toBeGreaterThan(250)
    expect(await titles('dunt')).toEqual(['Dull thud'])
    expect(fs.readFileSync(path.join(world.dir, 'vocabulary.txt'), 'utf8')).toBe('dunt, thud\nalone')
    await value(VocabularyWire, vocabularyRoute, 'PUT', { body: { own: '' } })
    expect(await titles('dunt')).toEqual([])
  })
})

const SRT = `1
00:00:02,000 --> 00:00:04,000
The ice cracks.

2
00:00:10,000 --> 00:00:12,000
Here comes a jump cut.
`

describe('words of the captions', () => {
  it('offer habits first, then what was heard at the word in earlier videos', async () => {
    const first = await inHand(['online'])
    const second = await inHand(['online'])
    const put = (id: number, raw: string) =>
      value(SpokenWords, captionsRoute, 'PUT', { params: { id: String(id) }, raw, query: '?name=talk.srt' })
    await put(first, SRT)
    const ice = await soundId(world.app, 'Ice crack')
    const owl = await soundId(world.app, 'Far owl')
    const { id: exportId } = await world.app.db
      .insertInto('exports')
      .values({ video_id: first, sha256: 'x', size_bytes: 1, file_name: 'x', mime: 'x', created_at: 'x' })
      .returning('id')
      .executeTakeFirstOrThrow()
    const { id: checkId } = await world.app.db
      .insertInto('checks')
      .values({ video_id: first, export_id: exportId, state: 'done', message: '', created_at: 'x' } as never)
      .returning('id')
      .executeTakeFirstOrThrow()
    const heard = (sound_id: number, start_s: number) => ({
      check_id: checkId,
      sound_id,
      start_s,
      end_s: start_s + 1,
      from_s: 0,
      to_s: 1,
      gain_db: 0,
      confidence: 1,
    })
    await world.app.db
      .insertInto('detections')
      .values([heard(ice, 2.6), heard(owl, 30)])
      .execute()
    await editShelf(world.app, { do: 'habit', soundIds: [owl], words: 'Jump cut' })
    const words = await put(second, SRT)
    expect(words).toMatchObject({ fileName: 'talk.srt', cueCount: 2 })
    expect(words.moments).toEqual([
      {
        words: 'ice cracks',
        atS: expect.closeTo(2.67, 1),
        said: 'The ice cracks.',
        first: [{ id: ice, title: 'Ice crack', why: 'used before' }],
      },
      {
        words: 'jump cut',
        atS: expect.closeTo(11.2, 1),
        said: 'Here comes a jump cut.',
        first: [{ id: owl, title: 'Far owl', why: 'habit' }],
      },
    ])
    expect(await titles('[used before]')).toEqual(['Far owl', 'Ice crack'])
    const gone = await value(SpokenWords, captionsRoute, 'DELETE', { params: { id: String(second) } })
    expect(gone).toEqual({ fileName: null, cueCount: 0, moments: [] })
  })

  it.each([
    ['no captions', 422],
    ['', 422],
  ])('refuses %j', async (raw, status) => {
    const id = await inHand(['online'])
    expect((await call(captionsRoute, 'PUT', { params: { id: String(id) }, raw })).status).toBe(status)
  })

  it('of a video that is not there are not there', async () => {
    expect((await call(captionsRoute, 'GET', { params: { id: '99999' } })).status).toBe(404)
  })
})

describe('a part of a finished video', () => {
  it('is told in words by what sounds like it', { tags: 'long' }, async () => {
    const videoId = await inHand(['online'])
    const samples = new Float32Array(4 * RATE_HZ)
    samples.set(soundSamples('h3'), RATE_HZ)
    await bringExport(world.app, videoId, writeWav({ sampleRateHz: RATE_HZ, channels: [samples] }))
    const words = (fromS: number, toS: number) =>
      call(eventWordsRoute, 'GET', { params: { id: String(videoId) }, query: `?fromS=${fromS}&toS=${toS}` })
    const heard = WordProposalWire.parse(await (await words(1, 1.5)).json())
    expect(heard.words.map(({ word }) => word)).toContain('servo')
    expect(heard.category?.name).toBe('Machines')
    expect(WordProposalWire.parse(await (await words(3, 4)).json())).toEqual({
      words: [],
      category: null,
      neighbours: 0,
    })
    expect((await words(2, 1)).status).toBe(400)
    expect((await call(eventWordsRoute, 'GET', { params: { id: String(videoId) } })).status).toBe(400)
    expect((await call(eventWordsRoute, 'GET', { params: { id: '99999' }, query: '?fromS=0&toS=1' })).status).toBe(404)
  })
})
