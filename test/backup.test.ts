import { execFileSync, fork } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { main } from '../src/cli/thud'
import { backUp, listSnapshots, readManifest, snapshotFolder } from '../src/server/backup/backup'
import { saveBackupPlan } from '../src/server/backup/plan'
import { restore } from '../src/server/backup/restore'
import { lockFolder } from '../src/server/database/folder-lock'
import { openDatabase } from '../src/server/database/open'
import { Sqlite } from '../src/server/database/sqlite'
import { verifyLedger } from '../src/server/ledger/ledger'
import { runDue } from '../src/server/schedule'
import { download, mirrorAll, temporaryDir, worldForEach } from './world'

const world = worldForEach('backup', (first) => mirrorAll(first, ['tin-barn']))
const DAY_MS = 24 * 3600 * 1000
const top = temporaryDir('backups')
afterAll(() => fs.rmSync(top, { recursive: true, force: true }))
let count = 0
const fresh = (): string => path.join(top, String(count++))
const dataDir = (): string => world().app.store.dataDir

function filesIn(folder: string): string[] {
  return fs
    .readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => entry.name)
    .sort()
}

describe('a backup', () => {
  it('made while the application works is restored whole, in another folder', { tags: 'long' }, async () => {
    await download(world().app, 'Ice crack')
    const folder = fresh()
    const busy = world().app.jobs.enqueue('mirror', 'tin-barn', 'Sync')
    const summary = await backUp({ dataDir: dataDir(), folder, keepCount: null })
    await busy
    await world().app.jobs.idle()
    expect(summary.newBytes).toBe(summary.bytes)
    const target = fresh()
    const manifest = await restore({ folder, dataDir: target })
    expect(manifest.missing).toEqual([])
    const db = await openDatabase(target)
    expect(await verifyLedger(db)).toMatchObject({ broken: null, entries: manifest.ledgerHead.number })
    expect((await db.selectFrom('grants').select('id').execute()).length).toBe(1)
    await db.destroy()
    expect(filesIn(path.join(target, 'blobs'))).toEqual(filesIn(path.join(dataDir(), 'blobs')))
  })

  it('copies nothing twice, keeps as many as are asked for, and drops files that none of them names', async () => {
    const folder = fresh()
    await backUp({ dataDir: dataDir(), folder, keepCount: 2 })
    const first = (await listSnapshots(folder))[0] ?? ''
    await download(world().app, 'Ice crack')
    const second = await backUp({ dataDir: dataDir(), folder, keepCount: 2 })
    expect(second.newBytes).toBeLessThan(second.bytes)
    const stray = path.join(folder, 'blobs', 'ab', 'ab'.repeat(32))
    fs.mkdirSync(path.dirname(stray), { recursive: true })
    fs.writeFileSync(stray, 'of an older one')
    await backUp({ dataDir: dataDir(), folder, keepCount: 2 })
    const left = await listSnapshots(folder)
    expect(left).toHaveLength(2)
    expect(left).not.toContain(first)
    expect(fs.existsSync(stray)).toBe(false)
  })

  it('that is broken off leaves no half of itself', async () => {
    const folder = fresh()
    const controller = new AbortController()
    const making = backUp({
      dataDir: dataDir(),
      folder,
      keepCount: null,
      signal: controller.signal,
      report: () => controller.abort(),
    })
    await expect(making).rejects.toMatchObject({ name: 'AbortError' })
    expect(fs.readdirSync(path.join(folder, 'snapshots'))).toEqual([])
    await expect(restore({ folder, dataDir: fresh() })).rejects.toMatchObject({ code: 'not-a-backup' })
  })

  it('is not made inside the data, and names what was missing or damaged when it was made', async () => {
    await expect(
      backUp({ dataDir: dataDir(), folder: path.join(dataDir(), 'in'), keepCount: null }),
    ).rejects.toMatchObject({
      code: 'inside',
    })
    await download(world().app, 'Ice crack')
    const { copy_sha256 } = await world().app.db.selectFrom('grants').select('copy_sha256').executeTakeFirstOrThrow()
    fs.writeFileSync(world().app.store.blobPath(copy_sha256), 'damaged')
    const folder = fresh()
    await backUp({ dataDir: dataDir(), folder, keepCount: null })
    const [name = ''] = await listSnapshots(folder)
    expect((await readManifest(snapshotFolder(folder, name))).missing).toEqual([copy_sha256])
  })

  it.each([
    [
      'a byte of its database',
      (folder: string, name: string) => flip(path.join(snapshotFolder(folder, name), 'good-thud.sqlite')),
    ],
    ['a byte of a file', (folder: string) => flip(anyBlob(folder))],
    ['a file that is gone', (folder: string) => fs.rmSync(anyBlob(folder))],
  ])('with %s is not restored, and nothing is left behind', async (_, damage) => {
    const folder = fresh()
    await backUp({ dataDir: dataDir(), folder, keepCount: null })
    const [name = ''] = await listSnapshots(folder)
    damage(folder, name)
    const target = fresh()
    await expect(restore({ folder, dataDir: target })).rejects.toMatchObject({ code: 'damaged' })
    expect([target, `${target}.restoring`].map((one) => fs.existsSync(one))).toEqual([false, false])
  })

  it('is not laid over data that are there', async () => {
    const folder = fresh()
    await backUp({ dataDir: dataDir(), folder, keepCount: null })
    await expect(restore({ folder, dataDir: dataDir() })).rejects.toMatchObject({ code: 'not-empty' })
  })

  it('comes by itself as often as was said, once a day at most', async () => {
    const folder = fresh()
    const made = async () => (await world().app.jobs.list()).filter(({ kind }) => kind === 'backup').length
    await runDue(world().app, Date.now())
    expect(await made()).toBe(0)
    await saveBackupPlan(world().app.db, { folder, keepCount: 3, everyDays: 1 })
    await runDue(world().app, Date.now())
    await world().app.jobs.idle()
    await runDue(world().app, Date.now())
    expect(await made()).toBe(1)
    expect(await listSnapshots(folder)).toHaveLength(1)
    await runDue(world().app, Date.now() + 1.1 * DAY_MS)
    await world().app.jobs.idle()
    expect(await made()).toBe(2)
  })

  it('is made and brought back by the command line', async () => {
    const [folder, target] = [fresh(), fresh()]
    expect(await main(['backup', folder, '--data', dataDir()])).toBe(0)
    expect(await main(['restore', folder, '--data', target])).toBe(0)
    // What hearing needs is queued to be made again: that is no damage. Were it not queued, it would be one.
    expect(await main(['doctor', '--data', target])).toBe(0)
    const restored = new Sqlite(path.join(target, 'good-thud.sqlite'))
    restored.exec("DELETE FROM jobs WHERE kind = 'remake'")
    restored.close()
    expect(await main(['doctor', '--data', target])).toBe(1)
    expect(await main(['restore', folder, '--data', target])).toBe(1)
    expect(await main(['restore', '--data', target])).toBe(2)
    expect(await main(['backup', folder, '--keep', 'all', '--data', dataDir()])).toBe(2)
  })
})

function anyBlob(folder: string): string {
  const entry = fs
    .readdirSync(path.join(folder, 'blobs'), { recursive: true, withFileTypes: true })
    .find((one) => one.isFile())
  return path.join(entry?.parentPath ?? '', entry?.name ?? '')
}

function flip(file: string): void {
  const bytes = fs.readFileSync(file)
  bytes[bytes.length >> 1] = (bytes[bytes.length >> 1] ?? 0) ^ 1
  fs.writeFileSync(file, bytes)
}

describe('a data folder', () => {
  it('is used by one process at a time', { tags: 'long' }, async () => {
    await expect(lockFolder(dataDir())).rejects.toMatchObject({
      code: 'in-use',
      message: expect.stringContaining(`process ${process.pid}`),
    })
  })

  it('that was copied while it was in use is free, as soon as nobody renews its lock', async () => {
    const copy = fresh()
    const held = fresh()
    const unlock = await lockFolder(held)
    fs.cpSync(held, copy, { recursive: true, preserveTimestamps: true })
    await unlock()
    const old = new Date(Date.now() - 60_000)
    fs.utimesSync(path.join(copy, 'in-use.lock'), old, old)
    await (await lockFolder(copy))()
  })

  it('whose process was killed is free at once', { tags: 'long' }, async () => {
    const dir = fresh()
    fs.mkdirSync(dir, { recursive: true })
    const script = path.join(top, 'hold.mjs')
    fs.writeFileSync(
      script,
      `import lockfile from '${path.join(process.cwd(), 'node_modules/proper-lockfile/index.js')}'
       import fs from 'node:fs'
       import os from 'node:os'
       await lockfile.lock('${dir}', { lockfilePath: '${dir}/in-use.lock', realpath: false, stale: 20000, update: 5000 })
       fs.writeFileSync('${dir}/in-use.json', JSON.stringify({ pid: process.pid, host: os.hostname() }))
       process.send('held')
       setInterval(() => {}, 1000)`,
    )
    const child = fork(script)
    await new Promise((resolve) => child.once('message', resolve))
    await expect(lockFolder(dir)).rejects.toMatchObject({ code: 'in-use' })
    child.kill('SIGKILL')
    await new Promise((resolve) => child.once('exit', resolve))
    await (await lockFolder(dir))()
  })

  it('of a newer version is left as it is', async () => {
    const dir = fresh()
    await (await openDatabase(dir)).destroy()
    const raw = new Sqlite(path.join(dir, 'good-thud.sqlite'))
    raw.prepare(`INSERT INTO kysely_migration (name, timestamp) VALUES ('9999-future', '')`).run()
    raw.close()
    await expect(openDatabase(dir)).rejects.toMatchObject({
      code: 'newer',
      message: expect.stringContaining('newer Good Thud'),
    })
  })

  it.each([
    ['empty', (file: string) => fs.writeFileSync(file, '')],
    ['missing', (file: string) => fs.rmSync(file)],
  ])('with a database that is %s beside its files is no new application', async (_, harm) => {
    const dir = fresh()
    await (await openDatabase(dir)).destroy()
    fs.mkdirSync(path.join(dir, 'blobs', 'ab'), { recursive: true })
    harm(path.join(dir, 'good-thud.sqlite'))
    await expect(openDatabase(dir)).rejects.toMatchObject({ code: 'no-database' })
  })

  it('with a damaged database says so, and what to do', { tags: 'long' }, async () => {
    const dir = fresh()
    await (await openDatabase(dir)).destroy()
    for (const name of fs.readdirSync(dir))
      if (name !== 'good-thud.sqlite') fs.rmSync(path.join(dir, name), { recursive: true })
    fs.writeFileSync(path.join(dir, 'good-thud.sqlite'), Buffer.alloc(20_000, 7))
    await expect(openDatabase(dir)).rejects.toMatchObject({
      code: 'damaged',
      message: expect.stringContaining('thud restore'),
    })
    expect(await main(['videos', '--data', dir])).toBe(1)
  })

  it('keeps a copy of its database before the schema is changed', { tags: 'long' }, async () => {
    const dir = fresh()
    await (await openDatabase(dir)).destroy()
    expect(fs.existsSync(path.join(dir, 'before-update'))).toBe(false)
    const raw = new Sqlite(path.join(dir, 'good-thud.sqlite'))
    raw.prepare('DROP TABLE basket').run()
    raw.close()
    execFileSync('cp', ['-r', dir, `${dir}-old`])
    const older = new Sqlite(path.join(`${dir}-old`, 'good-thud.sqlite'))
    older.prepare(`DELETE FROM kysely_migration WHERE name LIKE '0014%'`).run()
    older.close()
    // The change fails halfway here: the copy is there all the same.
    await expect(openDatabase(`${dir}-old`)).rejects.toThrow()
    expect(fs.readdirSync(path.join(`${dir}-old`, 'before-update'))).toEqual([
      expect.stringMatching(/^\d{4}-\d\d-\d\d before 0014-money\.sqlite$/),
    ])
  })
})
