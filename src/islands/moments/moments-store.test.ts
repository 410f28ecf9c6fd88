import { afterEach, describe, expect, it, vi } from 'vitest'
import type { MomentsChange, MomentsChanged } from '../../contract'
import { applied, editsBetween, type MomentsDocument, NO_MOMENTS, newMoment } from '../../core/moments'
import { MomentsStore } from './moments-store'

afterEach(() => vi.useRealTimers())

/** A server that does what the real one does. */
function server(document: MomentsDocument = NO_MOMENTS) {
  const state = { document, revision: 0, isAway: false, asked: 0 }
  const send = async ({ revision, edits }: MomentsChange): Promise<MomentsChanged> => {
    state.asked++
    if (state.isAway) throw new Error('Good Thud does not answer.')
    if (revision !== state.revision)
      return { outcome: 'changed-meanwhile', revision: state.revision, document: state.document }
    for (const edit of edits) state.document = applied(state.document, edit).document
    return { outcome: 'saved', revision: ++state.revision }
  }
  return { state, send }
}

const add = (id: string, atS: number, words = '') => ({ do: 'add', moments: [newMoment(id, atS, { words })] }) as const
const ids = ({ moments }: MomentsDocument): string[] => moments.map(({ id }) => id)

describe('moments in one tab', () => {
  it('are there at once and saved within a second, several edits in one request', async () => {
    vi.useFakeTimers()
    const { state, send } = server()
    const store = new MomentsStore(NO_MOMENTS, 0, send)
    store.edit(add('a', 1), 'Add')
    store.edit(add('b', 2), 'Add')
    store.undo()
    expect(ids(store.now().history.document)).toEqual(['a'])
    expect(store.now().isDirty).toBe(true)
    await vi.advanceTimersByTimeAsync(999)
    expect(ids(state.document)).toEqual(['a'])
    expect(state.asked).toBe(1)
    expect(store.now().isDirty).toBe(false)
  })

  it('are saved when the server is back, and nothing that was done meanwhile is lost', async () => {
    vi.useFakeTimers()
    const { state, send } = server()
    const store = new MomentsStore(NO_MOMENTS, 0, send)
    state.isAway = true
    store.edit(add('a', 1), 'Add')
    await vi.advanceTimersByTimeAsync(500)
    expect(store.now().problem).toContain('does not answer')
    store.edit(add('b', 2), 'Add')
    state.isAway = false
    await vi.advanceTimersByTimeAsync(5000)
    expect(ids(state.document)).toEqual(['a', 'b'])
    expect(store.now()).toMatchObject({ isDirty: false, problem: null })
  })

  it('do not overwrite those of another tab, and are merged when it is wished', async () => {
    const { state, send } = server()
    const store = new MomentsStore(NO_MOMENTS, 0, send)
    const other = new MomentsStore(NO_MOMENTS, 0, send)
    other.edit(add('theirs', 5, 'owl'), 'Add')
    await other.flush()
    store.edit(add('mine', 1), 'Add')
    await store.flush()
    expect(ids(state.document)).toEqual(['theirs'])
    expect(store.now().clash?.counts).toEqual({ added: 1, changed: 0, removed: 0 })
    // What is done before it is decided waits too.
    store.edit(add('later', 9), 'Add')
    await store.flush()
    expect(state.document.moments).toHaveLength(1)
    expect(store.merge()).toBe(0)
    await store.flush()
    expect(ids(state.document)).toEqual(['mine', 'theirs', 'later'])
    expect(store.now().clash).toBeNull()
    store.close()
  })

  it('are given up for those of the other tab when that is wished', async () => {
    const { state, send } = server()
    const store = new MomentsStore(NO_MOMENTS, 0, send)
    state.document = applied(NO_MOMENTS, add('theirs', 5)).document
    state.revision = 4
    store.edit(add('mine', 1), 'Add')
    await store.flush()
    store.takeTheirs()
    expect(ids(store.now().history.document)).toEqual(['theirs'])
    store.edit(add('next', 2), 'Add')
    await store.flush()
    expect(ids(state.document)).toEqual(['next', 'theirs'])
  })

  it('take over what the server has only while nothing waits to be saved', async () => {
    const { send } = server()
    const store = new MomentsStore(NO_MOMENTS, 0, send)
    const newer = applied(NO_MOMENTS, add('newer', 3)).document
    store.edit(add('mine', 1), 'Add')
    store.adopt(newer, 7)
    expect(ids(store.now().history.document)).toEqual(['mine'])
    await store.flush()
    store.adopt(newer, 1)
    expect(ids(store.now().history.document)).toEqual(['mine'])
    store.adopt(newer, 7)
    expect(ids(store.now().history.document)).toEqual(['newer'])
  })

  it('differ by edits that make one of the other', () => {
    const from = [
      add('a', 1),
      add('b', 2, 'door'),
      { do: 'dismiss', suggestions: [{ kind: 'flash', atS: 1 }] } as const,
    ].reduce((document, edit) => applied(document, edit).document, NO_MOMENTS)
    const edits = [
      { do: 'remove', ids: ['a'] },
      { do: 'change', changes: [{ id: 'b', to: { words: 'hatch', atS: 4 } }] },
      add('c', 3),
      { do: 'recall', suggestions: [{ kind: 'flash', atS: 1 }] },
      { do: 'crowded-from', perMinute: 30 },
    ] as const
    const to = edits.reduce((document, edit) => applied(document, edit).document, from)
    const again = editsBetween(from, to).reduce((document, edit) => applied(document, edit).document, from)
    expect(again).toEqual(to)
    expect(editsBetween(to, to)).toEqual([])
  })
})
