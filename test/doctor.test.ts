import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { describe, expect, it } from 'vitest'
import { writeWav } from '../src/core/formats/wav'
import { backUp } from '../src/server/backup/backup'
import { saveBackupPlan } from '../src/server/backup/plan'
import { todayIso } from '../src/server/database/open'
import { loadDesk } from '../src/server/desk/desk'
import { findDoctorReport, repairFound } from '../src/server/doctor/doctor-job'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { addFolder } from '../src/server/folders/folders'
import { verifyLedger } from '../src/server/ledger/ledger'
import { replayLedger } from '../src/server/ledger/replay'
import { loadBasket, payBasket, putIntoBasket } from '../src/server/orders/basket'
import { fetchCopyAgain } from '../src/server/orders/fetch-again'
import { attachEvidence } from '../src/server/papers/evidence'
import { runDue } from '../src/server/schedule'
import { download, mirrorAll, soundId, soundSamples, temporaryDir, worldForEach } from './world'

const world = worldForEach('doctor', (first) => mirrorAll(first, ['tin-barn', 'pell-marrow']))
const DAY_MS = 24 * 3600 * 1000
const signal = new AbortController().signal

async function examined() {
  await world().app.jobs.enqueue('doctor', 'all', 'Examining')
  await world().app.jobs.idle()
  const report = await findDoctorReport(world().app.db)
  if (!report) throw new Error('no report')
  return report
}

async function copyOf(title: string): Promise<{ copySha256: string; servedSha256: string; grantId: number }> {
  const id = await soundId(world().app, title)
  const grant = await world()
    .app.db.selectFrom('grants')
    .select(['id', 'copy_sha256', 'served_sha256'])
    .where('sound_id', '=', id)
    .orderBy('id', 'desc')
    .executeTakeFirstOrThrow()
  return { copySha256: grant.copy_sha256, servedSha256: grant.served_sha256 ?? '', grantId: grant.id }
}

const blob = (sha256: string): string => world().app.store.blobPath(sha256)

async function buy(title: string): Promise<void> {
  await putIntoBasket(world().app.db, { soundId: await soundId(world().app, title), tier: 'web', videoId: null })
  await payBasket(world().app, (await loadBasket(world().app, todayIso())).lines, todayIso())
  await world().app.jobs.idle()
}

describe('an examination', () => {
  it('finds a folder whole that is whole, and says so', async () => {
    await download(world().app, 'Ice crack')
    const { damages, fileCount, bytes } = await examined()
    expect(damages).toEqual([])
    expect(fileCount).toBeGreaterThan(3)
    expect(bytes).toBeGreaterThan(10_000)
    expect((await loadDesk(world().app, todayIso())).notices.filter(({ title }) => /damaged/.test(title))).toEqual([])
  })

  it('names one changed byte, a missing file and missing features, each with what repairs it', {
    tags: 'long',
  }, async () => {
    await download(world().app, 'Ice crack')
    await buy('Crate lands')
    const ice = await copyOf('Ice crack')
    const bytes = fs.readFileSync(blob(ice.copySha256))
    bytes[bytes.length >> 1] = (bytes[bytes.length >> 1] ?? 0) ^ 1
    fs.writeFileSync(blob(ice.copySha256), bytes)
    const { sha256: receipt } = await world().app.db.selectFrom('evidence').select('sha256').executeTakeFirstOrThrow()
    fs.rmSync(blob(receipt))
    fs.rmSync(world().app.store.featurePath(ice.servedSha256))
    const { damages } = await examined()
    expect(damages.map(({ kind, repair }) => [kind, repair]).sort()).toEqual([
      ['changed', 'fetch again'],
      ['features', 'make again'],
      ['missing', 'restore'],
    ])
    expect(damages.find(({ kind }) => kind === 'changed')?.sentence).toContain('The copy of “Ice crack” is damaged')
    expect(damages.find(({ kind }) => kind === 'missing')?.sentence).toMatch(/^The evidence “receipt PM-.*” is gone\.$/)
    const { notices } = await loadDesk(world().app, todayIso())
    expect(notices.some(({ title, urgent }) => urgent && title === '3 things are damaged or missing')).toBe(true)
  })

  it('names a ledger that was changed, and rows that name nothing', async () => {
    await download(world().app, 'Ice crack')
    await world().app.db.updateTable('grants').set({ plan_until: '2999-01-01' }).execute()
    expect((await examined()).damages).toContainEqual(expect.objectContaining({ kind: 'ledger', repair: 'restore' }))
  })

  it('tells of a file that nothing uses only after a week, and then it is gone', async () => {
    const stray = blob('ab'.repeat(32))
    fs.mkdirSync(path.dirname(stray), { recursive: true })
    fs.writeFileSync(stray, 'stray')
    expect((await examined()).damages.map(({ kind }) => kind)).toEqual(['changed'])
    const old = new Date(Date.now() - 8 * DAY_MS)
    fs.utimesSync(stray, old, old)
    expect((await examined()).damages).toEqual([])
    expect(fs.existsSync(stray)).toBe(false)
  })

  it('comes by itself once a week', async () => {
    await examined()
    await runDue(world().app, Date.now() + 6 * DAY_MS)
    expect((await world().app.jobs.list()).filter(({ kind }) => kind === 'doctor')).toHaveLength(1)
    await runDue(world().app, Date.now() + 8 * DAY_MS)
    expect((await world().app.jobs.list()).filter(({ kind }) => kind === 'doctor')).toHaveLength(2)
    await world().app.jobs.idle()
  })
})

describe('a repair', () => {
  it('brings back a lost copy as that copy, with the papers that are there, and sets a damaged one aside', {
    tags: 'long',
  }, async () => {
    await download(world().app, 'Ice crack')
    const before = await copyOf('Ice crack')
    fs.writeFileSync(blob(before.copySha256), 'damaged')
    await examined()
    // The tags of another day would make another file of it.
    await world()
      .app.db.updateTable('grants')
      .set({ acquired_at: '2020-02-03T10:00:00.000Z' })
      .execute()
      .catch(() => undefined)
    expect(await repairFound(world().app)).toMatchObject({ underWay: 1, left: [] })
    await world().app.jobs.idle()
    expect(await copyOf('Ice crack')).toEqual(before)
    expect(world().app.store.has(before.copySha256)).toBe(true)
    expect(fs.readdirSync(path.join(world().app.store.dataDir, 'damaged'))).toHaveLength(1)
    expect((await examined()).damages.filter(({ kind }) => kind !== 'ledger')).toEqual([])
  })

  it('fetches what was bought by its order, and pays nothing', async () => {
    await buy('Crate lands')
    const before = await copyOf('Crate lands')
    const orders = world().standins['pell-marrow'].orderCount()
    fs.rmSync(blob(before.copySha256))
    await fetchCopyAgain(world().app, await soundId(world().app, 'Crate lands'))
    await world().app.jobs.idle()
    expect(await copyOf('Crate lands')).toEqual(before)
    expect(world().app.store.has(before.copySha256)).toBe(true)
    expect(world().standins['pell-marrow'].orderCount()).toBe(orders)
    const paid = await world().app.db.selectFrom('ledger').select('number').where('kind', '=', 'paid').execute()
    expect(paid).toHaveLength(1)
    await expect(fetchCopyAgain(world().app, await soundId(world().app, 'Crate lands'))).rejects.toMatchObject({
      code: 'nothing-to-do',
    })
  })

  it('is no success when the library gives another file: the old papers stay as they are, and new ones are written', async () => {
    await download(world().app, 'Ice crack')
    const before = await copyOf('Ice crack')
    fs.rmSync(blob(before.copySha256))
    await world()
      .app.db.updateTable('grants')
      .set({ served_sha256: 'ab'.repeat(32) })
      .execute()
    await world().app.jobs.enqueue('download', String(await soundId(world().app, 'Ice crack')), 'Ice crack')
    await world().app.jobs.idle()
    const grants = await world()
      .app.db.selectFrom('grants')
      .select(['copy_sha256', 'order_ref'])
      .orderBy('id')
      .execute()
    expect(grants).toHaveLength(2)
    expect(grants[0]?.copy_sha256).toBe(before.copySha256)
    expect(grants[1]?.order_ref).toMatch(/ \([0-9a-f]{8}\)$/)
    expect(world().app.store.has(grants[1]?.copy_sha256 ?? '')).toBe(true)
    expect(await verifyLedger(world().app.db)).toMatchObject({ broken: null })
  })

  it('takes evidence back from a backup, and says what it cannot repair', async () => {
    await buy('Crate lands')
    const { sha256 } = await world().app.db.selectFrom('evidence').select('sha256').executeTakeFirstOrThrow()
    fs.rmSync(blob(sha256))
    await examined()
    expect((await repairFound(world().app)).left.map(({ repair }) => repair)).toEqual(['restore'])
    await world().app.jobs.idle()
    // The receipt is fetched from the shop again, as a copy of the file in the backup would be.
    const folder = temporaryDir('doctor-backup')
    await saveBackupPlan(world().app.db, { folder, keepCount: 3, everyDays: null })
    fs.mkdirSync(path.join(folder, 'blobs', sha256.slice(0, 2)), { recursive: true })
    fs.writeFileSync(path.join(folder, 'blobs', sha256.slice(0, 2), sha256), 'not what its name says')
    await examined()
    expect((await repairFound(world().app)).restored).toBe(0)
    await world().app.jobs.idle()
    fs.rmSync(folder, { recursive: true })
  })

  it('restores from a backup what is whole there', async () => {
    await buy('Crate lands')
    const folder = temporaryDir('doctor-backup-whole')
    await backUp({ dataDir: world().app.store.dataDir, folder, keepCount: null })
    await saveBackupPlan(world().app.db, { folder, keepCount: 3, everyDays: null })
    const { sha256 } = await world().app.db.selectFrom('evidence').select('sha256').executeTakeFirstOrThrow()
    fs.rmSync(blob(sha256))
    await examined()
    expect(await repairFound(world().app)).toMatchObject({ restored: 1, left: [] })
    await world().app.jobs.idle()
    expect((await examined()).damages).toEqual([])
    expect(await replayLedger(world().app)).toEqual([])
    fs.rmSync(folder, { recursive: true })
  })

  it('reads a file of an own folder again where it still lies there', { tags: 'long' }, async () => {
    const folder = temporaryDir('doctor-folder')
    fs.writeFileSync(path.join(folder, 'gate.wav'), writeWav({ sampleRateHz: 48000, channels: [soundSamples('o1')] }))
    await addFolder(world().app, { path: folder, name: 'Own', defaultTerms: { kind: 'own' } })
    await world().app.jobs.idle()
    const { sha256 } = await world().app.db.selectFrom('folder_files').select('sha256').executeTakeFirstOrThrow()
    fs.rmSync(blob(sha256))
    expect((await examined()).damages).toMatchObject([{ kind: 'missing', repair: 'read again' }])
    await repairFound(world().app)
    await world().app.jobs.idle()
    expect((await examined()).damages).toEqual([])
    fs.rmSync(path.join(folder, 'gate.wav'))
    fs.rmSync(blob(sha256))
    await examined()
    expect((await repairFound(world().app)).left).toHaveLength(1)
    await world().app.jobs.idle()
    fs.rmSync(folder, { recursive: true })
  })
})

describe('what was refused', () => {
  const blobCount = (): number =>
    fs
      .readdirSync(path.join(world().app.store.dataDir, 'blobs'), { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile()).length

  it.each([
    ['evidence that is none', 'x.pdf', 'no evidence at all', 'not-evidence'],
    ['empty evidence', 'x.pdf', '', 'empty-file'],
  ])('%s is not kept', async (_, name, text, code) => {
    await download(world().app, 'Ice crack')
    const { grantId } = await copyOf('Ice crack')
    const before = blobCount()
    const attaching = attachEvidence(world().app, grantId, { name, body: Readable.from([Buffer.from(text)]), signal })
    await expect(attaching).rejects.toMatchObject({ code })
    expect(blobCount()).toBe(before)
    expect(fs.readdirSync(path.join(world().app.store.dataDir, 'incoming'))).toEqual([])
  })

  it('a file from elsewhere that is no sound is not kept', async () => {
    const before = blobCount()
    const body = Readable.from([Buffer.from('no sound at all')])
    const taking = takeInFromElsewhere(world().app, { name: 'x.wav', body, range: null, signal })
    await expect(taking).rejects.toMatchObject({ name: 'MediaError' })
    expect(blobCount()).toBe(before)
    expect(await world().app.db.selectFrom('copies').select('sha256').execute()).toEqual([])
  })
})
