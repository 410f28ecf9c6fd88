import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type ScoreListContext, scoreToEdl, scoreToOtio } from './exchange'
import { clipsFromEdl, clipsFromOtio, LISTED_CLIPS_MAX } from './read-lists'
import { EMPTY_SCORE, inOrder, newLayer, newPlacement, type Score } from './score'
import { placementLengthS } from './timing'

const RATE = { num: 24, den: 1 }
const CONTEXT: ScoreListContext = {
  title: 'A film',
  rate: RATE,
  drop: false,
  fileNameOf: ({ id }) => `Owl ${id} & “co” 100%.wav`,
  fileLengthS: () => 60,
  markers: [],
}

const anyScore = fc
  .array(
    fc.record({
      startFrame: fc.integer({ min: 0, max: 2400 }),
      frames: fc.integer({ min: 1, max: 480 }),
      fromFrame: fc.integer({ min: 0, max: 240 }),
      gainDb: fc.integer({ min: -40, max: 10 }),
      layerId: fc.constantFrom('one', 'two'),
      fadeInS: fc.constantFrom(0, 0.01, 0.02),
    }),
    { minLength: 1, maxLength: 20 },
  )
  .map(
    (rows): Score => ({
      ...EMPTY_SCORE,
      layers: [newLayer('one', 'Effects', 'effects'), newLayer('two', 'Ambience', 'ambience')],
      placements: inOrder(
        rows.map(({ startFrame, frames, fromFrame, gainDb, layerId, fadeInS }, at) =>
          newPlacement(
            `p${at}`,
            {
              layerId,
              audio: { kind: 'preview', soundId: at + 1 },
              startS: startFrame / 24,
              toS: (fromFrame + frames) / 24,
            },
            {
              fromS: fromFrame / 24,
              gainDb,
              fadeIn: fadeInS > 0 ? { lengthS: fadeInS, curve: 'straight', isAutomatic: false } : null,
              fadeOut: fadeInS === 0.02 ? { lengthS: 0.01, curve: 's', isAutomatic: true } : null,
            },
          ),
        ),
      ),
    }),
  )

/** What both formats have a word for, to the frame. */
const inBoth = (one: { fileName: string; startS: number; lengthS: number; fromS: number }): string =>
  [one.fileName, ...[one.startS, one.lengthS, one.fromS].map((timeS) => Math.round(timeS * 24))].join(' ')

describe('lists come back as they went out', () => {
  const expected = (score: Score): string[] =>
    score.placements
      .map((placement) =>
        inBoth({
          fileName: CONTEXT.fileNameOf(placement),
          startS: placement.startS,
          lengthS: placementLengthS(placement),
          fromS: placement.fromS,
        }),
      )
      .sort()

  test('a timeline, with all that we know of each sound', () => {
    fc.assert(
      fc.property(anyScore, (score) => {
        const read = clipsFromOtio(scoreToOtio(score, CONTEXT))
        expect(read?.leftOut).toEqual([])
        expect(read?.clips.map(inBoth).sort()).toEqual(expected(score))
        for (const { own, fadeInS, fadeOutS } of read?.clips ?? []) {
          const fade = (key: string) => (own?.[key] as { lengthS: number } | null)?.lengthS ?? null
          expect([fadeInS, fadeOutS]).toEqual([fade('fadeIn'), fade('fadeOut')])
        }
        for (const { own } of read?.clips ?? []) expect(score.placements.find(({ id }) => id === own?.id)).toEqual(own)
      }),
    )
  })

  test.each([
    ['the first', { fadeOut: true }, { fadeIn: false }],
    ['the second', { fadeOut: false }, { fadeIn: true }],
    ['both', { fadeOut: true }, { fadeIn: true }],
  ])('where one sound begins as another ends, a fade of %s stays a fade', (_, { fadeOut }, { fadeIn }) => {
    const fade = { lengthS: 0.01, curve: 'straight', isAutomatic: false } as const
    const at = (id: number, startS: number, more: object) =>
      newPlacement(`p${id}`, { layerId: 'one', audio: { kind: 'preview', soundId: id }, startS, toS: 1 }, more)
    const placements = [at(1, 0, { fadeOut: fadeOut ? fade : null }), at(2, 1, { fadeIn: fadeIn ? fade : null })]
    const score: Score = { ...EMPTY_SCORE, layers: [newLayer('one', 'Effects', 'effects')], placements }
    const result = clipsFromOtio(scoreToOtio(score, CONTEXT))
    expect(result?.leftOut).toEqual([])
    expect(result?.clips.map(({ startS, fadeInS, fadeOutS }) => [startS, fadeInS, fadeOutS])).toEqual([
      [0, null, fadeOut ? 0.01 : null],
      [1, fadeIn ? 0.01 : null, null],
    ])
  })

  test('an edit list, with levels and fades', () => {
    fc.assert(
      fc.property(anyScore, (score) => {
        const read = clipsFromEdl(scoreToEdl(score, CONTEXT), RATE)
        expect(read?.clips.map(inBoth).sort()).toEqual(expected(score))
        const levels = (read?.clips.map(({ gainDb }) => gainDb) ?? []).sort()
        expect(levels).toEqual(score.placements.map(({ gainDb }) => gainDb).sort())
        const fades = (read?.clips ?? []).filter(({ fadeInS }) => fadeInS !== null)
        expect(fades).toHaveLength(score.placements.filter(({ fadeIn }) => fadeIn !== null).length)
      }),
    )
  })
})

const time = (value: number, rate = 24) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value })
const range = (start: number, duration: number, rate = 24) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(duration, rate),
})
const clip = (name: string, more: object = {}) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  source_range: range(0, 24),
  media_references: {},
  ...more,
})
const track = (children: object[], more: object = {}) => ({
  OTIO_SCHEMA: 'Track.1',
  kind: 'Audio',
  name: 'One',
  children,
  ...more,
})
const stack = (children: object[], more: object = {}) => ({ OTIO_SCHEMA: 'Stack.1', children, ...more })
const read = (tracks: object) => clipsFromOtio(JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', tracks }))

describe('timelines of other programs are read as far as they go', () => {
  test('gaps move what follows; transitions between sounds take no time and are said', () => {
    const gap = { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 48) }
    const across = { OTIO_SCHEMA: 'Transition.1', in_offset: time(2), out_offset: time(2) }
    const result = read(stack([track([gap, clip('a.wav'), across, clip('b.wav')])]))
    expect(result?.clips.map(({ fadeInS, fadeOutS }) => [fadeInS, fadeOutS])).toEqual([
      [null, null],
      [null, null],
    ])
    expect(result?.clips.map(({ fileName, startS }) => [fileName, startS])).toEqual([
      ['a.wav', 2],
      ['b.wav', 3],
    ])
    expect(result?.leftOut).toEqual(['Transitions between two sounds: set fades here.'])
  })

  test('transitions out of silence and into it are fades, as far as they reach into the sound', () => {
    const gap = { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 48) }
    const transition = (before: number, after: number) => ({
      OTIO_SCHEMA: 'Transition.1',
      in_offset: time(before),
      out_offset: time(after),
    })
    const result = read(
      stack([
        track([
          transition(0, 6),
          clip('a.wav'),
          transition(3, 0),
          gap,
          transition(12, 2),
          clip('b.wav'),
          { OTIO_SCHEMA: 'Transition.1', in_offset: 'soon', out_offset: null },
        ]),
      ]),
    )
    expect(result?.clips.map(({ fadeInS, fadeOutS }) => [fadeInS, fadeOutS])).toEqual([
      [0.25, 0.125],
      [2 / 24, null],
    ])
    expect(result?.leftOut).toEqual([])
  })

  test('nested stacks stand at their places, trimmed as they are, and it is said that they were groups', () => {
    const inner = stack([track([clip('a.wav'), clip('b.wav')])], { source_range: range(12, 24) })
    const result = read(stack([track([clip('first.wav'), inner, clip('last.wav')])]))
    expect(result?.clips.map(({ fileName, startS }) => [fileName, startS])).toEqual([
      ['first.wav', 0],
      ['a.wav', 0.5],
      ['b.wav', 1.5],
      ['last.wav', 2],
    ])
    expect(result?.leftOut).toEqual(['That parts were grouped: their sounds are placed one by one.'])
  })

  test('speeds multiply; what stands still or runs backwards, and other effects, are said', () => {
    const warp = (times: number) => ({ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: times })
    const result = read(
      stack([
        track([
          clip('a.wav', { effects: [warp(2), warp(1.5)] }),
          clip('b.wav', { effects: [warp(-1)] }),
          clip('c.wav', { effects: [{ OTIO_SCHEMA: 'FreezeFrame.1' }, { OTIO_SCHEMA: 'Effect.1' }] }),
        ]),
      ]),
    )
    expect(result?.clips.map(({ rate }) => rate)).toEqual([3, 1, 1])
    expect(result?.leftOut).toEqual(['Sounds that stand still or run backwards.', 'Effects on clips.'])
  })

  test('tracks with pictures are left out, and only said where there are any', () => {
    expect(read(stack([track([clip('a.mov')], { kind: 'Video' })]))).toEqual({
      clips: [],
      leftOut: ['Tracks with pictures.'],
    })
    expect(read(stack([track([], { kind: 'Video' })]))?.leftOut).toEqual([])
  })

  test.each([
    ['file:///home/someone/My%20sounds/a%20b.wav', 'a b.wav'],
    ['C:\\sounds\\a.wav', 'a.wav'],
    ['../../etc/passwd', 'passwd'],
    ['100%.wav', '100%.wav'],
    ['', 'its name'],
  ])('of the address %s only the name of the file is taken', (target, expected) => {
    const media = { DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: target } }
    expect(read(stack([track([clip('its name', { media_references: media })])]))?.clips[0]?.fileName).toBe(expected)
  })

  test('older files have one media reference, and a length from it where the clip has none', () => {
    const media = { OTIO_SCHEMA: 'ExternalReference.1', target_url: 'old.wav', available_range: range(48, 24) }
    const result = read(stack([track([{ OTIO_SCHEMA: 'Clip.1', name: 'x', media_reference: media }])]))
    expect(result?.clips).toMatchObject([{ fileName: 'old.wav', fromS: 2, lengthS: 1 }])
  })

  test('a clip of no length, of a rate of nothing or of text takes no place, and is said', () => {
    const bad = [
      clip('a', { source_range: range(0, 0) }),
      clip('b', { source_range: range(0, 5, 0) }),
      clip('c', { source_range: 'x' }),
    ]
    expect(read(stack([track([...bad, clip('d.wav')])]))).toMatchObject({
      clips: [{ fileName: 'd.wav', startS: 0 }],
      leftOut: ['Clips without a length.'],
    })
  })

  test('nesting without end and clips without number are bounded', () => {
    let deep: object = clip('deep.wav')
    for (let level = 0; level < 200; level++) deep = stack([deep])
    expect(read(deep)?.leftOut.join()).toContain('nested')
    const many = read(stack([track(Array.from({ length: LISTED_CLIPS_MAX + 5 }, () => clip('a.wav')))]))
    expect(many?.clips).toHaveLength(LISTED_CLIPS_MAX)
    expect(many?.leftOut).toEqual([`Clips beyond the first ${LISTED_CLIPS_MAX}.`])
  })

  test.each(['', 'null', '[]', '{"OTIO_SCHEMA":7}', '{"tracks":{}}', '{'.repeat(100_000)])(
    '%.20s … is none',
    (text) => {
      expect(clipsFromOtio(text)).toBeNull()
    },
  )
})

describe('edit lists of other programs are read as far as they go', () => {
  const edl = (...lines: string[]): string => ['TITLE: X', 'FCM: NON-DROP FRAME', ...lines].join('\r\n')

  test('sound channels only; pictures, black and dissolves are said', () => {
    const result = clipsFromEdl(
      edl(
        '001  REEL1    V     C        00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00',
        '002  REEL2    A2    D    012 00:00:02:00 00:00:03:00 00:00:01:00 00:00:02:00',
        '* FROM CLIP NAME: owl.wav',
        '003  BL       A     C        00:00:00:00 00:00:01:00 00:00:02:00 00:00:03:00',
      ),
      RATE,
    )
    expect(result?.clips).toMatchObject([{ fileName: 'owl.wav', trackName: 'Channel 2', startS: 1, fromS: 2 }])
    expect([...(result?.leftOut ?? [])].sort()).toEqual([
      'Silence.',
      'Tracks with pictures.',
      'Transitions: set fades here.',
    ])
  })

  test('what a comment says belongs to the event above it, not to one that was left out', () => {
    const result = clipsFromEdl(
      edl(
        '001  AX       A     C        00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00',
        '002  AX       V     C        00:00:00:00 00:00:01:00 00:00:01:00 00:00:02:00',
        '* FROM CLIP NAME: a picture.mov',
        '* LEVEL: -9 DB',
      ),
      RATE,
    )
    expect(result?.clips).toMatchObject([{ fileName: 'AX', gainDb: null }])
  })

  test('speeds are those of the list at its rate; backwards is said', () => {
    const event = '001  AX       A     C        00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00'
    expect(clipsFromEdl(edl(event, 'M2   AX       036.0    00:00:00:00'), RATE)?.clips[0]?.rate).toBe(1.5)
    const back = clipsFromEdl(edl(event, 'M2   AX       -24.0    00:00:00:00'), RATE)
    expect([back?.clips[0]?.rate, back?.leftOut]).toEqual([1, ['Sounds that stand still or run backwards.']])
  })

  test('a list that begins at an hour begins at nothing here, and it is said', () => {
    const result = clipsFromEdl(
      edl('001  AX       A     C        00:00:00:00 00:00:01:00 01:00:05:00 01:00:06:00'),
      RATE,
    )
    expect(result?.clips[0]?.startS).toBe(5)
    expect(result?.leftOut).toEqual(['The list begins at 1:00:00: that was taken off its times.'])
  })

  test('a list of another frame rate is not placed at wrong times', () => {
    const result = clipsFromEdl(
      edl('001  AX       A     C        00:00:00:29 00:00:01:00 00:00:00:29 00:00:01:00'),
      RATE,
    )
    expect(result?.clips).toEqual([])
    expect(result?.leftOut.join()).toContain('another frame rate')
  })

  test('events that end before they begin have no length', () => {
    const result = clipsFromEdl(
      edl('001  AX       A     C        00:00:00:00 00:00:01:00 00:00:02:00 00:00:01:00'),
      RATE,
    )
    expect(result).toEqual({ clips: [], leftOut: ['Clips without a length.'] })
  })

  test.each(['', 'TITLE: only', '001 what', 'WEBVTT\n\n00:00.000 --> 00:01.000\nhi'])('%j is none', (text) => {
    expect(clipsFromEdl(text, RATE)).toBeNull()
  })
})
