import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { newMoment } from '../moments'
import {
  changedSafely,
  linedUp,
  moved,
  placedAnywhere,
  placedForMoment,
  replaced,
  type SourceFacts,
  trimmed,
  withSafeEnds,
} from './arrange'
import { duplicatedBed, splitBed } from './bed'
import { type ScoreEdit, scoreWithEdit } from './edits'
import { lineValue } from './lines'
import { EMPTY_SCORE, newLayer, newPlacement, type Placement, type Score } from './score'
import { assemblyLengthS, hitTimeS, meetsTarget, placementEndS, placementLengthS } from './timing'

const AUDIO = { kind: 'copy', sha256: 'a'.repeat(64), soundId: 1 } as const
/** Two seconds, with its hit at 0.4; loud from 0.1 to 1.8. */
const SOURCE: SourceFacts = { durationS: 2, hitS: 0.4, isLoudAt: (atS) => atS > 0.1 && atS < 1.8 }

const PLACED: Placement = newPlacement(
  'p',
  { layerId: 'one', audio: AUDIO, startS: 10, toS: 2 },
  { hitS: 0.4, target: { kind: 'time', atS: 10.4 } },
)
const SCORE: Score = { ...EMPTY_SCORE, layers: [newLayer('one', 'Effects', 'effects')], placements: [PLACED] }

function resultOf(edit: ScoreEdit, score = SCORE): readonly Placement[] {
  return scoreWithEdit(score, edit).document.placements
}
const first = (edit: ScoreEdit, score = SCORE): Placement => resultOf(edit, score)[0] as Placement

describe('a sound placed for a moment', () => {
  const moment = newMoment('m', 30, { kind: 'swell' })
  const place = (score: Score, source = SOURCE, at = moment) =>
    placedForMoment(score, { moment: at, audio: AUDIO, source, ids: { placement: 'new', layer: 'made' } })

  it('meets it with its hit, on a layer of its kind that is made once', () => {
    const start = { ...EMPTY_SCORE, layers: [newLayer('a', 'Ambience', 'ambience')] }
    const { edit, placement } = place(start)
    const { document } = scoreWithEdit(start, edit)
    expect(document.layers.map(({ name, role }) => [name, role])).toEqual([
      ['Ambience', 'ambience'],
      ['Effects', 'effects'],
    ])
    expect(hitTimeS(placement)).toBeCloseTo(30, 9)
    expect(meetsTarget(placement, { moments: [moment] })).toBe(true)
    const again = placedForMoment(document, {
      moment,
      audio: AUDIO,
      source: SOURCE,
      ids: { placement: 'q', layer: 'x' },
    })
    expect(scoreWithEdit(document, again.edit).document.layers).toHaveLength(2)
  })

  it('that lies below a scene begins with the moment, whatever is hit in it', () => {
    const { placement } = place(SCORE, SOURCE, newMoment('m', 30, { kind: 'ambience' }))
    expect(placement).toMatchObject({ startS: 30, hitS: null })
  })

  it('begins with the video where its hit comes later than the moment', () => {
    const early = newMoment('m', 0.1, { kind: 'hit' })
    const { placement } = place(SCORE, SOURCE, early)
    expect(placement.startS).toBe(0)
    expect(meetsTarget(placement, { moments: [early] })).toBe(false)
  })

  it('without a hit begins at the moment, and meets it', () => {
    const { placement } = place(SCORE, { ...SOURCE, hitS: null })
    expect(placement.startS).toBe(30)
    expect(meetsTarget(placement, { moments: [moment] })).toBe(true)
    expect(meetsTarget(placement, { moments: [] })).toBe(false)
  })
})

describe('a sound dropped somewhere', () => {
  const drop = (score: Score, layerId: string | null, role: 'effects' | 'ambience' = 'effects') =>
    placedAnywhere(score, {
      atS: 5,
      audio: AUDIO,
      source: SOURCE,
      layerId,
      role,
      gainDb: -3,
      ids: { placement: 'new', layer: 'made' },
    })

  it('goes to the layer it was dropped on, with its hit at the time; a bed begins there', () => {
    const score = { ...SCORE, layers: [...SCORE.layers, newLayer('two', 'Beds', 'ambience')] }
    expect(hitTimeS(drop(score, 'two').placement)).toBeCloseTo(5, 9)
    expect(drop(score, 'two').placement).toMatchObject({ layerId: 'two', gainDb: -3, target: null })
    expect(drop(score, null, 'ambience').placement).toMatchObject({ layerId: 'two', startS: 5, hitS: null })
  })

  it('on a layer that somebody removed meanwhile goes to the one for its role, which is made where there is none', () => {
    expect(drop(SCORE, 'gone').placement.layerId).toBe('one')
    const { edit, placement } = drop(EMPTY_SCORE, 'gone', 'ambience')
    expect(placement.layerId).toBe('made')
    expect(scoreWithEdit(EMPTY_SCORE, edit).document.layers).toMatchObject([{ name: 'Ambience', role: 'ambience' }])
  })
})

describe('values that are set by hand', () => {
  it('get a short fade where the end now cuts, and lose it where it does not', () => {
    const shorter = first(changedSafely(PLACED, { toS: 1 }, SOURCE))
    expect(shorter.fadeOut).toMatchObject({ lengthS: 0.01, isAutomatic: true })
    const { document } = scoreWithEdit(SCORE, changedSafely(PLACED, { toS: 1 }, SOURCE))
    expect(first(changedSafely(shorter, { toS: 2 }, SOURCE), document).fadeOut).toBeNull()
    expect(first(changedSafely(PLACED, { fromS: 0.5, fadeIn: null }, SOURCE)).fadeIn?.isAutomatic).toBe(true)
  })

  it('turned around cuts at the other end', () => {
    const half = { ...PLACED, toS: 1, fadeOut: null }
    const turned = first(changedSafely(half, { isReversed: true }, SOURCE), { ...SCORE, placements: [half] })
    expect([turned.fadeIn?.isAutomatic, turned.fadeOut]).toEqual([true, null])
  })

  it('shorten fades that would not fit at another speed, instead of refusing it', () => {
    const faded = { ...PLACED, fadeOut: { lengthS: 1.5, curve: 's', isAutomatic: false } as const }
    const faster = first(changedSafely(faded, { rate: 4 }, SOURCE), { ...SCORE, placements: [faded] })
    expect(faster.fadeOut).toEqual({ lengthS: 0.5, curve: 's', isAutomatic: false })
  })

  it('name nothing that stays: what another tab changed of it is kept', () => {
    const { changes } = changedSafely(PLACED, { gainDb: -9 }, SOURCE)
    expect(changes).toEqual([{ id: 'p', to: { gainDb: -9 } }])
  })

  it('that cannot be are refused as they are', () => {
    expect(() => first(changedSafely(PLACED, { toS: -1 }, SOURCE))).toThrow('ends before it begins')
  })
})

describe('ends', () => {
  it('get a fade of 10 ms where the sound has not died, and lose it where it has', () => {
    const cut = first(trimmed(PLACED, { end: 'end', toVideoS: 11, source: SOURCE }))
    expect(cut).toMatchObject({ toS: 1, fadeIn: null, fadeOut: { lengthS: 0.01, isAutomatic: true } })
    expect(first(trimmed(cut, { end: 'end', toVideoS: 11.95, source: SOURCE })).fadeOut).toBeNull()
  })

  it('keep a fade that was made by hand', () => {
    const byHand = { lengthS: 0.5, curve: 's', isAutomatic: false } as const
    expect(withSafeEnds({ ...PLACED, toS: 1, fadeOut: byHand }, SOURCE).fadeOut).toEqual(byHand)
  })

  it('of a sound that is turned round are those of the other side', () => {
    const part = withSafeEnds({ ...PLACED, fromS: 0.05, toS: 1, isReversed: true }, SOURCE)
    expect([part.fadeIn?.isAutomatic, part.fadeOut]).toEqual([true, null])
  })

  it.each([false, true])('trimmed leave what is heard where it was (reversed: %s)', (isReversed) => {
    const placed = {
      ...PLACED,
      isReversed,
      rate: 2,
      gainPoints: [
        { atS: 0, value: -20 },
        { atS: 1, value: 0 },
      ],
    }
    const score = { ...SCORE, placements: [placed] }
    const cut = first(trimmed(placed, { end: 'start', toVideoS: 10.25, source: SOURCE }), score)
    expect(cut.startS).toBeCloseTo(10.25, 9)
    expect(placementEndS(cut)).toBeCloseTo(placementEndS(placed), 9)
    expect(cut).toMatchObject(isReversed ? { fromS: 0, toS: 1.5 } : { fromS: 0.5, toS: 2 })
    // The line is where it was, too.
    expect(lineValue(cut.gainPoints, 0)).toBeCloseTo(-15, 9)
    expect(lineValue(cut.gainPoints, 0.75)).toBeCloseTo(0, 9)
  })

  it('go no further than the source, and not past each other', () => {
    expect(first(trimmed(PLACED, { end: 'end', toVideoS: 99, source: SOURCE })).toS).toBe(2)
    expect(() => resultOf(trimmed(PLACED, { end: 'end', toVideoS: 9, source: SOURCE }))).toThrow(/too short/)
  })

  it('make fades shorter that would not fit any more', () => {
    const fade = { lengthS: 0.8, curve: 'straight', isAutomatic: false } as const
    const cut = first(
      trimmed({ ...PLACED, fadeIn: fade, fadeOut: fade }, { end: 'end', toVideoS: 10.8, source: SOURCE }),
    )
    expect([cut.fadeIn?.lengthS, cut.fadeOut?.lengthS]).toEqual([expect.closeTo(0.4), expect.closeTo(0.4)])
  })
})

describe('a placement', () => {
  it('split sounds on as it did: the parts meet, at any rate and either way round', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.25, max: 4, noNaN: true }),
        fc.boolean(),
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        (rate, isReversed, fraction) => {
          const placed = { ...PLACED, rate, isReversed }
          const atS = 10 + fraction * placementLengthS(placed)
          const [head, tail] = resultOf(splitBed([placed], { atS, ids: ['q'], bedId: 'b' }), {
            ...SCORE,
            placements: [placed],
          }) as [Placement, Placement]
          expect(placementEndS(head)).toBeCloseTo(atS, 9)
          expect(placementEndS(tail)).toBeCloseTo(placementEndS(placed), 9)
          expect(isReversed ? [tail.fromS, head.toS] : [head.fromS, tail.toS]).toEqual([0, 2])
          // The hit is in one of them, where it was, and that one keeps the target.
          const hits = [hitTimeS(head), hitTimeS(tail)].filter((hit) => hit !== null)
          expect(hits[0]).toBeCloseTo(hitTimeS(placed) as number, 9)
          expect([head.target, tail.target].filter(Boolean)).toHaveLength(1)
        },
      ),
    )
  })

  it('is not split where it is not', () => {
    expect(() => splitBed([PLACED], { atS: 10, ids: ['q'], bedId: 'b' })).toThrow(/playhead/)
    expect(() => splitBed([PLACED], { atS: 12, ids: ['q'], bedId: 'b' })).toThrow(/playhead/)
  })

  it('replaced keeps where its hit is, its level and its layer', () => {
    const other: SourceFacts = { durationS: 5, hitS: 3, isLoudAt: () => true }
    const before = { ...PLACED, gainDb: -7, rate: 2 }
    const { startS, ...rest } = first(replaced(before, { audio: { kind: 'preview', soundId: 9 }, source: other }), {
      ...SCORE,
      placements: [before],
    })
    expect(startS + 3 / 2).toBeCloseTo(10 + 0.4 / 2, 9)
    expect(rest).toMatchObject({ gainDb: -7, layerId: 'one', toS: 5, fadeOut: { isAutomatic: true } })
  })

  it('once more stands right after itself and is lined up with nothing', () => {
    expect(resultOf(duplicatedBed([PLACED], { ids: ['q'], bedId: 'b' }))[1]).toMatchObject({ startS: 12, target: null })
  })

  it('moved with others goes no further back than the first of them can', () => {
    const other = { ...PLACED, id: 'q', startS: 0.5 }
    const score = { ...SCORE, placements: [other, PLACED] }
    expect(resultOf(moved([PLACED, other], -3), score).map(({ startS }) => startS)).toEqual([0, 9.5])
  })

  it('is lined up again after its moment was moved; where that is gone it stays', () => {
    const placed: Placement = { ...PLACED, target: { kind: 'moment', momentId: 'm' } }
    const score = { ...SCORE, placements: [placed] }
    expect(first(linedUp([placed], { moments: [newMoment('m', 20)] }), score).startS).toBeCloseTo(19.6, 9)
    expect(first(linedUp([placed], { moments: [] }), score).startS).toBe(10)
  })

  it('has no hit where that part is not heard', () => {
    expect(hitTimeS({ ...PLACED, fromS: 0.5 })).toBeNull()
    expect(hitTimeS({ ...PLACED, isReversed: true, rate: 2 })).toBeCloseTo(10 + (2 - 0.4) / 2, 9)
  })
})

describe('an assembly', () => {
  const pieces = [
    { fromS: 0, toS: 1, times: 1, seamS: 0 },
    { fromS: 1, toS: 1.5, times: 3, seamS: 0.1 },
    { fromS: 1.5, toS: 2, times: 1, seamS: 0.2 },
  ]
  it('is as long as its parts less their seams', () => {
    // 1 + 3 of 0.5 with three seams of 0.1 + 0.5 with one of 0.2.
    expect(assemblyLengthS(pieces)).toBeCloseTo(1 + 1.5 - 0.3 + 0.5 - 0.2, 9)
    expect(placementLengthS({ ...PLACED, assembly: pieces, rate: 0.5 })).toBeCloseTo(5, 9)
  })

  it('has its hit where that is heard first', () => {
    expect(hitTimeS({ ...PLACED, assembly: pieces, hitS: 1.25 })).toBeCloseTo(10 + 1 - 0.1 + 0.25, 9)
    expect(hitTimeS({ ...PLACED, assembly: pieces.slice(1), hitS: 0.5 })).toBeNull()
  })

  it('is neither trimmed nor split', () => {
    const placed = { ...PLACED, assembly: pieces }
    expect(() => trimmed(placed, { end: 'end', toVideoS: 11, source: SOURCE })).toThrow(/length/)
    expect(() => splitBed([placed], { atS: 11, ids: ['q'], bedId: 'b' })).toThrow(/split/)
  })
})

describe('a line', () => {
  it('is straight between two points and level beyond them', () => {
    const points = [
      { atS: 1, value: -10 },
      { atS: 3, value: 0 },
    ]
    expect([0, 1, 2, 3, 9].map((atS) => lineValue(points, atS))).toEqual([-10, -10, -5, 0, 0])
    expect(lineValue([], 4)).toBe(0)
    // A step: two points at one time.
    expect(lineValue([...points, { atS: 3, value: 5 }], 3)).toBe(5)
  })
})
