import {
  ODRL_CONTEXT,
  ODRL_PROFILE,
  type OdrlPolicy,
  odrlOfTerms,
  type StatedDecision,
  type StatedTerms,
} from '../../core/formats/odrl'
import type { Json } from '../../core/ledger'
import { USE_PLACES } from '../../core/rights'
import { papers as messages } from '../../messages/server/papers'
import type { Services } from '../context'
import type { Db } from '../database/db'
import { notFound } from '../domain-error'
import type { LedgerHead } from '../ledger/ledger'
import { policyUid } from '../terms/policy-uid'
import { termsOfRow } from '../terms/terms-store'
import type { ExportedFile } from './exported-file'
import { type ListedPapers, papersInBatches } from './papers-list'

/** One version of terms as a policy for all sounds under it. @throws {DomainError} not-found. */
export async function exportTerms({ db }: Pick<Services, 'db'>, id: number): Promise<ExportedFile> {
  const stated = await findStatedTerms(db, id)
  if (!stated) throw notFound(messages.thisVersionOfTheTerms)
  return {
    mime: 'application/ld+json',
    fileName: `terms ${id}.odrl.jsonld`,
    pieces: only(JSON.stringify(policyOfTerms(stated), null, 2)),
  }
}

async function* only(text: string): AsyncGenerator<string> {
  yield text
}

async function findStatedTerms(db: Db, id: number): Promise<StatedTerms | null> {
  const row = await db.selectFrom('terms').selectAll().where('id', '=', id).executeTakeFirst()
  return row ? { ...termsOfRow(row), text: row.text } : null
}

function policyOfTerms({ text, ...terms }: StatedTerms): OdrlPolicy {
  const uid = policyUid({ ...terms, text })
  return odrlOfTerms(terms, { uid, target: `${uid}:sounds`, ...(text === null ? {} : { text }) })
}

/** A graph of all papers: an agreement for each grant, and before the first one under them the terms with their text. */
export async function* odrlOfPapers(
  db: Db,
  { today, head }: { readonly today: string; readonly head: LedgerHead },
): AsyncGenerator<string> {
  const frame = {
    '@context': ODRL_CONTEXT,
    profile: ODRL_PROFILE,
    'thud:ledgerHead': { '@type': '@json', '@value': { number: head.number, hash: head.hash } },
  } satisfies Record<string, Json>
  yield `${JSON.stringify(frame).slice(0, -1)},"@graph":[`
  const written = new Map<number, string>()
  let separator = '\n'
  for await (const batch of papersInBatches({ db }, today))
    for (const listed of batch) {
      for (const policy of await policiesOf(db, listed, { today, written })) {
        yield `${separator}${JSON.stringify(policy)}`
        separator = ',\n'
      }
    }
  yield '\n]}\n'
}

/** @param written Identifiers of the terms that stand in the graph already, by their id. */
async function policiesOf(
  db: Db,
  { row, filed }: ListedPapers,
  { today, written }: { readonly today: string; readonly written: Map<number, string> },
): Promise<OdrlPolicy[]> {
  if (!filed) return []
  const policies: OdrlPolicy[] = []
  let under = written.get(filed.termsId)
  if (under === undefined) {
    const stated = await findStatedTerms(db, filed.termsId)
    if (!stated) return []
    const policy = policyOfTerms(stated)
    under = policy.uid
    written.set(filed.termsId, under)
    policies.push(policy)
  }
  policies.push(agreementOf({ row, filed }, { today, under }))
  return policies
}

function agreementOf(
  { row, filed }: { readonly row: ListedPapers['row']; readonly filed: NonNullable<ListedPapers['filed']> },
  { today, under }: { readonly today: string; readonly under: string },
): OdrlPolicy {
  const { papers } = filed
  const decisions = [...USE_PLACES, 'earning'].map(
    (use, index): StatedDecision => ({ use, asOf: today, verdict: row.marks[index] ?? 'no-papers' }),
  )
  return odrlOfTerms(papers.terms, {
    uid: `urn:good-thud:grant:${filed.grantId}`,
    target: `urn:sha256:${filed.copySha256}`,
    agreement: {
      under,
      assigner: party('source', row.sourceName),
      assignee: party('licensee', filed.licensee),
      decisions,
      grant: {
        kind: filed.kind,
        title: papers.grantTitle,
        acquiredOn: papers.acquiredOn ?? '',
        planFrom: papers.planFrom,
        planUntil: papers.planUntil,
        boundTo: (papers.boundTo ?? []).map((id) => `urn:good-thud:video:${id}`),
        onTheWordOf: papers.declared?.by ?? null,
      },
    },
  })
}

function party(role: string, name: string) {
  const uid = `urn:good-thud:${role}:${encodeURIComponent(name)}`
  return { '@type': 'Party', uid, 'thud:name': name } as const
}
