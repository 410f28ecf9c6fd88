import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Json } from '../ledger'
import { CLAUSE_KEYS, type Clause, clauseOf, DURATIONS, groundedClauses, KNOWN_LICENCES, type Terms } from '../rights'
import { OdrlError, odrlOfTerms, termsOfOdrl } from './odrl'

function asJson(value: unknown): Json {
  return JSON.parse(JSON.stringify(value)) as Json
}

const anyClause = (key: (typeof CLAUSE_KEYS)[number]): fc.Arbitrary<Clause> =>
  fc.constantFrom('yes', 'no', 'duty', 'not-stated' as const).map((answer) => ({
    key,
    answer,
    quote: answer === 'not-stated' ? null : `words on ${key}.`,
  }))
const anyTerms: fc.Arbitrary<Terms> = fc
  .record({ clauses: fc.tuple(...CLAUSE_KEYS.map(anyClause)), duration: fc.constantFrom(...DURATIONS) })
  .map(({ clauses, duration }) => ({
    title: 'Test terms',
    shortTitle: 'T',
    version: '3',
    spdxId: null,
    url: 'https://terms.example/3',
    duration,
    clauses,
  }))

describe('terms as ODRL', () => {
  it('come back as they were, whatever they say', () => {
    fc.assert(
      fc.property(anyTerms, (terms) => {
        const text = CLAUSE_KEYS.map((key) => `words on ${key}.`).join(' ')
        const back = termsOfOdrl(asJson(odrlOfTerms(terms, { uid: 'urn:x', text })))
        expect(back).toMatchObject({ title: 'Test terms', version: '3', url: 'https://terms.example/3', text })
        expect(back.duration).toBe(terms.duration)
        for (const clause of groundedClauses(back.text, back.readings))
          expect([clause.key, clause.answer]).toEqual([clause.key, clauseOf(terms, clause.key).answer])
      }),
    )
  })

  it('say what is permitted, forbidden and owed in the words of the vocabulary', () => {
    const licence = KNOWN_LICENCES.get('CC-BY-NC-ND-4.0')
    if (!licence) throw new Error('not built in')
    const text = licence.readings.map(({ phrase }) => phrase).join('. ')
    const policy = odrlOfTerms({ ...licence, clauses: groundedClauses(text, licence.readings) }, { uid: 'urn:nc-nd' })
    expect(policy['@context'][0]).toBe('http://www.w3.org/ns/odrl.jsonld')
    expect(policy.prohibition.map(({ action }) => action)).toContain('derive')
    expect(policy.obligation.map(({ action }) => action)).toEqual(['attribute'])
    expect(policy.permission.find((rule) => rule['gt:point'] === 'online')?.constraint).toEqual([
      { leftOperand: 'media', operator: 'eq', rightOperand: 'gt:online' },
    ])
  })

  it('measure what is limited', () => {
    const clauses: Clause[] = [
      { key: 'projects', answer: 'duty', quote: 'one video', limit: { kind: 'videos', max: 1 } },
      { key: 'territory', answer: 'duty', quote: 'in Austria', limit: { kind: 'countries', codes: ['AT'] } },
    ]
    const terms = {
      title: 'T',
      shortTitle: 'T',
      version: '1',
      spdxId: null,
      url: null,
      duration: 'for-ever',
      clauses,
    } as const
    const policy = odrlOfTerms(terms, { uid: 'urn:x', text: 'one video in Austria' })
    const operands = policy.permission.flatMap(({ constraint = [] }) =>
      constraint.map((one) => [one.leftOperand, one.rightOperand]),
    )
    expect(operands).toContainEqual(['count', 1])
    expect(operands).toContainEqual(['spatial', ['AT']])
    const back = termsOfOdrl(asJson(policy))
    expect(back.readings.find(({ key }) => key === 'projects')).toMatchObject({
      answer: 'duty',
      limit: { kind: 'videos', max: 1 },
    })
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

  it('is read as far as the vocabulary goes; each point rests on the rule in the document', () => {
    const { text, readings, title, duration } = termsOfOdrl(foreign)
    const clauses = groundedClauses(text, readings)
    const answer = (key: Clause['key']) => clauses.find((clause) => clause.key === key)
    expect(answer('modification')).toMatchObject({ answer: 'yes', quote: expect.stringContaining('derive') })
    expect(answer('earning')?.answer).toBe('no')
    expect(answer('credit')?.answer).toBe('duty')
    expect(answer('online')?.answer).toBe('not-stated')
    expect([title, duration]).toEqual(['https://policies.example/7', 'not-stated'])
  })

  it('with a condition that is not understood is no plain yes', () => {
    const { readings } = termsOfOdrl({
      permission: [{ action: 'derive', constraint: [{ leftOperand: 'event', operator: 'eq', rightOperand: 'x' }] }],
    })
    expect(readings).toMatchObject([{ key: 'modification', answer: 'duty' }])
  })

  it.each([[null], ['x'], [[]], [{}], [{ permission: [] }], [{ permission: ['x'] }]])(
    'is refused when it is none: %j',
    (document) => {
      expect(() => termsOfOdrl(document as Json)).toThrow(OdrlError)
    },
  )
})
