import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type ScoreEdit, scoreWithEdit } from './edits'
import { AUTOMATIC_FADE, EMPTY_SCORE, type Layer, newLayer, newPlacement, type Placement, type Score } from './score'
import { ScoreError } from './score-error'

const AUDIO = { kind: 'copy', sha256: 'a'.repeat(64), soundId: 1 } as const

function placement(id: string, values: Partial<Placement> = {}): Placement {
  return newPlacement(id, { layerId: 'one', audio: AUDIO, startS: 1, toS: 2, ...values }, values)
}

const TWO: Score = {
  ...EMPTY_SCORE,
  layers: [newLayer('one', 'Effects', 'effects'), newLayer('two', 'Ambience', 'ambience')],
  placements: [placement('a'), placement('b', { layerId: 'two', startS: 5 })],
}

function refused(edit: ScoreEdit, score = TWO): ScoreError {
  try {
    scoreWithEdit(score, edit)
  } catch (error) {
    if (error instanceof ScoreError) return error
  }
  throw new Error('it was done')
}

const time = fc.double({ min: 0, max: 100, noNaN: true })
const id = fc.constantFrom('a', 'b', 'c', 'd', 'one', 'two', 'three')
const editOf: fc.Arbitrary<ScoreEdit> = fc.oneof(
  fc.record({ do: fc.constant('remove' as const), ids: fc.array(id, { maxLength: 3 }) }),
  fc.record({ do: fc.constant('remove-layer' as const), id }),
  fc.record({ do: fc.constant('move-layer' as const), id, toIndex: fc.nat(3) }),
  fc.record({ id, startS: time, layerId: id }).map(({ id: key, ...values }) => ({
    do: 'add' as const,
    placements: [placement(key, values)],
  })),
  fc.record({ id, name: fc.string(), atIndex: fc.nat(3) }).map(({ id: key, name, atIndex }) => ({
    do: 'add-layer' as const,
    layer: newLayer(key, name, 'free'),
    atIndex,
  })),
  fc
    .record({
      id,
      startS: time,
      gainDb: fc.double({ min: -90, max: 40, noNaN: true }),
      pan: fc.double({ noNaN: true }),
    })
    .map(({ id: key, ...to }) => ({
      do: 'change' as const,
      changes: [
        { id: key, to },
        { id: key, to: { startS: 3 } },
      ],
    })),
  fc.record({ id, levelDb: fc.double({ min: -90, max: 40, noNaN: true }) }).map(({ id: key, levelDb }) => ({
    do: 'change-layers' as const,
    changes: [{ id: key, to: { levelDb } }],
  })),
  fc.constant({ do: 'deliver' as const, delivery: { loudnessLufs: -16, ceilingDbtp: -1.5 } }),
)

describe('an edit', () => {
  it('is taken back by its inverse, whatever it is, or leaves all as it was', () => {
    fc.assert(
      fc.property(fc.array(editOf, { maxLength: 12 }), (edits) => {
        let score = TWO
        for (const edit of edits) {
          const before = JSON.stringify(score)
          try {
            const { document, inverse } = scoreWithEdit(score, edit)
            expect(scoreWithEdit(document, inverse).document).toEqual(score)
            score = document
          } catch (error) {
            if (!(error instanceof ScoreError)) throw error
            expect(JSON.stringify(score)).toBe(before)
          }
        }
      }),
    )
  })

  it('of several is done whole or not at all', () => {
    const edit: ScoreEdit = {
      do: 'all',
      edits: [
        { do: 'remove', ids: ['a'] },
        { do: 'remove', ids: ['a'] },
      ],
    }
    expect(refused(edit).code).toBe('not-there')
    expect(TWO.placements).toHaveLength(2)
  })

  it('keeps placements in order of time and layers in their order', () => {
    const { document } = scoreWithEdit(TWO, {
      do: 'all',
      edits: [
        { do: 'change', changes: [{ id: 'b', to: { startS: 0.5 } }] },
        { do: 'move-layer', id: 'two', toIndex: 0 },
      ],
    })
    expect(document.placements.map((one) => one.id)).toEqual(['b', 'a'])
    expect(document.layers.map((one) => one.id)).toEqual(['two', 'one'])
  })
})

describe('what cannot be is refused with a sentence', () => {
  const change = (to: Partial<Placement>): ScoreEdit => ({ do: 'change', changes: [{ id: 'a', to }] })
  const piece = { fromS: 0, toS: 1, times: 2, seamS: 0.1 }
  it.each<[string, ScoreEdit, string]>([
    ['a layer with sounds', { do: 'remove-layer', id: 'one' }, 'not-empty'],
    ['a placement on no layer', change({ layerId: 'gone' }), 'not-there'],
    ['a rate beyond the bounds', change({ rate: 4.1 }), 'bad-value'],
    ['a rate that is no number', change({ rate: Number.NaN }), 'bad-value'],
    ['a part that ends before it begins', change({ fromS: 2, toS: 1 }), 'bad-time'],
    ['a start before the video', change({ startS: -0.01 }), 'bad-time'],
    ['a start that is no number', change({ startS: Number.NaN }), 'bad-time'],
    ['an end after 24 hours', change({ startS: 86_399, toS: 4, rate: 0.25 }), 'bad-time'],
    ['a gain of infinity', change({ gainDb: Number.POSITIVE_INFINITY }), 'bad-value'],
    [
      'fades longer than the sound',
      change({ fadeIn: { ...AUTOMATIC_FADE, lengthS: 1.5 }, fadeOut: { ...AUTOMATIC_FADE, lengthS: 1 } }),
      'bad-time',
    ],
    [
      'fades longer than the sound at its rate',
      change({ rate: 4, fadeOut: { ...AUTOMATIC_FADE, lengthS: 0.6 } }),
      'bad-time',
    ],
    [
      'break points in disorder',
      change({
        gainPoints: [
          { atS: 1, value: 0 },
          { atS: 0.5, value: 0 },
        ],
      }),
      'bad-time',
    ],
    ['a pan beyond the side', change({ pan: 1.01 }), 'bad-value'],
    ['an empty assembly', change({ assembly: [] }), 'too-many'],
    ['a seam longer than half of its part', change({ assembly: [{ ...piece, seamS: 0.6 }] }), 'bad-time'],
    [
      'a seam longer than half of the part before',
      change({ assembly: [{ ...piece, toS: 0.1, seamS: 0 }, piece] }),
      'bad-time',
    ],
    ['half a repetition', change({ assembly: [{ ...piece, times: 1.5 }] }), 'bad-time'],
    ['no repetition', change({ assembly: [{ ...piece, times: 0 }] }), 'bad-time'],
    ['a hash that is none', change({ audio: { ...AUDIO, sha256: '../x' } }), 'bad-value'],
    ['an amount over all', change({ treatments: [{ kind: 'wall', amountFraction: 1.1 }] }), 'bad-value'],
    ['a placement twice', { do: 'add', placements: [placement('a')] }, 'there-already'],
    ['two of one id at once', { do: 'add', placements: [placement('x'), placement('x')] }, 'there-already'],
    ['a layer without a name', { do: 'change-layers', changes: [{ id: 'one', to: { name: ' ' } }] }, 'bad-value'],
    ['a layer at no place', { do: 'move-layer', id: 'one', toIndex: 2 }, 'bad-value'],
    ['a ceiling over full scale', { do: 'deliver', delivery: { loudnessLufs: null, ceilingDbtp: 0.1 } }, 'bad-value'],
  ])('%s', (_, edit, code) => {
    expect(refused(edit)).toMatchObject({ code, message: expect.stringMatching(/^[A-Z“].*\.$/) })
  })

  it('more than so many', () => {
    const many = (count: number): Placement[] => Array.from({ length: count }, (__, at) => placement(`p${at}`))
    expect(scoreWithEdit(TWO, { do: 'add', placements: many(298) }).document.placements).toHaveLength(300)
    expect(refused({ do: 'add', placements: many(299) }).code).toBe('too-many')
    const layers: Layer[] = Array.from({ length: 24 }, (__, at) => newLayer(`l${at}`, 'x', 'free'))
    const edit: ScoreEdit = { do: 'add-layer', layer: newLayer('more', 'x', 'free'), atIndex: 0 }
    expect(refused(edit, { ...EMPTY_SCORE, layers }).code).toBe('too-many')
  })

  it('nesting without end', () => {
    let edit: ScoreEdit = { do: 'remove', ids: [] }
    for (let depth = 0; depth < 6; depth++) edit = { do: 'all', edits: [edit] }
    expect(refused(edit).code).toBe('too-deep')
  })
})
