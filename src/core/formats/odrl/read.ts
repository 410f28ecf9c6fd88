import { canonicalJson, type Json } from '../../ledger'
import { type ClauseKey, type Duration, type Reading, readingsOfClause, USE_PLACES } from '../../rights'
import { formats as messages } from '../../wording/formats'
import type { GrantScope, OdrlParty, StatedDecision, StatedTerms } from './policy'
import { odrlOfTerms } from './write'

/** A document that is no policy which can be read. */
export class OdrlError extends Error {
  override readonly name = 'OdrlError'
  readonly code = 'not-odrl'
}

/** Terms as a policy gives them, each point to be confirmed like any other. */
export interface ImportedTerms {
  readonly title: string
  readonly version: string
  readonly spdxId: string | null
  readonly url: string | null
  /** Every phrase of the readings stands in it. */
  readonly text: string
  readonly duration: Duration
  readonly readings: readonly Reading[]
  /** Whether the document is exactly what is written here for these terms. */
  readonly isAsWritten: boolean
}

/** What a document says of itself under our prefix, after its shape was looked at. */
export interface StatedPolicy {
  readonly terms: StatedTerms
  readonly grant: GrantScope | null
}

/** Values nested deeper than this are no policy. */
const MAX_DEPTH = 40
/** A policy with more rules than this is none that anyone could confirm. */
const MAX_RULES = 1000

/**
 * Reads a policy.
 *
 * A document that is exactly what {@link odrlOfTerms} writes for the terms that it states gives these terms. In any other, a rule counts as
 * written only where it is one that would be written for the terms stated; whatever else stands in it makes what it touches conditional, and
 * a prohibition bars all that it may touch, understood or not. A policy of others permits nothing without a condition.
 *
 * @param document Parsed JSON. @param stated What it states of itself, or null for a policy of others. @throws {OdrlError}
 */
export function termsOfOdrl(document: Json, stated: StatedPolicy | null = null): ImportedTerms {
  if (isDeeperThan(document, MAX_DEPTH)) throw new OdrlError(messages.fileNoOdrlPolicyNested)
  if (!isObject(document)) throw new OdrlError(messages.fileNoOdrlPolicyHolds)
  const rules = rulesIn(document)
  if (rules.length === 0) throw new OdrlError(messages.fileNoOdrlPolicyPermits)
  if (rules.length > MAX_RULES) throw new OdrlError(messages.policyHasMoreThanRules(MAX_RULES))
  const expected = stated && writtenAs(document, stated)
  if (stated && expected && isSame(without(document, NO_GROUND), expected)) return asStated(document, stated.terms)
  return asFarAsRead(document, rules, stated && expected ? { terms: stated.terms, expected } : null)
}

/** Parts of an agreement that nothing rests on. */
const NO_GROUND = ['thud:decisions']

function asStated(document: JsonObject, terms: StatedTerms): ImportedTerms {
  const readings = terms.clauses.flatMap(readingsOfClause)
  return {
    title: terms.title,
    version: terms.version,
    spdxId: terms.spdxId,
    url: terms.url,
    text: terms.text ?? textOf(document, readings),
    duration: terms.duration,
    readings,
    isAsWritten: true,
  }
}

/** A document that is not as written here, with the rules that would be. */
function asFarAsRead(
  document: JsonObject,
  rules: readonly KindOfRule[],
  own: { readonly terms: StatedTerms; readonly expected: JsonObject } | null,
): ImportedTerms {
  const written = own ? rulesIn(own.expected) : []
  const isAmong = (list: readonly KindOfRule[], { kind, rule }: KindOfRule): boolean =>
    list.some((one) => one.kind === kind && isSame(one.rule, rule))
  const changed = new Set(written.filter((one) => !isAmong(rules, one)).map(({ rule }) => rule['thud:point']))
  // What stands beside the rules may bear on each of them.
  const isFramedAsWritten = own !== null && isSame(without(document, RULE_KINDS), without(own.expected, RULE_KINDS))
  const others = rules.filter((one) => !isAmong(written, one))
  const isConditional = (key: ClauseKey): boolean =>
    !isFramedAsWritten || changed.has(key) || others.some(({ kind }) => kind !== 'prohibition')
  const stated = own
    ? own.terms.clauses
        .flatMap(readingsOfClause)
        .map((reading): Reading => (isConditional(reading.key) ? conditional(reading) : reading))
    : []
  const readings = [...stated, ...firstOfEach(others.flatMap((one) => readingsOfOther(one)))]
  return {
    title: own?.terms.title ?? textIn(document.uid) ?? textIn(document['@id']) ?? messages.importedPolicy,
    version: own?.terms.version ?? '1',
    // It is not known to be that licence, whatever it says.
    spdxId: null,
    url: null,
    text: textOf(document, readings),
    duration: own && !isConditional('duration') ? own.terms.duration : 'not-stated',
    readings,
    isAsWritten: false,
  }
}

/** One reading for each answer on each point: what a hundred rules forbid is forbidden once. */
function firstOfEach(readings: readonly Reading[]): Reading[] {
  const first = new Map<string, Reading>()
  for (const reading of readings) {
    const name = `${reading.key} ${reading.answer}`
    if (!first.has(name)) first.set(name, reading)
  }
  return [...first.values()]
}

/** A plain yes becomes one that holds on a condition; what restricts stays as it is. */
function conditional({ key, answer, phrase, limit }: Reading): Reading {
  return answer === 'yes' ? { key, answer: 'duty', phrase } : { key, answer, phrase, ...(limit ? { limit } : {}) }
}

/** The document, with the words that the readings rest on before it. */
function textOf(document: JsonObject, readings: readonly Reading[]): string {
  const whole = writtenOut(document)
  const quotes = [...new Set(readings.map(({ phrase }) => phrase))].filter((phrase) => !whole.includes(phrase))
  return [...quotes, whole].join('\n\n')
}

/** Canonical JSON in which nothing can be taken for markup. */
function writtenOut(value: Json): string {
  return canonicalJson(value).replaceAll('<', '\\u003c')
}

/** What would be written for the terms that a document states, for the same parties and target; null when they are no such. */
function writtenAs(document: JsonObject, { terms, grant }: StatedPolicy): JsonObject | null {
  const uid = textIn(document.uid)
  const target = textIn(rulesIn(document)[0]?.rule.target)
  if (uid === null || target === null) return null
  const { text, ...plain } = terms
  const under = isObject(document['thud:under']) ? textIn(document['thud:under']['@id']) : null
  const agreement = grant && {
    grant,
    under: under ?? '',
    assigner: document.assigner as unknown as OdrlParty,
    assignee: document.assignee as unknown as OdrlParty,
    decisions: [] as StatedDecision[],
  }
  if (agreement && !(isParty(document.assigner) && isParty(document.assignee))) return null
  const policy = odrlOfTerms(plain, {
    uid,
    target,
    ...(text === null ? {} : { text }),
    ...(agreement ? { agreement } : {}),
  })
  return without(policy as unknown as JsonObject, NO_GROUND)
}

function isParty(value: Json | undefined): boolean {
  if (!isObject(value)) return false
  const { '@type': type, uid, 'thud:name': name, ...more } = value
  return type === 'Party' && textIn(uid) !== null && typeof name === 'string' && Object.keys(more).length === 0
}

const RULE_KINDS = ['permission', 'prohibition', 'obligation'] as const
interface KindOfRule {
  readonly kind: (typeof RULE_KINDS)[number]
  readonly rule: JsonObject
}
type JsonObject = { readonly [key: string]: Json }

/** All rules of a document, however the vocabulary is spelled. */
function rulesIn(document: JsonObject): KindOfRule[] {
  return Object.entries(document).flatMap(([name, value]) => {
    const kind = RULE_KINDS.find((one) => one === termOf(name))
    // A rule that is only named may say anything.
    return kind ? listOf(value).map((rule) => ({ kind, rule: isObject(rule) ? rule : { uid: rule } })) : []
  })
}

/** A term of the vocabulary without prefix or namespace. */
function termOf(name: string): string {
  return name.replace(/^(odrl:|https?:\/\/www\.w3\.org\/ns\/odrl\/2\/)/, '')
}

/** What a rule of others says: a permission holds on a condition, a prohibition bars all that it may touch. */
function readingsOfOther({ kind, rule }: KindOfRule): Reading[] {
  const phrase = writtenOut(rule)
  const actions = listOf(rule.action ?? rule['odrl:action'] ?? null).map(actionOf)
  return actions.flatMap((action): Reading[] => {
    if (kind === 'prohibition') {
      const touched = action === null ? undefined : FORBIDS.get(action)
      return (touched ?? EVERY_PERMISSION).map((key) => ({ key, answer: 'no', phrase }))
    }
    const key = action === null ? undefined : (kind === 'permission' ? PERMITS : OWED).get(action)
    return key === undefined ? [] : [{ key, answer: 'duty', phrase }]
  })
}

/** The action of a rule; one with a refinement is another action, which is not known. */
function actionOf(action: Json): string | null {
  return typeof action === 'string' ? termOf(action) : null
}

const EVERY_PERMISSION: readonly ClauseKey[] = [...USE_PLACES, 'earning', 'modification', 'transfer', 'standalone']

const PERMITS: ReadonlyMap<string, ClauseKey> = new Map([
  ['derive', 'modification'],
  ['modify', 'modification'],
  ['cc:DerivativeWorks', 'modification'],
  ['commercialize', 'earning'],
  ['cc:CommercialUse', 'earning'],
])

/** What a prohibition may touch; an action that is not listed may touch everything. */
const FORBIDS: ReadonlyMap<string, readonly ClauseKey[]> = new Map([
  ['derive', ['modification']],
  ['modify', ['modification']],
  ['cc:DerivativeWorks', ['modification']],
  ['commercialize', ['earning', 'paid-advertising', 'client-work']],
  ['cc:CommercialUse', ['earning', 'paid-advertising', 'client-work']],
  ['attribute', ['credit']],
  ['cc:Attribution', ['credit']],
])

const OWED: ReadonlyMap<string, ClauseKey> = new Map([
  ['attribute', 'credit'],
  ['cc:Attribution', 'credit'],
  ['cc:ShareAlike', 'share-alike'],
  ['inform', 'registration'],
])

function isSame(one: Json | undefined, other: Json | undefined): boolean {
  return canonicalJson(one ?? null) === canonicalJson(other ?? null)
}

function without(document: JsonObject, names: readonly string[]): JsonObject {
  return Object.fromEntries(Object.entries(document).filter(([name]) => !names.includes(name)))
}

/** Looked at level by level: a document from outside may be nested deeper than the stack. */
function isDeeperThan(document: Json, levels: number): boolean {
  let level: Json[] = [document]
  for (let depth = 0; depth <= levels; depth++) {
    level = level.flatMap((value) =>
      typeof value === 'object' && value !== null ? (Object.values(value) as Json[]) : [],
    )
    if (level.length === 0) return false
  }
  return true
}

function isObject(value: Json | undefined): value is JsonObject {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

function listOf(value: Json): readonly Json[] {
  return Array.isArray(value) ? value : [value]
}

function textIn(value: Json | undefined): string | null {
  return typeof value === 'string' && value !== '' ? value : null
}
