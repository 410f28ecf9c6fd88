import type { SoundDetail } from '../../contract'
import type { Uses } from '../../core/rights'
import { notFound } from '../problem-error'
import type { Services } from '../services'
import { papersOf } from './papers-of'
import { summaries } from './search-sounds'
import { weighed } from './weigh'

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
    .select([
      'terms.spdx_id',
      'terms.url',
      'terms.duration',
      'terms.clauses_json',
      'terms.sha256',
      'terms.id as terms_id',
    ])
    .where('sounds.id', '=', id)
    .executeTakeFirstOrThrow()
  const filed = (await papersOf(db, [id])).get(id) ?? []
  const decision = uses ? weighed(uses, filed, row) : null
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
    terms: { id: row.terms_id, title: row.title, version: row.version, url: row.url, sha256: row.sha256 },
    reasons: decision ? [...decision.reasons] : [],
    papers: filed.map((one) => ({
      grantId: one.grantId,
      acquiredAt: one.acquiredAt,
      licensee: one.licensee,
      grantTitle: one.papers.grantTitle,
      planFrom: one.papers.planFrom,
      planUntil: one.papers.planUntil,
      termsId: one.termsId,
      termsTitle: one.papers.terms.title,
      termsVersion: one.papers.terms.version,
      termsSha256: one.termsSha256,
      creditLine: one.creditLine,
    })),
    copy: copy ? { sha256: copy.sha256, fileName: copy.file_name, sizeBytes: copy.size_bytes } : null,
  }
}
