import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  asOneSound,
  type BedSource,
  countThings,
  duplicatedBed,
  EMPTY_SCORE,
  fullerFrom,
  inParts,
  inStems,
  lineValue,
  loopsFor,
  moved,
  newLayer,
  newPlacement,
  oneThing,
  type Placement,
  placementEndS,
  placementLengthS,
  plannedAndHeard,
  type Score,
  type ScoreEdit,
  type SourceFacts,
  scoreWithEdit,
  splitBed,
  thinnerUnder,
  trimmedBed,
  wholeBeds,
} from '.'

const LOUD: SourceFacts = { durationS: 8, hitS: null, isLoudAt: () => true }

function source(id: string, durationS = 8): BedSource {
  return { id, audio: { kind: 'preview', soundId: id.length }, source: { ...LOUD, durationS } }
}

/** A whole bed of 8 s from 10 s on, with another sound beside it. */
function scoreWithWhole(): Score {
  const layer = newLayer('music', 'Music', 'music')
  const bed = newPlacement(
    'whole',
    { layerId: 'music', audio: { kind: 'preview', soundId: 40 }, startS: 10, toS: 8 },
    { gainDb: -6, gainPoints: [{ atS: 2, value: -3 }], fadeOut: { lengthS: 1, curve: 's', isAutomatic: false } },
  )
  const other = newPlacement('other', {
    layerId: 'music',
    audio: { kind: 'preview', soundId: 41 },
    startS: 1,
    toS: 2,
  })
  return { ...EMPTY_SCORE, layers: [layer, newLayer('free', 'Other', 'free')], placements: [other, bed] }
}

function done(score: Score, edit: ScoreEdit): Score {
  const { document, inverse } = scoreWithEdit(score, edit)
  expect(scoreWithEdit(document, inverse).document).toEqual(score)
  return document
}

const STEMS = [source('pad'), source('pulse', 7.999)]
const whole = (score: Score): Placement => score.placements.find(({ id }) => id === 'whole') as Placement
const stemmed = (): Score => {
  const score = scoreWithWhole()
  return done(score, inStems(whole(score), { bedId: 'bed', soundId: 40, stems: STEMS }))
}
const membersOf = (score: Score): Placement[] => score.placements.filter(({ bed }) => bed !== null)

describe('a bed in stems', () => {
  it('stands where and as the whole stood, and is one thing', () => {
    const members = membersOf(stemmed())
    expect(members.map(({ id, startS, toS, gainDb, gainPoints }) => [id, startS, toS, gainDb, gainPoints])).toEqual([
      ['pad', 10, 7.999, -6, [{ atS: 2, value: -3 }]],
      ['pulse', 10, 7.999, -6, [{ atS: 2, value: -3 }]],
    ])
    expect(oneThing(members)?.id).toBe('pad')
    expect(oneThing(stemmed().placements)).toBeNull()
    expect(wholeBeds(stemmed(), members.slice(1)).map(({ id }) => id)).toEqual(['pad', 'pulse'])
    expect(oneThing([])).toBeNull()
    expect(countThings(stemmed())).toBe(2)
  })

  it.each([
    ['moved', { startS: 3 }],
    ['trimmed', { fromS: 1, toS: 4 }],
    ['slower', { rate: 0.5, keepsPitch: true }],
    ['on another layer', { layerId: 'free' }],
    ['reversed', { isReversed: true }],
    ['repeated', { assembly: [{ fromS: 0, toS: 4, times: 2, seamS: 0 }] }],
  ])('is %s as a whole, whichever of its stems is changed', (_, to) => {
    const score = done(stemmed(), { do: 'change', changes: [{ id: 'pulse', to }] })
    for (const member of membersOf(score)) expect(member).toMatchObject(to)
    expect(score.placements.find(({ id }) => id === 'other')).toEqual(scoreWithWhole().placements[0])
  })

  it('has a level, a place between left and right, and silence for each stem', () => {
    const to = { gainDb: -20, gainPoints: [{ atS: 0, value: -9 }], pan: 0.5, isMuted: true }
    const score = done(stemmed(), { do: 'change', changes: [{ id: 'pulse', to }] })
    expect(membersOf(score).map(({ gainDb, isMuted, pan }) => [gainDb, isMuted, pan])).toEqual([
      [-6, false, 0],
      [-20, true, 0.5],
    ])
  })

  it('keeps together what is told of both of them', () => {
    const both = {
      do: 'change',
      changes: [
        { id: 'pad', to: { startS: 4 } },
        { id: 'pulse', to: { startS: 4 } },
      ],
    } as const
    expect(membersOf(done(stemmed(), both)).map(({ startS }) => startS)).toEqual([4, 4])
    expect(membersOf(done(stemmed(), moved(membersOf(stemmed()), 2))).map(({ startS }) => startS)).toEqual([12, 12])
  })

  it('can be split, and both halves are things of their own', () => {
    const score = done(
      stemmed(),
      splitBed(membersOf(stemmed()), { atS: 13, ids: ['pad-2', 'pulse-2'], bedId: 'bed-2' }),
    )
    expect(membersOf(score).map(({ id, startS, fromS, toS, bed }) => [id, startS, fromS, toS, bed?.id])).toEqual([
      ['pad', 10, 0, 3, 'bed'],
      ['pulse', 10, 0, 3, 'bed'],
      ['pad-2', 13, 3, 7.999, 'bed-2'],
      ['pulse-2', 13, 3, 7.999, 'bed-2'],
    ])
    const apart = done(score, { do: 'change', changes: [{ id: 'pad-2', to: { startS: 20 } }] })
    expect(membersOf(apart).map(({ startS }) => startS)).toEqual([10, 10, 20, 20])
    expect(() => splitBed(membersOf(score), { atS: 50, ids: ['a', 'b'], bedId: 'c' })).toThrow(
      'The playhead is not within',
    )
  })

  it('can be had twice, each by itself', () => {
    const score = done(stemmed(), duplicatedBed(membersOf(stemmed()), { ids: ['a', 'b'], bedId: 'two' }))
    expect(membersOf(score).map(({ id, startS, bed }) => [id, startS, bed?.id])).toEqual([
      ['pad', 10, 'bed'],
      ['pulse', 10, 'bed'],
      ['a', 17.999, 'two'],
      ['b', 17.999, 'two'],
    ])
  })

  it('is trimmed at an end with what is heard staying where it is, lines and fades too', () => {
    const edit = trimmedBed(membersOf(stemmed()), { end: 'start', toVideoS: 11, sourceOf: () => LOUD })
    for (const one of membersOf(done(stemmed(), edit)))
      expect(one).toMatchObject({ startS: 11, fromS: 1, gainPoints: [{ atS: 1, value: -3 }] })
    const short = trimmedBed(membersOf(stemmed()), { end: 'end', toVideoS: 10.5, sourceOf: () => LOUD })
    for (const one of membersOf(done(stemmed(), short))) {
      expect(placementLengthS(one)).toBeCloseTo(0.5, 9)
      expect(one.fadeOut?.lengthS).toBeLessThanOrEqual(0.5)
    }
  })

  it('is one sound again where it stood', () => {
    const score = done(stemmed(), asOneSound(membersOf(stemmed()), source('whole')))
    expect(membersOf(score)).toEqual([])
    expect(whole(score)).toMatchObject({ startS: 10, toS: 7.999, gainDb: -6, gainPoints: [], bed: null })
  })

  it('that was heard as the whole was heard as planned, all of it', () => {
    const heard = { soundId: 40, audioSha256: 'x', alternativeIds: [], startS: 10.01, endS: 18 }
    const { both, heardOnly, plannedOnly } = plannedAndHeard(stemmed(), [heard])
    expect([both.map(({ placement }) => placement.id), heardOnly, plannedOnly.map(({ id }) => id)]).toEqual([
      ['pad', 'pulse'],
      [],
      ['other'],
    ])
    // Two places of one sound are not both answered for by one placement that stands alone.
    const twice = plannedAndHeard(scoreWithWhole(), [heard, { ...heard, startS: 10.2 }])
    expect([twice.both.length, twice.heardOnly.length]).toEqual([1, 1])
  })

  it('is refused where its id is none', () => {
    const bed = { id: 'no id', kind: 'stems', soundId: 1, joins: 'none' } as const
    expect(() => scoreWithEdit(scoreWithWhole(), { do: 'change', changes: [{ id: 'whole', to: { bed } }] })).toThrow(
      'no proper id',
    )
  })
})

describe('the line of a stem', () => {
  const pad = (): Placement => ({ ...(membersOf(stemmed())[0] as Placement), gainPoints: [] })

  it('goes down under speech and comes up after it', () => {
    const spoken = [
      { startS: 11, endS: 12 },
      { startS: 12.5, endS: 13 },
      { startS: 16, endS: 30 },
      { startS: 1, endS: 2 },
    ]
    const points = thinnerUnder(pad(), spoken, 8)
    const at = (videoS: number): number => lineValue(points, videoS - 10)
    expect([10, 11, 12.25, 13, 13.4, 15, 15.6, 16, 17.9].map((atS) => Math.round(at(atS) * 10) / 10)).toEqual([
      0, -8, -8, -8, 0, 0, 0, -8, -8,
    ])
  })

  it('goes down by as much from the line that it has', () => {
    const lined = {
      ...pad(),
      gainPoints: [
        { atS: 0, value: -2 },
        { atS: 7, value: -4 },
      ],
    }
    const points = thinnerUnder(lined, [{ startS: 12, endS: 13 }], 6)
    for (const atS of [0, 1, 2, 2.5, 3, 4, 7])
      expect(lineValue(points, atS)).toBeCloseTo(lineValue(lined.gainPoints, atS) - (atS >= 2 && atS <= 3 ? 6 : 0), 1)
    expect(thinnerUnder(lined, [{ startS: 50, endS: 60 }], 6)).toEqual(lined.gainPoints)
  })

  it('is held back until an instant', () => {
    const points = fullerFrom(pad(), 14, 12)
    expect([0, 3, 3.6, 4, 7].map((atS) => lineValue(points, atS))).toEqual([-12, -12, -12, 0, 0])
    expect(() => fullerFrom(pad(), 9, 12)).toThrow('not within this sound')
  })

  it('is never more than can be, and never lower', () => {
    const spoken = Array.from({ length: 150 }, (_, n) => ({ startS: 10 + 3 * n, endS: 11 + 3 * n }))
    expect(() => thinnerUnder({ ...pad(), toS: 600 }, spoken, 6)).toThrow('at most 200')
    const low = { ...pad(), gainPoints: [{ atS: 0, value: -78 }] }
    expect(Math.min(...thinnerUnder(low, [{ startS: 12, endS: 13 }], 30).map(({ value }) => value))).toBe(-80)
  })
})

describe('a bed in parts', () => {
  const parts = { opening: source('opening', 2.5), loop: source('loop', 4), ending: source('ending', 3) }
  const laid = (wantedS: number): Score => {
    const score = scoreWithWhole()
    return done(score, inParts([whole(score)], { bedId: 'bed', soundId: 40, parts, wantedS }))
  }

  it('is as near to the wanted length as whole loops come, with nothing between its parts', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 400, noNaN: true }), (wantedS) => {
        const [opening, loop, ending] = membersOf(laid(wantedS)) as [Placement, Placement, Placement]
        expect(placementEndS(opening)).toBeCloseTo(loop.startS, 9)
        expect(placementEndS(loop)).toBeCloseTo(ending.startS, 9)
        const lengthS = placementEndS(ending) - opening.startS
        const leastS = 2.5 + 4 + 3
        expect(Math.abs(lengthS - Math.max(leastS, wantedS))).toBeLessThanOrEqual(2 + 1e-9)
        expect(placementLengthS(loop)).toBeCloseTo(4 * loopsFor(parts, wantedS), 9)
      }),
      { numRuns: 60 },
    )
  })

  it('fades only at its own ends, however loud its parts are where they join', () => {
    expect(membersOf(laid(20)).map(({ fadeIn, fadeOut }) => [fadeIn?.lengthS ?? 0, fadeOut?.lengthS ?? 0])).toEqual([
      [0.01, 0],
      [0, 0],
      [0, 1],
    ])
  })

  it('moves as one, and not before the video', () => {
    const score = done(laid(20), { do: 'change', changes: [{ id: 'loop', to: { startS: 13.5, layerId: 'free' } }] })
    expect(membersOf(score).map(({ startS, layerId }) => [startS, layerId])).toEqual([
      [11, 'free'],
      [13.5, 'free'],
      [29.5, 'free'],
    ])
  })

  it('is laid anew for another length, and is one sound again', () => {
    const first = laid(20)
    const ids = { opening: source('o', 2.5), loop: source('l', 4), ending: source('e', 3) }
    const longer = done(first, inParts(membersOf(first), { bedId: 'bed', soundId: 40, parts: ids, wantedS: 60 }))
    expect(membersOf(longer).map(({ id, startS }) => [id, startS])).toEqual([
      ['o', 10],
      ['l', 12.5],
      ['e', 68.5],
    ])
    expect(whole(done(longer, asOneSound(membersOf(longer), source('whole'))))).toMatchObject({ startS: 10, toS: 8 })
  })

  it('is trimmed at its outer part only', () => {
    const edit = trimmedBed(membersOf(laid(20)), {
      end: 'end',
      toVideoS: 29.2,
      sourceOf: () => ({ ...LOUD, durationS: 3 }),
    })
    expect(membersOf(done(laid(20), edit)).map(({ toS }) => Math.round(toS * 10) / 10)).toEqual([2.5, 4, 0.7])
  })
})
