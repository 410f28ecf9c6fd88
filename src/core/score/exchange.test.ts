import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { markersFromEdl } from '../formats/markers'
import { lanesOf, type ScoreListContext, scoreToEdl, scoreToOtio } from './exchange'
import { EMPTY_SCORE, inOrder, newLayer, newPlacement, type Placement, type Score } from './score'
import { placementEndS, placementLengthS } from './timing'

const RATE = { num: 24, den: 1 }
const CONTEXT: ScoreListContext = {
  title: 'The night\nthe dome froze',
  rate: RATE,
  drop: false,
  fileNameOf: ({ id }) => `Owl, ${id} & “co”.wav`,
  fileLengthS: () => 60,
  markers: [],
}

const placementArb = fc
  .record({
    startS: fc.integer({ min: 0, max: 24 * 100 }).map((frame) => frame / 24),
    lengthS: fc.integer({ min: 1, max: 24 * 20 }).map((frame) => frame / 24),
    layer: fc.constantFrom('one', 'two'),
    gainDb: fc.integer({ min: -40, max: 10 }),
  })
  .map(({ startS, lengthS, layer, gainDb }) => ({ startS, lengthS, layer, gainDb }))

function scoreOf(values: readonly { startS: number; lengthS: number; layer: string; gainDb: number }[]): Score {
  const placements = values.map(({ startS, lengthS, layer, gainDb }, at) =>
    newPlacement(
      `p${at}`,
      { layerId: layer, audio: { kind: 'copy', sha256: 'a'.repeat(64), soundId: 1 }, startS, toS: 2 + lengthS },
      { fromS: 2, gainDb },
    ),
  )
  return {
    ...EMPTY_SCORE,
    layers: [newLayer('one', 'Effects', 'effects'), newLayer('two', 'Ambience', 'ambience')],
    placements: inOrder(placements),
  }
}
const anyScore = fc.array(placementArb, { maxLength: 25 }).map(scoreOf)

interface Time {
  readonly rate: number
  readonly value: number
}
interface Item {
  readonly OTIO_SCHEMA: string
  readonly name: string
  readonly source_range: { readonly start_time: Time; readonly duration: Time }
  readonly metadata: { readonly good_thud?: Placement }
}
const secondsOf = ({ rate, value }: Time): number => value / rate

describe('lanes', () => {
  it('hold every placement once, none over another, and no more of them than overlap at once', () => {
    fc.assert(
      fc.property(anyScore, (score) => {
        const lanes = lanesOf(score)
        expect(lanes.flatMap(({ placements }) => placements.map(({ id }) => id)).sort()).toEqual(
          score.placements.map(({ id }) => id).sort(),
        )
        for (const { placements } of lanes)
          for (const [at, placement] of placements.slice(1).entries())
            expect(placement.startS).toBeGreaterThanOrEqual(placementEndS(placements[at] as Placement) - 1e-6)
      }),
    )
  })

  it('leave out what is not heard', () => {
    const score = scoreOf([
      { startS: 0, lengthS: 1, layer: 'one', gainDb: 0 },
      { startS: 3, lengthS: 1, layer: 'two', gainDb: 0 },
    ])
    const muted = score.layers.map((layer) => (layer.id === 'two' ? { ...layer, isMuted: true } : layer))
    expect(lanesOf({ ...score, layers: muted }).map(({ name }) => name)).toEqual(['Effects'])
  })
})

describe('a timeline of OpenTimelineIO', () => {
  it('has each placement at its time to the sample, and all of it in its metadata', () => {
    fc.assert(
      fc.property(anyScore, (score) => {
        const { tracks } = JSON.parse(scoreToOtio(score, CONTEXT)) as { tracks: { children: { children: Item[] }[] } }
        const read: Placement[] = []
        for (const { children } of tracks.children) {
          let atS = 0
          for (const item of children) {
            const lengthS = secondsOf(item.source_range.duration)
            const placed = item.metadata.good_thud
            if (placed) {
              expect(Math.abs(placed.startS - atS)).toBeLessThan(1e-3)
              expect(lengthS).toBeCloseTo(placementLengthS(placed), 4)
              expect(secondsOf(item.source_range.start_time)).toBeCloseTo(placed.fromS, 4)
              read.push(placed)
            } else expect(item.OTIO_SCHEMA).toBe('Gap.1')
            atS += lengthS
          }
        }
        expect(inOrder(read)).toEqual(score.placements)
      }),
    )
  })

  it('names its schemas, its file in an address that can be read, and its speed', () => {
    const score = scoreOf([{ startS: 1, lengthS: 2, layer: 'one', gainDb: 0 }])
    const fast = { ...score, placements: score.placements.map((one) => ({ ...one, rate: 2 })) }
    const text = scoreToOtio(fast, CONTEXT)
    for (const schema of [
      'Timeline.1',
      'Stack.1',
      'Track.1',
      'Gap.1',
      'Clip.2',
      'ExternalReference.1',
      'LinearTimeWarp.1',
    ])
      expect(text).toContain(`"${schema}"`)
    const clip = JSON.parse(text).tracks.children[0].children[1]
    expect(decodeURIComponent(clip.media_references.DEFAULT_MEDIA.target_url)).toBe('Owl, p0 & “co”.wav')
    expect(clip.effects).toMatchObject([{ time_scalar: 2 }])
  })
})

describe('an edit decision list', () => {
  it('is read back with every placement at its frames', () => {
    fc.assert(
      fc.property(anyScore, (score) => {
        const read = markersFromEdl(scoreToEdl(score, CONTEXT), RATE)
        if (score.placements.length === 0) {
          expect(read).toBeNull()
          return
        }
        const times = (read?.markers ?? []).map(({ startS, endS }) => [startS, endS])
        expect(read?.problems).toEqual([])
        const wanted = score.placements.map((one) => [one.startS, placementEndS(one)])
        expect(times.map((pair) => pair.map((one) => Math.round(24 * (one ?? -1))))).toEqual(
          wanted.map((pair) => pair.map((one) => Math.round(24 * (one as number)))),
        )
      }),
    )
  })

  it('says file, level and fades of each, on one line each', () => {
    const score = scoreOf([{ startS: 1, lengthS: 2, layer: 'one', gainDb: -7 }])
    const faded = score.placements.map((one) => ({
      ...one,
      fadeOut: { lengthS: 0.25, curve: 's' as const, isAutomatic: false },
    }))
    const lines = scoreToEdl({ ...score, placements: faded }, CONTEXT).split('\n')
    expect(lines[0]).toBe('TITLE: The night the dome froze')
    expect(lines).toContain('* FROM CLIP NAME: Owl, p0 & “co”.wav')
    expect(lines).toContain('* LEVEL: -7.0 DB')
    expect(lines).toContain('* FADE OUT: 0.250 S')
    expect(lines).toContain('001  AX       A     C        00:00:02:00 00:00:04:00 00:00:01:00 00:00:03:00')
  })
})
