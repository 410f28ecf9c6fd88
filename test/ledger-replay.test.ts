import fs from 'node:fs'
import { Readable } from 'node:stream'
import { sql } from 'kysely'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { AnswerInput } from '../src/contract'
import { answerPoint } from '../src/server/clearance/answers'
import { todayIso } from '../src/server/database/open'
import { type LedgerMismatch, replayLedger } from '../src/server/ledger/replay'
import { bindVideo } from '../src/server/papers/bind-video'
import { attachEvidence } from '../src/server/papers/evidence'
import { openCheckedFilm } from './checked-film'
import type { World } from './world'

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
})
afterAll(() => world.close())

const run = (statement: string) => sql.raw(statement).execute(world.app.db)

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

describe('rows that papers rest on', () => {
  it.each(['terms', 'grants', 'evidence', 'ledger'])('of %s are neither taken out nor written over', async (table) => {
    await expect(run(`DELETE FROM ${table}`)).rejects.toThrow('never')
    await expect(run(`INSERT OR REPLACE INTO ${table} SELECT * FROM ${table}`)).rejects.toThrow('never')
  })

  it('stay as they were: the text of terms is not changed', async () => {
    await expect(run(`UPDATE terms SET text = 'All is allowed.'`)).rejects.toThrow('immutable')
  })
})
