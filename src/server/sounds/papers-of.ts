import type { Papers } from '../../core/rights'
import type { Db } from '../database/open'
import { type TermsRow, termsOfRow } from '../sources/terms-store'

/** Papers on file for a sound, with what the interface shows of them. */
export interface FiledPapers {
  readonly grantId: number
  readonly copySha256: string
  readonly acquiredAt: string
  readonly licensee: string
  readonly termsId: number
  readonly termsSha256: string
  readonly creditLine: string | null
  readonly papers: Papers
}

/** All papers of some sounds, by sound, newest first. */
export async function papersOf(db: Db, soundIds: readonly number[]): Promise<Map<number, FiledPapers[]>> {
  const bySound = new Map<number, FiledPapers[]>()
  if (soundIds.length === 0) return bySound
  const rows = await db
    .selectFrom('grants')
    .innerJoin('terms', 'terms.id', 'grants.terms_id')
    .select([
      'grants.id',
      'sound_id',
      'copy_sha256',
      'acquired_at',
      'licensee',
      'credit_line',
      'plan_from',
      'plan_until',
    ])
    .select(['grants.title as grant_title', 'terms.sha256 as terms_sha256', 'terms.title', 'short_title', 'version'])
    .select(['spdx_id', 'url', 'duration', 'clauses_json', 'grants.terms_id'])
    .where('sound_id', 'in', [...soundIds])
    .orderBy('grants.id', 'desc')
    .execute()
  for (const row of rows) {
    const filed: FiledPapers = {
      grantId: row.id,
      copySha256: row.copy_sha256,
      acquiredAt: row.acquired_at,
      licensee: row.licensee,
      termsId: row.terms_id,
      termsSha256: row.terms_sha256,
      creditLine: row.credit_line,
      papers: {
        terms: termsOfRow(row satisfies TermsRow),
        grantTitle: row.grant_title,
        planFrom: row.plan_from,
        planUntil: row.plan_until,
      },
    }
    bySound.set(row.sound_id, [...(bySound.get(row.sound_id) ?? []), filed])
  }
  return bySound
}
