import { describe, expect, it } from 'vitest'
import type { MaskingWire } from '../../contract'
import { EMPTY_SCORE, newLayer, newPlacement, type Placement } from '../../core/score'
import { scaleOf } from '../time-map/view'
import { coverWords, maskingSummary } from './cover-words'
import { MixMeter } from './mix-meter'
import { handleValues, printHandles } from './print-handles'
import {
  duckLine,
  FOLDED_PX,
  LAYER_PX,
  layerAt,
  layerRows,
  levelHeight,
  levelLine,
  levelY,
  printRuns,
  stemPath,
} from './score-shapes'
import { sourceFacts } from './source-facts'
import { touched } from './use-box-selection'
import { stillTrue } from './use-masking'

const PLACED: Placement = newPlacement('p', {
  layerId: 'one',
  audio: { kind: 'preview', soundId: 1 },
  startS: 3,
  toS: 2,
})

/** A print of columns of 0.1 s, each with one level in all four bands. */
function printOf(levels: readonly number[]) {
  const bytes = levels.flatMap((level) => [level, level, level, level])
  return { columnS: 0.1, levelsBase64: btoa(String.fromCharCode(...bytes)) }
}

describe('what is known of a sound for placing it', () => {
  const facts = sourceFacts({ durationS: 0.5, hitS: 0.1, print: printOf([0, 200, 120, 40, 0]) as never })

  it('is loud where its print is, and has died where that has', () => {
    expect([0.05, 0.15, 0.25, 0.35, 0.45].map(facts.isLoudAt)).toEqual([false, true, true, false, false])
  })

  it('is told of its very end, which lies beyond the last column', () => {
    expect(facts.isLoudAt(0.5)).toBe(false)
    expect(sourceFacts({ durationS: 0.2, hitS: null, print: printOf([9, 220]) as never }).isLoudAt(0.2)).toBe(true)
  })

  it('without a print counts as loud everywhere: a fade too many is better than a cut', () => {
    expect(sourceFacts({ durationS: 1, hitS: null, print: null }).isLoudAt(0.99)).toBe(true)
  })
})

describe('how a placement is drawn', () => {
  it('is higher the louder it is, and never so low that it cannot be taken', () => {
    const heights = [-90, -30, -12, 0, 6, 30].map(levelHeight)
    expect(heights).toEqual([...heights].sort((a, b) => a - b))
    expect([heights[0], heights[1], heights[4], heights[5]]).toEqual([0.25, 0.25, 1, 1])
  })

  it('has a line only where its level changes', () => {
    expect(levelLine(PLACED)).toBeNull()
    expect(levelLine({ ...PLACED, gainPoints: [{ atS: 1, value: -6 }] })).not.toBeNull()
  })

  it('draws a short fade as short as it is', () => {
    const line = levelLine({ ...PLACED, fadeOut: { lengthS: 0.01, curve: 'straight', isAutomatic: true } }) ?? ''
    const points = line
      .slice(1)
      .split('L')
      .map((pair) => pair.split(' ').map(Number) as [number, number])
    // Full level until half a hundredth before the end, then down to nothing.
    expect(points.filter(([x]) => x < 99.4).every(([, y]) => y === 8)).toBe(true)
    expect(points.at(-1)).toEqual([100, 96])
    expect(points.map(([x]) => x)).toEqual([...points.map(([x]) => x)].sort((a, b) => a - b))
  })

  it('has a stem that is straight where both meet, and bends where they do not', () => {
    expect(stemPath({ fromX: 100, toX: 100.2, topPx: 10, bottomPx: 90 })).toBe('M100.2 10V90')
    expect(stemPath({ fromX: 100, toX: 140, topPx: 10, bottomPx: 90 })).toBe('M100 10V64L140 78V90')
  })
})

describe('the meter of what is played', () => {
  const tone = (level: number, frames = 48_000 * 4): Float32Array =>
    new Float32Array(frames).map((_, n) => level * Math.sin((2 * Math.PI * 997 * n) / 48_000))

  it('reads a sine as the norm says, alike on both sides', () => {
    const meter = new MixMeter(48_000)
    meter.push(tone(0.1), tone(0.1))
    const { shortTermLufs, integratedLufs, truePeakDbtp, correlation, mostLimitedDb } = meter.levels(-2)
    expect(shortTermLufs).toBeCloseTo(-20, 1)
    expect(integratedLufs).toBeCloseTo(-20, 1)
    expect(truePeakDbtp).toBeCloseTo(-20, 1)
    expect([correlation, mostLimitedDb]).toEqual([expect.closeTo(1, 6), -2])
  })

  it('tells sides that cancel each other, and one side alone', () => {
    const against = new MixMeter(48_000)
    against.push(
      tone(0.1),
      tone(0.1).map((value) => -value),
    )
    expect(against.levels(0).correlation).toBeCloseTo(-1, 6)
    const left = new MixMeter(48_000)
    left.push(tone(0.1), new Float32Array(48_000 * 4))
    expect(left.levels(0).correlation).toBe(0)
  })

  it('says nothing of silence', () => {
    const meter = new MixMeter(48_000)
    meter.push(new Float32Array(48_000 * 4), new Float32Array(48_000 * 4))
    expect(meter.levels(0)).toEqual({
      shortTermLufs: null,
      integratedLufs: null,
      truePeakDbtp: null,
      correlation: 0,
      mostLimitedDb: 0,
    })
  })
})

describe('what a box over the layers touches', () => {
  const scale = scaleOf({ startS: 0, endS: 10 }, 1000)
  const layers = [newLayer('one', 'One', 'effects'), newLayer('two', 'Two', 'effects')]
  const rowOf = layerRows(layers)
  const placements = [PLACED, { ...PLACED, id: 'q', layerId: 'two', startS: 6 }]
  const ids = (left: number, top: number, right: number, bottom: number) =>
    touched({ left, top, right, bottom }, { scale, placements, rowOf })

  it.each([
    ['all of it', [0, 0, 1000, 2 * LAYER_PX], ['p', 'q']],
    ['an end of one', [495, 2, 520, 6], ['p']],
    ['what is beside it', [501, 2, 520, 6], []],
    ['a row without anything there', [300, LAYER_PX + 2, 500, LAYER_PX + 9], []],
    ['the second row', [590, LAYER_PX + 2, 700, LAYER_PX + 9], ['q']],
  ] as const)('%s', (_, [left, top, right, bottom], wanted) => {
    expect(ids(left, top, right, bottom)).toEqual(wanted)
  })
})

describe('rows of layers', () => {
  const layers = [
    newLayer('one', 'One', 'effects'),
    newLayer('two', 'Two', 'music', { isFolded: true }),
    newLayer('three', 'Three', 'effects'),
  ]

  it('stand one below the other, a folded one with less room', () => {
    expect([...layerRows(layers)]).toEqual([
      ['one', { topPx: 0, heightPx: LAYER_PX }],
      ['two', { topPx: LAYER_PX, heightPx: FOLDED_PX }],
      ['three', { topPx: LAYER_PX + FOLDED_PX, heightPx: LAYER_PX }],
    ])
  })

  it('are found by their height, and none is below the last', () => {
    const at = (y: number) => layerAt(layers, y)?.id
    expect([0, LAYER_PX - 1, LAYER_PX, LAYER_PX + FOLDED_PX - 1, LAYER_PX + FOLDED_PX].map(at)).toEqual([
      'one',
      'one',
      'two',
      'two',
      'three',
    ])
    expect(at(2 * LAYER_PX + FOLDED_PX)).toBeUndefined()
    expect(layerAt([], 5)).toBeNull()
  })

  it('are chosen by a box where they are, folded or not', () => {
    const placements = [PLACED, { ...PLACED, id: 'q', layerId: 'three' }]
    const box = { left: 0, right: 1000, top: LAYER_PX + FOLDED_PX + 2, bottom: LAYER_PX + FOLDED_PX + 9 }
    const scale = scaleOf({ startS: 0, endS: 10 }, 1000)
    expect(touched(box, { scale, placements, rowOf: layerRows(layers) })).toEqual(['q'])
  })
})

describe('the print of a sound that is put together from parts', () => {
  it('shows each part as often as it is heard, from end to end', () => {
    const assembly = [
      { fromS: 0, toS: 1, times: 1, seamS: 0 },
      { fromS: 0.5, toS: 1.5, times: 3, seamS: 0 },
    ]
    const runs = printRuns({ ...PLACED, assembly })
    expect(runs.map(({ x, width, fromS }) => [x, width, fromS])).toEqual([
      [0, 25, 0],
      [25, 25, 0.5],
      [50, 25, 0.5],
      [75, 25, 0.5],
    ])
    expect(printRuns(PLACED)).toEqual([{ key: 0, x: 0, width: 100, fromS: 0, toS: 2 }])
  })

  it('is drawn as one where there would be more than anybody sees', () => {
    const assembly = [{ fromS: 0, toS: 0.01, times: 2000, seamS: 0 }]
    expect(printRuns({ ...PLACED, assembly })).toHaveLength(1)
  })
})

describe('handles of a print', () => {
  const fade = (lengthS: number) => ({ lengthS, curve: 's', isAutomatic: false }) as const

  it('stand at the inner ends of the fades, at the ends where there is none, and on the points that are heard', () => {
    const points = [
      { atS: 0.5, value: -6 },
      { atS: 7, value: 0 },
    ]
    const handles = printHandles({ ...PLACED, fadeOut: fade(0.5), gainPoints: points })
    expect(handles.map(({ key, atS }) => [key, atS])).toEqual([
      ['fade-in', 0],
      ['point-0', 0.5],
      ['fade-out', 1.5],
    ])
    expect(handles.map(handleValues)).toEqual(['Fade in: none', 'Level -6.0 dB at 0.50 s', 'Fade out 0.50 s'])
  })

  it('of points over the usual level lie on the line, and the line in its box', () => {
    const louder = {
      ...PLACED,
      gainPoints: [
        { atS: 0.5, value: 12 },
        { atS: 1.5, value: 0 },
      ],
    }
    expect(levelY(louder, 0.5)).toBeCloseTo(8, 6)
    expect(levelY(louder, 1.5)).toBeGreaterThan(60)
    expect(levelY(PLACED, 1)).toBeCloseTo(8, 6)
  })
})

describe('what is known of sounds and the voice', () => {
  const score = {
    ...EMPTY_SCORE,
    layers: [newLayer('one', 'One', 'effects')],
    placements: [PLACED, { ...PLACED, id: 'q' }],
  }
  const wire = (id: string, speechLostFraction: number, soundLostFraction = 0) => ({
    id,
    speechLostFraction,
    speechLost: [],
    soundLostFraction,
  })
  const answer = {
    revision: 1,
    isVoiceHeard: true,
    places: [wire('p', 0.6), wire('q', 0.1)],
    notHere: [],
    cutShort: [],
  }

  it('stays known of what did not change, and is forgotten of what did', () => {
    const [first, second] = score.placements as [Placement, Placement]
    const ids = (now: typeof score) => [...stillTrue({ score, answer }, now).keys()]
    expect(ids(score)).toEqual(['p', 'q'])
    expect(ids({ ...score, placements: [{ ...first, gainDb: -3 }, second] })).toEqual(['q'])
    expect(ids({ ...score, placements: [second] })).toEqual(['q'])
    // A layer that is louder covers more.
    expect(ids({ ...score, layers: [newLayer('one', 'One', 'effects', { levelDb: 6 })] })).toEqual([])
  })

  it('is never called all right where it is not known', () => {
    const all = {
      byId: new Map([['p', wire('p', 0.1)]]),
      isVoiceHeard: true,
      isOutdated: false,
      notCompared: 0,
      inPart: 0,
    }
    const none = { ...all, byId: new Map<string, MaskingWire>() }
    expect(maskingSummary(all, 0)).toBe('No sound that was compared covers the voice or is lost under it.')
    expect(maskingSummary(all, 1)).toBe('')
    expect(maskingSummary(none, 0)).toBe('Nobody speaks while a placed sound is heard.')
    // What could not be compared is not what nobody speaks over.
    expect(maskingSummary({ ...none, notCompared: 2 }, 0)).toBe(
      '2 sounds could not be compared: the audio is not here.',
    )
    expect(maskingSummary({ ...none, isOutdated: true }, 0)).toBe('What was changed since is not in it: check again.')
    expect(maskingSummary({ ...all, inPart: 1 }, 0)).toContain(
      '1 long sound was compared for the first two minutes only.',
    )
    expect(maskingSummary({ ...all, isVoiceHeard: false }, 0)).toContain('no voice to compare with')
  })

  it('is said where it matters, the worse first', () => {
    expect(coverWords(wire('p', 0.6, 0.9))).toBe('covers the voice: 60 % of what is said meanwhile is lost.')
    expect(coverWords(wire('p', 0.1, 0.9))).toBe('is not heard under the voice for 90 % of its length.')
    expect(coverWords(wire('p', 0.1, 0.1))).toBeNull()
    // Little is lost on the whole, and yet two words are.
    expect(coverWords({ ...wire('p', 0.1), speechLost: [{ startS: 1, endS: 2 }] })).toContain('covers the voice')
  })
})

describe('the line of a layer that goes down under speech', () => {
  const dip = { speechS: 2, downFromS: 1.5, downAtS: 2, upFromS: 4, upAtS: 5, depthDb: 15 }
  const late = { ...dip, speechS: 22, downFromS: 21.5, downAtS: 22, upFromS: 24, upAtS: 25 }
  const scale = scaleOf({ startS: 0, endS: 10 }, 1000)

  it('goes from the top halfway down and up again, and leaves out what is not in view', () => {
    expect(duckLine([dip, late], scale, 44)).toBe('M0.0 2.0L150.0 2.0L200.0 22.0L400.0 22.0L500.0 2.0L1000.0 2.0')
  })

  it('is level without a dip, and never below the row', () => {
    expect(duckLine([], scale, 44)).toBe('M0.0 2.0L1000.0 2.0')
    expect(duckLine([{ ...dip, depthDb: 90 }], scale, 44)).toContain('L200.0 42.0L')
  })
})
