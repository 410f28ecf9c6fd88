import { describe, expect, it } from 'vitest'
import { shortened, textDifferences } from './differences'
import { limitWords, plainTerms } from './plain-words'
import { CLAUSE_KEYS, type Clause, type Terms } from './terms'

function terms(clauses: readonly Clause[], duration: Terms['duration'] = 'for-ever'): Terms {
  return { title: 'T', shortTitle: 'T', version: '1', spdxId: null, url: null, duration, clauses }
}

describe('plain words', () => {
  it('say each point once, and never more than the clauses do', () => {
    const plain = plainTerms(
      terms([
        { key: 'online', answer: 'yes', quote: 'q' },
        { key: 'broadcast', answer: 'no', quote: 'q' },
        { key: 'cinema', answer: 'duty', quote: 'q' },
        { key: 'credit', answer: 'duty', quote: 'q' },
        { key: 'projects', answer: 'duty', quote: 'q', limit: { kind: 'videos', max: 1 } },
      ]),
    )
    expect(plain.may).toEqual(['publish it online'])
    expect(plain.mayNot).toEqual(['broadcast it'])
    expect(plain.owed).toEqual([
      'A condition has to be met before you show it in cinemas and at festivals.',
      'A credit is owed.',
      'It holds for a number of videos only: one video.',
    ])
    expect(plain.silent).toContain('put it into a game or an app')
    expect(plain.silent).toContain('territory')
  })

  it('leave nothing out: every permission is allowed, forbidden, conditional or silent', () => {
    for (const answer of ['yes', 'no', 'duty', 'not-stated'] as const) {
      const plain = plainTerms(terms(CLAUSE_KEYS.map((key) => ({ key, answer, quote: 'q' }))))
      const said = [...plain.may, ...plain.mayNot, ...plain.owed, ...plain.silent]
      expect(said.length).toBeGreaterThanOrEqual(12)
    }
  })

  it('speak of the plan', () => {
    expect(plainTerms(terms([], 'published-while-active')).owed.join()).toContain('while the plan runs')
    expect(plainTerms(terms([], 'only-while-active')).owed.join()).toContain('has to go')
  })

  it.each([
    [{ kind: 'countries', codes: ['DE', 'AT'] }, 'DE, AT'],
    [{ kind: 'videos', max: 4 }, '4 videos'],
    [{ kind: 'people', max: 500_000 }, 'up to 500,000 people'],
    [{ kind: 'platforms', names: ['A', 'B'] }, 'A, B'],
    [{ kind: 'until', day: '2027-01-31' }, 'until 2027-01-31'],
    [
      { kind: 'credit', owed: true, where: 'in the description', template: 'by {maker}' },
      'in the description, as “by {maker}”',
    ],
  ] as const)('put the limit %j into words', (limit, words) => {
    expect(limitWords(limit)).toBe(words)
  })
})

describe('differences between two versions', () => {
  const before = 'You may make films for clients. No credit is owed.'
  const after = 'You may make films for schools. No credit is owed at all.'

  it('are told word by word, and give back both texts', () => {
    const parts = textDifferences(before, after)
    expect(parts.filter(({ kind }) => kind === 'gone').map(({ text }) => text)).toContain('clients')
    expect(parts.filter(({ kind }) => kind === 'new').map(({ text }) => text.trim())).toContain('schools')
    const joined = (without: string): string =>
      parts
        .filter(({ kind }) => kind !== without)
        .map(({ text }) => text)
        .join('')
    expect(joined('gone')).toBe(after)
    expect(joined('new')).toBe(before)
  })

  it.each([
    ['one paragraph changed', 'A.\n\nB one.\n\nC.', 'A.\n\nB two.\n\nC.'],
    ['one came', 'A.\n\nC.', 'A.\n\nB.\n\nC.'],
    ['one went', 'A.\n\n\nB.\n\nC.', 'A.\n\n\nC.'],
    ['nothing before', '', 'A.'],
    ['nothing after', 'A.\n\n', ''],
  ])('give back both texts: %s', (_what, one, other) => {
    const parts = textDifferences(one, other)
    const joined = (without: string): string =>
      parts.flatMap(({ kind, text }) => (kind === without ? [] : text)).join('')
    expect(joined('gone')).toBe(other)
    expect(joined('new')).toBe(one)
  })

  // Each took for ever before the number of differences was bounded.
  it.each([' ', '\n\n', ''])(
    'of two long texts with nothing in common are told as a whole, words apart by %j',
    (between) => {
      const words = (start: number): string =>
        Array.from({ length: 100_000 }, (_, index) => `w${(index * 7919 + start) % 99_991}`).join(between)
      const [one, other] = [words(1), words(50_000)]
      expect(textDifferences(one, other)).toEqual([
        { kind: 'gone', text: one },
        { kind: 'new', text: other },
      ])
    },
  )

  it('are none for the same text', () => {
    expect(textDifferences(before, before)).toEqual([{ kind: 'same', text: before }])
  })

  it('are shown with a little around them, not with all that stayed', () => {
    const long = 'word '.repeat(400)
    const parts = shortened(textDifferences(`${long}old ${long}`, `${long}new ${long}`))
    expect(parts.map(({ text }) => text).join('').length).toBeLessThan(400)
    expect(parts.some(({ kind, text }) => kind === 'new' && text.includes('new'))).toBe(true)
  })

  it('are cut between words, and a word longer than all that is shown is not lost', () => {
    const long = 'unmistakable words '.repeat(60)
    const [first, , , last] = shortened(textDifferences(`${long}old ${long}`, `${long}new ${long}`))
    expect(first?.text).toMatch(/^ … (unmistakable|words) .*words $/)
    expect(last?.text).toMatch(/^ unmistakable .*(unmistakable|words) … $/)
    const whole = 'x'.repeat(500)
    const [before, , , after] = shortened(textDifferences(`${whole} old ${whole}`, `${whole} new ${whole}`))
    expect(before?.text).toMatch(/^ … x*\s?$/)
    expect(after?.text).toMatch(/^\s?x* … $/)
  })
})
