import { describe, expect, it } from 'vitest'
import { type ScoreEdit, scoreWithEdit } from './edits'
import { rebased, scoreChanges } from './merge'
import { EMPTY_SCORE, newLayer, newPlacement, type Score } from './score'

const AUDIO = { kind: 'preview', soundId: 1 } as const
const placement = (id: string) => newPlacement(id, { layerId: 'one', audio: AUDIO, startS: 1, toS: 2 })
const START: Score = {
  ...EMPTY_SCORE,
  layers: [newLayer('one', 'Effects', 'effects')],
  placements: [placement('a'), placement('b')],
}
const done = (score: Score, edit: ScoreEdit): Score => scoreWithEdit(score, edit).document

describe('changes of one tab on what another saved', () => {
  it('keep both where they are of different things or values', () => {
    const theirs = done(START, { do: 'change', changes: [{ id: 'a', to: { gainDb: -6 } }] })
    const mine: ScoreEdit[] = [
      { do: 'change', changes: [{ id: 'a', to: { pan: 1 } }] },
      { do: 'add', placements: [placement('c')] },
    ]
    const { document, edits, leftOut } = rebased(theirs, mine)
    expect(document.placements.find(({ id }) => id === 'a')).toMatchObject({ gainDb: -6, pan: 1 })
    expect(document.placements.map(({ id }) => id)).toEqual(['a', 'b', 'c'])
    expect([edits, leftOut]).toEqual([mine, 0])
  })

  it('leave out and count what changes something that is gone, and do the rest', () => {
    const theirs = done(START, { do: 'remove', ids: ['a'] })
    const rest: ScoreEdit = { do: 'change', changes: [{ id: 'b', to: { gainDb: -3 } }] }
    const { document, edits, leftOut } = rebased(theirs, [
      { do: 'change', changes: [{ id: 'a', to: { gainDb: -6 } }] },
      rest,
    ])
    expect([edits, leftOut]).toEqual([[rest], 1])
    expect(document.placements).toMatchObject([{ id: 'b', gainDb: -3 }])
  })

  it('are told as added, changed and removed', () => {
    const theirs = done(START, {
      do: 'all',
      edits: [
        { do: 'remove', ids: ['a'] },
        { do: 'add', placements: [placement('c'), placement('d')] },
        { do: 'change', changes: [{ id: 'b', to: { isMuted: true } }] },
      ],
    })
    expect(scoreChanges(START, theirs)).toEqual({ added: 2, changed: 1, removed: 1 })
    expect(scoreChanges(START, START)).toEqual({ added: 0, changed: 0, removed: 0 })
  })
})
