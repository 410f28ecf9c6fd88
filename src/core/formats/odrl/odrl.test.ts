import fc from 'fast-check'
import jsonld from 'jsonld'
import { describe, expect, it } from 'vitest'
import type { Json } from '../../ledger'
import {
  CLAUSE_KEYS,
  type Clause,
  type ClauseAnswer,
  type ClauseKey,
  clauseOf,
  DURATIONS,
  groundedClauses,
  KNOWN_LICENCES,
  type Limit,
  type Terms,
} from '../../rights'
import {
  type GrantScope,
  type ImportedTerms,
  ODRL_CONTEXT,
  OdrlError,
  type OdrlPolicy,
  odrlOfTerms,
  PROFILE_TERMS,
  termsOfOdrl,
} from '.'
import { ACTIONS, LEFT_OPERANDS, ODRL, ODRL_JSON_LD_CONTEXT, OPERATORS } from './odrl-context.test-data'

const TEXT = CLAUSE_KEYS.map((key) => `words on ${key}.`).join(' ')
const TARGET = 'urn:sha256:ab'

const LIMITS: Partial<Record<ClauseKey, Limit>> = {
  territory: { kind: 'countries', codes: ['AT', 'CH'] },
  projects: { kind: 'videos', max: 1 },
  audience: { kind: 'people', max: 5000 },
  platforms: { kind: 'platforms', names: ['Lantern'] },
  duration: { kind: 'until', day: '2031-01-31' },
  seats: { kind: 'seats', max: 3 },
  'video-length': { kind: 'length', maxS: 600 },
}

function clause(key: ClauseKey, answer: ClauseAnswer, isLimited = false): Clause {
  const limit = isLimited && answer === 'duty' ? LIMITS[key] : undefined
  return { key, answer, quote: answer === 'not-stated' ? null : `words on ${key}.`, ...(limit ? { limit } : {}) }
}

function termsWith(answers: Partial<Record<ClauseKey, ClauseAnswer>>, more: Partial<Terms> = {}): Terms {
  return {
    title: 'Test terms',
    shortTitle: 'T',
    version: '3',
    spdxId: null,
    url: 'https://terms.example/3',
    duration: 'for-ever',
    clauses: CLAUSE_KEYS.map((key) => clause(key, answers[key] ?? 'not-stated', true)),
    ...more,
  }
}

/** Terms that allow everything that a video needs. */
const ALL_YES = Object.fromEntries(CLAUSE_KEYS.map((key) => [key, 'yes'])) as Record<ClauseKey, ClauseAnswer>

const anyTerms: fc.Arbitrary<Terms> = fc
  .record({
    clauses: fc.tuple(
      ...CLAUSE_KEYS.map((key) =>
        fc
          .tuple(fc.constantFrom('yes', 'no', 'duty', 'not-stated' as const), fc.boolean())
          .map(([answer, isLimited]) => clause(key, answer, isLimited)),
      ),
    ),
    duration: fc.constantFrom(...DURATIONS),
  })
  .map((some) => termsWith({}, some))

const GRANT: GrantScope = {
  kind: 'purchase',
  title: 'Studio plan',
  acquiredOn: '2026-05-04',
  planFrom: '2026-01-01',
  planUntil: '2026-12-31',
  boundTo: ['urn:good-thud:video:7'],
  onTheWordOf: null,
}
const party = (uid: string, name: string) => ({ '@type': 'Party', uid, 'thud:name': name }) as const
const AGREEMENT = {
  under: 'urn:good-thud:terms:ab',
  assigner: party('urn:good-thud:source:a', 'A library'),
  assignee: party('urn:good-thud:licensee', 'Small Hours'),
  grant: GRANT,
  decisions: [{ use: 'online', asOf: '2026-06-01', verdict: 'clear' }],
}

function policyOf(terms: Terms, isAgreement = false): OdrlPolicy {
  const agreement = isAgreement ? { agreement: AGREEMENT } : {}
  return odrlOfTerms(terms, { uid: 'urn:x:1', target: TARGET, text: TEXT, ...agreement })
}

function asJson(value: unknown): Json {
  return JSON.parse(JSON.stringify(value)) as Json
}

/** Reads a document as the server does: what it states of itself goes along. */
function read(policy: object): ImportedTerms {
  const { 'thud:terms': terms, 'thud:grant': grant } = policy as OdrlPolicy
  return termsOfOdrl(asJson(policy), { terms: terms['@value'], grant: grant?.['@value'] ?? null })
}

function answersOf({ text, readings }: ImportedTerms): Record<string, ClauseAnswer> {
  return Object.fromEntries(groundedClauses(text, readings).map(({ key, answer }) => [key, answer]))
}

describe('terms as ODRL', () => {
  it.each([false, true])('come back as they were, whatever they say (as an agreement: %s)', (isAgreement) => {
    fc.assert(
      fc.property(anyTerms, (terms) => {
        const back = read(policyOf(terms, isAgreement))
        expect(back).toMatchObject({ title: 'Test terms', version: '3', url: 'https://terms.example/3', text: TEXT })
        expect(back).toMatchObject({ duration: terms.duration, isAsWritten: true })
        for (const { key, answer, limit } of groundedClauses(back.text, back.readings))
          expect([key, answer, limit]).toEqual([key, clauseOf(terms, key).answer, clauseOf(terms, key).limit])
      }),
    )
  })

  it('permit nothing where they are silent on a point that every use needs', () => {
    const needs = ['territory', 'duration', 'share-alike'] as const
    for (const key of needs) {
      const { permission = [] } = policyOf(termsWith({ ...ALL_YES, [key]: 'not-stated' }))
      expect(permission.length).toBeGreaterThan(5)
      for (const { constraint = [] } of permission)
        expect(
          constraint.map(({ rightOperand }) => rightOperand),
          key,
        ).toContainEqual({ '@id': 'thud:unstated' })
    }
    const { permission = [] } = policyOf(termsWith(ALL_YES))
    expect(permission.flatMap(({ constraint = [] }) => constraint.map(({ leftOperand }) => leftOperand))).toEqual(
      Array(8).fill('media'),
    )
  })

  it('carry every limit on every permission', () => {
    const { permission = [] } = policyOf(
      termsWith({ ...ALL_YES, territory: 'duty', projects: 'duty', audience: 'duty', platforms: 'duty' }),
      true,
    )
    for (const { constraint = [] } of permission) {
      const limits = Object.fromEntries(constraint.map(({ leftOperand, rightOperand }) => [leftOperand, rightOperand]))
      expect(limits).toMatchObject({
        spatial: [
          { '@value': 'AT', '@type': 'dct:ISO3166' },
          { '@value': 'CH', '@type': 'dct:ISO3166' },
        ],
        count: { '@value': '1', '@type': 'xsd:integer' },
        'thud:audienceSize': { '@value': '5000', '@type': 'xsd:integer' },
        deliveryChannel: [{ '@value': 'Lantern', '@type': 'xsd:string' }],
        'thud:video': [{ '@id': 'urn:good-thud:video:7' }],
        'thud:publishedOn': { '@value': '2026-05-04', '@type': 'xsd:date' },
      })
    }
  })

  it.each([
    ['published-while-active', 'thud:publishedOn'],
    ['only-while-active', 'dateTime'],
  ] as const)('%s is the period of the plan, and without a grant that a plan runs', (duration, operand) => {
    const terms = termsWith(ALL_YES, { duration })
    const limits = policyOf(terms, true).permission?.[0]?.constraint?.filter(
      ({ leftOperand, rightOperand }) =>
        leftOperand === operand && !JSON.stringify(rightOperand).includes('2026-05-04'),
    )
    expect(limits).toEqual([
      { leftOperand: operand, operator: 'gteq', rightOperand: { '@value': '2026-01-01', '@type': 'xsd:date' } },
      { leftOperand: operand, operator: 'lteq', rightOperand: { '@value': '2026-12-31', '@type': 'xsd:date' } },
    ])
    const [, alone] = policyOf(terms).permission?.[0]?.constraint ?? []
    expect(alone).toEqual({ leftOperand: 'thud:plan', operator: 'eq', rightOperand: { '@id': 'thud:active' } })
  })

  it('owe a credit wherever they do not plainly ask for none, and permit no earning that is not stated', () => {
    const [online] = policyOf(termsWith({ online: 'yes', territory: 'yes' })).permission ?? []
    expect(online?.duty).toEqual([{ action: 'attribute' }])
    expect(online?.constraint).toContainEqual({
      leftOperand: 'purpose',
      operator: 'neq',
      rightOperand: { '@id': 'thud:earning' },
    })
    const clients = policyOf(termsWith({ ...ALL_YES, transfer: 'no' })).permission?.find(
      (rule) => rule['thud:point'] === 'client-work',
    )
    expect(clients?.constraint).toContainEqual({
      leftOperand: 'recipient',
      operator: 'neq',
      rightOperand: { '@id': 'thud:client' },
    })
  })

  it('say what a licence of the public forbids, and hand a film over without the action “transfer”', () => {
    const licence = KNOWN_LICENCES.get('CC-BY-NC-ND-4.0')
    if (!licence) throw new Error('not built in')
    const text = licence.readings.map(({ phrase }) => phrase).join('. ')
    const policy = policyOf({ ...licence, clauses: groundedClauses(text, licence.readings) })
    expect(policy.prohibition?.map(({ action }) => action)).toContain('derive')
    expect(policy.permission?.every(({ duty }) => duty?.some(({ action }) => action === 'attribute'))).toBe(true)
    expect(JSON.stringify(policy)).not.toContain('"action":"transfer"')
  })
})

/** Expands a document with the context that is kept here; what no term of it stands for is an error. */
async function expanded(policy: OdrlPolicy): Promise<Node[]> {
  const documentLoader = async (url: string) => {
    if (url !== ODRL_CONTEXT[0]) throw new Error(`Nothing is fetched from ${url}.`)
    return { contextUrl: undefined, documentUrl: url, document: ODRL_JSON_LD_CONTEXT }
  }
  return (await jsonld.expand(asJson(policy) as object, { documentLoader, safe: true } as never)) as never
}

interface Node {
  readonly [iri: string]: unknown
}
const nodes = (node: Node | undefined, term: string): Node[] => (node?.[`${ODRL}${term}`] ?? []) as Node[]
const idsIn = (node: Node | undefined, term: string): string[] => nodes(node, term).map((one) => String(one['@id']))
const OURS = (ODRL_CONTEXT[1] as Record<string, string>).thud ?? ''
const allowed = (names: readonly string[], own: object): string[] => [
  ...names.map((name) => `${ODRL}${name}`),
  ...Object.keys(own).map((name) => name.replace('thud:', OURS)),
]

/** What the information model asks of a policy, by its sections. */
function modelFaults(policy: Node): string[] {
  const faults: string[] = []
  const need = (ok: boolean, fault: string): void => {
    if (!ok) faults.push(fault)
  }
  const [type] = policy['@type'] as string[]
  need(/^urn:|^https?:/.test(String(policy['@id'])), 'a policy has one identifier')
  need(idsIn(policy, 'profile').length === 1, 'operands of our own need a profile')
  need(idsIn(policy, 'conflict').join() === `${ODRL}prohibit`, 'conflict is perm, prohibit or invalid')
  const parties = ['assigner', 'assignee'].map((role) => nodes(policy, role))
  if (type === `${ODRL}Agreement`)
    for (const party of parties)
      need(party.length === 1 && String(party[0]?.['@type']) === `${ODRL}Party`, 'an agreement has both parties')
  const rules = ['permission', 'prohibition', 'obligation'].flatMap((kind) => nodes(policy, kind))
  need(rules.length > 0, 'a policy has a rule')
  for (const rule of rules) {
    need(idsIn(rule, 'target').length === 1, 'a rule has one target')
    const actions = [...idsIn(rule, 'action'), ...nodes(rule, 'duty').flatMap((duty) => idsIn(duty, 'action'))]
    need(idsIn(rule, 'action').length === 1, 'a rule has one action')
    const known = [...allowed(ACTIONS, PROFILE_TERMS.actions), 'http://creativecommons.org/ns#ShareAlike']
    for (const action of actions) need(known.includes(action), `the action ${action} is of the vocabulary`)
    for (const one of nodes(rule, 'constraint')) {
      const [left = ''] = idsIn(one, 'leftOperand')
      need(allowed(LEFT_OPERANDS, PROFILE_TERMS.leftOperands).includes(left), `the operand ${left} is listed`)
      need(allowed(OPERATORS, {}).includes(idsIn(one, 'operator').join()), 'the operator is listed')
      const right = nodes(one, 'rightOperand')
      need(right.length > 0, 'a constraint has a right operand')
      for (const operand of right)
        need('@id' in operand || /^http/.test(String(operand['@type'])), 'an operand is identified or typed')
    }
  }
  return faults
}

describe('a policy as the information model asks for it', () => {
  it.each([false, true])('holds for all terms (as an agreement: %s)', async (isAgreement) => {
    await fc.assert(
      fc.asyncProperty(anyTerms, async (terms) => {
        const [policy, ...more] = await expanded(policyOf(terms, isAgreement))
        expect(more).toEqual([])
        expect(modelFaults(policy as Node)).toEqual([])
      }),
      { numRuns: 40 },
    )
  })

  it('holds for terms that say nothing: then nothing may be done', async () => {
    const policy = policyOf(termsWith({}))
    expect(policy.permission).toBeUndefined()
    expect(policy.prohibition).toMatchObject([{ action: 'use', target: TARGET }])
    expect(modelFaults((await expanded(policy))[0] as Node)).toEqual([])
  })

  it.each<[string, (policy: OdrlPolicy) => object, string]>([
    ['no target', (policy) => first(policy, { target: undefined }), 'a rule has one target'],
    ['no action', (policy) => first(policy, { action: undefined }), 'a rule has one action'],
    ['an action of nobody', (policy) => first(policy, { action: 'thud:sing' }), 'is of the vocabulary'],
    ['no parties', (policy) => ({ ...policy, assignee: undefined }), 'an agreement has both parties'],
    ['an open conflict', (policy) => ({ ...policy, conflict: 'perm' }), 'conflict is'],
    [
      'an operand that is no more than a word',
      (policy) => first(policy, { constraint: [{ leftOperand: 'media', operator: 'eq', rightOperand: 'online' }] }),
      'identified or typed',
    ],
  ])('would not hold with %s', async (_, change, fault) => {
    const [policy] = await expanded(change(policyOf(termsWith(ALL_YES), true)) as OdrlPolicy)
    expect(modelFaults(policy as Node).join()).toContain(fault)
  })
})

type Change = (policy: OdrlPolicy & Record<string, unknown>) => object
const first = (policy: OdrlPolicy, more: object): object => ({
  ...policy,
  permission: policy.permission?.map((rule, index) => (index === 0 ? { ...rule, ...more } : rule)),
})

describe('a policy that was written here and changed', () => {
  const policy = policyOf(termsWith(ALL_YES), true)

  it.each<[string, Change]>([
    [
      'a constraint',
      (one) => first(one, { constraint: [{ leftOperand: 'event', operator: 'eq', rightOperand: 'x' }] }),
    ],
    ['a duty', (one) => first(one, { duty: [{ action: 'compensate' }] })],
    ['another target', (one) => first(one, { target: 'urn:sha256:cd' })],
    ['an assignee of its own', (one) => first(one, { assignee: 'urn:someone' })],
    ['a refined action', (one) => first(one, { action: [{ 'rdf:value': 'use', refinement: [] }] })],
    ['a remedy', (one) => first(one, { remedy: [{ action: 'delete' }] })],
  ])('permits on a condition what %s was put on, and the rest as before', (_, change) => {
    const answers = answersOf(read(change(policy as never)))
    expect(answers.online).toBe('duty')
    expect(Object.entries(answers).filter(([, answer]) => answer === 'no')).toEqual([])
    expect(read(change(policy as never)).isAsWritten).toBe(false)
  })

  it.each<[string, Change]>([
    ['what it inherits from', (one) => ({ ...one, inheritFrom: 'https://policies.example/1' })],
    ['another way to settle conflicts', (one) => ({ ...one, conflict: 'perm' })],
    ['another context', (one) => ({ ...one, '@context': [...one['@context'], { use: 'odrl:attribute' }] })],
    ['an obligation', (one) => ({ ...one, obligation: [{ action: 'compensate' }] })],
    ['a second list of permissions', (one) => ({ ...one, 'odrl:permission': [{ action: 'use' }] })],
    ['another type', (one) => ({ ...one, '@type': 'Offer' })],
    ['another party', (one) => ({ ...one, assigner: 'urn:someone' })],
  ])('permits all on a condition when %s is in it', (_, change) => {
    const imported = read(change(policy as never))
    expect(imported).toMatchObject({ isAsWritten: false, duration: 'not-stated', spdxId: null })
    expect(Object.values(answersOf(imported))).not.toContain('yes')
  })

  it('still forbids what it forbade, though the prohibition was taken out', () => {
    const { prohibition: _, ...rest } = policyOf(termsWith({ ...ALL_YES, broadcast: 'no' }))
    expect(answersOf(read(rest))).toMatchObject({ broadcast: 'no' })
  })

  it.each<[string, object, readonly string[]]>([
    ['that is understood', { action: 'derive' }, ['modification']],
    ['that is not', { action: 'textToSpeech' }, ['online', 'broadcast', 'earning', 'modification', 'transfer']],
    ['under a condition', { action: 'use', constraint: [{ leftOperand: 'x' }] }, ['online', 'earning']],
    ['with a refined action', { action: { 'rdf:value': 'derive' } }, ['online', 'modification']],
    ['with no action', {}, ['online', 'modification']],
  ])('is forbidden what a prohibition %s may touch', (_, rule, touched) => {
    const answers = answersOf(read({ ...policy, prohibition: [rule] }))
    for (const key of touched) expect([key, answers[key]]).toEqual([key, 'no'])
  })
})

describe('a policy from outside', () => {
  const foreign: Json = {
    '@context': 'http://www.w3.org/ns/odrl.jsonld',
    '@type': 'Offer',
    uid: 'https://policies.example/7',
    permission: [{ target: 'https://x.example/1', action: 'derive' }],
    prohibition: { action: 'commercialize' },
    obligation: [{ action: 'attribute' }],
  }

  it('is read as far as the vocabulary goes; each point rests on the rule, and nothing is a plain yes', () => {
    const imported = termsOfOdrl(foreign)
    const clauses = groundedClauses(imported.text, imported.readings)
    const answer = (key: Clause['key']) => clauses.find((one) => one.key === key)
    expect(answer('modification')).toMatchObject({ answer: 'duty', quote: expect.stringContaining('derive') })
    expect(answer('earning')?.answer).toBe('no')
    expect(answer('credit')?.answer).toBe('duty')
    expect(answer('online')?.answer).toBe('not-stated')
    expect([imported.title, imported.duration]).toEqual(['https://policies.example/7', 'not-stated'])
  })

  it('that claims to be a licence of the public, or to have been written here, is believed in nothing', () => {
    const claims = { terms: { ...termsWith(ALL_YES, { spdxId: 'CC0-1.0' }), text: TEXT }, grant: null }
    const imported = termsOfOdrl({ ...(foreign as object), 'thud:terms': 'mine' } as Json, claims)
    expect(imported).toMatchObject({ spdxId: null, isAsWritten: false })
    expect(Object.values(answersOf(imported))).not.toContain('yes')
  })

  it.each([
    ['with the prefix', { 'odrl:prohibition': [{ 'odrl:action': 'odrl:derive' }] }],
    [
      'by its address',
      { 'http://www.w3.org/ns/odrl/2/prohibition': [{ action: 'http://www.w3.org/ns/odrl/2/derive' }] },
    ],
    ['by name only', { prohibition: 'https://policies.example/rules/1' }],
    [
      'with markup in it',
      {
        prohibition: [
          { action: 'derive', note: '<b>' },
          { action: 'derive', note: '</b> no >' },
        ],
      },
    ],
  ])('forbids also where the rule is written %s', (_, document) => {
    expect(answersOf(termsOfOdrl(document as Json)).modification).toBe('no')
  })

  it.each([[null], ['x'], [[]], [{}], [{ permission: [] }], [{ uid: 'urn:x' }]])(
    'is refused when it is none: %j',
    (document) => {
      expect(() => termsOfOdrl(document as Json)).toThrow(OdrlError)
    },
  )

  it('is read on each point once, however many rules say it, and refused beyond all measure', () => {
    const prohibitions = (count: number): Json => ({
      prohibition: Array.from({ length: count }, (_, index) => ({ action: `gone${index}`, note: 'x'.repeat(200) })),
    })
    const { readings } = termsOfOdrl(prohibitions(1000))
    expect(readings.map(({ key, answer }) => `${key} ${answer}`)).toHaveLength(
      new Set(readings.map(({ key }) => key)).size,
    )
    expect(readings.length).toBeLessThan(CLAUSE_KEYS.length)
    expect(() => termsOfOdrl(prohibitions(1001))).toThrow('more than 1000 rules')
  })

  it('is refused when it is nested deeper than any policy, before the stack ends', () => {
    const deep = JSON.parse(`{"permission":${'['.repeat(5000)}${']'.repeat(5000)}}`) as Json
    expect(() => termsOfOdrl(deep)).toThrow('nested too deeply')
  })
})
