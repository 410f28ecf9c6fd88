import fs from 'node:fs'
import { describe, expect, it } from 'vitest'
import { captionCues } from '../formats/captions'
import { categoryOf } from './categories'
import { spokenSounds } from './spoken'
import { parsedVocabulary } from './vocabulary'
import { damerauLevenshteinDistance, nearestWord, trigramsOf, WordIndex } from './word-index'

const TEXT = `
# remark
whoosh, swoosh > fly-by, whip
whip, lash
riser, build-up   # another
step, footstep
`

describe('a vocabulary', () => {
  const { vocabulary, problems } = parsedVocabulary(TEXT)

  it('knows groups, and expressions of several words', () => {
    expect(vocabulary.groupCount).toBe(4)
    expect(problems).toEqual([])
    expect(vocabulary.longest).toBe(2)
    expect(vocabulary.related('riser')).toEqual({ same: ['build up'], narrower: [], broader: [] })
    expect(vocabulary.related('build up')?.same).toEqual(['riser'])
    expect(vocabulary.apart('buildups')).toBe('build up')
    expect(vocabulary.apart('riser')).toBeNull()
  })

  it('goes down to narrower words with their own group, and up to broader ones', () => {
    expect(vocabulary.related('whoosh')).toEqual({
      same: ['swoosh'],
      narrower: ['fly by', 'whip', 'lash'],
      broader: [],
    })
    expect(vocabulary.related('whip')).toEqual({ same: ['lash'], narrower: [], broader: ['whoosh', 'swoosh'] })
  })

  it('takes a word by its stem', () => {
    expect(vocabulary.related('steps')?.same).toEqual(['footstep'])
    expect(vocabulary.related('owl')).toBeNull()
  })

  it('names lines that it cannot read', () => {
    expect(parsedVocabulary('alone\na, b\n > c\na > b > c').problems).toEqual([
      { line: 1, text: 'alone' },
      { line: 3, text: '> c' },
      { line: 4, text: 'a > b > c' },
    ])
  })

  it('ships with at least 250 groups, every line of which can be read', () => {
    const shipped = parsedVocabulary(fs.readFileSync('vocabulary/sounds.txt', 'utf8'))
    expect(shipped.problems).toEqual([])
    expect(shipped.vocabulary.groupCount).toBeGreaterThanOrEqual(250)
    expect(shipped.vocabulary.related('thud')?.same).toContain('thump')
    expect(shipped.vocabulary.related('hit')?.same).toEqual(expect.arrayContaining(['impact', 'boom']))
    expect(shipped.vocabulary.related('whoosh')?.same).toEqual(expect.arrayContaining(['swoosh', 'swish']))
    expect(shipped.vocabulary.related('riser')?.same).toEqual(expect.arrayContaining(['build up', 'swell']))
  })
})

describe('typing errors', () => {
  it.each([
    ['whoosh', 'whoosh', 0],
    ['whosh', 'whoosh', 1],
    ['whoohs', 'whoosh', 1],
    ['', 'abc', 3],
    ['kitten', 'sitting', 3],
  ])('%s to %s: %i slips', (a, b, slips) => {
    expect(damerauLevenshteinDistance(a, b)).toBe(slips)
    expect(damerauLevenshteinDistance(b, a)).toBe(slips)
  })

  const index = new WordIndex({
    words: ['door', 'kettle', 'nettle', 'whoosh'],
    starts: Uint32Array.from([0, 5, 9, 10, 20]),
  })

  it.each([
    ['ketle', 'kettle'],
    ['whosh', 'whoosh'],
    ['dor', 'door'],
    ['zzzzzz', null],
    ['xy', null],
    ['k3ttle', null],
  ])('%s is taken for %s', (typed, meant) => {
    expect(nearestWord(typed, [index])).toBe(meant)
  })

  it('takes a word that only the vocabulary knows, and prefers one it knows', () => {
    expect(nearestWord('swosh', [index], ['swoosh'])).toBe('swoosh')
    expect(nearestWord('settle', [index], ['nettle'])).toBe('nettle')
  })

  it('compares by groups of three letters', () => {
    expect(trigramsOf('aab')).toEqual(['  a', ' aa', 'aab', 'ab '])
    expect(trigramsOf('aaaa')).toEqual(['  a', ' aa', 'aaa', 'aa '])
  })
})

describe('categories in two levels', () => {
  it.each([
    ['Swells', '', [], 'Reveals and passages', 'Swells'],
    ['weather', '', [], 'Weather and water', 'Weather'],
    ['Borrowed', 'Bell buoy', ['bell'], 'Other', 'Borrowed'],
    ['', 'Beep, timer', ['electronic'], 'Signals and radio', 'Signals'],
    ['', 'Something', ['footsteps'], 'People', 'Steps'],
    ['', 'Nothing known', [], 'Other', 'Unsorted'],
  ])('%j, %j %j', (given, title, tags, group, name) => {
    expect(categoryOf(given, title, tags)).toEqual({ group, name })
  })
})

const SRT = `1
00:00:01,000 --> 00:00:04,000
<i>I put the kettle on</i>

2
00:00:05,000 --> 00:00:07,000
The kettle sings, and the door closes.
`

describe('spoken words', () => {
  const { vocabulary } = parsedVocabulary('kettle, teapot\ndoor, gate\nlow, deep')

  it('reads SubRip and WebVTT without their markup', () => {
    expect(captionCues(SRT)).toEqual([
      { startS: 1, endS: 4, text: 'I put the kettle on' },
      { startS: 5, endS: 7, text: 'The kettle sings, and the door closes.' },
    ])
    expect(captionCues('WEBVTT\n\n00:02.500 --> 00:03.000\n<v Ada>A gate\n')).toEqual([
      { startS: 2.5, endS: 3, text: 'A gate' },
    ])
  })

  it.each([
    ['<<<<', '<<<<'],
    ['a <b> c', 'a c'],
    ['a {b} <c', 'a <c'],
    ['1 < 2 and 3 > 2', '1 2'],
    ['}{', '}{'],
  ])('takes out markup that is closed, and only that: %s', (said, text) => {
    expect(captionCues(`WEBVTT\n\n00:02.500 --> 00:03.000\n${said}\n`)?.[0]?.text).toBe(text)
  })

  // Each hung the reader, or would, where it is read over and over again.
  it.each(['<', '{', '\n', '-->', '<a '])('reads two megabytes of %j', (sign) => {
    const cues = captionCues(`WEBVTT\n\n00:01.000 --> 00:02.000\nowl ${sign.repeat(2_000_000 / sign.length)}`)
    expect(cues?.[0]?.text).toMatch(/^owl/)
  })

  it.each(['', 'hello', '--> 1:2', '\u0000\u0001'])('%j holds no captions', (text) => {
    expect(captionCues(text)).toBeNull()
  })

  it('finds what stands for a sound, with its time; the same word soon after is the same moment', () => {
    const found = spokenSounds(captionCues(SRT) ?? [], vocabulary)
    expect(found.map(({ words }) => words)).toEqual(['kettle', 'door'])
    expect(found[0]?.atS).toBeCloseTo(1 + (3 * 3) / 5)
    expect(found[1]?.said).toContain('the door closes')
  })

  it('knows habits of several words, and leaves out what is only a quality', () => {
    const cues = [{ startS: 0, endS: 2, text: 'A low light, then a jump cut.' }]
    expect(spokenSounds(cues, vocabulary, ['Jump cut']).map(({ words }) => words)).toEqual(['jump cut'])
  })
})
