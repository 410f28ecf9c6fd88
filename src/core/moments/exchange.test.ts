import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FRAME_RATES, type FrameRate, frameAt, frameS, frameStartS } from '../formats/timecode'
import { applied } from './edits'
import { type FormatContext, importPlan, MOMENT_FORMATS, type MomentFormat, markersIn, momentsAs } from './exchange'
import { MOMENT_KINDS, MOMENT_WEIGHTS, type Moment, NO_MOMENTS, newMoment } from './moment'

const PAL: FrameRate = { num: 25, den: 1 }
const context = (rate: FrameRate = PAL, drop = false): FormatContext => ({
  title: 'The night',
  rate,
  drop,
  durationS: 4000,
})
let made = 0
const newId = (): string => `n${made++}`

/** Words that all formats can carry: some of them have lines, brackets and separators of their own. */
const anyWords = fc
  .string({ unit: fc.constantFrom(...'abcdeäöß éABC,;"\'=<>&.!?0123456789'), minLength: 0, maxLength: 30 })
  .map((text) => text.replace(/\s+/g, ' ').trim())

function anyMoments(rate: FrameRate): fc.Arbitrary<Moment[]> {
  return fc.array(
    fc
      .record({
        frame: fc.integer({ min: 0, max: 60_000 }),
        frames: fc.option(fc.integer({ min: 1, max: 500 })),
        words: anyWords,
        note: anyWords,
        kind: fc.constantFrom(...MOMENT_KINDS),
        weight: fc.constantFrom(...MOMENT_WEIGHTS),
      })
      .map(({ frame, frames, ...rest }) =>
        newMoment(newId(), frameStartS(frame, rate), {
          endS: frames === null ? null : frameStartS(frame + frames, rate),
          ...rest,
        }),
      ),
    { maxLength: 8 },
  )
}

describe.each(MOMENT_FORMATS)('moments as %s', (format: MomentFormat) => {
  it('come back as they went, at every frame rate, to the frame', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...FRAME_RATES).chain((rate) => fc.tuple(fc.constant(rate), anyMoments(rate), fc.boolean())),
        ([rate, moments, drop]) => {
          const at = context(rate, drop)
          if (moments.length === 0) return
          const read = markersIn(momentsAs(format, moments, at), at)
          expect(read?.format).toBe(format)
          expect(read?.problems).toEqual([])
          // A timeline gives its markers by time.
          const wanted = format === 'otio' ? [...moments].sort((a, b) => a.atS - b.atS) : moments
          expect(read?.markers).toHaveLength(wanted.length)
          for (const [index, moment] of wanted.entries()) {
            const marker = read?.markers[index]
            expect(frameAt((marker?.startS ?? -1) + 0.001, rate)).toBe(frameAt(moment.atS, rate))
            expect(marker?.endS === null).toBe(moment.endS === null)
            if (moment.endS !== null) expect(Math.abs((marker?.endS ?? 0) - moment.endS)).toBeLessThan(frameS(rate) / 2)
            expect(marker?.tags).toEqual({ kind: moment.kind, weight: moment.weight })
            expect(marker?.name).toBe(moment.words)
            expect(marker?.note).toBe(moment.note)
          }
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('a file of moments', () => {
  const document = applied(NO_MOMENTS, {
    do: 'add',
    moments: [newMoment('a', 10, { words: 'door', note: 'heavy' }), newMoment('b', 20)],
  }).document
  const planned = (text: string, rate = PAL) => {
    const read = markersIn(text, { rate, drop: false })
    if (!read) throw new Error('not read')
    return importPlan(document, read, { durationS: 44, rate, newId })
  }

  it('changes what stands at the same time, adds the rest, and leaves what it does not speak of', () => {
    const plan = planned('start,name,kind\n10.01,hatch,hit\n20,,\n30,owl,spot\n')
    expect(plan.changed).toEqual([expect.objectContaining({ id: 'a', to: { words: 'hatch', kind: 'hit' } })])
    expect(plan.added).toEqual([expect.objectContaining({ atS: 30, words: 'owl' })])
    expect(plan.unchanged).toBe(1)
    const { document: after, inverse } = applied(document, plan.edit)
    expect(after.moments.map(({ words, note }) => [words, note])).toEqual([
      ['hatch', 'heavy'],
      ['', ''],
      ['owl', ''],
    ])
    expect(applied(after, inverse).document).toEqual(document)
  })

  it('is told line by line what cannot be taken in', () => {
    const plan = planned('start_s,end_s,name\n-1,,before\n50,,behind\n5,4,backwards\nsoon,,when\n6,8,one\n7,9,two\n')
    // By the lines of the file, in their order.
    expect(plan.skipped.map(({ line, words }) => [line, words])).toEqual([
      [2, '“before” lies before the start of the cut (-1.00 s).'],
      [3, '“behind” lies at 50.0 s, behind the end of the cut (44.0 s).'],
      [4, '“backwards” ends before it begins.'],
      [5, '“soon” is no time.'],
    ])
    const pasted = planned('0:05 a clock\n\nnothing\n0:50 late\n0:09 - 0:08 turned\n')
    expect(pasted.skipped.map(({ line }) => line)).toEqual([3, 4, 5])
    // Spans may overlap.
    expect(plan.added.map(({ words }) => words)).toEqual(['one', 'two'])
  })

  it('of another frame rate is told so, and not read wrongly', () => {
    const edl = momentsAs('edl', [newMoment('x', 1.9, { words: 'late' })], context({ num: 60, den: 1 }))
    expect(planned(edl).skipped[0]?.words).toContain('more than 25 frames a second')
    expect(planned(edl, { num: 60, den: 1 }).added[0]?.atS).toBeCloseTo(1.9, 6)
  })

  it('that begins at the hour is moved to the start, and says so', () => {
    const edl =
      'TITLE: X\nFCM: NON-DROP FRAME\n001  AX  V  C  00:00:00:00 00:00:01:00 01:00:05:00 01:00:06:00\n* FROM CLIP NAME: DOME\n'
    const plan = planned(edl)
    expect(plan.added).toEqual([expect.objectContaining({ atS: 5, endS: 6, words: 'DOME' })])
    expect(plan.skipped[0]?.words).toContain('1:00:00')
  })

  it('with ten thousand rows fills the room there is and says how many found none', () => {
    const rows = Array.from({ length: 10_500 }, (_, index) => `${(index * 0.004).toFixed(3)},m${index}`)
    const plan = planned(`start,name\n${rows.join('\n')}\n`)
    expect(plan.added.length).toBe(4998)
    expect(plan.skipped.map(({ words }) => words).join(' ')).toMatch(/10,500 entries.*|find no room/)
    expect(plan.skipped[0]?.words).toMatch(/[45],\d{3} find no room/)
  })

  it('from a spreadsheet that writes semicolons and decimal commas is read', () => {
    expect(planned('time;words\r\n3,5;"a; b"\r\n').added[0]).toMatchObject({ atS: 3.5, words: 'a; b' })
  })

  it('does not smuggle a formula into a spreadsheet, and comes back without the guard', () => {
    const csv = momentsAs('csv', [newMoment('x', 1, { words: '=1+1', note: "'quoted" })], context())
    expect(csv).not.toMatch(/,=1/)
    expect(markersIn(csv, context())?.markers[0]).toMatchObject({ name: '=1+1', note: "'quoted" })
  })

  it.each(['', 'hello', '{"a": 1}', '{', 'TITLE: only\n', 'name,kind\nx,y\n'])('%j is none', (text) => {
    expect(markersIn(text, context())).toBeNull()
  })

  it('with clips inside of tracks puts their markers where the clips stand', () => {
    const rational = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: 25, value })
    const range = (from: number, length: number) => ({ start_time: rational(from), duration: rational(length) })
    const clip = (from: number, length: number, mark: number) => ({
      OTIO_SCHEMA: 'Clip.2',
      source_range: range(from, length),
      markers: [{ OTIO_SCHEMA: 'Marker.2', name: `m${mark}`, marked_range: range(mark, 0) }],
    })
    const track = {
      OTIO_SCHEMA: 'Track.1',
      children: [clip(100, 50, 125), { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 25) }, clip(0, 50, 10)],
    }
    const text = JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', tracks: { OTIO_SCHEMA: 'Stack.1', children: [track] } })
    const read = markersIn(text, context())
    expect(read?.markers.map(({ name, startS, endS }) => [name, startS, endS])).toEqual([
      ['m125', 1, null],
      ['m10', 3.4, null],
    ])
  })

  it('nested without end is left out in words', () => {
    let item: object = { OTIO_SCHEMA: 'Stack.1', children: [] }
    for (let depth = 0; depth < 60; depth++) item = { OTIO_SCHEMA: 'Stack.1', children: [item] }
    expect(markersIn(JSON.stringify(item), context())?.problems[0]?.words).toContain('nested')
  })
})
