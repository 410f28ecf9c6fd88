import fs from 'node:fs'
import { sql } from 'kysely'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import { type Db, openDatabase } from './open'
import { unhurriedTransaction } from './unhurried-transaction'

const WAITS_FOR_DISK = 2
const WAITS_FOR_NOBODY = 1

const dir = temporaryDir('unhurried')
let db: Db
beforeAll(async () => {
  db = await openDatabase(dir)
})
afterAll(async () => {
  await db.destroy()
  fs.rmSync(dir, { recursive: true })
})

async function waiting(on: Db): Promise<unknown> {
  const { rows } = await sql<{ synchronous: number }>`PRAGMA synchronous`.execute(on)
  return rows[0]?.synchronous
}
const put = (on: Db, key: string) => on.insertInto('settings').values({ key, value: '1' }).execute()
const keys = async () => (await db.selectFrom('settings').select('key').execute()).map(({ key }) => key)

describe('an unhurried transaction', () => {
  it('waits for nobody, each time, and everything after it waits for the disk again', async () => {
    for (const key of ['first', 'second']) {
      const inside = await unhurriedTransaction(db, async (trx) => {
        await put(trx, key)
        return waiting(trx)
      })
      expect(inside).toBe(WAITS_FOR_NOBODY)
      expect(await waiting(db)).toBe(WAITS_FOR_DISK)
    }
    expect(await keys()).toEqual(['first', 'second'])
  })

  it('that fails leaves nothing, and leaves no one unhurried', async () => {
    const failing = unhurriedTransaction(db, async (trx) => {
      await put(trx, 'third')
      throw new Error('in the middle')
    })
    await expect(failing).rejects.toThrow('in the middle')
    expect(await keys()).not.toContain('third')
    expect(await waiting(db)).toBe(WAITS_FOR_DISK)
  })

  it('does not make the one beside it unhurried', async () => {
    const seen: unknown[] = []
    await Promise.all([
      unhurriedTransaction(db, (trx) => put(trx, 'fourth')),
      db.transaction().execute(async (trx) => {
        seen.push(await waiting(trx))
      }),
      unhurriedTransaction(db, (trx) => put(trx, 'fifth')),
      db.transaction().execute(async (trx) => {
        seen.push(await waiting(trx))
      }),
    ])
    expect(seen).toEqual([WAITS_FOR_DISK, WAITS_FOR_DISK])
  })
})
