import fs from 'node:fs'
import { sql } from 'kysely'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import { ledger } from '../database/migrations/0003-ledger'
import { type Db, openDatabase } from '../database/open'
import { storeTerms } from '../terms/terms-store'
import { appendToLedger, listLedgerEntries, verifyLedger } from './ledger'

let dir: string
let db: Db

beforeEach(async () => {
  dir = temporaryDir('ledger')
  db = await openDatabase(dir)
})
afterEach(async () => {
  await db.destroy()
  fs.rmSync(dir, { recursive: true })
})

function entered(count: number): Promise<void> {
  return db.transaction().execute(async (trx) => {
    for (let i = 0; i < count; i++) await appendToLedger(trx, 'declared', { what: `event ${i}`, gainDb: -i / 3 })
  })
}

describe('the ledger', () => {
  it('holds events as they were entered, over more than one page', { tags: 'long' }, async () => {
    await entered(1003)
    const { entries, broken, head } = await verifyLedger(db)
    expect({ entries, broken }).toEqual({ entries: 1003, broken: null })
    const [last] = await listLedgerEntries(db, 1002)
    expect(last).toMatchObject({ number: 1003, kind: 'declared', hash: head, body: { what: 'event 1002' } })
  })

  it('refuses to change or to lose an entry', async () => {
    await entered(2)
    await expect(db.updateTable('ledger').set({ kind: 'receipt' }).execute()).rejects.toThrow('add a correction')
    await expect(db.deleteFrom('ledger').where('number', '=', 1).execute()).rejects.toThrow('add a correction')
    expect((await verifyLedger(db)).entries).toBe(2)
  })

  it.each([
    ['changed', `UPDATE ledger SET body_json = '{"what":"nothing"}' WHERE number = 2`, 2, 'contents-do-not-match'],
    [
      'turned into something else than JSON',
      `UPDATE ledger SET body_json = '{' WHERE number = 3`,
      3,
      'contents-do-not-match',
    ],
    ['dated back', `UPDATE ledger SET at = '2020-01-01T00:00:00.000Z' WHERE number = 1`, 1, 'contents-do-not-match'],
    ['taken out', `DELETE FROM ledger WHERE number = 2`, 2, 'number-out-of-order'],
  ])('names the first entry that was %s behind its back', async (_how, statement, number, reason) => {
    await entered(4)
    for (const trigger of ['ledger_keeps_its_entries', 'ledger_loses_no_entries'])
      await sql.raw(`DROP TRIGGER ${trigger}`).execute(db)
    await sql.raw(statement).execute(db)
    expect((await verifyLedger(db)).broken).toEqual({ number, reason })
  })

  it('has no entry of what was rolled back', async () => {
    await entered(1)
    const failing = db.transaction().execute(async (trx) => {
      await appendToLedger(trx, 'receipt', { order: 'A-1' })
      throw new Error('the file broke off')
    })
    await expect(failing).rejects.toThrow('broke off')
    await entered(1)
    expect(await verifyLedger(db)).toMatchObject({ entries: 2, broken: null })
  })

  it('notes new terms once, and a new version of them again', async () => {
    await db.insertInto('sources').values({ id: 's', name: 'S', about: '', connected: 1, plan: '' }).execute()
    const served = {
      key: 'k',
      version: '1',
      title: 'Terms',
      shortTitle: 'T',
      spdxId: null,
      url: null,
      text: 'You may.',
      duration: 'for-ever' as const,
      readings: [],
      misfitLabel: null,
    }
    const store = (text: string): Promise<number> =>
      db.transaction().execute((trx) => storeTerms(trx, 's', { ...served, text }))
    const first = await store('You may.')
    expect(await store('You may.')).toBe(first)
    const second = await store('You may not.')
    const entries = await listLedgerEntries(db, 0)
    expect(entries.map(({ kind, body }) => [kind, (body as { termsId: number }).termsId])).toEqual([
      ['terms-seen', first],
      ['terms-seen', second],
    ])
  })
})

describe('the migration to a ledger', () => {
  it('enters what was on file before, with its own dates', async () => {
    await db.insertInto('sources').values({ id: 's', name: 'S', about: '', connected: 1, plan: '' }).execute()
    // A database from before: the table is not there yet, the terms are.
    await sql.raw(`DROP TABLE ledger`).execute(db)
    const seenAt = '2025-02-03T04:05:06.000Z'
    await sql`INSERT INTO terms (source_id, key, version, title, short_title, text, sha256, duration, clauses_json, seen_at)
      VALUES ('s', 'k', '1', 'T', 'T', 'text', 'abc', 'for-ever', '[]', ${seenAt})`.execute(db)
    await ledger(db)
    const [entry] = await listLedgerEntries(db, 0)
    expect(entry).toMatchObject({ number: 1, kind: 'terms-seen', at: seenAt, body: { sha256: 'abc' } })
    expect((await verifyLedger(db)).broken).toBeNull()
  })
})
