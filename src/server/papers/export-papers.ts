import { stringify } from 'csv-stringify/sync'
import type { PapersRow } from '../../contract'
import { stateInWords } from '../../core/clearance'
import { ODRL_CONTEXT, ODRL_PROFILE, type OdrlPolicy, odrlOfTerms } from '../../core/formats/odrl'
import { CLAUSE_WORDS, USE_PLACE_WORDS, USE_PLACES } from '../../core/rights'
import { loadPapers } from '../clearance/papers-of'
import { listVideosWithStates } from '../clearance/video-states'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { termsOfRow } from '../terms/terms-store'
import { listPapers } from './papers-list'

export const EXPORT_FORMATS = ['csv', 'json', 'odrl'] as const
export type ExportFormat = (typeof EXPORT_FORMATS)[number]

/** A file that is handed out. */
export interface ExportedFile {
  readonly mime: string
  readonly fileName: string
  readonly text: string
}

/** All papers in an open format. */
export async function exportPapers(
  services: Pick<Services, 'db'>,
  format: ExportFormat,
  today: string,
): Promise<ExportedFile> {
  const rows = await listPapers(services, today)
  const fileName = `papers ${today}`
  if (format === 'csv') return { mime: 'text/csv; charset=utf-8', fileName: `${fileName}.csv`, text: csvOf(rows) }
  if (format === 'json') {
    const videos = await listVideosWithStates(services.db, today)
    const document = {
      format: 'good-thud-papers',
      version: 1,
      asOf: today,
      papers: rows,
      videos: videos.map((one) => ({ ...one, stateInWords: stateInWords(one.state) })),
    }
    const text = JSON.stringify(document, null, 2)
    return { mime: 'application/json', fileName: `${fileName}.json`, text }
  }
  const text = JSON.stringify(await loadAgreements(services, rows, today), null, 2)
  return { mime: 'application/ld+json', fileName: `${fileName}.odrl.jsonld`, text }
}

/** A row a copy. Cells that a table program could take for a formula are made plain text. */
export function csvOf(rows: readonly PapersRow[]): string {
  const uses = [...USE_PLACES.map((place) => USE_PLACE_WORDS[place]), CLAUSE_WORDS.earning]
  const lines = rows.map((row) => [
    row.title,
    row.maker,
    row.sourceName,
    row.grantTitle || 'no papers',
    row.termsTitle,
    row.termsVersion,
    row.acquiredAt ?? '',
    row.expiresOn ?? '',
    row.paid ?? '',
    row.creditLine ?? '',
    row.declared ? `${row.declared.by}, ${row.declared.on}` : '',
    row.evidence.map(({ fileName }) => fileName).join('; '),
    row.videoTitles.join('; '),
    ...row.marks,
  ])
  const head = [
    'Title',
    'Maker',
    'Source',
    'Papers',
    'Terms',
    'Version',
    'Acquired',
    'Expires',
    'Paid',
    'Credit',
    'On the word of',
    'Evidence',
    'Videos',
  ]
  return stringify([[...head, ...uses], ...lines], { escape_formulas: true, bom: true, record_delimiter: '\r\n' })
}

/** One policy as ODRL. @throws {DomainError} not-found. */
export async function exportTerms({ db }: Pick<Services, 'db'>, id: number): Promise<ExportedFile> {
  const row = await db.selectFrom('terms').selectAll().where('id', '=', id).executeTakeFirst()
  if (!row) throw notFound('This version of the terms')
  const policy = odrlOfTerms(termsOfRow(row), { uid: termsUid(row.sha256), text: row.text })
  return { mime: 'application/ld+json', fileName: `terms ${id}.odrl.jsonld`, text: JSON.stringify(policy, null, 2) }
}

function termsUid(sha256: string): string {
  return `urn:good-thud:terms:${sha256}`
}

/** An agreement for each grant, with what was decided for each use on the day. */
async function loadAgreements({ db }: Pick<Services, 'db'>, rows: readonly PapersRow[], today: string) {
  const filed = await loadPapers(db, [...new Set(rows.map(({ soundId }) => soundId))])
  const policies = rows.flatMap((row): OdrlPolicy[] => {
    const one = filed.get(row.soundId)?.find(({ grantId }) => grantId === row.grantId)
    if (!one) return []
    const target = `urn:sha256:${one.copySha256}`
    const policy = odrlOfTerms(one.papers.terms, { uid: `urn:good-thud:grant:${one.grantId}` })
    const aimed = (rules: OdrlPolicy['permission']) => rules.map((rule) => ({ ...rule, target }))
    return [
      {
        ...policy,
        '@type': 'Agreement',
        assigner: row.sourceName,
        assignee: one.licensee,
        permission: aimed(policy.permission),
        prohibition: aimed(policy.prohibition),
        obligation: aimed(policy.obligation),
        ...decisionsOf(row, today),
      },
    ]
  })
  return { '@context': ODRL_CONTEXT, profile: ODRL_PROFILE, '@graph': policies }
}

/** What the papers come to for each use, under our own prefix. */
function decisionsOf({ marks, termsTitle, acquiredAt, declared }: PapersRow, today: string): object {
  const keys = [...USE_PLACES, 'earning']
  return {
    ...(declared ? { 'gt:onTheWordOf': declared.by, 'gt:declaredOn': declared.on } : {}),
    'gt:terms': termsTitle,
    'gt:acquiredAt': acquiredAt,
    'gt:decisions': keys.map((use, index) => ({ 'gt:use': use, 'gt:asOf': today, 'gt:verdict': marks[index] })),
  }
}
