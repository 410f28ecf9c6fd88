import { describe, expect, it } from 'vitest'
import { CLAUSE_KEYS, clauseOf, groundedClauses, type Reading } from './terms'

const TEXT = `1. You may use the sounds
in films.  2. "Broadcast" is not covered. 3. The maker’s name has to be given.`

const READINGS: readonly Reading[] = [
  { key: 'online', answer: 'yes', phrase: 'You may use the sounds in films' },
  { key: 'broadcast', answer: 'no', phrase: '“Broadcast” is not covered' },
  { key: 'credit', answer: 'duty', phrase: "The maker's name has to be given" },
  { key: 'cinema', answer: 'yes', phrase: 'You may use the sounds in cinemas' },
]

describe('groundedClauses', () => {
  const clauses = groundedClauses(TEXT, READINGS)

  it('has one clause for each point', () => {
    expect(clauses.map(({ key }) => key)).toEqual([...CLAUSE_KEYS])
  })

  it('finds phrases over line breaks and whatever the quotation marks', () => {
    expect(clauses.find(({ key }) => key === 'online')).toEqual({
      key: 'online',
      answer: 'yes',
      quote: READINGS[0]?.phrase,
    })
    expect(clauses.find(({ key }) => key === 'broadcast')?.answer).toBe('no')
    expect(clauses.find(({ key }) => key === 'credit')?.answer).toBe('duty')
  })

  it('takes no answer whose words are not in the text', () => {
    expect(clauses.find(({ key }) => key === 'cinema')).toEqual({ key: 'cinema', answer: 'not-stated', quote: null })
    expect(clauses.find(({ key }) => key === 'game')).toEqual({ key: 'game', answer: 'not-stated', quote: null })
  })

  it('takes the first reading that holds', () => {
    const twice = groundedClauses(TEXT, [
      { key: 'online', answer: 'yes', phrase: 'not in the text' },
      { key: 'online', answer: 'no', phrase: 'not covered' },
    ])
    expect(twice.find(({ key }) => key === 'online')?.answer).toBe('no')
  })

  it('takes the stricter of two readings that both hold, in whatever order, and quotes the other against it', () => {
    const readings: readonly Reading[] = [
      { key: 'online', answer: 'yes', phrase: 'You may use the sounds' },
      { key: 'online', answer: 'no', phrase: '"Broadcast" is not covered' },
    ]
    for (const order of [readings, [...readings].reverse()])
      expect(groundedClauses(TEXT, order).find(({ key }) => key === 'online')).toEqual({
        key: 'online',
        answer: 'no',
        quote: '"Broadcast" is not covered',
        against: 'You may use the sounds',
      })
  })

  it('takes the narrower of two limits', () => {
    const text = 'For one video. For up to ten videos.'
    const [narrow, wide] = [
      { key: 'projects', answer: 'duty', phrase: 'For one video', limit: { kind: 'videos', max: 1 } },
      { key: 'projects', answer: 'duty', phrase: 'For up to ten videos', limit: { kind: 'videos', max: 10 } },
    ] as const
    for (const order of [
      [narrow, wide],
      [wide, narrow],
    ])
      expect(groundedClauses(text, order).find(({ key }) => key === 'projects')).toMatchObject({
        limit: { max: 1 },
        against: 'For up to ten videos',
      })
  })

  it('quotes nothing against two readings that agree', () => {
    const twice = groundedClauses(TEXT, [
      { key: 'online', answer: 'yes', phrase: 'You may use' },
      { key: 'online', answer: 'yes', phrase: 'the sounds in films' },
    ])
    expect(twice.find(({ key }) => key === 'online')).not.toHaveProperty('against')
  })

  it('reads an empty text as saying nothing', () => {
    expect(groundedClauses('', READINGS).every(({ answer }) => answer === 'not-stated')).toBe(true)
  })
})

describe('clauseOf', () => {
  it('does not state what terms lack', () => {
    const terms = {
      title: 'T',
      shortTitle: 'T',
      version: '1',
      spdxId: null,
      url: null,
      clauses: [],
      duration: 'for-ever',
    } as const
    expect(clauseOf(terms, 'online')).toEqual({ key: 'online', answer: 'not-stated', quote: null })
  })
})
