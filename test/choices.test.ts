// @module-tag long
import { sql } from 'kysely'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { FindingWire, SoundDetail } from '../src/contract'
import { groupRecordings } from '../src/server/analysis/listen-to-sounds'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { listPapers } from '../src/server/papers/papers-list'
import { getSoundDetail } from '../src/server/sounds/sound-detail'
import type { Pool } from '../src/server/workers/pool'
import {
  bringExport,
  download,
  finishedTrack,
  makeVideo,
  mirrorAll,
  openWorldWithBed,
  searched,
  soundId,
  type World,
} from './world'

let world: World

beforeAll(async () => {
  world = await openWorldWithBed('choices')
  await mirrorAll(world)
})
afterAll(() => world.close())

async function detailOf(title: string): Promise<SoundDetail> {
  return getSoundDetail(world.app, await soundId(world.app, title), null)
}

const WHOLE = 'Bed for a slow dawn'
const PAD = `${WHOLE} (stem: pad)`

describe('music in stems and parts', () => {
  it('is one entry, which tells what it can be had in', async () => {
    const found = await searched(world.app, { q: 'bed dawn', sort: 'best', limit: 20, offset: 0 }, null)
    expect(found.sounds.map(({ title, choiceCount }) => [title, choiceCount])).toEqual([[WHOLE, 5]])
    const { choices, choiceOf } = await detailOf(WHOLE)
    expect(choiceOf).toBeNull()
    expect(choices.map(({ role, name, title }) => [role, name, title])).toEqual([
      ['stem', 'pad', PAD],
      ['stem', 'figure', `${WHOLE} (stem: figure)`],
      ['stem', 'pulse', `${WHOLE} (stem: pulse)`],
      ['part', 'opening', `${WHOLE} (part: opening)`],
      ['part', 'ending', `${WHOLE} (part: ending)`],
    ])
    // Each can be heard by itself.
    expect(choices.every(({ audioSha256, print }) => audioSha256 !== null && print !== null)).toBe(true)
    expect(new Set(choices.map(({ audioSha256 }) => audioSha256)).size).toBe(5)
    expect(await detailOf(PAD)).toMatchObject({
      choiceCount: 0,
      choices: [],
      choiceOf: { title: WHOLE, role: 'stem', name: 'pad' },
    })
  })

  it('is found by no search for one of them alone', async () => {
    const query = { sort: 'best', limit: 20, offset: 0 } as const
    for (const q of ['pad', 'stem', 'opening', PAD, '']) {
      const { sounds } = await searched(world.app, { q, ...query }, null)
      expect(sounds.filter(({ title }) => /stem|part/.test(title))).toEqual([])
    }
    const all = await searched(world.app, { q: '', ...query }, null)
    expect(all.sounds.filter(({ source }) => source.id === 'heron-slate')).toHaveLength(1)
  })

  it('gives papers that name what was taken, and none for the rest', async () => {
    await download(world.app, PAD)
    const filed = await listPapers(world.app, todayIso())
    expect(filed.map(({ title }) => title)).toEqual([PAD])
    expect((await detailOf(PAD)).copy?.fileName).toContain('stem pad')
    expect((await detailOf(PAD)).papers).toHaveLength(1)
    const whole = await detailOf(WHOLE)
    expect([whole.papers.length, whole.copySha256]).toEqual([0, null])
    expect(whole.choices.map(({ name, copySha256 }) => [name, copySha256 !== null])).toEqual([
      ['pad', true],
      ['figure', false],
      ['pulse', false],
      ['opening', false],
      ['ending', false],
    ])
  })

  it('keeps a choice that its library takes away, with its papers, and shows it no more with the entry', async () => {
    world.heron.control.withdrawn = ['bed-pad', 'bed-ending']
    await mirrorAll(world, ['heron-slate'])
    expect((await detailOf(WHOLE)).choices.map(({ name }) => name)).toEqual(['figure', 'pulse', 'opening'])
    expect(await detailOf(PAD)).toMatchObject({ withdrawn: true, papers: [{}] })
    world.heron.control.withdrawn = []
    await mirrorAll(world, ['heron-slate'])
    expect((await detailOf(WHOLE)).choices).toHaveLength(5)
  })

  it('is not what some of its stems add up to while another one was not listened to, however quiet that is', async () => {
    const { app } = world
    const { signal } = new AbortController()
    const sums = () => app.db.selectFrom('recording_sums').selectAll().execute()
    const before = await sums()
    expect(before).toHaveLength(1)
    for (const stem of JSON.parse(before[0]?.stem_ids_json ?? '') as number[]) {
      const heard = await app.db.selectFrom('analyses').selectAll().where('sound_id', '=', stem).execute()
      await app.db.deleteFrom('analyses').where('sound_id', '=', stem).execute()
      await groupRecordings(app, signal)
      expect(await sums()).toEqual([])
      await app.db.insertInto('analyses').values(heard).execute()
    }
    await groupRecordings(app, signal)
    expect(await sums()).toEqual(before)
  })

  it('has its parts also where sounds are grouped twice at once, and the one that began before a part was there ends last', async () => {
    const { app } = world
    const { signal } = new AbortController()
    const pieces = () => app.db.selectFrom('recording_pieces').selectAll().orderBy('piece_id').execute()
    const before = await pieces()
    expect(before.length).toBeGreaterThan(0)
    const part = before[0]?.piece_id as number
    const heard = await app.db.selectFrom('analyses').selectAll().where('sound_id', '=', part).execute()
    await app.db.deleteFrom('analyses').where('sound_id', '=', part).execute()
    let [hasRead, goOn] = [() => {}, () => {}]
    const read = new Promise<void>((resolve) => {
      hasRead = resolve
    })
    const allowed = new Promise<void>((resolve) => {
      goOn = resolve
    })
    const heldUp = Object.create(app.pool, {
      run: {
        value: async (task: unknown, options: Parameters<Pool['run']>[1]) => {
          hasRead()
          await allowed
          return app.pool.run(task, options)
        },
      },
    }) as Pool
    const early = groupRecordings({ ...app, pool: heldUp }, signal)
    await read
    await app.db.insertInto('analyses').values(heard).execute()
    const late = groupRecordings(app, signal)
    // It has ended by then, or waits for the other one.
    await Promise.race([late, new Promise((resolve) => setTimeout(resolve, 500))])
    goOn()
    await Promise.all([early, late])
    expect(await pieces()).toEqual(before)
  })

  it('keeps its choices when nothing changed, and tells of none that are new', async () => {
    const before = await sql<{ id: number }>`SELECT id FROM sounds ORDER BY id`.execute(world.app.db)
    await mirrorAll(world, ['heron-slate'])
    const after = await sql<{ id: number }>`SELECT id FROM sounds ORDER BY id`.execute(world.app.db)
    expect(after.rows).toEqual(before.rows)
    const source = await world.app.db
      .selectFrom('sources')
      .select('last_result')
      .where('id', '=', 'heron-slate')
      .executeTakeFirstOrThrow()
    expect(source.last_result).toMatch(/0 new, 0 changed, 0 gone/)
  })
})

describe('a finished video', () => {
  async function findingsFor(laid: Parameters<typeof finishedTrack>[1]): Promise<readonly FindingWire[]> {
    const videoId = await makeVideo(world.app, `Film with ${laid.map(([id]) => id).join(' and ')}`)
    const { checkId } = await bringExport(world.app, videoId, finishedTrack(12, laid))
    const { findings } = await getCheckDetail(world.app, checkId, todayIso())
    return findings
  }

  it('with the whole bed has the whole bed; the stems that are heard in it are no findings of their own', async () => {
    const [finding, ...others] = await findingsFor([['bed', 3, -6]])
    expect(others).toEqual([])
    expect(finding).toMatchObject({ title: WHOLE, verdict: 'no-papers', relatives: [] })
    expect(finding?.stems).toContain(`${WHOLE} (stem: pulse)`)
  })

  it('with one stem has that stem, and is cleared by its papers', async () => {
    expect(await findingsFor([['bed-pad', 3, 0]])).toMatchObject([{ title: PAD, verdict: 'clear' }])
  })

  it('with two stems has both: the papers of another stem are none for them', async () => {
    expect(
      await findingsFor([
        ['bed-figure', 3, 0],
        ['bed-pulse', 3, 0],
      ]),
    ).toMatchObject([{ verdict: 'no-papers' }, { verdict: 'no-papers' }])
  })

  it('with the whole is cleared by papers for all of its stems, which were found to add up to it', async () => {
    const { rows } = await sql<{ stem_ids_json: string }>`SELECT stem_ids_json FROM recording_sums`.execute(
      world.app.db,
    )
    expect(rows.map(({ stem_ids_json }) => (JSON.parse(stem_ids_json) as number[]).length)).toEqual([3])
    await download(world.app, `${WHOLE} (stem: figure)`)
    const [open] = await findingsFor([['bed', 3, -6]])
    expect(open).toMatchObject({ title: WHOLE, verdict: 'no-papers' })
    await download(world.app, `${WHOLE} (stem: pulse)`)
    const [cleared] = await findingsFor([['bed', 3, -6]])
    expect(cleared).toMatchObject({ title: WHOLE, verdict: 'clear' })
    expect(cleared?.ground?.why).toContain('what its stems add up to, and all of them were taken')
    // Were they not known to add up to it, their papers would clear nothing of it.
    await world.app.db.deleteFrom('recording_sums').execute()
    const unknown = await findingsFor([['bed', 3, -6]])
    expect(unknown.find(({ title }) => title === WHOLE)).toMatchObject({ verdict: 'no-papers', stems: [] })
  })

  it('is not cleared for a part by the papers of a stem, but by those of the whole that it lies in', async () => {
    const partOf = async () =>
      (await findingsFor([['bed-opening', 3, 0]])).find(({ title }) => title === `${WHOLE} (part: opening)`)
    expect(await partOf()).toMatchObject({ verdict: 'no-papers', stems: [] })
    await download(world.app, WHOLE)
    const part = await partOf()
    expect(part).toMatchObject({ verdict: 'clear', ground: { title: WHOLE } })
    expect(part?.ground?.why).toBe(`It is a part of “${WHOLE}”, which was taken as a whole.`)
  })
})
