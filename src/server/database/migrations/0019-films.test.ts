import { expect, it } from 'vitest'
import { temporaryDir } from '../../../../test/world'
import { nowIso, openDatabase } from '../open'
import { films } from './0019-films'

it('length and picture of films are taken out of the facts that are there; a check without facts keeps none', async () => {
  const db = await openDatabase(temporaryDir('films'))
  const at = { created_at: nowIso() }
  await db
    .insertInto('videos')
    .values({ id: 1, title: 'A', uses_json: '{}', ...at })
    .execute()
  const file = { size_bytes: 1, mime: 'video/mp4', file_name: 'a.mp4', sha256: 'a', ...at }
  await db
    .insertInto('exports')
    .values({ id: 1, video_id: 1, ...file })
    .execute()
  const check = { video_id: 1, export_id: 1, state: 'done', message: '', ...at }
  const facts = (hasPicture: boolean, tracks: readonly object[]) => JSON.stringify({ file: { hasPicture }, tracks })
  const of = [
    null,
    facts(true, [{ durationS: 44.01, statedDurationS: 44 }]),
    facts(false, [
      { durationS: 9, statedDurationS: null },
      { durationS: 3, statedDurationS: 12.5 },
    ]),
    facts(true, []),
  ]
  for (const [index, json] of of.entries()) {
    await db
      .insertInto('checks')
      .values({ id: index + 1, ...check })
      .execute()
    if (json === null) continue
    const sha256 = `facts ${index}`
    await db
      .insertInto('check_facts')
      .values({ sha256, check_id: index + 1, carries_on: null, place_count: 0, json, ...at })
      .execute()
    await db
      .updateTable('checks')
      .set({ facts_sha256: sha256 })
      .where('id', '=', index + 1)
      .execute()
  }
  await films(db as never)
  const rows = await db.selectFrom('checks').select(['has_picture', 'duration_s']).orderBy('id').execute()
  expect(rows.map(({ has_picture, duration_s }) => [has_picture, duration_s])).toEqual([
    [0, null],
    [1, 44.01],
    [0, 12.5],
    [1, null],
  ])
  await db.destroy()
})
