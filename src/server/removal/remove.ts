import { removal as messages } from '../../messages/server/removal'
import type { App } from '../context'
import { followNewestCut } from '../cuts/bring-cut'
import { nowIso } from '../database/open'
import { notFound } from '../domain-error'

/** What can be removed, by the table that it stands in. */
export const REMOVABLE = ['videos', 'exports', 'checks', 'cuts'] as const
export type Removable = (typeof REMOVABLE)[number]

/**
 * Removes a video, a finished file or a check, or brings it back. It stays for a month; papers and the ledger are not touched.
 *
 * @throws {DomainError} not-found.
 */
export async function setRemoved(
  { db, jobs }: Pick<App, 'db' | 'jobs'>,
  what: Removable,
  { id, removed }: { readonly id: number; readonly removed: boolean },
): Promise<void> {
  const row = await db
    .updateTable(what)
    .set({ removed_at: removed ? nowIso() : null })
    .where('id', '=', id)
    .returning('id')
    .executeTakeFirst()
  if (!row)
    throw notFound(
      { videos: messages.thisVideo, exports: messages.thisFile, checks: messages.thisCheck, cuts: messages.thisCut }[
        what
      ],
    )
  if (what === 'cuts') {
    const cut = await db.selectFrom('cuts').select('video_id').where('id', '=', id).executeTakeFirstOrThrow()
    await followNewestCut({ db, jobs }, cut.video_id)
  }
  if (!removed) return
  // What is removed is not worked on any more.
  if (what === 'cuts' || what === 'videos') await stopCuts({ db, jobs }, what === 'cuts' ? 'id' : 'video_id', id)
  if (what === 'cuts') return
  const column = { videos: 'video_id', exports: 'export_id', checks: 'id' } as const
  const open = await db
    .selectFrom('checks')
    .select('id')
    .where(column[what], '=', id)
    .where('state', 'in', ['waiting', 'running'])
    .execute()
  for (const check of open) await jobs.cancelFor(['check'], String(check.id))
}

async function stopCuts({ db, jobs }: Pick<App, 'db' | 'jobs'>, column: 'id' | 'video_id', id: number): Promise<void> {
  const open = await db
    .selectFrom('cuts')
    .select('id')
    .where(column, '=', id)
    .where('state', 'in', ['waiting', 'running'])
    .execute()
  for (const cut of open) await jobs.cancelFor(['cut'], String(cut.id))
}
