import fs from 'node:fs'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { temporaryDir } from '../../../test/world'
import { parsedQuery } from '../../core/finding'
import { LIKENESS_VERSION } from '../../core/likeness'
import { type Db, openDatabase, openToRead } from '../database/open'
import { type FinderCalls, VERY_MANY_CHANGED } from '../ports/finder-messages'
import { IncrementalSearchIndex } from './incremental-search-index'

let dir: string
let db: Db
let finder: IncrementalSearchIndex
beforeEach(async () => {
  dir = temporaryDir('following')
  db = await openDatabase(dir)
  await db
    .insertInto('sources')
    .values({ id: 'barn', name: 'Barn', about: '', connected: 1, plan: '', kind: 'library' })
    .execute()
  await db
    .insertInto('terms')
    .values({
      id: 1,
      source_id: 'barn',
      key: 'k',
      version: '1',
      title: 'Terms',
      short_title: 'T',
      spdx_id: null,
      url: null,
      text: 'text',
      sha256: 'x',
      duration: 'perpetual',
      clauses_json: JSON.stringify([{ key: 'credit', answer: 'duty', quote: 'text' }]),
      seen_at: 'x',
    })
    .execute()
  finder = new IncrementalSearchIndex(openToRead(dir), 'owl, hooter', Number.POSITIVE_INFINITY)
})
afterEach(async () => {
  vi.restoreAllMocks()
  await db.destroy()
  fs.rmSync(dir, { recursive: true })
})

async function addSound(title: string, more: Record<string, unknown> = {}): Promise<number> {
  const { id } = await db
    .insertInto('sounds')
    .values({
      source_id: 'barn',
      external_id: title,
      title,
      maker: 'm',
      description: '',
      tags_json: '[]',
      category: 'Animals',
      duration_s: 2,
      formats_json: '["wav"]',
      cost: 'free',
      page_url: null,
      preview_ref: '',
      terms_id: 1,
      withdrawn_at: null,
      updated_at: 'x',
      added_at: '2026-05-06T00:00:00.000Z',
      ...more,
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  return id
}

function call<K extends keyof FinderCalls>(name: K, task: FinderCalls[K]['task']): Promise<FinderCalls[K]['result']> {
  return finder.answer({ number: 1, name, task }) as Promise<FinderCalls[K]['result']>
}

const ask = (text: string, more: Partial<FinderCalls['find']['task']> = {}) =>
  call('find', { query: parsedQuery(text), sort: 'best', limit: 20, offset: 0, like: null, fits: null, ...more })

describe('following the database', () => {
  it('sees what is added, changed, withdrawn and removed after the index was made', async () => {
    const first = await addSound('Owl one')
    expect((await ask('owl')).ids).toEqual([first])
    const second = await addSound('Owl two')
    expect((await ask('owl')).ids).toEqual([first, second])
    await db.updateTable('sounds').set({ title: 'Dove' }).where('id', '=', first).execute()
    expect((await ask('owl')).ids).toEqual([second])
    expect((await ask('dove')).ids).toEqual([first])
    await db.updateTable('sounds').set({ withdrawn_at: 'x' }).where('id', '=', second).execute()
    expect((await ask('owl')).ids).toEqual([])
    await db.deleteFrom('sounds').where('id', '=', first).execute()
    expect(await ask('')).toMatchObject({ ids: [], catalogueTotal: 0 })
  })

  it('sees what belongs to a sound: analyses, keeping, habits, papers and what was heard', async () => {
    const id = await addSound('Owl')
    await ask('')
    const analysis = {
      sound_id: id,
      audio_sha256: 'x',
      audio_mime: 'audio/wav',
      print_column_s: 1,
      print_levels: Buffer.alloc(4),
      loudness_lufs: -20,
      hit_s: 0,
      duration_s: 7,
      feature_version: 1,
      channels: 2,
      loops: 1,
    }
    await db.insertInto('analyses').values(analysis).execute()
    expect((await ask('[over 5 s] [stereo] [loops]')).ids).toEqual([id])
    await db.insertInto('keeps').values({ sound_id: id, note: '', kept_at: 'x' }).execute()
    await db.insertInto('habits').values({ sound_id: id, words: 'chapter card' }).execute()
    expect((await ask('chapter card [kept]')).ids).toEqual([id])
    await db.deleteFrom('keeps').where('sound_id', '=', id).execute()
    expect((await ask('[kept]')).ids).toEqual([])
    expect((await ask('chapter')).ids).toEqual([])
    await db
      .insertInto('copies')
      .values({ sha256: 's', size_bytes: 1, mime: '', file_name: '', created_at: 'x' })
      .execute()
    await db
      .insertInto('grants')
      .values({
        sound_id: id,
        copy_sha256: 's',
        terms_id: 1,
        title: '',
        plan_from: null,
        plan_until: null,
        order_ref: 'r',
        licensee: '',
        credit_line: null,
        acquired_at: 'x',
      } as never)
      .execute()
    expect((await ask('[here already]')).ids).toEqual([id])
    await db.updateTable('grants').set({ taken_back_at: 'x' }).execute()
    expect((await ask('[here already]')).ids).toEqual([])
  })

  it('counts videos in which a sound is heard by the newest finished check of each', async () => {
    const id = await addSound('Owl')
    await ask('')
    const video = await db
      .insertInto('videos')
      .values({ title: 'v', uses_json: '{}', created_at: 'x' })
      .returning('id')
      .executeTakeFirstOrThrow()
    const file = await db
      .insertInto('exports')
      .values({ video_id: video.id, sha256: 'x', size_bytes: 1, file_name: '', mime: '', created_at: 'x' })
      .returning('id')
      .executeTakeFirstOrThrow()
    const check = async (): Promise<number> =>
      (
        await db
          .insertInto('checks')
          .values({ video_id: video.id, export_id: file.id, state: 'done', message: '', created_at: 'x' } as never)
          .returning('id')
          .executeTakeFirstOrThrow()
      ).id
    const heard = { sound_id: id, start_s: 0, end_s: 1, from_s: 0, to_s: 1, gain_db: 0, confidence: 1 }
    await db
      .insertInto('detections')
      .values({ check_id: await check(), ...heard })
      .execute()
    expect(await ask('[used before]')).toMatchObject({ ids: [id], usedCounts: [1] })
    // In the next check it is not heard any more.
    const next = await check()
    await db
      .insertInto('detections')
      .values({ check_id: next, ...heard })
      .execute()
    await db.deleteFrom('detections').where('check_id', '=', next).execute()
    expect((await ask('[used before]')).ids).toEqual([])
  })

  it('says that it is behind while it pauses, and is not once it took the changes in', async () => {
    // Each look at the clock is 10 ms later, so taking in changes costs more than it may.
    let atMs = 0
    vi.spyOn(performance, 'now').mockImplementation(() => (atMs += 10))
    finder = new IncrementalSearchIndex(openToRead(dir), '', 0)
    const first = await addSound('Owl one')
    expect(await ask('owl')).toMatchObject({ ids: [first], behindMs: null })
    const second = await addSound('Owl two')
    expect(await ask('owl')).toMatchObject({ ids: [first, second], behindMs: null })
    await addSound('Owl three')
    const paused = await ask('owl')
    expect(paused.ids).toEqual([first, second])
    expect(paused.behindMs).toBeGreaterThan(0)
    expect(paused.behindMs).toBeLessThanOrEqual(100)
    atMs += 100
    const after = await ask('owl')
    expect(after.ids).toHaveLength(3)
    expect(after.behindMs).toBeNull()
  })

  it('says that it is behind while another index is to take its place', async () => {
    finder = new IncrementalSearchIndex(openToRead(dir), '', Number.POSITIVE_INFINITY, 1)
    await addSound('Owl one')
    await addSound('Owl two')
    await ask('')
    expect((await ask('owl')).behindMs).toBeNull()
    await db.insertInto('find_changes').values({ sound_id: VERY_MANY_CHANGED }).execute()
    const looked = { query: parsedQuery('owl two'), fits: null }
    const answers = [
      await ask('owl'),
      await call('count', { ...looked, like: null, kinds: ['type'] }),
      await call('half-met', looked),
      await call('offers', null),
    ]
    for (const { behindMs } of answers) expect(behindMs).toBeGreaterThan(0)
    expect(finder.isOutdated).toBe(true)
  })

  it('makes a new index when very much changed', { tags: 'long' }, async () => {
    const first = await addSound('Owl')
    await ask('')
    const before = await call('size', null)
    for (let at = 0; at < 2100; at++) await addSound(`Bell ${at}`)
    expect((await ask('bell')).total).toBe(2100)
    expect((await ask('owl')).ids).toEqual([first])
    const after = await call('size', null)
    expect(after.sounds).toBe(2101)
    expect(after.bytes).toBeGreaterThan(before.bytes)
  })
})

describe('what it knows of sounds', () => {
  it('takes the cost and the offer from tiers and terms', async () => {
    const free = await addSound('Free')
    const plan = await addSound('Planned', { cost: 'in your plan' })
    const sold = await addSound('Sold', { cost: 'from 3.00 EUR' })
    const tier = { sound_id: sold, title: '', currency: 'EUR', terms_id: 1 }
    await db
      .insertInto('sound_tiers')
      .values([
        { ...tier, key: 'b', position: 1, price_minor: 900 },
        { ...tier, key: 'a', position: 0, price_minor: 300 },
      ])
      .execute()
    expect((await ask('[free]')).ids).toEqual([free])
    expect((await ask('[in my plan]')).ids).toEqual([plan])
    expect((await ask('[up to 3.00]')).ids).toEqual([sold])
    expect((await ask('[credit owed]')).total).toBe(3)
    expect((await call('offers', null)).offers).toEqual([
      { offer: 'barn|1|', soundId: free },
      { offer: 'barn|1|a:1,b:1', soundId: sold },
    ])
  })

  it('compares by vectors of the present form only', async () => {
    const [one, two, old] = [await addSound('One'), await addSound('Two'), await addSound('Old')]
    const row = (sound_id: number, values: number[], version: number) => ({
      sound_id,
      version,
      vector: Buffer.from(new Uint8Array(Float32Array.from(values).buffer)),
      traits_json: '{}',
    })
    await db
      .insertInto('likeness')
      .values([
        row(one, [1, 0], LIKENESS_VERSION),
        row(two, [0.6, 0.8], LIKENESS_VERSION),
        row(old, [1, 0], LIKENESS_VERSION - 1),
      ])
      .execute()
    const found = await ask('', { like: { kind: 'sound', id: one } })
    expect(found.ids).toEqual([two])
    expect(found.likeness[0]).toBeCloseTo(0.6, 5)
    await expect(ask('', { like: { kind: 'sound', id: old } })).rejects.toMatchObject({ code: 'not-listened-to' })
    expect((await ask('', { like: { kind: 'vector', vector: Float32Array.of(0, 1) } })).ids).toEqual([two, one])
  })

  it('learns other words', async () => {
    const id = await addSound('Owl')
    expect((await ask('hooter')).ids).toEqual([id])
    await call('learn', 'owl, nightbird')
    expect((await ask('nightbird')).ids).toEqual([id])
    expect((await ask('hooter')).ids).toEqual([])
  })

  it('counts', async () => {
    await addSound('Owl', { kind: 'ambience' })
    const kinds = ['type', 'source'] as const
    expect(await call('count', { query: parsedQuery(''), like: null, fits: null, kinds })).toEqual({
      counts: { type: [{ value: 'ambience', count: 1 }], source: [{ value: 'Barn', count: 1 }] },
      behindMs: null,
    })
  })
})
