import {
  type Clause,
  type ClauseKey,
  clauseOf,
  coversEarlierVideos,
  type Limit,
  type Terms,
  USE_PLACES,
  type UsePlace,
} from '../../rights'
import {
  type GrantScope,
  ODRL_CONTEXT,
  ODRL_PROFILE,
  type OdrlConstraint,
  type OdrlOperand,
  type OdrlParty,
  type OdrlPolicy,
  type OdrlRule,
  type StatedDecision,
} from './policy'

/** What a policy is written for. */
export interface PolicyScope {
  readonly uid: string
  /** The asset: a copy, or all sounds under the terms. */
  readonly target: string
  /** The whole text of the terms, where it goes along. */
  readonly text?: string
  /** For an agreement. */
  readonly agreement?: {
    readonly assigner: OdrlParty
    readonly assignee: OdrlParty
    /** Identifier of the policy that holds the terms with their text. */
    readonly under: string
    readonly grant: GrantScope
    readonly decisions: readonly StatedDecision[]
  }
}

/**
 * A policy that says what terms say and permits nothing that they do not state: every limit stands on every permission that it limits, and
 * a point that is not stated stands there as a constraint that no use meets.
 */
export function odrlOfTerms(terms: Terms, { uid, target, text, agreement }: PolicyScope): OdrlPolicy {
  const permission = permissionsOf(terms, target, agreement?.grant ?? null)
  const prohibition = prohibitionsOf(terms, target, permission.length === 0)
  return {
    '@context': ODRL_CONTEXT,
    '@type': agreement ? 'Agreement' : 'Set',
    uid,
    profile: ODRL_PROFILE,
    conflict: 'prohibit',
    ...(agreement ? { assigner: agreement.assigner, assignee: agreement.assignee } : {}),
    ...(permission.length > 0 ? { permission } : {}),
    ...(prohibition.length > 0 ? { prohibition } : {}),
    'thud:terms': { '@type': '@json', '@value': { ...plainTermsOf(terms), text: text ?? null } },
    ...(agreement
      ? {
          'thud:under': { '@id': agreement.under },
          'thud:grant': { '@type': '@json', '@value': agreement.grant },
          'thud:decisions': { '@type': '@json', '@value': agreement.decisions },
        }
      : {}),
  }
}

/** Terms with nothing beside them. */
function plainTermsOf({ title, shortTitle, version, spdxId, url, duration, clauses }: Terms): Terms {
  return { title, shortTitle, version, spdxId, url, duration, clauses }
}

function permissionsOf(terms: Terms, target: string, grant: GrantScope | null): OdrlRule[] {
  const limits = limitsOf(terms, grant)
  const duties = dutiesOf(terms)
  const permitted = (key: ClauseKey, action: string, own: readonly OdrlConstraint[]): OdrlRule[] => {
    const clause = clauseOf(terms, key)
    if (clause.answer !== 'yes' && clause.answer !== 'duty') return []
    const constraint = [...own, ...(clause.answer === 'duty' ? [CONDITION] : []), ...limits]
    return [
      {
        target,
        action,
        ...(constraint.length > 0 ? { constraint } : {}),
        ...(duties.length > 0 ? { duty: duties } : {}),
        ...pointOf(clause),
      },
    ]
  }
  return [
    ...USE_PLACES.flatMap((place) => permitted(place, 'use', [placed(place), ...limitsOfPlace(terms, place)])),
    ...permitted('modification', 'derive', []),
    ...permitted('standalone', 'distribute', []),
  ]
}

/** @param nothing Whether the terms permit nothing; then the asset may not be used. */
function prohibitionsOf(terms: Terms, target: string, nothing: boolean): OdrlRule[] {
  const forbidden = (key: ClauseKey, action: string, constraint: readonly OdrlConstraint[] = []): OdrlRule[] => {
    const clause = clauseOf(terms, key)
    if (clause.answer !== 'no') return []
    return [{ target, action, ...(constraint.length > 0 ? { constraint } : {}), ...pointOf(clause) }]
  }
  return [
    ...USE_PLACES.flatMap((place) => forbidden(place, 'use', [placed(place)])),
    ...forbidden('earning', 'use', [equal('purpose', identified('thud:earning'))]),
    ...forbidden('modification', 'derive'),
    ...forbidden('standalone', 'distribute'),
    ...forbidden('transfer', 'use', [equal('recipient', identified('thud:client'))]),
    ...(nothing ? [{ target, action: 'use', 'thud:point': 'nothing' }] : []),
  ]
}

function pointOf({ key, quote }: Clause): Pick<OdrlRule, 'thud:point' | 'thud:quote'> {
  return { 'thud:point': key, ...(quote === null ? {} : { 'thud:quote': quote }) }
}

function placed(place: UsePlace): OdrlConstraint {
  return equal('media', identified(`thud:${place}`))
}

/** A video that earns, and one that is handed to a client, need a plain yes of their own. */
function limitsOfPlace(terms: Terms, place: UsePlace): OdrlConstraint[] {
  const isStated = (key: ClauseKey): boolean => clauseOf(terms, key).answer === 'yes'
  return [
    ...(isStated('earning') ? [] : [differs('purpose', identified('thud:earning'))]),
    ...(place === 'client-work' && !isStated('transfer') ? [differs('recipient', identified('thud:client'))] : []),
  ]
}

/** What limits every permission. */
function limitsOf(terms: Terms, grant: GrantScope | null): OdrlConstraint[] {
  return [
    ...limitBy(clauseOf(terms, 'territory'), 'spatial', { silence: 'bars' }),
    ...durationLimits(terms, grant),
    ...limitBy(clauseOf(terms, 'projects'), 'count', { silence: 'allows' }),
    ...(grant && grant.boundTo.length > 0
      ? [{ leftOperand: 'thud:video', operator: 'isAnyOf', rightOperand: grant.boundTo.map(identified) } as const]
      : []),
    ...limitBy(clauseOf(terms, 'audience'), 'thud:audienceSize', { silence: 'allows' }),
    ...limitBy(clauseOf(terms, 'seats'), 'thud:seats', { silence: 'allows' }),
    ...limitBy(clauseOf(terms, 'video-length'), 'thud:videoLength', { silence: 'allows' }),
    ...limitBy(clauseOf(terms, 'platforms'), 'deliveryChannel', { silence: 'allows' }),
    // A video under a licence of its own choice needs a plain yes; to pass the licence on is a duty.
    ...(['yes', 'duty'].includes(clauseOf(terms, 'share-alike').answer) ? [] : [unstated('thud:videoLicence')]),
    ...(['registration', 'proof'] as const)
      .filter((key) => clauseOf(terms, key).answer === 'no')
      .map(() => unstated('thud:condition')),
  ]
}

function limitBy(
  { answer, limit }: Clause,
  leftOperand: string,
  { silence }: { readonly silence: 'bars' | 'allows' },
): OdrlConstraint[] {
  if (answer === 'yes' || (answer === 'not-stated' && silence === 'allows')) return []
  const measured = answer === 'duty' && limit ? measureOf(limit) : null
  return [measured ? { leftOperand, ...measured } : unstated(leftOperand)]
}

function measureOf(limit: Limit): Pick<OdrlConstraint, 'operator' | 'rightOperand'> | null {
  switch (limit.kind) {
    case 'countries':
      return { operator: 'isAnyOf', rightOperand: limit.codes.map((code) => typed(code, 'dct:ISO3166')) }
    case 'videos':
    case 'people':
    case 'seats':
      return { operator: 'lteq', rightOperand: typed(String(limit.max), 'xsd:integer') }
    case 'length':
      return { operator: 'lteq', rightOperand: typed(String(limit.maxS), 'xsd:decimal') }
    case 'platforms':
      return { operator: 'isAnyOf', rightOperand: limit.names.map((name) => typed(name, 'xsd:string')) }
    default:
      return null
  }
}

function durationLimits(terms: Terms, grant: GrantScope | null): OdrlConstraint[] {
  const { limit, quote } = clauseOf(terms, 'duration')
  const day = (leftOperand: string, operator: OdrlConstraint['operator'], on: string): OdrlConstraint => ({
    leftOperand,
    operator,
    rightOperand: typed(on, 'xsd:date'),
  })
  const acquired = grant && !coversEarlierVideos(terms) ? [day('thud:publishedOn', 'gteq', grant.acquiredOn)] : []
  if (quote === null || terms.duration === 'not-stated') return [...acquired, unstated('dateTime')]
  if (terms.duration === 'for-ever') return acquired
  if (terms.duration === 'until-date')
    return [...acquired, limit?.kind === 'until' ? day('dateTime', 'lteq', limit.day) : unstated('dateTime')]
  const operand = terms.duration === 'published-while-active' ? 'thud:publishedOn' : 'dateTime'
  if (!grant) return [equal('thud:plan', identified('thud:active'))]
  if (grant.planFrom === null || grant.planUntil === null) return [...acquired, unstated('thud:plan')]
  return [...acquired, day(operand, 'gteq', grant.planFrom), day(operand, 'lteq', grant.planUntil)]
}

/** A credit is owed unless the terms plainly ask for none. */
function dutiesOf(terms: Terms): { readonly action: string }[] {
  const owes = (key: ClauseKey): boolean => clauseOf(terms, key).answer === 'duty'
  return [
    ...(clauseOf(terms, 'credit').answer === 'yes' ? [] : [{ action: 'attribute' }]),
    ...(owes('share-alike') ? [{ action: 'cc:ShareAlike' }] : []),
    ...(owes('registration') ? [{ action: 'inform' }] : []),
    ...(owes('proof') ? [{ action: 'thud:keepProof' }] : []),
  ]
}

/** Permitted, but only when something was done or holds. */
const CONDITION: OdrlConstraint = equal('thud:condition', identified('thud:met'))

function unstated(leftOperand: string): OdrlConstraint {
  return equal(leftOperand, identified('thud:unstated'))
}

function equal(leftOperand: string, rightOperand: OdrlOperand): OdrlConstraint {
  return { leftOperand, operator: 'eq', rightOperand }
}

function differs(leftOperand: string, rightOperand: OdrlOperand): OdrlConstraint {
  return { leftOperand, operator: 'neq', rightOperand }
}

function identified(id: string): OdrlOperand {
  return { '@id': id }
}

function typed(value: string, type: string): OdrlOperand {
  return { '@value': value, '@type': type }
}
