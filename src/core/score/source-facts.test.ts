import { describe, expect, it } from 'vitest'
import { PRINT_BANDS } from '../audio'
import { newPlacement, sourceFactsOf, withSafeEnds } from './index'

const SOUND = { durationS: 1, hitS: 0.2 }

/** A print of ten columns of 0.1 s, loud in one band of some of them. */
function printLoudIn(columns: readonly number[]): { columnS: number; levels: Uint8Array } {
  const levels = new Uint8Array(10 * PRINT_BANDS).fill(20)
  for (const column of columns) levels[column * PRINT_BANDS + 2] = 200
  return { columnS: 0.1, levels }
}

describe('what a print tells of the ends of a part', () => {
  const { isLoudAt } = sourceFactsOf(SOUND, printLoudIn([0, 3, 9]))

  it('is by its columns, the last one for all beyond', () => {
    expect([0, 0.05, 0.15, 0.35, 0.45, 0.95, 7].map(isLoudAt)).toEqual([true, true, false, true, false, true, true])
  })

  it('puts a fade only where the sound has not died', () => {
    const audio = { kind: 'preview', soundId: 1 } as const
    const part = newPlacement('one', { layerId: 'l', audio, startS: 0, toS: 0.35 }, { fromS: 0.15 })
    const { fadeIn, fadeOut } = withSafeEnds(part, sourceFactsOf(SOUND, printLoudIn([0, 3, 9])))
    expect([fadeIn, fadeOut?.lengthS]).toEqual([null, 0.01])
  })

  it('is everywhere loud where there is none, so that no cut is left', () => {
    expect([0, 0.5, 1].map(sourceFactsOf(SOUND, null).isLoudAt)).toEqual([true, true, true])
  })
})
