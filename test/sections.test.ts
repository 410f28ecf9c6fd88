import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { SoundSections } from '../src/contract'
import { newMoment } from '../src/core/moments'
import { newLayer, newPlacement } from '../src/core/score'
import * as nearbyRoute from '../src/pages/api/sounds/nearby'
import * as startRoute from '../src/pages/api/sounds/start'
import { changeMoments } from '../src/server/moments/moments'
import { changeScore } from '../src/server/score/score'
import { editShelf } from '../src/server/shelf/edit-shelf'
import { changeShell } from '../src/server/shell-state'
import { nearbySections, startSections } from '../src/server/sounds/sections'
import { call, knowing, serveApp, value } from './call'
import { makeVideo, mirrorAll, openWorld, soundId, type World } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('sections')
  serveApp(world.app)
  await mirrorAll(world, ['tin-barn', 'heron-slate', 'pell-marrow', 'skerryview'])
})
afterAll(() => world.close())

const start = () => knowing(() => value(SoundSections, startRoute, 'GET', {}))
const nearby = (q: string) =>
  knowing(() => value(SoundSections, nearbyRoute, 'GET', { query: `?${new URLSearchParams({ q })}` }))
const titlesOf = ({ sections }: Pick<SoundSections, 'sections'>) =>
  sections.map(({ heading, sounds }) => [heading.kind, ...sounds.map(({ title }) => title)])

describe('before anything is asked', () => {
  it('without a video in hand the largest categories are shown, then what is new; no sound twice', async () => {
    const { sections } = await start()
    const kinds = sections.map(({ heading }) => heading.kind)
    expect(kinds[0]).toBe('category')
    expect(kinds.at(-1)).toBe('newest')
    // Nothing was kept or used yet: an empty part is not there.
    expect(kinds).not.toContain('kept')
    expect(kinds).not.toContain('often-used')
    const counts = sections.flatMap(({ heading }) => (heading.kind === 'category' ? [heading.count] : []))
    expect(counts).toEqual(counts.toSorted((a, b) => b - a))
    const ids = sections.flatMap(({ sounds }) => sounds.map(({ id }) => id))
    expect(new Set(ids).size).toBe(ids.length)
  })

  it('what was kept is shown, and leaves the part as soon as it is not kept', async () => {
    const id = await soundId(world.app, 'Ice crack')
    await editShelf(world.app, { do: 'keep', soundIds: [id] })
    expect(titlesOf(await start())).toContainEqual(['kept', 'Ice crack'])
    await editShelf(world.app, { do: 'unkeep', soundIds: [id] })
    expect(titlesOf(await start()).map(([kind]) => kind)).not.toContain('kept')
  })

  it('the moments of the video in hand that have no sound come first, those that must have one before the others', async () => {
    const videoId = await makeVideo(world.app, 'A cut that wants sounds')
    await changeShell(world.app, { videoInHandId: videoId })
    const thudId = await soundId(world.app, 'Dull thud')
    const moments = [
      newMoment('a', 4, { words: 'ice crack', weight: 'nice' }),
      newMoment('b', 9, { words: 'crate', weight: 'must' }),
      newMoment('c', 12, { words: 'thud', soundId: thudId }),
      newMoment('d', 15, { words: 'thud', kind: 'silence' }),
      newMoment('e', 18, { words: ' ' }),
      newMoment('f', 21, { words: 'thud' }),
      newMoment('g', 25, { words: 'qqqq zzzz' }),
    ]
    await changeMoments(world.app, videoId, { revision: 0, edits: [{ do: 'add', moments }] })
    const audio = { kind: 'preview', soundId: thudId } as const
    const placement = newPlacement(
      'p',
      { audio, layerId: 'l', startS: 20, toS: 0.4 },
      { target: { kind: 'moment', momentId: 'f' } },
    )
    await changeScore(world.app, videoId, {
      revision: 0,
      edits: [
        { do: 'add-layer', layer: newLayer('l', 'Effects', 'effects'), atIndex: 0 },
        { do: 'add', placements: [placement] },
      ],
    })
    const { sections } = await start()
    const headings = sections.map(({ heading }) => heading)
    expect(headings.filter(({ kind }) => kind === 'moment')).toMatchObject([
      { momentId: 'b', words: 'crate', time: '9.0 s', videoId },
      { momentId: 'a', words: 'ice crack', time: '4.0 s' },
    ])
    expect(headings[0]).toMatchObject({ q: expect.stringMatching(/^crate \[may be used/) })
    expect(headings.some(({ kind }) => kind === 'category')).toBe(false)
    for (const { heading, sounds } of sections)
      if (heading.kind === 'moment') expect(sounds.every(({ fit }) => fit?.startsWith('fits'))).toBe(true)
  })

  it('of a video without moments the categories are shown', async () => {
    await changeShell(world.app, { videoInHandId: await makeVideo(world.app, 'Nothing planned') })
    expect((await start()).sections[0]?.heading.kind).toBe('category')
    await changeShell(world.app, { videoInHandId: null })
  })
})

describe('after few results', () => {
  it('come sounds that meet some of the words, then sounds like the best', async () => {
    const { sections } = await nearby('thud tower')
    expect(sections[0]).toMatchObject({ heading: { kind: 'words', met: ['thud'], of: 2, count: 1 } })
    expect(sections[0]?.sounds.map(({ title }) => title)).toEqual(['Dull thud'])
    expect(sections[1]?.heading).toMatchObject({ kind: 'alike', title: 'Dull thud' })
    expect(sections[1]?.sounds.map(({ title }) => title)).not.toContain('Dull thud')
    expect(sections[1]?.sounds.length).toBeGreaterThan(2)
  })

  it('conditions hold for them as well', async () => {
    for (const { sounds } of (await nearby('thud tower [from Heron & Slate]')).sections)
      expect(sounds.every(({ source }) => source.name === 'Heron & Slate')).toBe(true)
    expect((await nearby('thud tower [over 5 min]')).sections).toEqual([])
  })

  it('what answers to all words is not said again', async () => {
    const { sections } = await nearby('thud')
    expect(titlesOf({ sections }).flat()).not.toContain('Dull thud')
    expect(sections.map(({ heading }) => heading.kind)).toEqual(['alike'])
  })

  it('nothing is near to nothing, to words that must not be there, or to words that stand nowhere', async () => {
    for (const q of ['', '-thud', '[mono]', 'qqqqqq zzzzzz']) expect((await nearby(q)).sections, q).toEqual([])
  })

  it('says that it is behind where anything that was looked up is, by the one that is most', async () => {
    const { app } = world
    const behind = (task: { query: { filters: readonly { kind: string }[] } }): number | null =>
      ({ kept: 20, used: 900 })[task.query.filters[0]?.kind ?? ''] ?? null
    const ask = async (name: never, task: never): Promise<unknown> => {
      const answer = await app.finder.ask(name, task)
      return name === 'find' ? { ...(answer as object), behindMs: behind(task) } : answer
    }
    expect((await startSections({ db: app.db, finder: { ask } as never }, null)).behindMs).toBe(900)
    expect((await nearbySections({ db: app.db, finder: { ask } as never }, { q: 'thud tower' }, null)).behindMs).toBe(
      null,
    )
    const kept = { q: 'thud tower [kept]' }
    expect((await nearbySections({ db: app.db, finder: { ask } as never }, kept, null)).behindMs).toBe(20)
  })

  it('a question that is too long is refused', async () => {
    const response = await call(nearbyRoute, 'GET', { query: `?q=${'a'.repeat(601)}` })
    expect(response.status).toBe(400)
  })
})
