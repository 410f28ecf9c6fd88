import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applied, EditError, type MomentsEdit, shiftedAfter } from './edits'
import { changeCounts, mergedDocuments } from './merge'
import { freeSlot, MOMENT_KINDS, type Moment, type MomentsDocument, NO_MOMENTS, newMoment } from './moment'

const anyMoment: fc.Arbitrary<Moment> = fc
  .record({
    id: fc.stringMatching(/^[a-z]{1,6}$/),
    atS: fc.double({ min: 0, max: 1000, noNaN: true }),
    lengthS: fc.option(fc.double({ min: 0, max: 20, noNaN: true })),
    words: fc.string({ maxLength: 20 }),
    kind: fc.constantFrom(...MOMENT_KINDS),
  })
  .map(({ id, atS, lengthS, words, kind }) =>
    newMoment(id, atS, { endS: lengthS === null ? null : atS + lengthS, words, kind }),
  )

const anyDocument: fc.Arbitrary<MomentsDocument> = fc
  .uniqueArray(anyMoment, { selector: ({ id }) => id, maxLength: 12 })
  .map((moments) => applied(NO_MOMENTS, { do: 'add', moments }).document)

/** An edit that can be done on a document. */
function anyEdit(document: MomentsDocument): fc.Arbitrary<MomentsEdit> {
  const ids = document.moments.map(({ id }) => id)
  const fresh = anyMoment.filter(({ id }) => !ids.includes(id))
  const add = fresh.map((moment): MomentsEdit => ({ do: 'add', moments: [moment] }))
  const dismiss = fc
    .array(fc.record({ kind: fc.constantFrom('flash', 'stop'), atS: fc.integer({ min: 0, max: 5 }) }), { maxLength: 4 })
    .map((suggestions): MomentsEdit => ({ do: 'dismiss', suggestions }))
  if (ids.length === 0) return fc.oneof(add, dismiss)
  const some = fc.uniqueArray(fc.constantFrom(...ids), { minLength: 1 })
  return fc.oneof(
    add,
    dismiss,
    some.map((chosen): MomentsEdit => ({ do: 'remove', ids: chosen })),
    fc.tuple(some, fc.double({ min: 0, max: 900, noNaN: true }), fc.string({ maxLength: 9 })).map(
      ([chosen, atS, words]): MomentsEdit => ({
        do: 'change',
        changes: chosen.map((id) => ({ id, to: { atS, endS: null, words } })),
      }),
    ),
  )
}

describe('edits of moments', () => {
  it('are taken back by their inverse, whatever they are and in whatever order', () => {
    fc.assert(
      fc.property(
        anyDocument.chain((document) => fc.tuple(fc.constant(document), anyEdit(document), anyEdit(document))),
        ([document, first, second]) => {
          const once = applied(document, first)
          expect(applied(once.document, once.inverse).document).toEqual(document)
          let both: ReturnType<typeof applied>
          try {
            both = applied(document, { do: 'all', edits: [first, second] })
          } catch (error) {
            // The second may name what the first removed: then nothing of both is done.
            expect(error).toBeInstanceOf(EditError)
            return
          }
          expect(applied(both.document, both.inverse).document).toEqual(document)
        },
      ),
    )
  })

  it('change one moment twice in one edit and are still taken back', () => {
    const document = applied(NO_MOMENTS, { do: 'add', moments: [newMoment('a', 1)] }).document
    const edit: MomentsEdit = {
      do: 'change',
      changes: [
        { id: 'a', to: { atS: 2 } },
        { id: 'a', to: { atS: 3, words: 'door' } },
      ],
    }
    const { document: after, inverse } = applied(document, edit)
    expect(after.moments[0]).toMatchObject({ atS: 3, words: 'door' })
    expect(applied(after, inverse).document).toEqual(document)
  })

  it.each([
    [{ do: 'remove', ids: ['gone'] }, 'unknown-moment'],
    [{ do: 'change', changes: [{ id: 'a', to: { atS: -0.001 } }] }, 'bad-time'],
    [{ do: 'change', changes: [{ id: 'a', to: { atS: Number.NaN } }] }, 'bad-time'],
    [{ do: 'change', changes: [{ id: 'a', to: { endS: 0.5 } }] }, 'bad-time'],
    [{ do: 'add', moments: [newMoment('a', 4)] }, 'moment-twice'],
    [{ do: 'add', moments: [newMoment('../x', 4)] }, 'bad-value'],
    [{ do: 'change', changes: [{ id: 'a', to: { words: 'x'.repeat(201) } }] }, 'bad-value'],
    [{ do: 'crowded-from', perMinute: 0 }, 'bad-value'],
  ] as const)('refuses %j', (edit, code) => {
    const document = applied(NO_MOMENTS, { do: 'add', moments: [newMoment('a', 1)] }).document
    const frozen = structuredClone(document)
    expect(() => applied(document, edit as MomentsEdit)).toThrow(expect.objectContaining({ code }))
    expect(document).toEqual(frozen)
  })

  it('does not take a sound twice on a short list, nor a seventh', () => {
    const listed = (soundIds: readonly number[]): Moment =>
      newMoment('a', 1, {
        shortList: soundIds.map((soundId, index) => ({ slot: 'ABCDEF'[index % 6] as 'A', soundId, reason: '' })),
      })
    expect(() => applied(NO_MOMENTS, { do: 'add', moments: [listed([1, 1])] })).toThrow('once')
    expect(() => applied(NO_MOMENTS, { do: 'add', moments: [listed([1, 2, 3, 4, 5, 6, 7])] })).toThrow(EditError)
    expect(freeSlot(listed([1, 2]))).toBe('C')
    expect(freeSlot(listed([1, 2, 3, 4, 5, 6]))).toBeNull()
  })

  it('shift everything from a time on, spans with it, and nothing before the start', () => {
    const moments = [newMoment('a', 1), newMoment('b', 2, { endS: 3 }), newMoment('c', 9)]
    const { document } = applied(NO_MOMENTS, { do: 'add', moments })
    const shifted = applied(document, shiftedAfter(document, { fromS: 2, byS: -2.5 })).document
    expect(shifted.moments.map(({ id, atS, endS }) => [id, atS, endS])).toEqual([
      ['b', 0, 0.5],
      ['a', 1, null],
      ['c', 6.5, null],
    ])
  })
})

describe('two tabs', () => {
  const base = applied(NO_MOMENTS, {
    do: 'add',
    moments: [newMoment('a', 1, { words: 'door' }), newMoment('b', 2), newMoment('c', 3)],
  }).document
  const change = (id: string, to: Partial<Moment>): MomentsDocument =>
    applied(base, { do: 'change', changes: [{ id, to }] }).document

  it('that change different values of one moment keep both', () => {
    const { document, doubled } = mergedDocuments(base, change('a', { atS: 1.2 }), change('a', { words: 'hatch' }))
    expect(document.moments[0]).toMatchObject({ id: 'a', atS: 1.2, words: 'hatch' })
    expect(doubled).toEqual([])
  })

  it('that change the same value differently have the moment twice', () => {
    const { document, doubled } = mergedDocuments(
      base,
      change('a', { words: 'hatch' }),
      change('a', { words: 'shutter' }),
    )
    expect(document.moments.map(({ words }) => words)).toEqual(expect.arrayContaining(['hatch', 'shutter']))
    expect(doubled).toHaveLength(1)
  })

  it('of which one removed what the other changed keep the change', () => {
    const removed = applied(base, { do: 'remove', ids: ['a', 'b'] }).document
    const merged = mergedDocuments(base, removed, change('a', { note: 'heavy' })).document
    expect(merged.moments.map(({ id }) => id)).toEqual(['a', 'c'])
  })

  it('lose nothing that either added or changed, whatever both did', () => {
    const twoEdits = anyDocument.chain((start) => fc.tuple(fc.constant(start), anyEdit(start), anyEdit(start)))
    fc.assert(
      fc.property(twoEdits, ([start, first, second]) => {
        const [mine, theirs] = [applied(start, first).document, applied(start, second).document]
        const { document } = mergedDocuments(start, mine, theirs)
        const values = ({ id: _, ...rest }: Moment): string => JSON.stringify([rest.atS, rest.endS, rest.words])
        const all = new Set(document.moments.map(values))
        const before = new Map(start.moments.map((moment) => [moment.id, values(moment)]))
        for (const side of [mine, theirs])
          for (const moment of side.moments)
            if (before.get(moment.id) !== values(moment)) expect(all).toContain(values(moment))
        expect(new Set(document.moments.map(({ id }) => id)).size).toBe(document.moments.length)
      }),
    )
  })

  it('are told apart by what each did', () => {
    expect(changeCounts(base, change('a', { words: 'hatch' }))).toEqual({ added: 0, changed: 1, removed: 0 })
    expect(changeCounts(base, NO_MOMENTS)).toEqual({ added: 0, changed: 0, removed: 3 })
  })
})
