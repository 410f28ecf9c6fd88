import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { VideoInput } from '../src/contract'
import { todayIso } from '../src/server/database/open'
import { loadDesk } from '../src/server/desk/desk'
import { getSoundDetail } from '../src/server/sounds/sound-detail'
import { listSources } from '../src/server/sources/list-sources'
import { download, mirrorAll, openWorld, searched, soundId, sourceOf, usesOf, type World, worldForEach } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('catalogue')
  await mirrorAll(world)
})
afterAll(() => world.close())

describe('mirroring', () => {
  it('takes over both catalogues and listens to every sound', async () => {
    const sources = await listSources(world.app)
    expect(
      sources
        .filter(({ soundCount }) => soundCount > 0)
        .map(({ name, soundCount, listenedCount, connected }) => [name, soundCount, listenedCount, connected]),
    ).toEqual([
      ['Heron & Slate', 18, 18, true],
      ['Tin Barn Commons', 4, 4, true],
    ])
    expect(sources.find(({ id }) => id === 'heron-slate')).toMatchObject({ plan: 'Studio plan', lastError: null })
  })

  it('does nothing twice', async () => {
    const before = await world.app.db.selectFrom('terms').select('id').execute()
    await mirrorAll(world)
    expect(await world.app.db.selectFrom('terms').select('id').execute()).toEqual(before)
    expect((await world.app.jobs.list())[0]?.message).toContain('0 newly listened to')
  })

  it.each(['error', 'garbage'] as const)(
    'keeps the last good state when the library answers with %s',
    async (fault) => {
      world.barn.control.fault = fault
      const { job } = await world.app.jobs.enqueue('mirror', 'tin-barn', 'Sync')
      await world.app.jobs.idle()
      world.barn.control.fault = 'none'
      expect(await world.app.jobs.find(job.id)).toMatchObject({
        state: 'failed',
        message: expect.stringContaining('Tin Barn Commons'),
      })
      const source = await sourceOf(world.app, 'tin-barn')
      expect(source).toMatchObject({
        soundCount: 4,
        listenedCount: 4,
        lastError: expect.stringContaining('Tin Barn Commons'),
      })
      await mirrorAll(world, ['tin-barn'])
      expect((await sourceOf(world.app, 'tin-barn'))?.lastError).toBeNull()
    },
  )

  it('stores titles as they come, markup and all, and finds them', async () => {
    world.heron.control.fault = 'html-titles'
    await mirrorAll(world, ['heron-slate'])
    const page = await searched(world.app, { q: 'servo number 7', limit: 10, offset: 0, sort: 'best' }, null)
    expect(page.sounds[0]?.title).toBe(`<img src=x onerror="document.title='owned'"><b>Servo number 7</b>`)
    world.heron.control.fault = 'none'
    await mirrorAll(world, ['heron-slate'])
    const again = await searched(world.app, { q: 'servo number 7', limit: 10, offset: 0, sort: 'best' }, null)
    expect(again.sounds[0]?.title).toBe('Servo number 7')
  })
})

describe('searching', () => {
  it('finds by the beginnings of words, over all libraries', async () => {
    const page = await searched(world.app, { q: 'ser num', limit: 5, offset: 0, sort: 'best' }, null)
    expect(page).toMatchObject({ total: 18, catalogueTotal: 22 })
    expect(page.sounds).toHaveLength(5)
    expect(page.sounds.every(({ title }) => title.startsWith('Servo number'))).toBe(true)
  })

  it('pages without gaps or repeats', async () => {
    const ids: number[] = []
    for (let offset = 0; offset < 22; offset += 5)
      ids.push(
        ...(await searched(world.app, { q: '', limit: 5, offset, sort: 'best' }, null)).sounds.map(({ id }) => id),
      )
    expect(new Set(ids).size).toBe(22)
  })

  it.each(['nothing like this', '"', "' OR 1=1 --", 'NEAR('])('takes %j', async (q) => {
    const page = await searched(world.app, { q, limit: 5, offset: 0, sort: 'best' }, null)
    expect(page.catalogueTotal).toBe(22)
  })

  it('says how each sound fits the uses', async () => {
    const fits = async (more: Partial<VideoInput['uses']>): Promise<Record<string, string | null>> => {
      const page = await searched(
        world.app,
        { q: 'short', limit: 50, offset: 0, sort: 'best' },
        { uses: usesOf(more), videoId: null, asOf: todayIso() },
      )
      return Object.fromEntries(page.sounds.map(({ title, fit }) => [title, fit]))
    }
    expect(await fits({})).toEqual({
      'Ice crack': 'fits-with-credit',
      'Radio hum': 'fits-with-credit',
      'Dull thud': 'fits',
      'Bronze bell': 'does-not-fit',
    })
    expect(await fits({ earns: true })).toMatchObject({ 'Radio hum': 'does-not-fit', 'Ice crack': 'fits-with-credit' })
  })

  it('does not say yes where the plan’s licence says nothing', async () => {
    const page = await searched(
      world.app,
      { q: 'servo', limit: 1, offset: 0, sort: 'best' },
      { uses: usesOf({ places: ['game'] }), videoId: null, asOf: todayIso() },
    )
    expect(page.sounds[0]?.fit).toBe('not-stated')
  })
})

describe('a download', () => {
  it('stores the copy under its hash, with terms, order, licensee and credit', async () => {
    await download(world.app, 'Ice crack')
    const detail = await getSoundDetail(world.app, await soundId(world.app, 'Ice crack'), {
      uses: usesOf(),
      videoId: null,
      asOf: todayIso(),
    })
    expect(detail.copy?.fileName).toBe('Ice crack - fernlight - Tin Barn Commons.wav')
    const bytes = fs.readFileSync(world.app.store.blobPath(detail.copy?.sha256 ?? ''))
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(detail.copy?.sha256)
    const [paper] = detail.papers
    expect(paper).toMatchObject({
      termsTitle: 'Creative Commons BY 4.0',
      termsVersion: '4.0',
      grantTitle: 'Open licence',
    })
    expect(paper?.creditLine).toContain('“Ice crack” by fernlight')
    const terms = await world.app.db
      .selectFrom('terms')
      .selectAll()
      .where('sha256', '=', paper?.termsSha256 ?? '')
      .executeTakeFirstOrThrow()
    expect(createHash('sha256').update(terms.text, 'utf8').digest('hex')).toBe(terms.sha256)
    expect(terms.text).toContain('Creative Commons Attribution 4.0 International Public License')
  })

  it('is not made twice', async () => {
    await download(world.app, 'Ice crack')
    await download(world.app, 'Ice crack')
    expect((await world.app.jobs.list({ maxEnded: 1 }))[0]?.message).toBe('It is here already.')
    const id = await soundId(world.app, 'Ice crack')
    expect(await world.app.db.selectFrom('grants').select('id').where('sound_id', '=', id).execute()).toHaveLength(1)
  })

  it('records the plan and its period', async () => {
    await download(world.app, 'Servo number 1')
    const detail = await getSoundDetail(world.app, await soundId(world.app, 'Servo number 1'), {
      uses: usesOf(),
      videoId: null,
      asOf: todayIso(),
    })
    expect(detail.papers[0]).toMatchObject({ grantTitle: 'Studio plan', creditLine: null })
    expect(detail.papers[0]?.planUntil).toMatch(/^\d{4}-\d\d-\d\d$/)
  })

  it.each(['half-body', 'error', 'garbage'] as const)(
    'leaves nothing behind when the library answers with %s',
    async (fault) => {
      const id = await soundId(world.app, 'Servo number 2')
      world.heron.control.fault = fault
      const { job } = await world.app.jobs.enqueue('download', String(id), 'D')
      await world.app.jobs.idle()
      world.heron.control.fault = 'none'
      expect(await world.app.jobs.find(job.id)).toMatchObject({ state: 'failed' })
      expect(await world.app.db.selectFrom('grants').select('id').where('sound_id', '=', id).execute()).toEqual([])
      expect(fs.readdirSync(path.join(world.dir, 'incoming'))).toEqual([])
    },
  )
})

describe('a licence label that does not fit its text', () => {
  const world = worldForEach('label', (first) => mirrorAll(first))

  it('gives nothing, and is told on the source and the Desk', { tags: 'long' }, async () => {
    const fitting = await searched(world().app, { q: 'ice crack', limit: 1, offset: 0, sort: 'best' }, null)
    expect(fitting.sounds[0]?.licence).toBe('CC BY')
    world().barn.control.addendum = '\n\nSounds of this library may not be used in videos that are published online.'
    await mirrorAll(world(), ['tin-barn'])
    const context = { uses: usesOf(), videoId: null, asOf: todayIso() }
    const page = await searched(world().app, { q: 'ice crack', limit: 1, offset: 0, sort: 'best' }, context)
    expect(page.sounds[0]).toMatchObject({ licence: 'Not known', fit: 'not-stated' })
    const barn = await sourceOf(world().app, 'tin-barn')
    expect(barn?.misfitLabels).toContain('Text labelled Creative Commons BY 4.0')
    const { notices } = await loadDesk(world().app, todayIso())
    expect(notices.map(({ title }) => title)).toContain('Tin Barn Commons: a licence label that does not fit its text')
    world().barn.control.addendum = ''
    await mirrorAll(world(), ['tin-barn'])
    const mended = await searched(world().app, { q: 'ice crack', limit: 1, offset: 0, sort: 'best' }, context)
    expect(mended.sounds[0]).toMatchObject({ licence: 'CC BY', fit: 'fits-with-credit' })
  })

  it('gives a download under terms that are not known, which say what label it was', { tags: 'long' }, async () => {
    world().barn.control.addendum = '\n\nNot for videos.'
    await download(world().app, 'Bronze bell')
    world().barn.control.addendum = ''
    const { misfit_label, short_title } = await world()
      .app.db.selectFrom('grants')
      .innerJoin('terms', 'terms.id', 'grants.terms_id')
      .select(['misfit_label', 'short_title'])
      .where('sound_id', '=', await soundId(world().app, 'Bronze bell'))
      .executeTakeFirstOrThrow()
    expect({ misfit_label, short_title }).toEqual({ misfit_label: 'CC-BY-SA-4.0', short_title: 'Not known' })
    // What the library says at the next reading stands for the sound again; the papers keep theirs.
    await mirrorAll(world(), ['tin-barn'])
    const detail = await getSoundDetail(world().app, await soundId(world().app, 'Bronze bell'), null)
    expect(detail.terms.title).toBe('Creative Commons BY-SA 4.0')
    expect(detail.papers[0]?.grantTitle).not.toBe(detail.terms.title)
  })
})
