import { describe, expect, it } from 'vitest'
import type { ClauseKey } from '../terms'
import { ALLOWS, ALLOWS_NOTHING, LATER_ALLOWS, LATER_ALLOWS_NOTHING } from './judged-sentences'
import { LATER_TEXTS, MORE_TEXTS, TEXTS } from './judged-texts'
import { openSentencesOn, proposedClauses } from './proposed-clauses'

/** Points that a text plainly allows: said with yes, and with no open sentence that touches them. */
function plainlyAllowed(text: string): ClauseKey[] {
  const { clauses, open } = proposedClauses(text)
  return clauses
    .filter(({ key, answer }) => answer === 'yes' && openSentencesOn(key, open).length === 0)
    .map(({ key }) => key)
    .sort()
}

const keysOf = (words: string): string[] => words.split(' ').filter(Boolean).sort()

describe('a sentence that allows nothing', () => {
  it.each([...ALLOWS_NOTHING, ...LATER_ALLOWS_NOTHING])('%s', (sentence) => {
    expect(plainlyAllowed(sentence)).toEqual([])
    expect(proposedClauses(sentence).clauses.filter(({ answer }) => answer === 'yes')).toEqual([])
  })
})

describe('a sentence that allows', () => {
  it.each(ALLOWS)('%s', (sentence, keys) => {
    expect(plainlyAllowed(sentence)).toEqual(keysOf(keys))
  })

  it.each(LATER_ALLOWS)('allows nothing more: %s', (sentence, keys) => {
    for (const key of plainlyAllowed(sentence)) expect(keysOf(keys)).toContain(key)
  })

  it('is mostly understood also where it was not thought of', () => {
    const understood = LATER_ALLOWS.filter(([sentence, keys]) => `${plainlyAllowed(sentence)}` === `${keysOf(keys)}`)
    expect(understood.length / LATER_ALLOWS.length).toBeGreaterThan(0.7)
  })
})

describe('a whole text', () => {
  it.each([...TEXTS, ...MORE_TEXTS])('%s', (text, keys) => {
    expect(plainlyAllowed(text)).toEqual(keysOf(keys))
  })

  it.each(LATER_TEXTS)('allows nothing more: %s', (text, keys) => {
    for (const key of plainlyAllowed(text)) expect(keysOf(keys)).toContain(key)
  })
})
