import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { sql } from 'kysely'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { isDiskFull } from '../files/disk-full'
import { openDatabase } from './open'
import { Sqlite, SqliteError } from './sqlite'

let dir = ''
beforeEach(() => {
  dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-sqlite-'))
})
afterEach(() => fs.rmSync(dir, { recursive: true, force: true }))

const file = () => path.join(dir, 'one.sqlite')

function thrown(act: () => unknown): unknown {
  try {
    act()
  } catch (error) {
    return error
  }
  throw new Error('nothing was thrown')
}

/** A table of one row in a database that may not grow. */
function full(): Sqlite {
  const one = new Sqlite(file())
  one.exec(`CREATE TABLE words (id INTEGER PRIMARY KEY, word TEXT); INSERT INTO words VALUES (1, 'a')`)
  const [{ page_count: pages }] = one.pragma('page_count') as [{ page_count: number }]
  one.pragma(`max_page_count = ${pages}`)
  return one
}

describe('many connections one after the other', () => {
  it('do not keep the pages that each has read', { tags: 'long' }, () => {
    const large = file()
    const first = new Sqlite(large)
    first.exec('CREATE TABLE rows (value TEXT)')
    const values = `SELECT hex(randomblob(40)) FROM n`
    first.exec(
      `WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 60000) INSERT INTO rows ${values}`,
    )
    first.close()
    const before = process.memoryUsage().rss
    for (let at = 0; at < 150; at++) {
      const one = new Sqlite(large, { readonly: true })
      one.prepare(`SELECT count(*) FROM rows WHERE value LIKE '%ZZ%'`).all()
      one.close()
    }
    // Each reads into a cache of two megabytes.
    expect(process.memoryUsage().rss - before).toBeLessThan(150e6)
  })
})

describe('a database', () => {
  it.each([
    ['is written to', (one: Sqlite) => one.prepare('UPDATE words SET word = ?').run(['x'.repeat(100_000)])],
    [
      'gives back what it wrote',
      (one: Sqlite) => one.prepare('UPDATE words SET word = ? RETURNING id').all(['x'.repeat(100_000)]),
    ],
    ['runs a text', (one: Sqlite) => one.exec(`UPDATE words SET word = '${'x'.repeat(100_000)}'`)],
  ])('that is full says so when it %s', (_, act) => {
    const one = full()
    const error = thrown(() => act(one))
    expect(error).toMatchObject({ name: 'SqliteError', code: 'SQLITE_FULL' })
    expect(isDiskFull(error)).toBe(true)
    expect(one.prepare('SELECT word FROM words').all()).toEqual([{ word: 'a' }])
    one.close()
  })

  it('gives bytes as a Buffer, whether of a column or worked out, and leaves nothing else changed', () => {
    const one = new Sqlite(file())
    one.exec('CREATE TABLE bytes (id INTEGER PRIMARY KEY, bytes BLOB, more BLOB)')
    one.prepare('INSERT INTO bytes VALUES (1, ?, NULL)').run([Buffer.from([1, 2, 255])])
    const read = one.prepare(`SELECT bytes, more, bytes || '' AS text, substr(bytes, 2) AS part FROM bytes`)
    const [row] = read.all() as [{ bytes: Buffer; part: Buffer }]
    expect(Buffer.isBuffer(row.bytes)).toBe(true)
    expect(row).toMatchObject({ bytes: Buffer.from([1, 2, 255]), more: null, part: Buffer.from([2, 255]) })
    expect([...read.iterate()]).toEqual([row])
    one.close()
  })

  it('can be asked to do at once or not at all what it waits for as a rule', () => {
    const one = full()
    const other = new Sqlite(file())
    other.exec('BEGIN IMMEDIATE')
    const write = () => one.prepare(`UPDATE words SET word = 'b'`).run()
    expect(thrown(() => one.withoutWaiting(write))).toMatchObject({ code: 'SQLITE_BUSY' })
    expect(one.pragma('busy_timeout')).toEqual([{ timeout: 10_000 }])
    other.exec('ROLLBACK')
    one.withoutWaiting(write)
    expect(other.prepare('SELECT word FROM words').all()).toEqual([{ word: 'b' }])
    other.close()
    one.close()
  })

  it('is not made where one must be', () => {
    expect(thrown(() => new Sqlite(file(), { readonly: true }))).toMatchObject({ code: 'SQLITE_CANTOPEN' })
    expect(fs.existsSync(file())).toBe(false)
  })

  it.each([
    ['what is no database', () => fs.writeFileSync(file(), Buffer.alloc(20_000, 7)), 'SQLITE_NOTADB'],
    [
      'a row that is there already',
      () => {
        const one = new Sqlite(file())
        one.exec('CREATE TABLE words (word TEXT UNIQUE)')
        one.prepare(`INSERT INTO words VALUES ('a')`).run()
        one.close()
      },
      'SQLITE_CONSTRAINT',
    ],
  ])('names the result for %s', (_, make, code) => {
    make()
    const one = new Sqlite(file())
    const error = thrown(() => one.prepare(`INSERT INTO words VALUES ('a')`).run())
    expect(error).toBeInstanceOf(SqliteError)
    expect(error).toMatchObject({ code })
    one.close()
  })

  it('is copied while it is written to, as it was at one moment', async () => {
    const one = new Sqlite(file())
    one.pragma('journal_mode = WAL')
    one.exec('CREATE TABLE pairs (a TEXT, b TEXT)')
    const insert = one.prepare('INSERT INTO pairs VALUES (?, ?)')
    for (let i = 0; i < 500; i++) insert.run([`${i}`.repeat(500), `${i}`])
    let isDone = false
    const copied = one.copyTo(path.join(dir, 'two.sqlite'), 5).finally(() => {
      isDone = true
    })
    for (let i = 500; !isDone; i++) {
      insert.run([`${i}`, `${i}`])
      await new Promise((resolve) => setTimeout(resolve, 1))
    }
    await copied
    const two = new Sqlite(path.join(dir, 'two.sqlite'), { readonly: true })
    expect(two.pragma('integrity_check')).toEqual([{ integrity_check: 'ok' }])
    const [{ count }] = two.prepare('SELECT count(*) AS count FROM pairs').all() as [{ count: number }]
    expect(count).toBeGreaterThanOrEqual(500)
    two.close()
    one.close()
  })
})

describe('a transaction that SQLite ends by itself, as where the disk is full', () => {
  it('fails with what ended it, not with there being nothing to end, and the next one can begin', async () => {
    const db = await openDatabase(dir)
    const add = (key: string, alsoKey: string) =>
      db.transaction().execute(async (tx) => {
        await tx.insertInto('settings').values({ key, value: '' }).execute()
        await sql`INSERT OR ROLLBACK INTO settings (key, value) VALUES (${alsoKey}, '')`.execute(tx)
      })
    await expect(add('one', 'one')).rejects.toMatchObject({ code: 'SQLITE_CONSTRAINT' })
    await add('two', 'three')
    expect(await db.selectFrom('settings').select('key').where('key', 'in', ['one', 'two', 'three']).execute()).toEqual(
      expect.arrayContaining([{ key: 'two' }, { key: 'three' }]),
    )
    expect(await db.selectFrom('settings').select('key').where('key', '=', 'one').execute()).toEqual([])
    await db.destroy()
  })
})
