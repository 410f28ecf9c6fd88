import { describe, expect, it } from 'vitest'
import { type Choice, choiceTitle, inChoiceOrder, partsInOrder } from './sound-choices'

const part = (name: string): Choice => ({ role: 'part', name })

describe('the choices of an entry', () => {
  it('are named with what they are of', () => {
    expect(choiceTitle('Slow dawn', { role: 'stem', name: 'pad' })).toBe('Slow dawn (stem: pad)')
  })

  it('stand in the order of their library, stems before parts before versions', () => {
    const listed = [
      { role: 'version', name: '30 s', position: 0 },
      { role: 'part', name: 'loop', position: 2 },
      { role: 'stem', name: 'pulse', position: 3 },
      { role: 'stem', name: 'pad', position: 1 },
    ] as const
    expect(inChoiceOrder(listed).map(({ name }) => name)).toEqual(['pad', 'pulse', 'loop', '30 s'])
    expect(listed[0].name).toBe('30 s')
  })
})

describe('parts that are played one after the other', () => {
  it.each([
    [['Ending', 'Main loop', 'Opening']],
    [['Intro', 'Body', 'Outro']],
    [['the start', 'the middle', 'the end']],
  ])('are told by their names: %j', (names) => {
    const found = partsInOrder(names.map(part))
    expect(found && [found.opening, found.loop, found.ending].map(({ name }) => name).toSorted()).toEqual(
      names.toSorted(),
    )
    expect(found?.opening.name).toMatch(/open|intro|start/i)
    expect(found?.ending.name).toMatch(/end|outro/i)
  })

  it.each([
    ['there is no loop', ['opening', 'ending']],
    ['names say something else', ['bending', 'looped thing', 'restart']],
    ['one name says two things', ['opening loop', 'ending']],
  ])('are none where %s', (_, names) => {
    expect(partsInOrder(names.map(part))).toBeNull()
  })

  it('are parts, and no stems that are called so', () => {
    const stems = ['opening', 'loop', 'ending'].map((name): Choice => ({ role: 'stem', name }))
    expect(partsInOrder(stems)).toBeNull()
  })
})
