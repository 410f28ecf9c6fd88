import { CarriedWire } from '../../contract'
import { applied, type CarriedMoment, carriedOver, cutLengthS } from '../../core/moments'
import type { CutSection } from '../../core/recut'
import { cuts as messages } from '../../messages/server/cuts'
import type { Services } from '../context'
import { findMomentsRow, writeMoments } from '../rows/moments-rows'
import { runTask } from '../workers/pool'
import type { MatchTask } from '../workers/tasks'
import { type CutRow, cutOf, getCutRow } from './cut-rows'

/**
 * Carries the moments of a video over from the cut that their times are of to another one, and notes with it what changed: to a newer one,
 * or back to the one before when the newer was removed.
 *
 * @returns What was done, in words.
 */
export async function carryOverTo(
  { db, store, pool }: Pick<Services, 'db' | 'store' | 'pool'>,
  cutId: number,
  signal: AbortSignal,
): Promise<string> {
  const cut = await getCutRow(db, cutId)
  const before = await findMomentsRow(db, cut.video_id)
  const old =
    before.cutId === null
      ? undefined
      : await db.selectFrom('cuts').selectAll().where('id', '=', before.cutId).executeTakeFirst()
  const isBack = before.cutId !== null && before.cutId > cutId
  // An older version that is read late changes nothing.
  if (before.cutId === cutId || (isBack && old?.removed_at === null)) return messages.read
  let sections: CutSection[] | null = null
  if (old?.sketch_sha256 && cut.sketch_sha256) {
    const task: MatchTask = { oldPath: store.blobPath(old.sketch_sha256), newPath: store.blobPath(cut.sketch_sha256) }
    sections = await runTask<CutSection[]>(pool, 'matchSketches', task, { signal })
  }
  return db.transaction().execute(async (trx) => {
    // Moments may have been noted while the tracks were compared.
    const now = await findMomentsRow(trx, cut.video_id)
    const nothing = { fromCutId: null, stayed: now.document.moments.length, carried: [] }
    const undone = isBack ? carriedFrom(old, cutId) : []
    if ((!sections && undone.length === 0) || now.document.moments.length === 0) {
      const note = old && !isBack && now.document.moments.length > 0 ? messages.oneTwoCutsHasNo : ''
      await writeMoments(trx, cut.video_id, { ...now, cutId })
      if (note) await writeCarried(cutId, { ...nothing, note })
      return messages.read
    }
    const result = carriedOver(now.document, sections ?? [], cutLengthS(cutOf(cut, new Map())), undone)
    const { document } = applied(now.document, result.edit)
    await writeMoments(trx, cut.video_id, { document, revision: now.revision + 1, cutId })
    if (isBack) return messages.readMomentsWentBack(result.carried.length)
    await writeCarried(cutId, {
      fromCutId: old?.id ?? null,
      note: '',
      stayed: result.stayed,
      carried: [...result.carried],
    })
    return messages.readMomentsWereCarriedOver(result.carried.length)

    async function writeCarried(id: number, carried: CarriedWire): Promise<void> {
      await trx
        .updateTable('cuts')
        .set({ carried_json: JSON.stringify(carried) })
        .where('id', '=', id)
        .execute()
    }
  })
}

/** What a cut did to the moments when they came to it from another one. */
function carriedFrom(cut: CutRow | undefined, fromCutId: number): readonly CarriedMoment[] {
  const carried = cut?.carried_json ? CarriedWire.parse(JSON.parse(cut.carried_json)) : null
  return carried?.fromCutId === fromCutId ? carried.carried : []
}
