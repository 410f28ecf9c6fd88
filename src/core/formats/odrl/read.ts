import { canonicalJson, type Json } from '../ledger'
import { type Clause, type ClauseKey, type Duration, type Limit, type Reading, type Terms, USE_PLACES } from '../rights'

/**
 * Terms as a policy of the Open Digital Rights Language, in JSON-LD, and back.
 *
 * Source: W3C, ODRL Information Model 2.2 and ODRL Vocabulary 2.2 (2018). What the vocabulary has no word for stands under the
 * prefix `gt`; a reader that does not know it still sees what is permitted, prohibited and owed.
 */
export interface OdrlPolicy {
  readonly '@context': readonly (string | Readonly<Record<string, string>>)[]
  readonly '@type': 'Set' | 'Agreement'
  readonly uid: string
  readonly profile: string
  readonly permission: readonly OdrlRule[]
  readonly prohibition: readonly OdrlRule[]
  readonly obligation: readonly OdrlRule[]
  readonly 'gt:title': string
  readonly 'gt:version': string
  readonly 'gt:spdxId': string | null
  readonly 'gt:url': string | null
  readonly 'gt:duration': Duration
  /** The whole text of the terms. */
  readonly 'gt:text'?: string
  readonly assigner?: string
  readonly assignee?: string
}

export interface OdrlRule {
  readonly action: string
  readonly target?: string
  readonly constraint?: readonly OdrlConstraint[]
  /** The point of the terms that the rule stands for. */
  readonly 'gt:point'?: string
  /** The words that it rests on. */
  readonly 'gt:quote'?: string | null
  readonly 'gt:limit'?: Limit
}

export interface OdrlConstraint {
  readonly leftOperand: string
  readonly operator: string
  readonly rightOperand: string | number | readonly string[]
}

export const ODRL_CONTEXT = [
  'http://www.w3.org/ns/odrl.jsonld',
  { gt: 'urn:good-thud:rights:', cc: 'http://creativecommons.org/ns#' },
] as const
export const ODRL_PROFILE = 'urn:good-thud:rights:profile'

/** Actions of the vocabulary for points that have one. */
const ACTIONS: Readonly<Partial<Record<ClauseKey, string>>> = {
  modification: 'derive',
  standalone: 'distribute',
  transfer: 'transfer',
  credit: 'attribute',
  'share-alike': 'cc:ShareAlike',
  registration: 'inform',
  proof: 'gt:keepProof',
}
/** Points that are duties or restrictions: owed where the answer is "duty", nothing to mind where it is "yes". */
const OBLIGATIONS: readonly ClauseKey[] = ['credit', 'share-alike', 'registration', 'proof']
const CONSTRAINED: readonly ClauseKey[] = ['territory', 'duration', 'projects', 'audience', 'platforms']

/** A policy that says what terms say. Points that they are silent on are left out. */
export function odrlOfTerms(terms: Terms, { uid, text }: { readonly uid: string; readonly text?: string }): OdrlPolicy {
  const stated = terms.clauses.filter(({ answer }) => answer !== 'not-stated')
  const rules = (wanted: (clause: Clause) => boolean): OdrlRule[] => stated.filter(wanted).map(ruleOf)
  return {
    '@context': ODRL_CONTEXT,
    '@type': 'Set',
    uid,
    profile: ODRL_PROFILE,
    permission: rules(({ key, answer }) => answer !== 'no' && !(OBLIGATIONS.includes(key) && answer === 'duty')),
    prohibition: rules(({ answer }) => answer === 'no'),
    obligation: rules(({ key, answer }) => answer === 'duty' && OBLIGATIONS.includes(key)),
    'gt:title': terms.title,
    'gt:version': terms.version,
    'gt:spdxId': terms.spdxId,
    'gt:url': terms.url,
    'gt:duration': terms.duration,
    ...(text === undefined ? {} : { 'gt:text': text }),
  }
}

function ruleOf({ key, answer, quote, limit }: Clause): OdrlRule {
  const bound = answer === 'duty' && !OBLIGATIONS.includes(key)
  const constraint = [...constraintsOf(key, limit), ...(bound ? [CONDITION] : [])]
  return {
    action: ACTIONS[key] ?? 'use',
    ...(constraint.length > 0 ? { constraint } : {}),
    'gt:point': key,
    'gt:quote': quote,
    ...(limit ? { 'gt:limit': limit } : {}),
  }
}

/** Permitted, but only when something was done or holds. */
const CONDITION: OdrlConstraint = { leftOperand: 'event', operator: 'eq', rightOperand: 'gt:condition-met' }

function constraintsOf(key: ClauseKey, limit: Limit | undefined): OdrlConstraint[] {
  const equal = (leftOperand: string, rightOperand: OdrlConstraint['rightOperand'], operator = 'eq') => [
    { leftOperand, operator, rightOperand },
  ]
  if ((USE_PLACES as readonly string[]).includes(key)) return equal('media', `gt:${key}`)
  if (key === 'earning') return equal('purpose', 'gt:earning')
  if (!CONSTRAINED.includes(key)) return []
  switch (limit?.kind) {
    case 'countries':
      return equal('spatial', limit.codes, 'isAnyOf')
    case 'videos':
      return equal('count', limit.max, 'lteq')
    case 'people':
      return equal('gt:audience', limit.max, 'lteq')
    case 'platforms':
      return equal('deliveryChannel', limit.names, 'isAnyOf')
    case 'until':
      return equal('dateTime', limit.day, 'lteq')
    default:
      return equal(key === 'territory' ? 'spatial' : `gt:${key}`, 'gt:any')
  }
}

/** A document that is no policy which can be read. */
export class OdrlError extends Error {
  override readonly name = 'OdrlError'
  readonly code = 'not-odrl'
}

/** Terms as an imported policy gives them, to be confirmed like any other. */
export interface ImportedTerms {
  readonly title: string
  readonly version: string
  readonly spdxId: string | null
  readonly url: string | null
  readonly text: string
  readonly duration: Duration
  readonly readings: readonly Reading[]
}

/** Shape of what comes from outside, as far as it is looked at. */
interface Outside {
  readonly [key: string]: Json | undefined
}

/**
 * Reads a policy. One that was written here gives back its terms; any other is read as far as the vocabulary says a point, and each
 * point rests on the rule as it stands in the document.
 *
 * @param document Parsed JSON. @throws {OdrlError}
 */
export function termsOfOdrl(document: Json): ImportedTerms {
  if (!isObject(document)) throw new OdrlError('The file is no ODRL policy: it holds no object.')
  const rules = (['permission', 'prohibition', 'obligation'] as const).flatMap((kind) =>
    listOf(document[kind])
      .filter(isObject)
      .map((rule) => ({ kind, rule })),
  )
  if (rules.length === 0) throw new OdrlError('The file is no ODRL policy: it permits, forbids and asks for nothing.')
  const own = textIn(document['gt:text'])
  const text = own ?? canonicalJson(document)
  const readings = rules.flatMap(({ kind, rule }) => readingOf(kind, rule, own !== null))
  const duration = textIn(document['gt:duration']) as Duration | null
  return {
    title: textIn(document['gt:title']) ?? textIn(document.uid) ?? 'Imported policy',
    version: textIn(document['gt:version']) ?? '1',
    spdxId: textIn(document['gt:spdxId']),
    url: textIn(document['gt:url']),
    text,
    duration: DURATION_WORDS.includes(duration as string) ? (duration as Duration) : 'not-stated',
    readings,
  }
}

const DURATION_WORDS: readonly string[] = ['for-ever', 'until-date', 'published-while-active', 'only-while-active']
const FOREIGN: Readonly<Record<string, ClauseKey>> = {
  derive: 'modification',
  modify: 'modification',
  distribute: 'standalone',
  attribute: 'credit',
  'cc:Attribution': 'credit',
  'cc:ShareAlike': 'share-alike',
  'cc:DerivativeWorks': 'modification',
  'cc:CommercialUse': 'earning',
  commercialize: 'earning',
  inform: 'registration',
}

function readingOf(kind: 'permission' | 'prohibition' | 'obligation', rule: Outside, own: boolean): Reading[] {
  const action = textIn(rule.action) ?? ''
  const point = textIn(rule['gt:point'])
  const key = point !== null ? (point as ClauseKey) : FOREIGN[action.replace(/^odrl:/, '')]
  if (key === undefined) return []
  // A permission with conditions that are not understood is no plain yes.
  const conditional = point === null && listOf(rule.constraint).length > 0
  const met = listOf(rule.constraint).some((one) => isObject(one) && one.rightOperand === CONDITION.rightOperand)
  const limit = isObject(rule['gt:limit']) ? (rule['gt:limit'] as unknown as Limit) : undefined
  const answer = kind === 'prohibition' ? 'no' : kind === 'obligation' || conditional || met ? 'duty' : 'yes'
  const quote = own ? textIn(rule['gt:quote']) : canonicalJson(rule as Json)
  return quote === null ? [] : [{ key, answer, phrase: quote, ...(limit ? { limit } : {}) }]
}

function isObject(value: Json | undefined): value is { readonly [key: string]: Json } {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

function listOf(value: Json | undefined): readonly Json[] {
  return Array.isArray(value) ? value : value === undefined ? [] : [value as Json]
}

function textIn(value: Json | undefined): string | null {
  return typeof value === 'string' && value !== '' ? value : null
}
