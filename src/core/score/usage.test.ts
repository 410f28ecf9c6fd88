import { describe, expect, it } from 'vitest'
import { newMoment } from '../moments'
import { newPlacement, type Placement, placementsByMoment } from './index'

const placed = (id: string, target: Placement['target']): Placement =>
  newPlacement(id, { layerId: 'l', audio: { kind: 'preview', soundId: 1 }, startS: 0, toS: 1 }, { target })

describe('what is placed, by moments', () => {
  const [first, second] = [newMoment('a', 3), newMoment('b', 1)]
  const one = placed('one', { kind: 'moment', momentId: 'a' })
  const two = placed('two', { kind: 'moment', momentId: 'a' })
  const free = placed('free', null)
  const left = placed('left', { kind: 'moment', momentId: 'gone' })

  it('names every moment in their order, and every placement once', () => {
    const { byMoment, others } = placementsByMoment({ placements: [one, free, two, left] }, [first, second])
    expect(byMoment.map(({ moment, placements }) => [moment.id, placements.map(({ id }) => id)])).toEqual([
      ['a', ['one', 'two']],
      ['b', []],
    ])
    expect(others.map(({ id }) => id)).toEqual(['free', 'left'])
  })
})
