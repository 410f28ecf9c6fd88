import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type PlanSighting, planPeriodEnd } from './plan-history'

const ACQUIRED = { plan: 'Studio', acquiredAt: '2026-03-10T12:00:00.000Z', from: '2026-01-01', until: '2026-12-31' }
const seen = (day: string, until: string | null, more: Partial<PlanSighting> = {}): PlanSighting => ({
  seenAt: `${day}T08:00:00.000Z`,
  seenOn: day,
  plan: 'Studio',
  from: '2026-01-01',
  until,
  ...more,
})
const none = (day: string): PlanSighting => ({
  seenAt: `${day}T08:00:00.000Z`,
  seenOn: day,
  plan: '',
  from: null,
  until: null,
})

describe('the end of the plan period that a copy was acquired in', () => {
  it.each<readonly [string, readonly PlanSighting[], string]>([
    ['is the one told that day when nothing was seen since', [], '2026-12-31'],
    ['is not moved by what was seen before', [seen('2026-02-01', '2026-02-28'), none('2026-03-01')], '2026-12-31'],
    ['is not moved by what was seen earlier on the same day', [none('2026-03-10')], '2026-12-31'],
    ['comes earlier when the plan was given up', [seen('2026-05-01', '2026-05-31')], '2026-05-31'],
    [
      'stays early when there is no plan after that',
      [seen('2026-05-01', '2026-05-31'), none('2026-06-15')],
      '2026-05-31',
    ],
    [
      'stays early under another plan after that',
      [seen('2026-05-01', '2026-05-31'), seen('2026-06-02', '2027-06-01', { plan: 'Large', from: '2026-06-02' })],
      '2026-05-31',
    ],
    [
      'stays early under a later new period of the same plan',
      [seen('2026-05-01', '2026-05-31'), seen('2026-09-01', '2027-08-31', { from: '2026-09-01' })],
      '2026-05-31',
    ],
    ['is the day before no plan was seen', [none('2026-07-01')], '2026-06-30'],
    [
      'is the day before another plan was seen, also a smaller one',
      [seen('2026-07-01', '2027-06-30', { plan: 'Small', from: '2026-01-01' })],
      '2026-06-30',
    ],
    [
      'is the day before that other plan began, when it is told',
      [seen('2026-07-10', '2027-06-30', { plan: 'Small', from: '2026-07-01' })],
      '2026-06-30',
    ],
    ['goes on with a renewal that was seen while it ran', [seen('2026-12-20', '2027-12-31')], '2027-12-31'],
    ['does not go on with one that was seen after a gap', [seen('2027-02-01', '2027-12-31')], '2026-12-31'],
    [
      'does not go on where “member since” hides that it lapsed',
      [seen('2026-05-01', '2026-05-31'), seen('2026-06-20', '2026-12-31')],
      '2026-05-31',
    ],
    [
      'goes on where the plan was given up and resumed before its end',
      [seen('2026-05-01', '2026-05-31'), seen('2026-05-20', '2026-12-31')],
      '2026-12-31',
    ],
    ['holds for what came in any order', [none('2026-09-01'), seen('2026-05-01', '2026-05-31')], '2026-05-31'],
  ])('%s', (_what, sightings, end) => {
    expect(planPeriodEnd(ACQUIRED, sightings)).toBe(end)
  })

  it('never comes later than the last end that was seen while it ran', () => {
    const day = fc
      .integer({ min: 0, max: 700 })
      .map((days) => new Date(Date.UTC(2026, 0, 1) + days * 86_400_000).toISOString().slice(0, 10))
    const sighting = fc
      .record({
        seenOn: day,
        plan: fc.constantFrom('Studio', 'Small', ''),
        from: fc.constantFrom('2026-01-01', null, '2026-06-01'),
        until: fc.option(day, { nil: null }),
      })
      .map((one) => ({ ...one, seenAt: `${one.seenOn}T08:00:00.000Z` }))
    fc.assert(
      fc.property(fc.array(sighting, { maxLength: 8 }), sighting, (sightings, other) => {
        const end = planPeriodEnd(ACQUIRED, sightings)
        const ends = [ACQUIRED.until, ...sightings.flatMap(({ until }) => until ?? [])]
        expect(end <= (ends.sort().at(-1) as string)).toBe(true)
        // Another plan never lengthens it.
        const with_ = planPeriodEnd(ACQUIRED, [...sightings, { ...other, plan: 'Small' }])
        expect(with_ <= end).toBe(true)
      }),
    )
  })
})
