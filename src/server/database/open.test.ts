import fs from 'node:fs'
import { sql } from 'kysely'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import { type Db, dayOf, nowIso, openDatabase } from './open'

const dir = temporaryDir('database')
let db: Db

beforeAll(async () => {
  db = await openDatabase(dir)
})
afterAll(async () => {
  await db.destroy()
  fs.rmSync(dir, { recursive: true })
})

async function pragma(name: string): Promise<unknown> {
  const { rows } = await sql<Record<string, unknown>>`${sql.raw(`PRAGMA ${name}`)}`.execute(db)
  return Object.values(rows[0] ?? {})[0]
}

describe('openDatabase', () => {
  it.each([
    ['journal_mode', 'wal'],
    ['foreign_keys', 1],
    ['recursive_triggers', 1],
  ])('sets %s', async (name, value) => {
    expect(await pragma(name)).toBe(value)
  })

  it('runs every migration once and opens again as it was', async () => {
    await db.insertInto('settings').values({ key: 'licensee', value: 'A' }).execute()
    const again = await openDatabase(dir)
    const names = await sql<{ name: string }>`SELECT name FROM kysely_migration`.execute(again)
    expect(names.rows).toEqual([
      { name: '0001-foundation' },
      { name: '0002-hearing' },
      { name: '0003-ledger' },
      { name: '0004-papers' },
      { name: '0005-finding' },
      { name: '0006-downloads' },
      { name: '0007-facts' },
      { name: '0008-sound-rows' },
      { name: '0009-labels' },
      { name: '0010-readings' },
      { name: '0011-no-removal' },
      { name: '0012-pieces' },
      { name: '0013-words-beside' },
      { name: '0014-money' },
      { name: '0015-generations' },
      { name: '0016-moments' },
      { name: '0017-scores' },
      { name: '0018-mix-formats' },
      { name: '0019-films' },
      { name: '0020-terms-in-use' },
      { name: '0021-accounts' },
      { name: '0022-packed-stage' },
      { name: '0023-live-seen' },
      { name: '0024-packs' },
      { name: '0025-own-words' },
      { name: '0026-choices' },
      { name: '0027-comparisons' },
      { name: '0028-possible-finds' },
      { name: '0029-sums-anew' },
      { name: '0030-excerpts' },
      { name: '0031-listed' },
      { name: '0032-placed' },
    ])
    expect(await again.selectFrom('settings').selectAll().execute()).toEqual([{ key: 'licensee', value: 'A' }])
    await again.destroy()
  })

  it('refuses to change terms that are stored', async () => {
    await db.insertInto('sources').values({ id: 's', name: 'S', about: '', connected: 1, plan: '' }).execute()
    await db
      .insertInto('terms')
      .values({
        source_id: 's',
        key: 'k',
        version: '1',
        title: 'T',
        short_title: 'T',
        spdx_id: null,
        url: null,
        text: 'text',
        sha256: 'x',
        duration: 'for-ever',
        clauses_json: '[]',
        seen_at: nowIso(),
      })
      .execute()
    await expect(db.updateTable('terms').set({ text: 'other' }).execute()).rejects.toThrow('terms are immutable')
  })

  it('refuses a row that points to nothing', async () => {
    const lost = db
      .insertInto('exports')
      .values({ video_id: 99, sha256: 'x', size_bytes: 1, file_name: 'a', mime: 'b', created_at: nowIso() })
    await expect(lost.execute()).rejects.toThrow('FOREIGN KEY')
  })

  it('writes times in UTC ISO 8601', () => {
    expect(nowIso()).toMatch(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z$/)
  })

  it('says which folder cannot be used', async () => {
    const file = `${dir}/not-a-folder`
    fs.writeFileSync(file, '')
    await expect(openDatabase(file)).rejects.toThrow()
  })
})

describe('the day of a moment', () => {
  it.each([
    ['Pacific/Kiritimati', '2026-03-02'],
    ['UTC', '2026-03-01'],
    ['Pacific/Pago_Pago', '2026-03-01'],
  ])('in %s is %s', (zone, day) => {
    const before = process.env.TZ
    process.env.TZ = zone
    try {
      expect(dayOf('2026-03-01T12:30:00.000Z')).toBe(day)
    } finally {
      if (before === undefined) delete process.env.TZ
      else process.env.TZ = before
    }
  })
})
