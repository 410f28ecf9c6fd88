import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { decide, decidedByTerms } from './decide'
import type { Papers } from './papers'
import { CLAUSE_KEYS, type Clause, type ClauseKey, type Limit, type Terms } from './terms'
import type { Uses } from './uses'

const USES: Uses = {
  places: ['online'],
  earns: false,
  territory: 'worldwide',
  publishOn: '2026-06-15',
  videoLicence: null,
}
const ASKED = { asOf: '2026-06-01', videoId: 1 }

/** Terms that allow everything, but for the clauses named. */
function papers(clauses: Partial<Record<ClauseKey, Omit<Clause, 'key'>>>, more: Partial<Papers & Terms> = {}): Papers {
  const terms: Terms = {
    title: 'Test terms',
    shortTitle: 'Test',
    version: '1',
    spdxId: null,
    url: null,
    duration: more.duration ?? 'for-ever',
    clauses: CLAUSE_KEYS.map((key) => ({ key, answer: 'yes', quote: `words on ${key}`, ...clauses[key] })),
  }
  return { grantTitle: 'Order 7', planFrom: null, planUntil: null, ...more, terms }
}

function duty(limit?: Limit): Omit<Clause, 'key'> {
  return { answer: 'duty', quote: 'the words', ...(limit ? { limit } : {}) }
}

function effect(paper: Papers, key: ClauseKey, uses: Partial<Uses> = {}, asked = ASKED): string | undefined {
  return decidedByTerms(paper, { uses: { ...USES, ...uses }, ...asked }).reasons.find((reason) => reason.key === key)
    ?.effect
}

describe('a territory in country codes', () => {
  const de = papers({ territory: duty({ kind: 'countries', codes: ['DE', 'AT'] }) })
  it.each([
    ['worldwide', 'bars'],
    ['DE', 'allows'],
    ['AT,DE', 'allows'],
    ['DE,FR', 'bars'],
  ])('published in %s: %s', (territory, expected) => {
    expect(effect(de, 'territory', { territory })).toBe(expected)
  })

  it('that names none is no ground', () => {
    expect(effect(papers({ territory: duty() }), 'territory', { territory: 'DE' })).toBe('bars')
  })
})

describe('the day on which a copy was acquired', () => {
  const acquired = papers({}, { acquiredOn: '2026-06-10' })
  it.each([
    ['2026-06-09', 'bars'],
    ['2026-06-10', 'allows'],
    ['2026-07-01', 'allows'],
    [null, 'allows'],
  ])('a video published on %s', (publishOn, expected) => {
    expect(effect(acquired, 'duration', { publishOn })).toBe(expected)
  })

  it('is the day that is asked about for what could be acquired: nothing on offer settles a day past', () => {
    expect(effect(papers({}), 'duration', { publishOn: '2026-05-31' })).toBe('bars')
    const offers = [{ kind: 'plan' as const, title: 'Studio', price: null, papers: papers({}) }]
    const question = { papers: [], offers, ...ASKED }
    const past = decide({ ...question, uses: { ...USES, publishOn: '2026-05-31' } })
    expect(past.settlements.map(({ action }) => action)).not.toContain('take-offer')
    const future = decide({ ...question, uses: USES })
    expect(future.settlements.map(({ action }) => action)).toContain('take-offer')
  })

  it('does not matter for a licence that is open to everyone, nor for one’s own recording', () => {
    const uses = { publishOn: '2026-05-31' }
    const known = papers({}, { acquiredOn: '2026-06-10' })
    expect(effect({ ...known, terms: { ...known.terms, spdxId: 'CC0-1.0' } }, 'duration', uses)).toBe('allows')
    expect(
      effect({ ...known, terms: { ...known.terms, title: 'Own recording', shortTitle: 'Own' } }, 'duration', uses),
    ).toBe('allows')
    // The name alone is not enough.
    expect(effect({ ...known, terms: { ...known.terms, shortTitle: 'Own' } }, 'duration', uses)).toBe('bars')
  })
})

describe('a measure that measures nothing', () => {
  it.each([Number.NaN, Number.POSITIVE_INFINITY, 0, -1])('%s is no ground', (max) => {
    expect(effect(papers({ projects: duty({ kind: 'videos', max }) }, { boundTo: [1] }), 'projects')).toBe('unstated')
    expect(effect(papers({ audience: duty({ kind: 'people', max }) }), 'audience', { audience: 5 })).toBe('unstated')
  })

  it.each([Number.NaN, 0])('an audience of %s is not told', (audience) => {
    expect(effect(papers({ audience: duty({ kind: 'people', max: 1000 }) }), 'audience', { audience })).toBe('unstated')
  })

  it.each(['', 'soon', '9999-99-99', '2026'])('a last day %j is no ground', (day) => {
    const paper = papers({ duration: duty({ kind: 'until', day }) }, { duration: 'until-date' })
    expect(effect(paper, 'duration')).toBe('unstated')
  })
})

describe('a number of videos', () => {
  const one = duty({ kind: 'videos', max: 1 })
  it.each([
    [[1], 'allows', null],
    [[2], 'bars', 'Buy it once more, for this video.'],
    // Naming more videos than the terms allow clears none of those that came too late.
    [[2, 1], 'bars', 'Buy it once more, for this video.'],
    [[], 'unstated', 'Put on record that this purchase is for the video that you ask for.'],
  ] as const)('bound to %j: %s', (boundTo, expected, settlement) => {
    const paper = papers({ projects: one }, { boundTo })
    expect(effect(paper, 'projects')).toBe(expected)
    const sentences = decidedByTerms(paper, { uses: USES, ...ASKED }).settlements.map(({ sentence }) => sentence)
    if (settlement) expect(sentences[0]).toBe(settlement)
    else expect(sentences).toEqual([])
  })

  it('of three takes the third', () => {
    const paper = papers({ projects: duty({ kind: 'videos', max: 3 }) }, { boundTo: [2, 3] })
    expect(effect(paper, 'projects')).toBe('unstated')
    expect(effect({ ...paper, boundTo: [2, 3, 1] }, 'projects')).toBe('allows')
  })
})

describe('an audience and platforms', () => {
  it.each([
    [null, 'unstated'],
    [500_000, 'allows'],
    [500_001, 'bars'],
  ])('%s people under a cap of 500,000: %s', (audience, expected) => {
    const paper = papers({ audience: duty({ kind: 'people', max: 500_000 }) })
    expect(effect(paper, 'audience', { audience })).toBe(expected)
  })

  it.each([
    [[], 'unstated'],
    [['skerryview'], 'allows'],
    [['Skerryview', 'Elsewhere'], 'bars'],
  ])('platforms %j: %s', (platforms, expected) => {
    const paper = papers({ platforms: duty({ kind: 'platforms', names: ['Skerryview'] }) })
    expect(effect(paper, 'platforms', { platforms })).toBe(expected)
  })

  it('under a cap have to be reported on after publishing', () => {
    const paper = papers({ audience: duty({ kind: 'people', max: 10 }) })
    expect(decidedByTerms(paper, { uses: { ...USES, audience: 5 }, ...ASKED }).duties).toEqual(['report'])
  })
})

describe('people who work with it, and the length of the video', () => {
  it.each([
    [null, 'unstated'],
    [3, 'allows'],
    [4, 'bars'],
    [0, 'unstated'],
  ])('%s people under terms for three: %s', (seats, expected) => {
    expect(effect(papers({ seats: duty({ kind: 'seats', max: 3 }) }), 'seats', { seats })).toBe(expected)
  })

  it.each([
    [null, 'unstated'],
    [Number.NaN, 'unstated'],
    [600, 'allows'],
    [600.1, 'bars'],
  ])('a video of %s s under terms for ten minutes: %s', (videoLengthS, expected) => {
    const paper = papers({ 'video-length': duty({ kind: 'length', maxS: 600 }) })
    const { reasons } = decidedByTerms(paper, { uses: USES, ...ASKED, videoLengthS })
    expect(reasons.find(({ key }) => key === 'video-length')?.effect).toBe(expected)
  })

  it('whose measure is not plain, or is one of something else, are no ground', () => {
    for (const limit of [undefined, { kind: 'people', max: 3 } as const]) {
      expect(effect(papers({ seats: duty(limit) }), 'seats', { seats: 1 })).toBe('unstated')
      expect(effect(papers({ 'video-length': duty(limit) }), 'video-length')).toBe('unstated')
    }
  })
})

describe('a video that a client publishes', () => {
  it.each([
    [{ 'client-work': 'no' }, 'client-work'],
    [{ transfer: 'not-stated' }, 'transfer'],
    [{ earning: 'no' }, 'earning'],
  ] as const)('is work for a client, whatever places are named: %j', (answers, key) => {
    const paper = papers(
      Object.fromEntries(
        Object.entries(answers).map(([name, answer]) => [
          name,
          { key: name, answer, quote: answer === 'no' ? 'words' : null },
        ]),
      ) as never,
    )
    expect(decidedByTerms(paper, { uses: { ...USES, publisher: 'licensee' }, ...ASKED }).verdict).toBe('clear')
    const decision = decidedByTerms(paper, { uses: { ...USES, publisher: 'client' }, ...ASKED })
    expect(decision.verdict).toBe('not-allowed')
    expect(decision.reasons[0]?.key).toBe(key)
  })
})

describe('registration and proof', () => {
  it('bar until they are met on record', () => {
    const paper = papers({ registration: duty() })
    expect(decidedByTerms(paper, { uses: USES, ...ASKED })).toMatchObject({
      verdict: 'not-allowed',
      duties: ['registration'],
    })
    expect(decidedByTerms({ ...paper, met: ['registration'] }, { uses: USES, ...ASKED }).verdict).toBe('clear')
  })

  it('needs the receipt on file', () => {
    const paper = papers({ proof: duty() })
    expect(effect(paper, 'proof')).toBe('unstated')
    expect(effect({ ...paper, hasProof: true }, 'proof')).toBe('allows')
  })

  it('a condition on a place bars until it is met', () => {
    const paper = papers({ broadcast: duty() })
    const uses = { places: ['broadcast'] } as const
    expect(effect(paper, 'broadcast', uses)).toBe('bars')
    expect(effect({ ...paper, met: ['broadcast'] }, 'broadcast', uses)).toBe('allows')
  })
})

describe('a day on which terms end', () => {
  const until = papers(
    { duration: { answer: 'yes', quote: 'until the end of June', limit: { kind: 'until', day: '2026-06-30' } } },
    { duration: 'until-date' },
  )
  it.each([
    ['2026-06-30', '2026-06-01', 'allows'],
    ['2026-07-01', '2026-06-01', 'bars'],
    // What was published in time has to go when the day has come.
    ['2026-06-15', '2026-07-01', 'bars'],
    [null, '2026-06-01', 'unstated'],
  ])('published on %s, asked on %s: %s', (publishOn, asOf, expected) => {
    expect(effect(until, 'duration', { publishOn }, { ...ASKED, asOf })).toBe(expected)
  })
})

describe('a plan that only holds while it runs', () => {
  const plan = papers(
    {},
    { duration: 'only-while-active', planFrom: '2026-01-01', planUntil: '2026-12-31', acquiredOn: '2026-01-05' },
  )
  it('clears today and not after its end', () => {
    expect(effect(plan, 'duration')).toBe('allows')
    expect(effect(plan, 'duration', {}, { ...ASKED, asOf: '2027-01-01' })).toBe('bars')
  })

  it('differs from one that clears what was published while it ran', () => {
    const stays = papers(
      {},
      { duration: 'published-while-active', planFrom: '2026-01-01', planUntil: '2026-12-31', acquiredOn: '2026-01-05' },
    )
    expect(effect(stays, 'duration', {}, { ...ASKED, asOf: '2030-01-01' })).toBe('allows')
  })
})

describe('handing over to a client', () => {
  it('matters only in work for a client, and silence is no permission', () => {
    const silent = papers({ transfer: { answer: 'not-stated', quote: null } })
    expect(decidedByTerms(silent, { uses: USES, ...ASKED }).verdict).toBe('clear')
    expect(effect(silent, 'transfer', { places: ['client-work'] })).toBe('unstated')
  })
})

describe('offers', () => {
  const narrow = papers({ broadcast: { answer: 'no', quote: 'no broadcast' } })
  const uses: Uses = { ...USES, places: ['broadcast'] }
  it('that would allow the uses are named with their price, a tier of the sound first and another sound last; others are not named', () => {
    const decision = decide({
      uses,
      papers: [narrow],
      ...ASKED,
      offers: [
        { kind: 'tier', title: 'Online', price: '3.00 EUR', papers: narrow },
        { kind: 'tier', title: 'Everything', price: '18.00 EUR', papers: papers({}) },
        { kind: 'sound', title: 'Other thud', price: null, papers: papers({ credit: duty() }) },
      ],
    })
    expect(decision.verdict).toBe('not-allowed')
    const sentences = decision.settlements.map(({ sentence }) => sentence)
    expect(sentences[0]).toBe('Buy the tier “Everything” for 18.00 EUR: it allows this video.')
    expect(sentences.slice(-2)).toEqual([
      'Take “Other thud” instead: it allows this video with a credit.',
      'Replace the sound.',
    ])
  })

  it('are not named when nothing is open', () => {
    const offers = [{ kind: 'tier', title: 'Everything', price: '18.00 EUR', papers: papers({}) }] as const
    expect(decide({ uses: USES, papers: [papers({})], offers, ...ASKED }).settlements).toEqual([])
  })
})

describe('for any restriction', () => {
  const anyLimit: fc.Arbitrary<Limit> = fc.oneof(
    fc.record({ kind: fc.constant('videos' as const), max: fc.integer({ min: 1, max: 3 }) }),
    fc.record({ kind: fc.constant('people' as const), max: fc.integer({ min: 1, max: 100 }) }),
    fc.record({ kind: fc.constant('platforms' as const), names: fc.subarray(['A', 'B', 'C'], { minLength: 1 }) }),
    fc.record({ kind: fc.constant('countries' as const), codes: fc.subarray(['DE', 'AT', 'FR'], { minLength: 1 }) }),
  )
  const KEYS = [
    'projects',
    'audience',
    'platforms',
    'registration',
    'proof',
    'territory',
    'seats',
    'video-length',
  ] as const

  it('a duty that is not known to be met never gives clear', () => {
    fc.assert(
      fc.property(fc.constantFrom(...KEYS), fc.option(anyLimit), (key, limit) => {
        const decision = decidedByTerms(papers({ [key]: duty(limit ?? undefined) }), { uses: USES, ...ASKED })
        expect(decision.verdict).toBe('not-allowed')
        expect(decision.settlements.length).toBeGreaterThan(0)
      }),
    )
  })

  it('a smaller audience, fewer platforms and a smaller territory never worsen the verdict', () => {
    fc.assert(
      fc.property(
        anyLimit,
        fc.integer({ min: 1, max: 200 }),
        fc.subarray(['A', 'B', 'C', 'D'], { minLength: 1 }),
        (limit, audience, platforms) => {
          const paper = papers({ audience: duty(limit), platforms: duty(limit), territory: duty(limit) })
          const wide = { ...USES, audience, platforms, territory: 'DE,FR' }
          const narrow = {
            ...wide,
            audience: Math.ceil(audience / 2),
            platforms: platforms.slice(0, 1),
            territory: 'DE',
          }
          const open = (uses: Uses): number =>
            decidedByTerms(paper, { uses, ...ASKED }).reasons.filter(
              (one) => one.effect === 'bars' || one.effect === 'unstated',
            ).length
          expect(open(narrow)).toBeLessThanOrEqual(open(wide))
        },
      ),
    )
  })
})

describe('terms that contradict themselves', () => {
  it('bar by the stricter words, and the reason quotes both', () => {
    const paper = papers({ online: { answer: 'no', quote: 'not online', against: 'online without limit' } })
    const { verdict, reasons } = decidedByTerms(paper, { uses: USES, ...ASKED })
    expect(verdict).toBe('not-allowed')
    expect(reasons[0]).toMatchObject({ key: 'online', effect: 'bars', quote: 'not online' })
    expect(reasons[0]?.sentence).toContain('The terms contradict themselves: they also say “online without limit”.')
  })
})
