import { sql } from 'kysely'
import { expect, it } from 'vitest'
import { temporaryDir } from '../../../../test/world'
import { openDatabase } from '../open'
import { sumsAnew } from './0029-sums-anew'

it('what stems add up to is forgotten and looked for anew; where nothing was known there is nothing to do', async () => {
  const db = await openDatabase(temporaryDir('sums'))
  const jobs = () => db.selectFrom('jobs').select(['kind', 'subject', 'state']).execute()
  await sumsAnew(db as never)
  expect(await jobs()).toEqual([])
  // The sounds themselves do not matter here.
  await sql`PRAGMA foreign_keys = OFF`.execute(db)
  await db.insertInto('recording_sums').values({ whole_id: 1, stem_ids_json: '[2,3]' }).execute()
  const remembered = { whole_sha256: 'a', stem_sha256s: 'b,c', version: '3.1', adds_up: 1 }
  await db.insertInto('sum_comparisons').values(remembered).execute()
  await sumsAnew(db as never)
  expect(await db.selectFrom('recording_sums').selectAll().execute()).toEqual([])
  expect(await db.selectFrom('sum_comparisons').selectAll().execute()).toEqual([])
  expect(await jobs()).toEqual([{ kind: 'group', subject: 'all', state: 'queued' }])
})
