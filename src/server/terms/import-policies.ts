import fs from 'node:fs'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { parser } from 'stream-json'
import { pick } from 'stream-json/filters/pick.js'
import { streamArray } from 'stream-json/streamers/stream-array.js'
import { GrantScopeSchema, type PoliciesTaken, StatedTermsSchema } from '../../contract'
import { type ImportedTerms, OdrlError, type StatedPolicy, termsOfOdrl } from '../../core/formats/odrl'
import { canonicalJson, type Json } from '../../core/ledger'
import { terms as messages } from '../../messages/server/terms'
import type { Services } from '../context'
import { inTransaction } from '../database/in-transaction'
import { DomainError } from '../domain-error'
import { takeWithinLimit } from '../files/within-limit'
import { sha256Of } from '../ledger/ledger'
import { ELSEWHERE_ID } from '../rows/elsewhere-source'
import { policyKey } from './policy-key'
import { policyUid } from './policy-uid'
import { storeTerms, termsOfRow } from './terms-store'

/** Longest policy that is taken in, characters of its canonical JSON. */
const MAX_POLICY = 1_000_000
const IDS_TOLD = 100
/** So many new versions of terms are taken from one file. */
const MAX_NEW = 5000

/**
 * Takes in a file of ODRL policies, one or a graph of any length, as versions of terms. They become papers of nothing until the creator has
 * confirmed their points.
 *
 * @throws {DomainError} not-odrl when nothing in it can be read, too-large.
 */
export async function importPolicies(
  services: Pick<Services, 'db' | 'store'>,
  { body, signal }: { readonly body: Readable; readonly signal: AbortSignal },
): Promise<PoliciesTaken> {
  const { store } = services
  const file = store.temporaryPath('jsonld')
  try {
    await takeWithinLimit((maxBytes) => store.writeTemporary(file, body, { maxBytes, signal }))
    const intake = new Intake(services)
    if (!(await eachInGraph(file, (document) => intake.take(document)))) {
      if (fs.statSync(file).size > MAX_POLICY) throw new DomainError('too-large', messages.thePolicyIsTooLong)
      await intake.take(parsed(await fs.promises.readFile(file, 'utf8')))
    }
    return intake.outcome()
  } finally {
    await store.removeTemporary(file)
  }
}

/** Hands on what stands in the graph of a file, one at a time. @returns Whether there is a graph with anything in it. */
async function eachInGraph(file: string, take: (document: Json) => Promise<void>): Promise<boolean> {
  let hasGraph = false
  try {
    await pipeline(
      fs.createReadStream(file),
      parser.asStream(),
      pick.asStream({ filter: '@graph' }),
      streamArray.asStream(),
      async (items: AsyncIterable<{ readonly value: Json }>) => {
        for await (const { value } of items) {
          hasGraph = true
          await take(value)
        }
      },
    )
  } catch (cause) {
    if (cause instanceof DomainError) throw cause
    throw new DomainError('not-odrl', messages.fileNoJsonLdChoose, { cause })
  }
  return hasGraph
}

function parsed(text: string): Json {
  try {
    return JSON.parse(text) as Json
  } catch (cause) {
    throw new DomainError('not-odrl', messages.fileNoJsonLdChoose, { cause })
  }
}

/** What was taken of a file so far. */
class Intake {
  private readonly termsIds: number[] = []
  private readonly problems: string[] = []
  /** Identifiers of the terms that the file holds as they are written here. */
  private readonly heldUids = new Set<string>()
  private newCount = 0
  private onFileCount = 0
  private agreementCount = 0
  private unreadCount = 0
  private onFile: Map<string, number> | null = null

  constructor(private readonly services: Pick<Services, 'db'>) {}

  async take(document: Json): Promise<void> {
    try {
      await this.takeRead(document)
    } catch (error) {
      if (!(error instanceof OdrlError)) throw error
      this.unreadCount++
      if (this.problems.length === 0) this.problems.push(error.message)
    }
  }

  /** @throws {DomainError} not-odrl, when nothing in the file could be read. */
  outcome(): PoliciesTaken {
    const { termsIds, newCount, onFileCount, agreementCount, unreadCount } = this
    const firstProblem = this.problems[0] ?? null
    if (newCount + onFileCount + agreementCount === 0)
      throw new DomainError('not-odrl', firstProblem ?? messages.thereNoPolicyInFile)
    return { termsIds: termsIds.slice(0, IDS_TOLD), newCount, onFileCount, agreementCount, unreadCount, firstProblem }
  }

  private async takeRead(document: Json): Promise<void> {
    const stated = statedIn(document)
    const imported = termsOfOdrl(document, stated)
    const whole = canonicalJson(document)
    if (whole.length > MAX_POLICY) throw new OdrlError(messages.thePolicyIsTooLong)
    if (stated && imported.isAsWritten) {
      if (this.standsUnderHeld(document, stated)) {
        this.agreementCount++
        return
      }
      if (stated.grant === null) {
        const uid = policyUid(stated.terms)
        this.heldUids.add(uid)
        const known = (await this.termsOnFile()).get(uid)
        if (known !== undefined) {
          this.onFileCount++
          this.note(known)
          return
        }
      }
    }
    if (this.newCount >= MAX_NEW) throw new OdrlError(messages.moreThanNewPoliciesAre(MAX_NEW))
    this.note(await this.store(imported, sha256Of(whole)))
    this.newCount++
  }

  private note(termsId: number): void {
    if (this.termsIds.length < IDS_TOLD) this.termsIds.push(termsId)
  }

  /** An agreement whose terms the file holds with their text adds nothing to them. */
  private standsUnderHeld(document: Json, { terms, grant }: StatedPolicy): boolean {
    if (grant === null || terms.text !== null) return false
    const under = (document as { 'thud:under'?: { '@id'?: unknown } })['thud:under']?.['@id']
    return typeof under === 'string' && this.heldUids.has(under)
  }

  private async termsOnFile(): Promise<Map<string, number>> {
    if (this.onFile) return this.onFile
    const rows = await this.services.db.selectFrom('terms').selectAll().execute()
    this.onFile = new Map(rows.map((row) => [policyUid({ ...termsOfRow(row), text: row.text }), row.id]))
    return this.onFile
  }

  private store({ isAsWritten: _, ...imported }: ImportedTerms, documentSha256: string): Promise<number> {
    const served = {
      ...imported,
      key: policyKey(documentSha256),
      title: imported.title.slice(0, 200),
      version: imported.version.slice(0, 40),
      shortTitle: messages.imported,
    }
    return inTransaction(this.services.db, (trx) => storeTerms(trx, ELSEWHERE_ID, { ...served, misfitLabel: null }))
  }
}

/** What a document states of itself under our prefix; null when that is not of the shape that is written here. */
function statedIn(document: Json): StatedPolicy | null {
  const literal = (name: string): unknown => {
    const value = (document as Record<string, { '@type'?: unknown; '@value'?: unknown } | undefined> | null)?.[name]
    return value?.['@type'] === '@json' ? value['@value'] : undefined
  }
  const terms = StatedTermsSchema.safeParse(literal('thud:terms'))
  if (!terms.success) return null
  const said = literal('thud:grant')
  if (said === undefined) return { terms: terms.data, grant: null }
  const grant = GrantScopeSchema.safeParse(said)
  return grant.success ? { terms: terms.data, grant: grant.data } : null
}
