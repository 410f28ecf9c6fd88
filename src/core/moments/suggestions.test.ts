import { describe, expect, it } from 'vitest'
import type { CutSection } from '../recut'
import { carriedOver, carriedTime } from './carry-over'
import { applied } from './edits'
import { loudnessAround, meetingS, placeFit, placeOfMoment } from './fit'
import { type MomentsDocument, NO_MOMENTS, newMoment } from './moment'
import { pacing } from './pacing'
import { isLearned, NO_REACTION, type Reaction, reactionS, withCorrection } from './reaction'
import { type CutSignals, soundEvents } from './signals'
import { type SuggestionInput, suggestionsFor } from './suggestions'

const stems = (words: string): string => words.toLowerCase().replace(/s\b/g, '')
const SIGNALS: CutSignals = {
  durationS: 60,
  segments: [],
  soundEventsS: [5, 18, 31, 44, 57],
  picture: [],
}
const planned = (...moments: Parameters<typeof newMoment>[]): MomentsDocument =>
  applied(NO_MOMENTS, { do: 'add', moments: moments.map((one) => newMoment(...one)) }).document
const input = (change: Partial<SuggestionInput> = {}): SuggestionInput => ({
  signals: SIGNALS,
  spoken: [],
  habits: [],
  document: NO_MOMENTS,
  stems,
  ...change,
})

describe('suggestions', () => {
  const flash = { kind: 'flash', timeS: 12, confidence: 0.9 } as const
  const withFlash = { ...SIGNALS, picture: [flash] }

  it('are gone once a moment stands there, or they were put aside; beside it they are not', () => {
    const at = (document: MomentsDocument): string[] =>
      suggestionsFor(input({ signals: withFlash, document })).map(({ kind }) => kind)
    expect(at(NO_MOMENTS)).toEqual(['flash'])
    expect(at(planned(['a', 12.3]))).toEqual([])
    expect(at(planned(['a', 12.5]))).toEqual(['flash'])
    const aside = (kind: string, atS: number) =>
      applied(NO_MOMENTS, { do: 'dismiss', suggestions: [{ kind, atS }] }).document
    expect(at(aside('flash', 12.2))).toEqual([])
    expect(at(aside('stop', 12))).toEqual(['flash'])
  })

  it('name the habit for a spoken word, in whatever form it is spoken', () => {
    const habits = [{ words: 'kettle', soundId: 7, title: 'Kettle, whistle', count: 2 }]
    const [one] = suggestionsFor(input({ spoken: [{ words: 'kettles', atS: 3, said: 'Two kettles.' }], habits }))
    expect(one).toMatchObject({ kind: 'word', soundId: 7 })
    expect(one?.reason).toContain('Kettle, whistle')
  })

  it('offer the usual sound for a moment that has none, and for no other', () => {
    const habits = [
      { words: 'chapter card', soundId: 1, title: 'Soft whoosh', count: 3 },
      { words: 'chapter cards', soundId: 2, title: 'Old one', count: 1 },
    ]
    const document = planned(
      ['a', 1, { words: 'Chapter card' }],
      ['b', 20, { words: 'chapter card', soundId: 9 }],
      ['c', 40, { words: 'chapter card', kind: 'silence' }],
      ['d', 50, { words: 'door' }],
    )
    const found = suggestionsFor(input({ document, habits }))
    expect(found).toEqual([expect.objectContaining({ kind: 'habit', atS: 1, soundId: 1 })])
    expect(found[0]?.reason).toContain('3 times')
  })

  it('see long quiet spans, and none where something is planned', () => {
    const quiet = { ...SIGNALS, soundEventsS: [5, 30] }
    expect(suggestionsFor(input({ signals: quiet })).map(({ atS, endS }) => [atS, endS])).toEqual([
      [5, 30],
      [30, 60],
    ])
    const document = planned(['a', 0, { endS: 60, kind: 'ambience' }])
    expect(suggestionsFor(input({ signals: quiet, document }))).toEqual([])
  })

  it('see where the speech pauses and goes on, but not where it ends or something sounds', () => {
    const segments = (
      [
        [0, 4],
        [6, 10],
        [13, 16],
        [30, 33],
      ] as const
    ).map(([startS, endS]) => ({ kind: 'speech' as const, startS, endS }))
    const found = suggestionsFor(input({ signals: { ...SIGNALS, segments, soundEventsS: [11, 20, 25, 40, 50] } }))
    expect(found.filter(({ kind }) => kind === 'speech-pause').map(({ atS, endS }) => [atS, endS])).toEqual([[4, 6]])
  })
})

describe('sound events of a cut', () => {
  it('are rises of loudness outside of speech, and what stands out', () => {
    const loudness = Array.from({ length: 300 }, (_, step) =>
      step >= 100 && step < 110 ? -20 : step >= 200 && step < 210 ? -20 : -45,
    )
    const speech = [{ kind: 'speech' as const, startS: 19, endS: 22 }]
    const found = soundEvents(loudness, speech, [{ startS: 25, endS: 25.2 }])
    expect(found).toHaveLength(2)
    expect(Math.abs((found[0] ?? 0) - 10)).toBeLessThan(0.35)
    expect(found[1]).toBe(25)
  })
})

describe('pacing', () => {
  const words = { stems, soundTitle: (id: number) => `Sound ${id}` }

  it('counts what is planned and what is there, and calls a crowd a crowd', () => {
    const document = planned(...Array.from({ length: 10 }, (_, at) => [`m${at}`, 20 + at] as [string, number]))
    const { points, notes } = pacing(document, SIGNALS, words)
    expect(Math.max(...points.map(({ plannedPerMinute }) => plannedPerMinute))).toBe(20)
    expect(notes.map(({ kind }) => kind)).toEqual(['crowded'])
    const calm = applied(document, { do: 'crowded-from', perMinute: 40 }).document
    expect(pacing(calm, SIGNALS, words).notes).toEqual([])
  })

  it('does not call it a crowd where the picture is rapid, nor silence on purpose empty', () => {
    const document = planned(...Array.from({ length: 10 }, (_, at) => [`m${at}`, 20 + at] as [string, number]))
    const picture = Array.from({ length: 40 }, (_, at) => ({
      kind: 'shot-change' as const,
      timeS: at * 1.5,
      confidence: 1,
    }))
    expect(pacing(document, { ...SIGNALS, picture }, words).notes).toEqual([])
    const still = { ...SIGNALS, durationS: 100, soundEventsS: [2] }
    expect(pacing(NO_MOMENTS, still, words).notes.map(({ kind }) => kind)).toEqual(['empty'])
    const silent = planned(['s', 2, { endS: 100, kind: 'silence' }])
    expect(pacing(silent, still, words).notes).toEqual([])
  })

  it('notes one gesture with several sounds, and not what was cut out as an effect', () => {
    const card = (id: string, atS: number, soundId: number): [string, number, object] => [
      id,
      atS,
      { words: 'chapter card', soundId },
    ]
    const { notes } = pacing(planned(card('a', 1, 1), card('b', 20, 2), card('c', 40, 2)), SIGNALS, words)
    expect(notes[0]?.words).toBe('“chapter card” comes 3 times with 2 different sounds: “Sound 1”, “Sound 2”.')
  })

  it('of a cut of one frame is no error', () => {
    const { points } = pacing(NO_MOMENTS, { ...SIGNALS, durationS: 0.04, soundEventsS: [] }, words)
    expect(points).toHaveLength(1)
  })
})

describe('the reaction time', () => {
  it('is learned from the middle of several corrections, and a move elsewhere is none', () => {
    let reaction: Reaction = NO_REACTION
    const correct = (latenessS: number): void => {
      reaction = withCorrection(reaction, { pressedAtS: 10, notedS: 9.78, correctedS: 10 - latenessS })
    }
    for (const latenessS of [0.3, 0.35, 0.1, 0.4]) correct(latenessS)
    expect([isLearned(reaction), reactionS(reaction)]).toEqual([false, 0.22])
    correct(0.32)
    expect(isLearned(reaction)).toBe(true)
    expect(reactionS(reaction)).toBeCloseTo(0.32, 9)
    correct(4)
    expect(reaction.latenessS).toHaveLength(5)
    expect(reactionS({ ...reaction, setS: 0.05 })).toBe(0.05)
    // Who presses early is not put later than pressed.
    expect(reactionS({ setS: null, latenessS: [-0.2, -0.2, -0.1, -0.2, -0.3] })).toBe(0)
  })
})

describe('a new cut', () => {
  const sections: CutSection[] = [
    { startS: 0, endS: 10, shiftS: 0, score: 0.9 },
    { startS: 10, endS: 14, shiftS: null, score: null },
    { startS: 14, endS: 30, shiftS: -4, score: 0.95 },
    { startS: 30, endS: 60, shiftS: 2.5, score: 0.4 },
  ]

  it('moves what moved, marks what was cut out, keeps the rest, and can be undone', () => {
    const document = planned(
      ['a', 5],
      ['b', 12, { endS: 16 }],
      ['c', 20, { endS: 22 }],
      ['d', 40],
      ['e', 28, { endS: 33 }],
    )
    const { edit, carried, stayed } = carriedOver(document, sections, 62.5)
    const { document: after, inverse } = applied(document, edit)
    const of = (id: string) => after.moments.find((moment) => moment.id === id)
    expect(of('a')).toMatchObject({ atS: 5, cutOutFromS: null })
    expect(of('b')).toMatchObject({ atS: 10, cutOutFromS: 12 })
    expect(of('c')).toMatchObject({ atS: 16, endS: 18 })
    expect(of('e')?.endS).toBeCloseTo(29, 6)
    expect(carried.map(({ id, what }) => [id, what])).toEqual([
      ['b', 'cut-out'],
      ['c', 'moved'],
      ['e', 'moved'],
      ['d', 'unsure'],
    ])
    expect(stayed).toBe(1)
    expect(applied(after, inverse).document).toEqual(document)
  })

  it('takes what was put aside with it, and puts nothing behind its end', () => {
    const start = applied(planned(['a', 59]), { do: 'dismiss', suggestions: [{ kind: 'flash', atS: 20 }] }).document
    const { document } = applied(start, carriedOver(start, sections, 50).edit)
    expect(document.dismissed).toEqual([{ kind: 'flash', atS: 16 }])
    expect(document.moments[0]?.atS).toBe(50)
  })

  it('that is taken back leaves what was not touched since exactly as it was, and carries the rest', () => {
    const document = planned(['b', 12, { endS: 13 }], ['c', 20], ['d', 40])
    const there = carriedOver(document, sections, 62.5)
    const moved = applied(document, there.edit).document
    // One was corrected by a frame meanwhile: it goes back by the sections, with its correction.
    const corrected = applied(moved, { do: 'change', changes: [{ id: 'c', to: { atS: 16.04 } }] }).document
    const wayBack: CutSection[] = [
      { startS: 0, endS: 10, shiftS: 0, score: 0.9 },
      { startS: 10, endS: 26, shiftS: 4, score: 0.95 },
      { startS: 26, endS: 62.5, shiftS: -2.5, score: 0.4 },
    ]
    const back = applied(corrected, carriedOver(corrected, wayBack, 60, there.carried).edit).document
    const of = (id: string) => back.moments.find((moment) => moment.id === id)
    expect([of('b'), of('d')]).toEqual([document.moments[0], document.moments[2]])
    expect(of('c')?.atS).toBeCloseTo(20.04, 6)
    // Without a sound track there is nothing but what was noted of the way there.
    const silent = applied(moved, carriedOver(moved, [], 60, there.carried).edit).document
    expect(silent).toEqual(document)
  })

  it('of which the beginning is gone puts what was there at its start', () => {
    const gone: CutSection[] = [
      { startS: 0, endS: 5, shiftS: null, score: null },
      { startS: 5, endS: 9, shiftS: -5, score: 1 },
    ]
    expect(carriedTime(gone, 2)).toEqual({ timeS: 0, isThere: false, isSure: true })
    expect(carriedTime([], 2)).toEqual({ timeS: 2, isThere: true, isSure: false })
  })
})

describe('how a sound fits at a moment', () => {
  const place = (kind: 'hit' | 'swell' | 'ambience', endS: number | null = null) =>
    placeOfMoment({ kind, atS: 10, endS }, [4, 10, 13], { durationS: 44, cutLufs: -23 })

  it('looks at the room behind a hit, before a swell, and at the whole of a span', () => {
    expect(place('hit')).toMatchObject({ roomS: 3, leadS: 6, spanS: null })
    const lengthOf = (
      kind: 'hit' | 'swell' | 'ambience',
      sound: { durationS: number; hitS: number | null },
      endS: number | null = null,
    ) => placeFit({ ...sound, loudnessLufs: -20 }, place(kind, endS)).length
    expect(lengthOf('hit', { durationS: 3, hitS: 0.1 })).toBe('fits')
    expect(lengthOf('hit', { durationS: 5, hitS: 0.1 })).toBe('too-long')
    // Of a swell that what leads up to the hit counts.
    expect(lengthOf('swell', { durationS: 9, hitS: 5 })).toBe('fits')
    expect(lengthOf('swell', { durationS: 9, hitS: 8 })).toBe('too-long')
    expect(lengthOf('ambience', { durationS: 5, hitS: null }, 30)).toBe('too-short')
  })

  it('sets it by its kind to the loudness that is there', () => {
    const { gainDb } = placeFit({ durationS: 1, hitS: 0, loudnessLufs: -20 }, place('ambience'))
    expect(gainDb).toBe(-21)
    expect(placeFit({ durationS: 1, hitS: 0, loudnessLufs: null }, place('hit')).gainDb).toBeNull()
  })

  it('meets the end of the span that a swell leads up to, and the beginning of any other', () => {
    const span = { atS: 34, endS: 37 }
    expect(meetingS({ ...span, kind: 'swell' })).toBe(37)
    expect(meetingS({ ...span, kind: 'ambience' })).toBe(34)
    expect(meetingS({ kind: 'swell', atS: 34, endS: null })).toBe(34)
  })

  it('means energy, and says nothing of silence', () => {
    expect(loudnessAround(new Float32Array(50).fill(-30), 2)).toBeCloseTo(-30, 4)
    expect(loudnessAround(new Float32Array(50).fill(-120), 2)).toBeNull()
    expect(loudnessAround([], 2)).toBeNull()
  })
})
