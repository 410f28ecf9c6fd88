import { describe, expect, it } from 'vitest'
import { searchSounds } from '../src/server/sounds/search-sounds'
import { listSources } from '../src/server/sources/list-sources'
import { fetchCatalogueDelta } from '../src/server/sources/mirror'
import { HERON_SOUNDS, mirrorAll, worldForEach } from './world'

const world = worldForEach('mirror', async () => {})

async function sync(id: string): Promise<string> {
  const { job } = await world().app.jobs.enqueue('mirror', id, `Synchronising ${id}`)
  await world().app.jobs.idle()
  const ended = await world().app.jobs.find(job.id)
  return `${ended?.state}: ${ended?.message}`
}

async function count(id: string): Promise<number | undefined> {
  return (await listSources(world().app)).find((source) => source.id === id)?.soundCount
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
    expect((await searchSounds(world().app, { q: 'radio hum', limit: 5, offset: 0, sort: 'best' }, null)).total).toBe(0)
    world().barn.control.withdrawn = []
    expect(await sync('tin-barn')).toContain('4 sounds in the catalogue')
    expect((await searchSounds(world().app, { q: 'radio hum', limit: 5, offset: 0, sort: 'best' }, null)).total).toBe(1)
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
    expect(delta).toMatchObject({ goneIds: ['b2'], sounds: new Map() })
  })

  it('is read whole after a week', async () => {
    await sync('tin-barn')
    const eightDaysAgo = new Date(Date.now() - 8 * 86_400_000).toISOString()
    await world().app.db.updateTable('sources').set({ whole_at: eightDaysAgo }).where('id', '=', 'tin-barn').execute()
    const delta = await fetchCatalogueDelta(world().app, telling(), context)
    expect(delta.goneIds).toBeNull()
    expect(delta.sounds.size).toBe(4)
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
