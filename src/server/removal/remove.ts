import type { App } from '../context'
import { nowIso } from '../database/open'
import { notFound } from '../domain-error'

/** What can be removed, by the table that it stands in. */
export const REMOVABLE = ['videos', 'exports', 'checks'] as const
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
  if (!row) throw notFound({ videos: 'This video', exports: 'This file', checks: 'This check' }[what])
  if (!removed) return
  // What is removed is not worked on any more.
  const column = { videos: 'video_id', exports: 'export_id', checks: 'id' } as const
  const open = await db
    .selectFrom('checks')
    .select('id')
    .where(column[what], '=', id)
    .where('state', 'in', ['waiting', 'running'])
    .execute()
  for (const check of open) await jobs.cancelFor(['check'], String(check.id))
}
