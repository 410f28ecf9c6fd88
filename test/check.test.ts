import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CheckDetail, CheckedTrackWire } from '../src/contract'
import { expandStored, listenToStored } from '../src/server/analysis/listen-to-stored'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { listLedgerEntries } from '../src/server/ledger/ledger'
import { getFacts } from '../src/server/rows/check-facts'
import { changeVideo, getVideo, listVideos } from '../src/server/videos/videos'
import { openCheckedFilm } from './checked-film'
import { soundId, usesOf, type World } from './world'

let world: World
let videoId: number
let detail: CheckDetail
beforeAll(async () => {
  ;({ world, videoId, detail } = await openCheckedFilm('check'))
})
afterAll(() => world.close())

describe('a check', () => {
  const byTitle = (title: string) => detail.findings.find((finding) => finding.title === title)

  it('hears what is there, and nothing else', () => {
    expect(detail).toMatchObject({ state: 'done', listenedFor: 22, notExamined: [], hasPicture: false })
    const places = detail.findings.flatMap(({ title, detections }) =>
      detections.map(({ startS }) => [title, Math.round(startS * 50) / 50]),
    )
    expect(places.sort((a, b) => (a[1] as number) - (b[1] as number))).toEqual([
      ['Ice crack', 2],
      ['Servo number 1', 5],
      ['Radio hum', 8],
      ['Dull thud', 11],
      ['Ice crack', 14],
    ])
    for (const { detections } of detail.findings)
      for (const { gainDb } of detections) expect(Math.abs(gainDb + 9)).toBeLessThan(2.5)
  })

  it('accounts for the rest of the track, and says how far it can be trusted', () => {
    const { breakdown, sensitivity, decoys } = detail.tracks[0] as CheckedTrackWire
    expect(breakdown.segments[0]?.startS).toBe(0)
    expect(breakdown.segments.at(-1)?.endS).toBeCloseTo(18, 2)
    expect(breakdown.secondsOf.heard).toBeGreaterThan(2)
    expect(breakdown.explainedFraction).toBeGreaterThan(0.9)
    expect(decoys).toEqual({ listenedFor: 22, heard: 0 })
    // Of 22 sounds, four are heard; each of the others would have been from some level on.
    expect(sensitivity).toHaveLength(18)
    for (const { fromDb, kind } of sensitivity) {
      expect(fromDb).toBeLessThan(0)
      expect(kind).toMatch(/^(tone|click|noise)$/)
    }
  })

  it('keeps the track in a compact form, in which a sound is found again', async () => {
    const kept = await world.app.db.selectFrom('stored_tracks').selectAll().executeTakeFirstOrThrow()
    expect(kept.bytes.length).toBeLessThan((18 / 60) * 1e6 + 2000)
    const analysis = await world.app.db
      .selectFrom('analyses')
      .selectAll()
      .where('sound_id', '=', await soundId(world.app, 'Ice crack'))
      .executeTakeFirstOrThrow()
    const { pool, store } = world.app
    const featurePaths = [store.featurePath(analysis.audio_sha256)]
    const found = await listenToStored(pool, await expandStored(pool, kept.bytes), {
      featurePaths,
      shortlist: [0],
      groups: [],
    })
    expect(found.detections.map(({ startS }) => Math.round(startS))).toEqual([2, 14])
  })

  it('leaves no stages behind when it is over', async () => {
    expect(await world.app.db.selectFrom('check_stages').selectAll().execute()).toEqual([])
  })

  it('does not lend papers to the same recording by another maker: it asks which was used', async () => {
    const [thud, servo] = [await soundId(world.app, 'Dull thud'), await soundId(world.app, 'Servo number 1')]
    const rows = [thud, servo].map((id) => ({ sound_id: id, group_id: thud }))
    await world.app.db.insertInto('recording_groups').values(rows).execute()
    const grouped = await getCheckDetail(world.app, detail.id, todayIso())
    const heard = grouped.findings.find(({ title }) => title === 'Dull thud')
    expect(heard).toMatchObject({ verdict: 'no-papers', ground: null })
    expect(grouped.points.find(({ kind }) => kind === 'which-copy')).toMatchObject({ isOpen: true })
    await world.app.db.deleteFrom('recording_groups').execute()
  })

  it('lends papers to the same recording by the same maker when only that file is here, and says why', async () => {
    const [thud, servo] = [await soundId(world.app, 'Dull thud'), await soundId(world.app, 'Servo number 1')]
    const rows = [thud, servo].map((id) => ({ sound_id: id, group_id: thud }))
    await world.app.db.insertInto('recording_groups').values(rows).execute()
    const makers = world.app.db.updateTable('sounds').where('id', '=', thud)
    await makers.set({ maker: 'Sable Row' }).execute()
    const heard = (await getCheckDetail(world.app, detail.id, todayIso())).findings.find(
      ({ title }) => title === 'Dull thud',
    )
    expect(heard?.verdict).toBe('clear')
    expect(heard?.ground).toMatchObject({
      title: 'Servo number 1',
      why: expect.stringContaining('only that file is here'),
    })
    await makers.set({ maker: 'oddment' }).execute()
    await world.app.db.deleteFrom('recording_groups').execute()
  })

  it('gives each sound its verdict, with the clause', () => {
    expect(byTitle('Ice crack')).toMatchObject({ verdict: 'owes-credit' })
    expect(byTitle('Radio hum')).toMatchObject({ verdict: 'owes-credit' })
    expect(byTitle('Servo number 1')).toMatchObject({ verdict: 'clear', creditLine: null })
    expect(byTitle('Dull thud')).toMatchObject({ verdict: 'no-papers', creditLine: null })
    expect(byTitle('Dull thud')?.settlements[0]).toBe('Download it from Tin Barn Commons: its terms allow this video.')
    expect(byTitle('Ice crack')?.reasons[0]?.quote).toContain('identification of the creator')
    // Worst first.
    expect(detail.findings[0]?.title).toBe('Dull thud')
  })

  it('lists the credits that are owed, in the order in which they are heard', () => {
    const lines = detail.credits.split('\n')
    expect(lines[0]).toBe('Sound effects')
    expect(lines).toHaveLength(3)
    expect(lines[1]).toContain('Ice crack')
    expect(lines[2]).toContain('Radio hum')
  })

  it('draws the time map', () => {
    const map = detail.tracks[0]?.map
    expect(map?.durationS).toBeCloseTo(18, 2)
    expect(map?.columns).toBe(1800)
    expect(map?.momentaryLufs.length).toBe(177)
    expect(map?.integratedLufs).toBeLessThan(-10)
  })

  it('has one state for the page, the list and the top bar', async () => {
    const video = await getVideo(world.app, videoId, todayIso())
    const state = { kind: 'points-open', credits: 2 }
    expect(video.state).toMatchObject(state)
    expect(detail.videoState).toEqual(video.state)
    expect((await listVideos(world.app, todayIso())).find(({ id }) => id === videoId)?.state).toEqual(video.state)
  })

  it('writes its facts down once, by the hash that the ledger names', async () => {
    const { facts_sha256: sha256 } = await world.app.db
      .selectFrom('checks')
      .select('facts_sha256')
      .where('id', '=', detail.id)
      .executeTakeFirstOrThrow()
    const facts = await getFacts(world.app.db, sha256 as string)
    expect(facts.reference.listenedFor).toHaveLength(22)
    expect(facts.detections.every(({ audioSha256 }) => /^[0-9a-f]{64}$/.test(audioSha256))).toBe(true)
    expect(
      facts.tracks.map(({ index, notListenedReason, end, missing }) => [index, notListenedReason, end, missing]),
    ).toEqual([[0, null, 'whole', []]])
    const entry = (await listLedgerEntries(world.app.db, 0)).filter(({ kind }) => kind === 'checked').at(-1)
    expect(entry?.body).toMatchObject({ factsSha256: sha256, checkId: detail.id })
    const change = world.app.db
      .updateTable('check_facts')
      .set({ json: '{}' })
      .where('sha256', '=', sha256 as string)
    await expect(change.execute()).rejects.toThrow('never changed')
  })

  it('follows a change of the uses at once', async () => {
    await changeVideo(world.app, videoId, { title: 'A finished film', uses: usesOf({ earns: true }) }, todayIso())
    const after = await getCheckDetail(world.app, detail.id, todayIso())
    const hum = after.findings.find(({ title }) => title === 'Radio hum')
    expect(hum).toMatchObject({ verdict: 'not-allowed', creditLine: null })
    expect(hum?.sentence).toBe('Creative Commons BY-NC 4.0 does not allow a video that earns.')
    expect(after.credits).not.toContain('Radio hum')
    await changeVideo(world.app, videoId, { title: 'A finished film', uses: usesOf() }, todayIso())
  })
})
