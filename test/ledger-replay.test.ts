import fs from 'node:fs'
import { Readable } from 'node:stream'
import { sql } from 'kysely'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { AnswerInput } from '../src/contract'
import { answerPoint } from '../src/server/clearance/answers'
import { todayIso } from '../src/server/database/open'
import { listLedgerEntries } from '../src/server/ledger/ledger'
import { type LedgerMismatch, replayLedger } from '../src/server/ledger/replay'
import { compareHead, loadLedgerPage, verifyAndKeep, verifyEverything } from '../src/server/ledger/verify'
import { bindVideo } from '../src/server/papers/bind-video'
import { attachEvidence } from '../src/server/papers/evidence'
import { openCheckedFilm } from './checked-film'
import { bringExport, finishedTrack, soundId, type World } from './world'

/** Kinds of points that may be the creator's own. */
const ANSWERED: readonly string[] = ['music', 'noise', 'event', 'speech']

let world: World
let grantId: number
let videoId: number
beforeAll(async () => {
  const film = await openCheckedFilm('replay')
  ;({ world, videoId } = film)
  const grant = await world.app.db.selectFrom('grants').select('id').orderBy('id').executeTakeFirstOrThrow()
  grantId = grant.id
  await bindVideo(world.app.db, { grantId, videoId, key: 'projects', note: '' })
  const body = Readable.from([Buffer.from('From: a@b.example\n\nYes, you may.')])
  await attachEvidence(world.app, grantId, { name: 'mail.eml', body, signal: new AbortController().signal })
  const point = film.detail.points.find(({ kind, isOpen }) => isOpen && ANSWERED.includes(kind))
  if (!point) throw new Error(`the film has nothing to answer: ${film.detail.points.map(({ kind }) => kind)}`)
  const { kind: pointKind, trackIndex, places, soundIds } = point
  const said = {
    pointKind,
    trackIndex,
    places,
    soundIds,
    kind: 'own',
    fromSoundId: null,
    reason: 'made here',
    by: 'Ann',
  }
  await answerPoint(world.app, videoId, AnswerInput.parse(said), todayIso())
  // Another check, of another file.
  await bringExport(world.app, videoId, finishedTrack(3, [['b1', 1, -6]]), 'later.wav')
})
afterAll(() => world.close())

async function run(statements: string): Promise<void> {
  for (const statement of statements.split('; ')) await sql.raw(statement).execute(world.app.db)
}

/** What a change by hand is told as; it is undone again. */
async function told(change: string, undo: string): Promise<LedgerMismatch[]> {
  expect(await replayLedger(world.app)).toEqual([])
  await run(change)
  try {
    return await replayLedger(world.app)
  } finally {
    await run(undo)
  }
}

describe('the ledger against the tables', () => {
  it.each([
    [
      'a clause that was changed',
      `UPDATE terms SET clauses_json = replace(clauses_json, '"not-stated"', '"yes"') WHERE spdx_id = 'CC-BY-4.0'`,
      `UPDATE terms SET clauses_json = replace(clauses_json, '"answer":"yes","quote":null', '"answer":"not-stated","quote":null') WHERE spdx_id = 'CC-BY-4.0'`,
      'terms',
      'changed',
    ],
    [
      'how long terms hold',
      `UPDATE terms SET duration = 'until-date' WHERE spdx_id = 'CC0-1.0'`,
      `UPDATE terms SET duration = 'for-ever' WHERE spdx_id = 'CC0-1.0'`,
      'terms',
      'changed',
    ],
    [
      'papers under other terms',
      'UPDATE grants SET terms_id = terms_id + 1 WHERE id = 1',
      'UPDATE grants SET terms_id = terms_id - 1 WHERE id = 1',
      'papers',
      'changed',
    ],
    [
      'a longer plan',
      `UPDATE grants SET plan_until = '2099-12-31' WHERE id = 1`,
      'UPDATE grants SET plan_until = NULL WHERE id = 1',
      'papers',
      'changed',
    ],
    [
      'papers that were taken back by hand',
      `UPDATE grants SET taken_back_at = 'x' WHERE id = 1`,
      'UPDATE grants SET taken_back_at = NULL WHERE id = 1',
      'papers',
      'changed',
    ],
    [
      'papers for another file',
      `UPDATE grants SET copy_sha256 = (SELECT sha256 FROM copies ORDER BY sha256 <> grants.copy_sha256 DESC LIMIT 1), served_sha256 = copy_sha256 WHERE id = 1`,
      `UPDATE grants SET copy_sha256 = served_sha256 WHERE id = 1`,
      'papers',
      'changed',
    ],
    [
      'a record that nobody made',
      `UPDATE grant_videos SET key = 'registration'`,
      `UPDATE grant_videos SET key = 'projects'`,
      'record',
      'added',
    ],
    [
      'evidence that was exchanged',
      `UPDATE evidence SET sha256 = (SELECT sha256 FROM copies LIMIT 1), mime = mime || sha256`,
      `UPDATE evidence SET sha256 = substr(mime, -64), mime = substr(mime, 1, length(mime) - 64)`,
      'evidence',
      'added',
    ],
    [
      'a record that was taken out',
      `CREATE TABLE kept AS SELECT * FROM grant_videos; DELETE FROM grant_videos`,
      `INSERT INTO grant_videos SELECT * FROM kept; DROP TABLE kept`,
      'record',
      'removed',
    ],
    [
      'a check that was made to show other facts',
      `UPDATE checks SET facts_sha256 = NULL, message = facts_sha256 WHERE id = (SELECT max(id) FROM checks); UPDATE checks SET facts_sha256 = (SELECT sha256 FROM check_facts WHERE check_id <> checks.id LIMIT 1) WHERE id = (SELECT max(id) FROM checks)`,
      `UPDATE checks SET facts_sha256 = message, message = '' WHERE id = (SELECT max(id) FROM checks)`,
      'facts',
      'changed',
    ],
    [
      'an answer that was put into another mouth',
      `UPDATE point_answers SET by_name = 'Bea', reason = 'no'`,
      `UPDATE point_answers SET by_name = 'Ann', reason = 'made here'`,
      'answer',
      'changed',
    ],
    [
      'an answer to another point',
      `UPDATE point_answers SET reason = track_index, track_index = 5`,
      `UPDATE point_answers SET track_index = CAST(reason AS INTEGER), reason = 'made here'`,
      'answer',
      'changed',
    ],
    [
      'an answer that was taken out',
      `CREATE TABLE kept AS SELECT * FROM point_answers; DELETE FROM point_answers`,
      `INSERT INTO point_answers SELECT * FROM kept; DROP TABLE kept`,
      'answer',
      'removed',
    ],
    [
      'an answer that was undone by hand',
      `UPDATE point_answers SET undone_at = 'x'`,
      'UPDATE point_answers SET undone_at = NULL',
      'answer',
      'changed',
    ],
  ] as const)('names %s', async (_what, change, undo, what, how) => {
    expect(await told(change, undo)).toContainEqual(expect.objectContaining({ what, how }))
  })

  it('names papers that are gone, and papers that nobody entered', async () => {
    const mismatches = await told(
      'UPDATE grants SET id = 9000 WHERE id = 2',
      'UPDATE grants SET id = 2 WHERE id = 9000',
    )
    expect(mismatches.map(({ how }) => how).sort()).toEqual(['added', 'removed'])
  })

  it('names a stored file that was changed, and one that is gone', async () => {
    const { sha256 } = await world.app.db.selectFrom('evidence').select('sha256').executeTakeFirstOrThrow()
    const file = world.app.store.blobPath(sha256)
    const bytes = fs.readFileSync(file)
    fs.writeFileSync(file, bytes.subarray(0, 10))
    expect(await replayLedger(world.app)).toMatchObject([{ what: 'file', how: 'changed' }])
    fs.rmSync(file)
    expect(await replayLedger(world.app)).toMatchObject([{ what: 'file', how: 'removed' }])
    fs.writeFileSync(file, bytes)
    expect(await replayLedger(world.app)).toEqual([])
  })
})

describe('the entry of a check', () => {
  it('says what each heard sound came to on the day, and on which papers it rested', async () => {
    const entries = await listLedgerEntries(world.app.db, 0)
    const { body } = entries.find(({ kind }) => kind === 'checked') ?? { body: null }
    const grants = await world.app.db.selectFrom('grants').select(['id', 'sound_id']).execute()
    const idOf = async (title: string) => {
      const sound = await soundId(world.app, title)
      return grants.find(({ sound_id }) => sound_id === sound)?.id
    }
    expect(body).toMatchObject({
      videoId,
      asOf: todayIso(),
      uses: expect.stringContaining('Online'),
      state: expect.stringMatching(/\d points? open/),
      verdicts: expect.arrayContaining([
        expect.objectContaining({ title: 'Ice crack', verdict: 'owes-credit', papersId: await idOf('Ice crack') }),
        expect.objectContaining({ title: 'Dull thud', verdict: 'no-papers', papersId: null, termsSha256: null }),
      ]),
    })
  })

  it('stays what it was when the papers are taken away later', async () => {
    const page = await loadLedgerPage(world.app.db, { limit: 500 })
    const checked = page.entries.filter(({ kind }) => kind === 'checked').at(-1)
    expect(checked?.lines).toEqual(
      expect.arrayContaining([expect.stringMatching(/^Owes credit: “Ice crack” on papers \d/)]),
    )
  })
})

describe('the ledger on its page', () => {
  it('is told the newest first, a page at a time', async () => {
    const whole = await loadLedgerPage(world.app.db, { limit: 500 })
    const first = await loadLedgerPage(world.app.db, { limit: 3 })
    const next = await loadLedgerPage(world.app.db, { limit: 3, before: first.entries.at(-1)?.number ?? 0 })
    expect([...first.entries, ...next.entries]).toEqual(whole.entries.slice(0, 6))
    expect(whole.entries[0]).toMatchObject(whole.head)
  })

  it('keeps the report of a verification, also of a broken chain', async () => {
    expect(await verifyAndKeep(world.app)).toBe('The ledger holds.')
    expect((await loadLedgerPage(world.app.db, { limit: 1 })).report).toMatchObject({ broken: null, mismatchCount: 0 })
    await run('UPDATE point_answers SET undone_at = 1')
    expect(await verifyAndKeep(world.app)).toBe('1 things are not as the ledger says.')
    await run('UPDATE point_answers SET undone_at = NULL')
    await run('DROP TRIGGER ledger_keeps_its_entries')
    const { body_json } = await world.app.db
      .selectFrom('ledger')
      .select('body_json')
      .where('number', '=', 2)
      .executeTakeFirstOrThrow()
    const set = (text: string) =>
      world.app.db.updateTable('ledger').set({ body_json: text }).where('number', '=', 2).execute()
    await set('{}')
    expect(await verifyAndKeep(world.app)).toContain('Entry 2 is broken')
    await set(body_json)
    expect(await verifyAndKeep(world.app)).toBe('The ledger holds.')
  })

  it('knows a line that was kept, and tells when the end was cut off or all was written anew', async () => {
    const { head } = await loadLedgerPage(world.app.db, { limit: 1 })
    expect((await compareHead(world.app.db, head)).holds).toBe(true)
    expect(await compareHead(world.app.db, { ...head, hash: 'ab'.repeat(32) })).toMatchObject({
      holds: false,
      sentence: expect.stringContaining('written anew'),
    })
    expect(await compareHead(world.app.db, { ...head, number: head.number + 1 })).toMatchObject({
      holds: false,
      sentence: expect.stringContaining('cut off'),
    })
  })
})

describe('rows that papers rest on', () => {
  it.each(['terms', 'grants', 'evidence', 'ledger'])('of %s are neither taken out nor written over', async (table) => {
    await expect(run(`DELETE FROM ${table}`)).rejects.toThrow('never')
    await expect(run(`INSERT OR REPLACE INTO ${table} SELECT * FROM ${table}`)).rejects.toThrow('never')
  })

  it('stay as they were: the text of terms is not changed', async () => {
    await expect(run(`UPDATE terms SET text = 'All is allowed.'`)).rejects.toThrow('immutable')
  })
})

describe('a ledger that is empty where papers are on file', () => {
  it('is broken, not whole', async () => {
    const { rows } = await sql
      .raw<{ made: string }>(`SELECT sql AS made FROM sqlite_master WHERE name = 'ledger_loses_no_entries'`)
      .execute(world.app.db)
    await run(
      'CREATE TABLE kept_ledger AS SELECT * FROM ledger; DROP TRIGGER ledger_loses_no_entries; DELETE FROM ledger',
    )
    try {
      const report = await verifyEverything(world.app)
      expect(report).toMatchObject({ entries: 0, broken: null })
      expect(report.mismatches).toContainEqual(expect.stringMatching(/^Papers 1, .* have no entry\.$/))
    } finally {
      await run('INSERT INTO ledger SELECT * FROM kept_ledger; DROP TABLE kept_ledger')
      await sql.raw(rows[0]?.made ?? '').execute(world.app.db)
    }
  })
})
