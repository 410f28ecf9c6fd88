import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { decide as decideAsOf, decidedByTerms as decidedAsOf, fitOf, type Question, type Verdict } from './decide'
import type { Papers } from './papers'
import { CLAUSE_KEYS, type Clause, type ClauseAnswer, type Terms, USE_PLACES } from './terms'
import { isEarningUse, type Uses, usesInWords } from './uses'

const TODAY = '2026-06-01'
const decide = (question: Omit<Question, 'asOf'> & { asOf?: string }) => decideAsOf({ asOf: TODAY, ...question })
const decidedByTerms = (uses: Uses, papers: Papers, asOf = TODAY) => decidedAsOf(papers, { uses, asOf })

const ANSWERS: readonly ClauseAnswer[] = ['yes', 'no', 'duty', 'not-stated']

function termsWith(answers: Partial<Record<string, ClauseAnswer>>, more: Partial<Terms> = {}): Terms {
  const clauses = CLAUSE_KEYS.map((key): Clause => {
    const answer = answers[key] ?? 'yes'
    return { key, answer, quote: answer === 'not-stated' ? null : `words about ${key}` }
  })
  return {
    title: 'Test terms',
    shortTitle: 'Test',
    version: '1',
    spdxId: null,
    url: null,
    clauses,
    duration: 'for-ever',
    ...more,
  }
}

function papersWith(terms: Terms, more: Partial<Papers> = {}): Papers {
  return { terms, grantTitle: 'Studio plan', planFrom: null, planUntil: null, ...more }
}

const USES: Uses = {
  places: ['online'],
  earns: false,
  territory: 'worldwide',
  publishOn: '2026-06-15',
  videoLicence: null,
}

const anyTerms = fc
  .record({
    answers: fc.array(fc.constantFrom(...ANSWERS), { minLength: CLAUSE_KEYS.length, maxLength: CLAUSE_KEYS.length }),
    duration: fc.constantFrom('for-ever', 'published-while-active', 'only-while-active', 'not-stated' as const),
    spdxId: fc.constantFrom(null, 'CC-BY-SA-4.0'),
  })
  .map(({ answers, duration, spdxId }) =>
    termsWith(Object.fromEntries(CLAUSE_KEYS.map((key, index) => [key, answers[index]])), {
      duration,
      spdxId,
    } as Partial<Terms>),
  )
const anyPapers = fc
  .record({
    terms: anyTerms,
    planFrom: fc.constantFrom(null, '2026-01-01', '2027-01-01'),
    planUntil: fc.constantFrom(null, '2026-12-31', '2025-12-31'),
  })
  .map(({ terms, planFrom, planUntil }) => papersWith(terms, { planFrom, planUntil }))
const anyUses = fc.record({
  places: fc.uniqueArray(fc.constantFrom(...USE_PLACES), { minLength: 1 }),
  earns: fc.boolean(),
  territory: fc.constantFrom('worldwide', 'DE', 'DE,FR'),
  publishOn: fc.constantFrom(null, '2026-06-15', '2028-01-01'),
  videoLicence: fc.constantFrom(null, 'CC-BY-SA-4.0'),
})

const RANK: Readonly<Record<Verdict, number>> = { clear: 0, 'owes-credit': 1, 'not-allowed': 2, 'no-papers': 3 }

describe('decide, for any terms and uses', () => {
  it('never worsens when papers are added', () => {
    fc.assert(
      fc.property(anyUses, fc.array(anyPapers, { maxLength: 3 }), anyPapers, (uses, papers, more) => {
        const before = decide({ uses, papers })
        const after = decide({ uses, papers: [...papers, more] })
        expect(RANK[after.verdict]).toBeLessThanOrEqual(RANK[before.verdict])
      }),
    )
  })

  it('never worsens when the uses are narrowed', () => {
    fc.assert(
      fc.property(anyUses, anyPapers, (uses, papers) => {
        const before = decide({ uses, papers: [papers] })
        const fewer = { ...uses, places: uses.places.slice(0, 1), earns: false }
        expect(RANK[decide({ uses: fewer, papers: [papers] }).verdict]).toBeLessThanOrEqual(RANK[before.verdict])
      }),
    )
  })

  it('is never clear on a point that is not stated or forbidden', () => {
    fc.assert(
      fc.property(anyUses, anyPapers, (uses, papers) => {
        const { verdict } = decide({ uses, papers: [papers] })
        if (verdict !== 'clear' && verdict !== 'owes-credit') return
        const needed = new Set<string>([
          ...uses.places,
          'modification',
          'territory',
          ...(uses.places.includes('client-work') ? ['transfer'] : []),
          ...(isEarningUse(uses) ? ['earning'] : []),
        ])
        for (const clause of papers.terms.clauses) if (needed.has(clause.key)) expect(clause.answer).toBe('yes')
        expect(papers.terms.duration).not.toBe('not-stated')
      }),
    )
  })

  it('gives the same answer and wording every time, and a reason for each verdict', () => {
    fc.assert(
      fc.property(anyUses, anyPapers, (uses, papers) => {
        const decision = decide({ uses, papers: [papers] })
        expect(decide({ uses, papers: [papers] })).toEqual(decision)
        expect(decision.reasons.length).toBeGreaterThan(uses.places.length)
        const bars = decision.reasons.filter(({ effect }) => effect === 'bars' || effect === 'unstated')
        expect(bars.length > 0).toBe(decision.verdict === 'not-allowed')
        // What decides stands first.
        if (bars.length > 0) expect(bars).toContain(decision.reasons[0])
      }),
    )
  })
})

describe('decide', () => {
  it('without papers says so and gives no reasons', () => {
    expect(decide({ uses: USES, papers: [] })).toMatchObject({
      verdict: 'no-papers',
      reasons: [],
      duties: [],
    })
  })

  it('takes the best of several papers', () => {
    const narrow = papersWith(termsWith({ online: 'no' }))
    const wide = papersWith(termsWith({}))
    expect(decide({ uses: USES, papers: [narrow, wide] }).verdict).toBe('clear')
    expect(decide({ uses: USES, papers: [narrow] }).verdict).toBe('not-allowed')
  })

  it('owes a credit where the terms ask for one, and where they are silent', () => {
    expect(decide({ uses: USES, papers: [papersWith(termsWith({ credit: 'duty' }))] })).toMatchObject({
      verdict: 'owes-credit',
      duties: ['credit'],
    })
    expect(decide({ uses: USES, papers: [papersWith(termsWith({ credit: 'not-stated' }))] }).verdict).toBe(
      'owes-credit',
    )
  })

  it('treats paid advertising and client work as earning', () => {
    const noEarning = papersWith(termsWith({ earning: 'no' }))
    expect(decide({ uses: USES, papers: [noEarning] }).verdict).toBe('clear')
    expect(decide({ uses: { ...USES, places: ['client-work'] }, papers: [noEarning] }).verdict).toBe('not-allowed')
    expect(decide({ uses: { ...USES, places: ['paid-advertising'] }, papers: [noEarning] }).verdict).toBe('not-allowed')
  })

  it('does not clear a video that is published nowhere yet', () => {
    expect(decide({ uses: { ...USES, places: [] }, papers: [papersWith(termsWith({}))] }).verdict).toBe('not-allowed')
  })
})

describe('a plan', () => {
  const terms = termsWith({}, { duration: 'published-while-active' })
  const papers = papersWith(terms, { planFrom: '2026-03-01', planUntil: '2027-02-28', acquiredOn: '2026-03-01' })

  it.each([
    ['2026-03-01', 'clear'],
    ['2027-02-28', 'clear'],
    ['2026-02-28', 'not-allowed'],
    ['2027-03-01', 'not-allowed'],
    [null, 'not-allowed'],
  ] as const)('covers a video published on %s: %s', (publishOn, verdict) => {
    const decision = decide({ uses: { ...USES, publishOn }, papers: [papers] })
    expect(decision.verdict).toBe(verdict)
    if (publishOn === null) expect(decision.reasons[0]?.sentence).toContain('Set the publish date')
  })

  it('without a period on file is no ground', () => {
    const [reason] = decide({ uses: USES, papers: [papersWith(terms)] }).reasons
    expect(reason).toMatchObject({ key: 'duration', effect: 'unstated' })
  })

  it('that ends with the plan says so', () => {
    const only = papersWith(termsWith({}, { duration: 'only-while-active' }), {
      planFrom: '2026-03-01',
      planUntil: '2027-02-28',
    })
    const reason = decide({ uses: USES, papers: [only] }).reasons.find(({ key }) => key === 'duration')
    expect(reason?.sentence).toContain('28 Feb 2027')
  })
})

describe('fitOf', () => {
  it.each([
    [{}, 'fits'],
    [{ credit: 'duty' }, 'fits-with-credit'],
    [{ online: 'no' }, 'does-not-fit'],
    [{ online: 'not-stated' }, 'not-stated'],
    [{ online: 'not-stated', modification: 'no' }, 'does-not-fit'],
  ] as const)('%j: %s', (answers, fit) => {
    expect(fitOf(decidedByTerms(USES, papersWith(termsWith(answers))))).toBe(fit)
  })
})

function sentences(uses: Uses, papers: Papers): string[] {
  return decidedByTerms(uses, papers).settlements.map(({ sentence }) => sentence)
}

describe('settlements', () => {
  it.each([
    [{}, []],
    [{ credit: 'duty' }, ['Put the credit line into the description.']],
    [{ online: 'no' }, ['Publish without “Online”, or get terms that allow it.', 'Replace the sound.']],
    [{ online: 'not-stated' }, ['Ask the library in writing about online.', 'Replace the sound.']],
    [{ 'share-alike': 'duty' }, ['Publish the whole video under the same licence.', 'Replace the sound.']],
    [{ modification: 'no' }, ['Get other terms for this sound.', 'Replace the sound.']],
  ] as const)('%j', (answers, expected) => {
    expect(sentences(USES, papersWith(termsWith(answers)))).toEqual([...expected])
  })

  it('asks for the date, or for a plan that runs', () => {
    const papers = papersWith(termsWith({}, { duration: 'published-while-active' }), {
      planFrom: '2025-01-01',
      planUntil: '2025-12-31',
    })
    expect(sentences(USES, papers)[0]).toContain('Renew the plan')
    const undated = { ...USES, publishOn: null }
    expect(sentences(undated, papers)[0]).toBe('Set the publish date.')
  })
})

describe('usesInWords', () => {
  it('says where, whether it earns and in which territory', () => {
    expect(usesInWords({ ...USES, places: ['online', 'cinema'], earns: true, territory: 'DE,FR' })).toBe(
      'Online, cinema and festivals · earns · DE, FR',
    )
    expect(usesInWords(USES)).toBe('Online · unpaid · worldwide')
  })
})
