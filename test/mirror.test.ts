// @module-tag long
import { setTimeout } from 'node:timers/promises'
import { CompiledQuery } from 'kysely'
import { describe, expect, it } from 'vitest'
import { stagePage } from '../src/server/catalogue/catalogue-stage'
import type { WrittenSounds } from '../src/server/catalogue/write-sounds'
import { nowIso } from '../src/server/database/open'
import { isNestedDeeper } from '../src/server/json-depth'
import { type CatalogueSound, type Connector, PLAIN_SOUND, SourceError } from '../src/server/ports/connector'
import { workInThread } from '../src/server/sources/catalogue-thread'
import { fetchCatalogueDelta, mirrorSource, termsInUse, termsInUseQuery } from '../src/server/sources/mirror'
import { knownTerms } from '../src/server/terms/known-terms'
import { HERON_SOUNDS, mirrorAll, searched, sourceOf, worldForEach } from './world'

const world = worldForEach('mirror', async () => {})

async function sync(id: string): Promise<string> {
  const { job } = await world().app.jobs.enqueue('mirror', id, `Synchronising ${id}`)
  await world().app.jobs.idle()
  const ended = await world().app.jobs.find(job.id)
  return `${ended?.state}: ${ended?.message}`
}

async function count(id: string): Promise<number | undefined> {
  return (await sourceOf(world().app, id))?.soundCount
}

/** Runs something while every request is told to a listener first. */
async function watched<T>(onRequest: (address: string) => void, run: () => Promise<T>): Promise<T> {
  const original = globalThis.fetch
  globalThis.fetch = (async (...args: Parameters<typeof fetch>) => {
    onRequest(String(args[0]))
    return original(...args)
  }) as typeof fetch
  try {
    return await run()
  } finally {
    globalThis.fetch = original
  }
}

describe('a first sync that breaks off half way', () => {
  it('changes nothing, and the next one goes on after the pages that were read', async () => {
    let shelves = 0
    const failing = (address: string): void => {
      if (address.includes('/shelf') && ++shelves > 1) world().heron.control.fault = 'error'
    }
    const broken = await watched(failing, () => sync('heron-slate'))
    world().heron.control.fault = 'none'
    expect(broken).toContain('failed: Heron & Slate answered with an error')
    expect(await count('heron-slate')).toBe(0)
    const staged = await world().app.db.selectFrom('catalogue_stage').selectAll().execute()
    expect(staged).toMatchObject([{ source_id: 'heron-slate', position: 1 }])
    let pages = 0
    const counting = (address: string): void => {
      if (address.includes('/shelf')) pages++
    }
    const done = await watched(counting, () => sync('heron-slate'))
    expect(done).toContain(`done: ${HERON_SOUNDS.length} sounds in the catalogue: 18 new`)
    expect(pages).toBe(1)
    expect(await world().app.db.selectFrom('catalogue_stage').selectAll().execute()).toEqual([])
  })
})

describe('a library that tells what was removed, and not what is new', () => {
  it('is read whole each time: what was withdrawn goes, and comes back when it is offered again', async () => {
    expect(await sync('tin-barn')).toContain('4 new, 0 changed, 0 gone')
    world().barn.control.withdrawn = ['b2']
    const asked: string[] = []
    const result = await watched(
      (address) => asked.push(address),
      () => sync('tin-barn'),
    )
    expect(result).toContain('3 sounds in the catalogue: 0 new, 0 changed, 1 gone')
    expect(asked.filter((address) => address.includes('/v2/sounds?')).length).toBeGreaterThan(0)
    expect((await searched(world().app, { q: 'radio hum', limit: 5, offset: 0, sort: 'best' }, null)).total).toBe(0)
    world().barn.control.withdrawn = []
    expect(await sync('tin-barn')).toContain('4 sounds in the catalogue')
    expect((await searched(world().app, { q: 'radio hum', limit: 5, offset: 0, sort: 'best' }, null)).total).toBe(1)
  })
})

describe('a library that tells everything that changed', () => {
  const signal = new AbortController().signal
  const context = { job: {} as never, format: null, signal, report: () => {} }
  const telling = () => ({ ...world().app.connector('tin-barn'), changesTell: 'everything' as const })

  it('is asked for that alone', async () => {
    await sync('tin-barn')
    world().barn.control.withdrawn = ['b2']
    const delta = await fetchCatalogueDelta(world().app, telling(), context)
    expect(delta.goneIds).toEqual(['b2'])
    expect(await idsOf(delta.pages())).toEqual([])
  })

  it('is read whole after a week', async () => {
    await sync('tin-barn')
    const eightDaysAgo = new Date(Date.now() - 8 * 86_400_000).toISOString()
    await world().app.db.updateTable('sources').set({ whole_at: eightDaysAgo }).where('id', '=', 'tin-barn').execute()
    const delta = await fetchCatalogueDelta(world().app, telling(), context)
    expect(delta.goneIds).toBeNull()
    expect((await idsOf(delta.pages())).length).toBe(4)
  })
})

describe('the terms that are asked for with the changes', () => {
  it('are those of sounds that are offered, and not those of sounds that were withdrawn', async () => {
    const { db } = world().app
    await sync('tin-barn')
    const before = await termsInUse(db, 'tin-barn')
    const rows = await db
      .selectFrom('sounds')
      .innerJoin('terms', 'terms.id', 'sounds.terms_id')
      .select(['sounds.id', 'terms.key'])
      .where('sounds.source_id', '=', 'tin-barn')
      .execute()
    expect(before.toSorted()).toEqual([...new Set(rows.map(({ key }) => key))].toSorted())
    expect(before.length).toBeGreaterThan(1)
    const [first] = before
    const withdrawn = rows.filter(({ key }) => key === first).map(({ id }) => id)
    await db.updateTable('sounds').set({ withdrawn_at: nowIso() }).where('id', 'in', withdrawn).execute()
    expect((await termsInUse(db, 'tin-barn')).toSorted()).toEqual(before.filter((key) => key !== first).toSorted())
    expect(await termsInUse(db, 'heron-slate')).toEqual([])
  })

  it('are found by a look into an index for each, and not by a look at every sound', async () => {
    const { db } = world().app
    const asked = termsInUseQuery(db, 'tin-barn').compile()
    const plan = await db.executeQuery<{ detail: string }>(
      CompiledQuery.raw(`EXPLAIN QUERY PLAN ${asked.sql}`, [...asked.parameters]),
    )
    const details = plan.rows.map(({ detail }) => detail)
    expect(details.filter((line) => line.includes('sounds'))).toEqual([
      expect.stringMatching(/^SEARCH sounds .*INDEX terms_in_use \(source_id=\? AND terms_id=\?\)/),
    ])
  })
})

describe('a catalogue that lost most of its sounds', () => {
  it('is not believed at first, and is when it says so again', async () => {
    await sync('heron-slate')
    world().heron.control.withdrawn = HERON_SOUNDS.slice(0, 15).map(({ id }) => id)
    expect(await sync('heron-slate')).toMatch(/failed: Heron & Slate lists only 3 sounds where there were 18/)
    expect(await count('heron-slate')).toBe(18)
    expect(await sync('heron-slate')).toContain('3 sounds in the catalogue: 0 new, 0 changed, 15 gone')
    world().heron.control.withdrawn = []
    expect(await sync('heron-slate')).toContain('18 sounds in the catalogue')
  })
})

describe('a library that is busy', () => {
  it('is waited for as long as it says', async () => {
    Object.assign(world().standins.skerryview.control, { fault: 'busy', retryAfterS: 0, faultsLeft: 3 })
    expect(await sync('skerryview')).toContain('done: 2 sounds')
  })

  it('and one that stays busy keeps what was there', async () => {
    await sync('skerryview')
    Object.assign(world().standins.skerryview.control, { fault: 'busy', retryAfterS: 0, faultsLeft: null })
    expect(await sync('skerryview')).toContain('failed: Skerryview Free Collection asks to wait')
    world().standins.skerryview.control.fault = 'none'
    expect(await count('skerryview')).toBe(2)
  })
})

it('the plan periods that were seen are all kept', async () => {
  await mirrorAll(world(), ['heron-slate'])
  world().heron.control.planUntil = '2031-01-31'
  await mirrorAll(world(), ['heron-slate'])
  const periods = await world()
    .app.db.selectFrom('plan_periods')
    .select('plan_until')
    .where('source_id', '=', 'heron-slate')
    .orderBy('id')
    .execute()
  expect(periods.length).toBe(2)
  expect(periods.at(-1)?.plan_until).toBe('2031-01-31')
})

async function idsOf(pages: AsyncIterable<readonly CatalogueSound[]>): Promise<string[]> {
  const ids: string[] = []
  for await (const page of pages) ids.push(...page.map(({ externalId }) => externalId))
  return ids
}

describe('a large catalogue', () => {
  const COUNT = 5000
  const many = Array.from(
    { length: COUNT },
    (_, index): CatalogueSound => ({
      ...PLAIN_SOUND,
      externalId: `m${index}`,
      title: `Pebble ${index}`,
      maker: 'Many',
      description: '',
      tags: [],
      category: '',
      durationS: 1,
      formats: ['wav'],
      cost: 'free',
      pageUrl: null,
      previewRef: `m${index}`,
      termsKey: 'CC0-1.0',
    }),
  )

  /** A library with very many sounds, in pages of 1,000; none of them can be heard. */
  function library(sounds: readonly CatalogueSound[], more: Partial<Connector> = {}): Connector {
    const barn = world().app.connector('tin-barn')
    return {
      ...barn,
      page: async (after) => {
        const from = Number(after ?? 0)
        const next = from + 1000 < sounds.length ? String(from + 1000) : null
        return { sounds: sounds.slice(from, from + 1000), next, total: sounds.length }
      },
      preview: async () => {
        throw new SourceError('gone', 'nothing to hear')
      },
      ...more,
    }
  }

  const offered = async () =>
    (await world().app.db.selectFrom('sound_rows').select('id').where('withdrawn_at', 'is', null).execute()).length
  const contextOf = (signal: AbortSignal, report: () => void = () => {}) => ({
    job: {} as never,
    format: null,
    signal,
    report,
  })

  async function take(connector: Connector, signal = new AbortController().signal, report?: () => void) {
    const services = { ...world().app, connector: () => connector }
    return mirrorSource(services, 'tin-barn', contextOf(signal, report))
  }

  it('is seen only when all of it is there, and others are served meanwhile', async () => {
    const seen = new Set<number>()
    let turns = 0
    const timer = setInterval(() => {
      turns++
      void offered().then((count) => seen.add(count))
    }, 5)
    expect(await take(library(many))).toContain(`${COUNT} new`)
    clearInterval(timer)
    expect([...seen].filter((count) => count !== 0 && count !== COUNT)).toEqual([])
    expect(turns).toBeGreaterThan(20)
    expect(await offered()).toBe(COUNT)
    const found = await searched(world().app, { q: 'pebble', limit: 5, offset: 0, sort: 'best' }, null)
    expect(found.total).toBe(COUNT)
  }, 60_000)

  it('that is broken off while it is taken over shows nothing, and goes on from there', async () => {
    const controller = new AbortController()
    let reports = 0
    const breaking = take(library(many), controller.signal, () => {
      if (++reports > 20) controller.abort()
    })
    await expect(breaking).rejects.toMatchObject({ name: 'AbortError' })
    const written = await world().app.db.selectFrom('sounds').select('id').execute()
    expect(written.length).toBeGreaterThan(0)
    expect(await offered()).toBe(0)
    expect(await take(library(many))).toMatch(new RegExp(`^${COUNT} sounds in the catalogue: \\d+ new, 0 changed`))
    expect(await offered()).toBe(COUNT)
    expect(await world().app.db.selectFrom('catalogue_seen').select('external_id').execute()).toEqual([])
  }, 60_000)

  it('is compared without writing what did not change', async () => {
    await take(library(many.slice(0, 1500)))
    const changed = many.slice(0, 1400).map((sound, at) => (at === 7 ? { ...sound, title: 'Boulder' } : sound))
    expect(await take(library(changed))).toContain('1400 sounds in the catalogue: 0 new, 1 changed, 100 gone')
  }, 60_000)

  it.each([
    [
      'goes round in a circle',
      { page: async () => ({ sounds: many.slice(0, 10), next: 'again', total: null }) },
      'in a circle',
    ],
    [
      'sends endless pages',
      { page: async () => ({ sounds: Array(10_001).fill(many[0]), next: null, total: null }) },
      'on one page',
    ],
    [
      'serves endless terms',
      { terms: async (key: string) => ({ ...knownTerms(key), text: 'x'.repeat(2_000_001) }) },
      'terms of more than 2 MB',
    ],
    [
      'names endless terms',
      {
        page: async () => ({
          sounds: many.slice(0, 600).map((sound, at) => ({ ...sound, termsKey: `t${at}` })),
          next: null,
          total: null,
        }),
      },
      'more than 500 terms',
    ],
  ] as const)('of a library that %s changes nothing, and it is said', async (_, more, words) => {
    await expect(take(library(many.slice(0, 20), more as Partial<Connector>))).rejects.toMatchObject({
      name: 'SourceError',
      message: expect.stringContaining(words),
    })
    expect(await offered()).toBe(0)
  })
})

describe('the depth of JSON', () => {
  it.each([
    ['[[[]]]', 3, false],
    ['[[[]]]', 2, true],
    ['{"a":{"b":[1]}}', 3, false],
    ['["[[[[", "\\"[[["]', 1, false],
    ['["\\\\",[[]]]', 2, true],
    ['"no end', 1, false],
  ])('of %s is at most %i: %s', (json, max, isDeeper) => {
    expect(isNestedDeeper(json, max)).toBe(isDeeper)
  })
})

describe('a catalogue that is taken over by a thread', () => {
  const SOURCE = 'heron-slate'
  const page = (from: number, count: number): CatalogueSound[] =>
    Array.from({ length: count }, (_, at) => ({
      ...PLAIN_SOUND,
      maker: 'Somebody',
      description: '',
      tags: [],
      category: '',
      durationS: 1,
      formats: ['wav'],
      cost: 'free',
      pageUrl: null,
      previewRef: 'p',
      externalId: `x${from + at}`,
      title: `Sound ${from + at}`,
      termsKey: 'one',
    }))

  /** Puts sounds into the stage, and terms that they are under. @returns What the thread is told. */
  async function staged(count: number) {
    const { db } = world().app
    for (let from = 0, position = 1; from < count; from += 500, position++) {
      const sounds = page(from, Math.min(500, count - from))
      await stagePage(db, SOURCE, { page: { sounds, total: count, next: null }, position })
    }
    const terms = await db.selectFrom('terms').select('id').executeTakeFirstOrThrow()
    return { kind: 'write', termsIds: [['one', terms.id]], generation: 7 } as const
  }
  const written = async (): Promise<number> => {
    const { count: rows } = await world()
      .app.db.selectFrom('sounds')
      .select((eb) => eb.fn.countAll<number>().as('count'))
      .where('generation', '=', 7)
      .executeTakeFirstOrThrow()
    return rows
  }

  it('is written whole while others write, who neither fail nor undo anything', async () => {
    await mirrorAll(world(), [SOURCE])
    const { app } = world()
    const step = await staged(3000)
    let isOver = false
    let told = 0
    const options = { signal: new AbortController().signal, onPiece: () => told++ }
    const thread = workInThread<WrittenSounds>(app, SOURCE, step, options).finally(() => {
      isOver = true
    })
    let turns = 0
    // Read first and written after it: what the thread writes in between must not turn it away.
    while (!isOver) {
      // Who writes without a pause leaves the thread none to begin in: who waits for the database looks only now and then.
      await setTimeout(5)
      await app.db.transaction().execute(async (trx) => {
        const key = `turn ${turns++}`
        await trx.selectFrom('sounds').select('id').limit(1).execute()
        await trx.insertInto('settings').values({ key, value: 'x' }).execute()
      })
    }
    expect(await thread).toEqual({ fresh: 3000, changed: 0 })
    expect(await written()).toBe(3000)
    expect(told).toBeGreaterThan(0)
    const kept = await app.db.selectFrom('settings').select('key').where('key', 'like', 'turn %').execute()
    expect(kept).toHaveLength(turns)
    expect(turns).toBeGreaterThan(3)
  })

  it('ends soon when it is stopped, leaves the database free, and goes on from there', async () => {
    await mirrorAll(world(), [SOURCE])
    const { app } = world()
    const step = await staged(6000)
    const controller = new AbortController()
    const thread = workInThread(app, SOURCE, step, { signal: controller.signal, onPiece: () => controller.abort() })
    await expect(thread).rejects.toMatchObject({ name: 'AbortError' })
    const before = await written()
    expect(before).toBeLessThan(6000)
    await app.db.insertInto('settings').values({ key: 'free', value: 'x' }).execute()
    const again = await workInThread<WrittenSounds>(app, SOURCE, step, { signal: new AbortController().signal })
    expect(again.fresh).toBe(6000 - before)
    expect(await written()).toBe(6000)
    await workInThread(app, SOURCE, { kind: 'clear' }, { signal: new AbortController().signal })
    expect(await app.db.selectFrom('catalogue_stage').selectAll().execute()).toEqual([])
  })

  it('withdraws what is not listed any more', async () => {
    await mirrorAll(world(), [SOURCE])
    const { app } = world()
    const listed = HERON_SOUNDS.slice(0, 5).map(({ id }) => String(id))
    const values = listed.map((external_id) => ({ source_id: SOURCE, external_id }))
    await app.db.insertInto('catalogue_seen').values(values).execute()
    const known = await app.db.selectFrom('sounds').select('external_id').where('source_id', '=', SOURCE).execute()
    const gone = known.filter(({ external_id }) => !listed.includes(external_id))
    const signal = new AbortController().signal
    expect(await workInThread(app, SOURCE, { kind: 'withdraw' }, { signal })).toBe(gone.length)
    expect(await workInThread(app, SOURCE, { kind: 'withdraw' }, { signal })).toBe(0)
  })
})
