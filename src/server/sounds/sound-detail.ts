import type { SoundDetail } from '../../contract'
import { decide, decidedByTerms, type Uses } from '../../core/rights'
import { notFound } from '../problem-error'
import type { Services } from '../services'
import { termsOfRow } from '../sources/terms-store'
import { papersOf } from './papers-of'
import { summaries } from './search-sounds'

/** Everything the side panel shows of a sound. @throws {ProblemError} not-found. */
export async function soundDetail(services: Services, id: number, uses: Uses | null): Promise<SoundDetail> {
  const { db } = services
  const [summary] = await summaries(services, [id], uses)
  if (!summary) throw notFound('This sound')
  const row = await db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .innerJoin('terms', 'terms.id', 'sounds.terms_id')
    .select(['sounds.description', 'sounds.tags_json', 'sounds.page_url', 'sounds.formats_json', 'sources.plan'])
    .select(['sources.plan_from', 'sources.plan_until', 'terms.title', 'terms.short_title', 'terms.version'])
    .select(['terms.spdx_id', 'terms.url', 'terms.duration', 'terms.clauses_json', 'terms.sha256'])
    .where('sounds.id', '=', id)
    .executeTakeFirstOrThrow()
  const filed = (await papersOf(db, [id])).get(id) ?? []
  const decision = uses
    ? filed.length > 0
      ? decide({ uses, papers: filed.map((one) => one.papers) })
      : decidedByTerms(uses, {
          terms: termsOfRow(row),
          grantTitle: row.plan,
          planFrom: row.plan_from,
          planUntil: row.plan_until,
        })
    : null
  const sha256 = filed[0]?.copySha256
  const copy = sha256
    ? await db.selectFrom('copies').selectAll().where('sha256', '=', sha256).executeTakeFirstOrThrow()
    : null
  return {
    ...summary,
    description: row.description,
    tags: JSON.parse(row.tags_json) as string[],
    pageUrl: row.page_url,
    formats: JSON.parse(row.formats_json) as string[],
    terms: { title: row.title, version: row.version, url: row.url, sha256: row.sha256 },
    reasons: decision ? [...decision.reasons] : [],
    papers: filed.map((one) => ({
      grantId: one.grantId,
      acquiredAt: one.acquiredAt,
      licensee: one.licensee,
      grantTitle: one.papers.grantTitle,
      planFrom: one.papers.planFrom,
      planUntil: one.papers.planUntil,
      termsTitle: one.papers.terms.title,
      termsVersion: one.papers.terms.version,
      termsSha256: one.termsSha256,
      creditLine: one.creditLine,
    })),
    copy: copy ? { sha256: copy.sha256, fileName: copy.file_name, sizeBytes: copy.size_bytes } : null,
  }
}
