import fs from 'node:fs'
import path from 'node:path'
import Ajv from 'ajv/dist/2020'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FADE_CURVES, type Fade, inOrder, newLayer, newPlacement, scoreToOtio } from '../src/core/score'
import { EMPTY_SCORE } from '../src/core/score/score'
import { ROOT } from './world'

const schema = JSON.parse(fs.readFileSync(path.join(ROOT, 'test', 'schemas', 'otio.schema.json'), 'utf8'))
const validate = new Ajv({
  allErrors: true,
  formats: { 'uri-reference': (text: string) => !/[\s"<>\\^`{|}]/.test(text) },
})
const isTimeline = validate.compile(schema)

interface Placed {
  readonly startS: number
  readonly lengthS: number
  readonly rate: number
  readonly layerId: string
  readonly fadeIn: Fade | null
  readonly fadeOut: Fade | null
}

const anyFade: fc.Arbitrary<Fade | null> = fc.option(
  fc.record({
    lengthS: fc.double({ min: 0.001, max: 0.02, noNaN: true }),
    curve: fc.constantFrom(...FADE_CURVES),
    isAutomatic: fc.boolean(),
  }),
)

const anyPlaced: fc.Arbitrary<Placed> = fc.record({
  startS: fc.double({ min: 0, max: 7200, noNaN: true }),
  lengthS: fc.double({ min: 0.05, max: 60, noNaN: true }),
  rate: fc.constantFrom(0.25, 1, 4),
  layerId: fc.constantFrom('one', 'two'),
  fadeIn: anyFade,
  fadeOut: anyFade,
})

interface Item {
  readonly OTIO_SCHEMA: string
}

function timelineOf(rows: readonly Placed[], name: string) {
  const placements = rows.map(({ startS, lengthS, rate, layerId, fadeIn, fadeOut }, at) =>
    newPlacement(
      `p${at}`,
      { layerId, audio: { kind: 'preview', soundId: 1 }, startS, toS: lengthS * rate },
      { rate, fadeIn, fadeOut },
    ),
  )
  const layers = [newLayer('one', 'Effects', 'effects'), newLayer('two', 'Ambience', 'ambience')]
  const text = scoreToOtio(
    { ...EMPTY_SCORE, layers, placements: inOrder(placements) },
    {
      title: name,
      rate: { num: 30_000, den: 1001 },
      drop: true,
      fileNameOf: () => name,
      fileLengthS: () => 240,
      markers: [
        { startS: 1.5, endS: null, name, note: '', tags: { kind: 'hit' } },
        { startS: 2, endS: 7, name, note: name, tags: {} },
      ],
    },
  )
  return JSON.parse(text) as { tracks: { children: { children: Item[] }[] } }
}

describe('a timeline that goes out', () => {
  it('is one by the published format, whatever is placed and whatever it is called', () => {
    fc.assert(
      fc.property(
        fc.array(anyPlaced, { maxLength: 12 }),
        fc.string({ unit: 'grapheme', minLength: 1 }),
        (rows, name) => {
          const timeline = timelineOf(rows, name)
          isTimeline(timeline)
          expect(isTimeline.errors ?? []).toEqual([])
        },
      ),
    )
  })

  it('has no transition beside another one, and none that reaches beyond silence', () => {
    const fade: Fade = { lengthS: 0.01, curve: 's', isAutomatic: true }
    const [first, second] = [0, 1].map((startS) => ({
      startS,
      lengthS: 1,
      rate: 1,
      layerId: 'one',
      fadeIn: fade,
      fadeOut: fade,
    }))
    if (!first || !second) throw new Error('two sounds')
    const [track] = timelineOf([first, second], 'a.wav').tracks.children
    expect(track?.children.map(({ OTIO_SCHEMA }) => OTIO_SCHEMA.split('.')[0])).toEqual([
      'Transition',
      'Clip',
      'Transition',
      'Gap',
      'Transition',
      'Clip',
      'Transition',
    ])
  })

  it.each([
    ['a schema that is none', (text: string) => text.replace('Track.1', 'Track.9')],
    ['a rate of nothing', (text: string) => text.replace(/"rate":48000/, '"rate":0')],
    ['values beside our own key', (text: string) => text.replace('"good_thud"', '"somebody"')],
    ['a clip without media', (text: string) => text.replace('"media_references"', '"media"')],
  ])('%s would be noticed', (_, spoil) => {
    const row = { startS: 1, lengthS: 1, rate: 2, layerId: 'one', fadeIn: null, fadeOut: null }
    const text = JSON.stringify(timelineOf([row], 'a.wav'))
    expect(isTimeline(JSON.parse(text))).toBe(true)
    expect(isTimeline(JSON.parse(spoil(text)))).toBe(false)
  })
})
