import fs from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import type { RecordingComparison } from '../../core/hearing'
import { type Db, openDatabase } from '../database/open'
import { forgetComparisons, knownComparisons, knownSum, rememberComparisons, rememberSum } from './comparisons'

const dir = temporaryDir('comparisons')
let db: Db

beforeAll(async () => {
  db = await openDatabase(dir)
})
afterAll(async () => {
  await db.destroy()
  fs.rmSync(dir, { recursive: true, force: true })
})

const inOrder = (list: readonly RecordingComparison[]): RecordingComparison[] =>
  [...list].sort((a, b) => a.first - b.first || a.second - b.second)

describe('comparisons of recordings', () => {
  const compared: RecordingComparison[] = [
    { first: 0, second: 1, likeness: 0.9, piece: null },
    { first: 0, second: 2, likeness: 0.1, piece: 'second' },
    { first: 1, second: 2, likeness: 0.2, piece: 'first' },
    { first: 1, second: 3, likeness: 0.3, piece: 'none' },
  ]

  it('are known again for the same audio, in whatever order it comes', async () => {
    await rememberComparisons(db, ['d', 'c', 'b', 'a'], compared)
    expect(inOrder(await knownComparisons(db, ['d', 'c', 'b', 'a']))).toEqual(compared)
    // Turned round: what was the first is the last now, and which lies in which is turned with it.
    expect(inOrder(await knownComparisons(db, ['a', 'b', 'c', 'd']))).toEqual([
      { first: 0, second: 2, likeness: 0.3, piece: 'none' },
      { first: 1, second: 2, likeness: 0.2, piece: 'second' },
      { first: 1, second: 3, likeness: 0.1, piece: 'first' },
      { first: 2, second: 3, likeness: 0.9, piece: null },
    ])
  })

  it('say nothing of other audio', async () => {
    expect(await knownComparisons(db, ['x', 'y', 'd'])).toEqual([])
  })

  it('hold for each of several sounds with one audio', async () => {
    const known = await knownComparisons(db, ['d', 'c', 'c'])
    expect(inOrder(known).map(({ first, second, likeness }) => [first, second, likeness])).toEqual([
      [0, 1, 0.9],
      [0, 2, 0.9],
    ])
  })

  it('are made anew where features are made in another way now', async () => {
    await db.updateTable('recording_comparisons').set({ version: '1.1' }).where('piece', 'is', null).execute()
    expect(inOrder(await knownComparisons(db, ['d', 'c', 'b', 'a']))).toEqual(compared.slice(1))
    await rememberComparisons(db, ['d', 'c'], [{ first: 0, second: 1, likeness: 0.8, piece: 'none' }])
    expect(await knownComparisons(db, ['d', 'c'])).toEqual([{ first: 0, second: 1, likeness: 0.8, piece: 'none' }])
  })
})

describe('what was compared by features that are made anew', () => {
  it('is forgotten, on whichever side they stood, and nothing else is', async () => {
    const audio = ['p', 'q', 'r', 's']
    await rememberComparisons(db, audio, [
      { first: 0, second: 1, likeness: 0.4, piece: null },
      { first: 1, second: 2, likeness: 0.5, piece: null },
      { first: 2, second: 3, likeness: 0.6, piece: null },
    ])
    await rememberSum(db, 'r', ['p', 's'], true)
    await rememberSum(db, 'q', ['p', 's'], true)
    await rememberSum(db, 's', ['p', 'q', 'r'], true)
    await rememberSum(db, 's', ['p', 'r'], true)
    await forgetComparisons(db, 'q')
    expect((await knownComparisons(db, audio)).map(({ first, second }) => [first, second])).toEqual([[2, 3]])
    expect(await knownSum(db, 'q', ['p', 's'])).toBeNull()
    expect(await knownSum(db, 's', ['p', 'q', 'r'])).toBeNull()
    expect(await knownSum(db, 'r', ['p', 's'])).toBe(true)
    expect(await knownSum(db, 's', ['p', 'r'])).toBe(true)
  })
})

describe('sums', () => {
  it('are known for these stems only, and told from what was never looked for', async () => {
    expect(await knownSum(db, 'w', ['s', 't'])).toBeNull()
    await rememberSum(db, 'w', ['s', 't'], false)
    await rememberSum(db, 'w', ['s', 't', 'u'], true)
    expect(await knownSum(db, 'w', ['s', 't'])).toBe(false)
    expect(await knownSum(db, 'w', ['s', 't', 'u'])).toBe(true)
    expect(await knownSum(db, 'w', ['s', 'u'])).toBeNull()
    await rememberSum(db, 'w', ['s', 't'], true)
    expect(await knownSum(db, 'w', ['s', 't'])).toBe(true)
  })
})
