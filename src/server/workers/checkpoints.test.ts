import fs from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NODE_DIR, temporaryDir } from '../../../test/world'
import { logBytes } from '../database/checkpoint'
import { type Db, openDatabase } from '../database/open'
import { unhurriedTransaction } from '../database/unhurried-transaction'
import { Checkpoints } from './checkpoints'
import { createPools, type Pool } from './pool'

const dir = temporaryDir('checkpoints')
let db: Db
let pool: Pool
let interactivePool: Pool
beforeAll(async () => {
  db = await openDatabase(dir)
  const pools = createPools(NODE_DIR)
  pool = pools.pool
  interactivePool = pools.interactivePool
})
afterAll(async () => {
  await Promise.all([pool.destroy(), interactivePool.destroy()])
  await db.destroy()
  fs.rmSync(dir, { recursive: true })
})

let written = 0

/** Writes so many megabytes. */
async function write(megabytes: number): Promise<void> {
  for (let at = 0; at < megabytes; at++) {
    // Never what stands there already: SQLite would not write that again.
    const value = String.fromCharCode(97 + (written++ % 26)).repeat(1_000_000)
    await unhurriedTransaction(db, (trx) =>
      trx
        .insertInto('settings')
        .values({ key: `large ${at % 5}`, value })
        .onConflict((conflict) => conflict.column('key').doUpdateSet({ value }))
        .execute(),
    )
  }
}

describe('the log of what was written', () => {
  it('begins anew for who lets it catch up, however much is written, and nothing is lost', {
    tags: 'long',
  }, async () => {
    const checkpoints = new Checkpoints(dir, interactivePool)
    let most = 0
    for (let round = 0; round < 20; round++) {
      await write(10)
      most = Math.max(most, logBytes(dir))
      await checkpoints.catchUp()
    }
    checkpoints.end()
    // Two hundred megabytes and more were written.
    expect(most).toBeGreaterThan(48e6)
    expect(most).toBeLessThan(80e6)
    const rows = await db.selectFrom('settings').select('value').execute()
    expect(rows.map(({ value }) => value.length)).toEqual([1e6, 1e6, 1e6, 1e6, 1e6])
  })

  it('is waited for by nobody while it is short, nor where the thread is gone', { tags: 'long' }, async () => {
    await write(1)
    const gone = createPools(NODE_DIR)
    await Promise.all([gone.pool.destroy(), gone.interactivePool.destroy()])
    const checkpoints = new Checkpoints(dir, gone.interactivePool)
    await checkpoints.catchUp()
    await write(60)
    await checkpoints.catchUp()
    checkpoints.end()
    expect(logBytes(dir)).toBeGreaterThan(48e6)
  })
})
