import { describe, expect, it } from 'vitest'
import { type Apply, type History, historyOf, redoneOnce, undoneOnce, withEdit } from './history'

/** A number to which something is added; nothing under 0 can be. */
const add: Apply<number, number> = (document, edit) => {
  if (document + edit < 0) throw new RangeError('under 0')
  return { document: document + edit, inverse: -edit }
}
const start: History<number, number> = historyOf(10)
const done = (history: History<number, number>, edit: number) => withEdit(history, add, { edit, words: `Add ${edit}` })

describe('undo and redo', () => {
  it('go back to the start and forward again, and redo is gone after something new', () => {
    const end = done(done(start, 5), -3)
    const back = undoneOnce(undoneOnce(end, add)?.history ?? end, add)
    expect(back).toMatchObject({ history: { document: 10 }, edit: -5 })
    expect(undoneOnce(back?.history ?? end, add)).toBeNull()
    const forward = redoneOnce(redoneOnce(back?.history ?? end, add)?.history ?? end, add)
    expect(forward).toMatchObject({ history: { document: 12, undone: [] }, edit: -3 })
    expect(redoneOnce(done(back?.history ?? end, 1), add)).toBeNull()
  })

  it('keep what cannot be done out of the history', () => {
    const history = done(start, 5)
    expect(() => done(history, -99)).toThrow('under 0')
    expect(history.done).toHaveLength(1)
  })

  it('go back so many steps and no more', () => {
    let history = start
    for (let step = 0; step < 600; step++) history = done(history, 1)
    let steps = 0
    for (let back = undoneOnce(history, add); back; back = undoneOnce(history, add)) {
      history = back.history
      steps++
    }
    expect([steps, history.document]).toEqual([500, 110])
  })
})
