import fs from 'node:fs'
import path from 'node:path'
import { openToRead } from '../../src/server/database/open'
import { examineFolder } from '../../src/server/doctor/examine'
import { hashFile } from '../../src/server/files/hash-file'
import { FileStore } from '../../src/server/files/store'
import type { Acknowledged } from './activity'

/** What has to hold of a data folder whatever happened to its server. @returns What does not, in sentences. */
export async function broken(
  dataDir: string,
  done: Acknowledged,
  { orderCount }: { readonly orderCount: number },
): Promise<string[]> {
  const db = openToRead(dataDir)
  const store = new FileStore(dataDir)
  try {
    const { damages } = await examineFolder({ db, store, hashOf: hashFile, nowMs: Date.now() })
    const out = damages.filter(({ kind }) => kind !== 'unused').map(({ sentence }) => sentence)
    const evidence = new Set((await db.selectFrom('evidence').select('sha256').execute()).map(({ sha256 }) => sha256))
    for (const sha256 of done.evidence)
      if (!evidence.has(sha256)) out.push(`Evidence ${sha256.slice(0, 12)} was acknowledged and is not on file.`)
    const exports = new Set((await db.selectFrom('exports').select('id').execute()).map(({ id }) => id))
    for (const id of done.exports) if (!exports.has(id)) out.push(`The file ${id} was acknowledged and is not there.`)
    const videos = new Set((await db.selectFrom('videos').select('id').execute()).map(({ id }) => id))
    for (const id of done.videos) if (!videos.has(id)) out.push(`The video ${id} was acknowledged and is not there.`)
    const cuts = new Set((await db.selectFrom('cuts').select('id').execute()).map(({ id }) => id))
    for (const id of done.cuts) if (!cuts.has(id)) out.push(`The cut ${id} was acknowledged and is not there.`)
    const noted = new Set(
      (await db.selectFrom('moment_documents').select(['video_id', 'document_json']).execute()).flatMap((row) =>
        (JSON.parse(row.document_json) as { moments: { id: string }[] }).moments.map(
          ({ id }) => `${row.video_id} ${id}`,
        ),
      ),
    )
    for (const key of done.moments) if (!noted.has(key)) out.push(`The moment ${key} was saved and is not there.`)
    const orders = await db.selectFrom('orders').selectAll().execute()
    const placed = orders.filter(({ state }) => state !== 'open').length
    const onFile = new Set(orders.map(({ sound_id, tier, video_id }) => `${sound_id} ${tier} ${video_id}`))
    for (const order of done.paid)
      if (!onFile.has(order)) out.push(`The order ${order} was acknowledged and is not on file.`)
    if (orderCount > placed) out.push(`The shop took ${orderCount} orders, ${placed} are known.`)
    const seen = new Set<string>()
    for (const { sound_id, tier, video_id } of orders) {
      const key = `${sound_id} ${tier} ${video_id}`
      if (seen.has(key)) out.push(`Sound ${sound_id} was ordered twice in the tier ${tier} for one video.`)
      seen.add(key)
    }
    const doubled = await db
      .selectFrom('grants')
      .select(['sound_id', 'order_ref'])
      .groupBy(['sound_id', 'order_ref'])
      .having((eb) => eb.fn.countAll<number>(), '>', 1)
      .execute()
    if (doubled.length > 0) out.push(`${doubled.length} papers are there twice.`)
    const incoming = fs.readdirSync(path.join(dataDir, 'incoming'))
    if (incoming.length > 0) out.push(`${incoming.length} half files are left in “incoming”.`)
    return out
  } finally {
    await db.destroy()
  }
}
