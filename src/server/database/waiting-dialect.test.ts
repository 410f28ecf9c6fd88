import path from 'node:path'
import { sql } from 'kysely'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import { DATABASE_NAME, type Db, openDatabase } from './open'
import { Sqlite, SqliteError } from './sqlite'
import { unhurriedTransaction } from './unhurried-transaction'

let db: Db
/** Another that writes to the same file. It is in this thread: what waited for it in place would wait until it gave up. */
let other: Sqlite

beforeEach(async () => {
  const dir = temporaryDir('waiting')
  db = await openDatabase(dir)
  other = new Sqlite(path.join(dir, DATABASE_NAME))
})
afterEach(async () => {
  other.close()
  await db.destroy()
})

const keys = async (): Promise<string[]> =>
  (await db.selectFrom('settings').select('key').orderBy('key').execute()).map(({ key }) => key)
const set = (key: string, on: Db = db) => on.insertInto('settings').values({ key, value: '' }).execute()

/** Whether something is done yet. */
function watched(promise: Promise<unknown>): () => boolean {
  let isDone = false
  void promise.then(
    () => {
      isDone = true
    },
    () => {
      isDone = true
    },
  )
  return () => isDone
}

async function turns(count: number): Promise<void> {
  for (let at = 0; at < count; at++) await new Promise((resolve) => setTimeout(resolve, 3))
}

describe('while another writes', () => {
  it.each<readonly [string, () => Promise<unknown>]>([
    ['a transaction', () => db.transaction().execute((trx) => set('mine', trx))],
    ['one statement', () => set('mine')],
    [
      'a statement that gives rows',
      () => db.insertInto('settings').values({ key: 'mine', value: '' }).returning('key').execute(),
    ],
    ['a text', () => sql`INSERT INTO settings (key, value) VALUES ('mine', '')`.execute(db)],
    ['a transaction whose end is not waited for', () => unhurriedTransaction(db, (trx) => set('mine', trx))],
  ])('%s waits and keeps nobody waiting', async (_, write) => {
    other.exec(`BEGIN IMMEDIATE; INSERT INTO settings (key, value) VALUES ('others', '')`)
    const writing = write()
    const isWritten = watched(writing)
    await turns(10)
    expect(isWritten()).toBe(false)
    other.exec('COMMIT')
    await writing
    expect(await keys()).toEqual(['mine', 'others'])
  })

  it('what only reads is answered from what was before, also while a transaction waits', async () => {
    await set('before')
    other.exec(`BEGIN IMMEDIATE; INSERT INTO settings (key, value) VALUES ('others', '')`)
    const writing = db.transaction().execute((trx) => set('mine', trx))
    await turns(3)
    expect(await keys()).toEqual(['before'])
    other.exec('ROLLBACK')
    await writing
    expect(await keys()).toEqual(['before', 'mine'])
  })

  it('a connection on which something was set is lent to nobody until it is done', async () => {
    other.exec('BEGIN IMMEDIATE')
    const unhurried = unhurriedTransaction(db, (trx) => set('unhurried', trx))
    const reading = db.selectFrom('settings').select('key').execute()
    const isRead = watched(reading)
    await turns(10)
    expect(isRead()).toBe(false)
    other.exec('COMMIT')
    await unhurried
    await reading
    const { rows } = await sql<{ synchronous: number }>`PRAGMA synchronous`.execute(db)
    expect(rows[0]?.synchronous).toBe(2)
  })

  it('each of many that wait is done once', { tags: 'long' }, async () => {
    other.exec('BEGIN IMMEDIATE')
    const all = Array.from({ length: 20 }, (_, at) =>
      at % 2 === 0 ? set(`${100 + at}`) : db.transaction().execute((trx) => set(`${100 + at}`, trx)),
    )
    await turns(5)
    other.exec('COMMIT')
    await Promise.all(all)
    expect(await keys()).toEqual(Array.from({ length: 20 }, (_, at) => `${100 + at}`))
  })
})

it('what fails for another reason fails at once, and nothing of its transaction stays', async () => {
  await set('there')
  const twice = db.transaction().execute(async (trx) => {
    await set('half', trx)
    await set('there', trx)
  })
  await expect(twice).rejects.toMatchObject({ name: SqliteError.name, code: 'SQLITE_CONSTRAINT' })
  await expect(set('there')).rejects.toMatchObject({ code: 'SQLITE_CONSTRAINT' })
  expect(await keys()).toEqual(['there'])
})
