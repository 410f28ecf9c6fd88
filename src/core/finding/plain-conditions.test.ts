import { describe, expect, it } from 'vitest'
import { filterWords } from './filters'
import { parsedQuery } from './query'

const offered = (text: string) => parsedQuery(text).offers.map(({ words, filter }) => [words, filterWords(filter)])
const searched = (text: string) => parsedQuery(text).parts.map(({ words }) => words.join(' '))

describe('a condition in plain words is offered', () => {
  it.each([
    ['kettle under 2s', 'under 2s', 'under 2 s'],
    ['kettle under 2 s', 'under 2 s', 'under 2 s'],
    ['Under 2 Seconds kettle', 'Under 2 Seconds', 'under 2 s'],
    ['kettle <2s', '<2s', 'under 2 s'],
    ['kettle shorter than 500 ms', 'shorter than 500 ms', 'under 0.5 s'],
    ['kettle no longer than 2 sec', 'no longer than 2 sec', 'under 2 s'],
    ['wind over 1 minute', 'over 1 minute', 'over 60 s'],
    ['wind at least 1.5 min', 'at least 1.5 min', 'over 90 s'],
    ['wind between 5 and 10 s', 'between 5 and 10 s', '5 s to 10 s'],
    ['wind 5 s to 1 min', '5 s to 1 min', '5 s to 60 s'],
    ['wind 10-5 s', '10-5 s', '5 s to 10 s'],
    ['pad 60 to 90 bpm', '60 to 90 bpm', '60 to 90 bpm'],
    ['pad faster than 120 bpm', 'faster than 120 bpm', 'over 120 bpm'],
    ['door no credit', 'no credit', 'no credit owed'],
    ['in my plan door', 'in my plan', 'in my plan'],
    ['theme without vocals', 'without vocals', 'without vocals'],
  ])('%s', (text, words, says) => {
    expect(offered(text)).toEqual([[words, says]])
    // What no title says is not looked for.
    expect(searched(text)).toHaveLength(1)
    // And it does not count before it is taken.
    expect(parsedQuery(text).filters).toEqual([])
  })

  it.each([
    ['door free', 'free'],
    ['looping wind', 'loops'],
    ['music for a kettle', 'music'],
  ])('%s: what may stand in a title is looked for as well', (text, says) => {
    expect(offered(text)).toEqual([[expect.anything(), says]])
    expect(searched(text)).toEqual(text.split(' '))
  })

  it('several of them, each where it stands', () => {
    const text = 'kettle under 2 s no credit'
    expect(parsedQuery(text).offers.map(({ start, end }) => text.slice(start, end))).toEqual(['under 2 s', 'no credit'])
  })
})

describe('what is none', () => {
  it.each([
    // A number without a unit, and a unit without a number.
    'under 2',
    'under s',
    'over the hill',
    'door 2 s',
    '5 s to 10 bpm',
    'under 2 furlongs',
    // In quotes, after a minus, or broken apart it is what it says.
    '"under 2 s"',
    'under "2 s"',
    'under -2 s',
    '-free',
    'under [mono] 2 s',
    'minutes',
  ])('%s', (text) => {
    expect(offered(text)).toEqual([])
  })

  it('very long text is read in a moment, since a condition has few words', () => {
    const text = `${'under over < > between 2 and '.repeat(4000)}kettle`
    expect(offered(text)).toEqual([])
  })

  it('no more are offered than words count, however many there are', () => {
    expect(parsedQuery('free music '.repeat(5000)).offers).toHaveLength(12)
  })
})
