import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { detectionOf } from '../../../test/detection'
import { CLAUSE_KEYS, type ClauseAnswer, type ClauseKey, type Papers, type Terms, type Uses } from '../rights'
import type { TimeRange } from '../time-range'
import { isSamePoint, type PointAnswer } from './answers'
import { type ClearanceInput, clearance } from './clearance'
import type { CheckFacts, DetectionFacts, PlacedFacts, TrackFacts } from './facts'
import type { PapersOnFile } from './finding'
import type { SoundOnFile } from './sound-on-file'
import { STATE_KINDS, stateInWords, type VideoState } from './state'

const USES: Uses = {
  places: ['online'],
  earns: false,
  territory: 'worldwide',
  publishOn: '2026-06-15',
  videoLicence: null,
}

function track(more: Partial<TrackFacts> = {}): TrackFacts {
  return {
    index: 0,
    codec: 'aac',
    language: null,
    channelCount: 2,
    channelLayout: 'stereo',
    statedDurationS: 60,
    notListenedReason: null,
    durationS: 60,
    end: 'whole',
    missing: [],
    stages: [{ name: 'catalogue', soundCount: 2, threshold: 9, otherSpeeds: false, isComplete: true }],
    decoys: { listenedFor: 2, heard: 0 },
    sensitivity: [],
    segments: [],
    unexplained: [],
    secondsOf: { speech: 0, music: 0, noise: 0, silence: 60, heard: 1, unexplained: 0 },
    explainedFraction: 1,
    loudness: null,
    ...more,
  }
}

function heard(soundId: number, more: Partial<DetectionFacts> = {}): DetectionFacts {
  return detectionOf(soundId, soundId, soundId + 1, more)
}

function facts(more: Partial<CheckFacts> = {}): CheckFacts {
  return {
    version: 1,
    finishedAt: '2026-06-01T00:00:00.000Z',
    file: { sha256: 'film', sizeBytes: 1000, hasPicture: true },
    decoder: { name: 'embedded', version: '1' },
    engine: { version: '1', featuresVersion: 3 },
    tracks: [track()],
    reference: {
      listenedFor: [
        [1, 'sha-1'],
        [2, 'sha-2'],
      ],
      notListenedFor: [],
      claimedIds: [],
      upToChange: 0,
    },
    detections: [heard(1)],
    carriesOn: null,
    ...more,
  }
}

function terms(answers: Partial<Record<ClauseKey, ClauseAnswer>> = {}, more: Partial<Terms> = {}): Terms {
  return {
    title: 'Test terms',
    shortTitle: 'Test',
    version: '1',
    spdxId: null,
    url: null,
    duration: 'for-ever',
    clauses: CLAUSE_KEYS.map((key) => ({
      key,
      answer: answers[key] ?? 'yes',
      quote: answers[key] === 'not-stated' ? null : `words on ${key}`,
    })),
    ...more,
  }
}

function papers(soundId: number, more: Partial<PapersOnFile> & { terms?: Terms } = {}): PapersOnFile {
  const { terms: under = terms(), ...rest } = more
  const own: Papers = { terms: under, grantTitle: 'Order 7', planFrom: null, planUntil: null }
  return {
    papersId: soundId * 10,
    soundId,
    contents: [`sha-${soundId}`],
    termsSha256: 'terms',
    creditLine: `credit for ${soundId}`,
    papers: own,
    ...rest,
  }
}

function sound(soundId: number, more: Partial<SoundOnFile> = {}): SoundOnFile {
  return {
    soundId,
    title: `Sound number ${soundId}`,
    maker: 'Brae',
    sourceName: 'A library',
    isFromLibrary: true,
    contentSha256: `sha-${soundId}`,
    hasCopy: true,
    sameRecordingIds: [],
    stemIds: [],
    wholeId: null,
    changes: [],
    offered: null,
    isSold: false,
    ...more,
  }
}

function input(more: Partial<ClearanceInput> & { only?: readonly SoundOnFile[] } = {}): ClearanceInput {
  const { only = [sound(1), sound(2)], ...rest } = more
  return {
    facts: facts(),
    isChecking: false,
    context: { uses: USES, asOf: '2026-06-01', videoId: 5 },
    sounds: new Map(only.map((one) => [one.soundId, one])),
    papers: [papers(1), papers(2)],
    offers: new Map(),
    answers: [],
    unlistedIds: [],
    inPartIds: [],
    unreadSources: [],
    ownSpeech: null,
    ...rest,
  }
}

function answer(more: Partial<PointAnswer>): PointAnswer {
  return {
    id: 1,
    pointKind: 'music',
    fileSha256: 'film',
    trackIndex: 0,
    places: [{ startS: 0, endS: 60 }],
    soundIds: [],
    kind: 'accepted',
    fromSoundId: null,
    reason: 'it is ours',
    by: 'Ann',
    at: '2026-06-01T00:00:00.000Z',
    ...more,
  }
}

/** The creator's word that one of the sounds 1 and 2 was used. */
const saidFrom = (fromSoundId: number): PointAnswer =>
  answer({ pointKind: 'which-copy', trackIndex: null, places: [], soundIds: [1, 2], kind: 'from', fromSoundId })

const words = (more: Parameters<typeof input>[0]): string => stateInWords(clearance(input(more)).state)
const withTrack = (more: Partial<TrackFacts>): { facts: CheckFacts } => ({ facts: facts({ tracks: [track(more)] }) })
const MUSIC = { segments: [{ kind: 'music', startS: 10, endS: 40 }] } as const

describe('the state of a video', () => {
  it.each([
    ['nothing was checked', { facts: null }, 'not checked'],
    ['the first check runs', { facts: null, isChecking: true }, 'checking'],
    ['a check runs again', { isChecking: true }, 'checking'],
    ['all is examined and permitted', {}, 'ready'],
    ['a heard sound has no papers', { papers: [] }, '1 point open'],
    ['nothing is heard', { facts: facts({ detections: [] }) }, 'ready'],
    [
      'nothing was listened for',
      {
        facts: facts({
          detections: [],
          reference: { listenedFor: [], notListenedFor: [], claimedIds: [], upToChange: 0 },
        }),
      },
      'partly examined',
    ],
    ['the list grew', { unlistedIds: [9] }, 'partly examined'],
    ['a source was never read', { unreadSources: ['Heron & Slate'] }, 'partly examined'],
    ['a sound is known by an excerpt', { inPartIds: [2] }, 'partly examined'],
    [
      'a sound could not be listened for',
      {
        facts: facts({
          reference: {
            listenedFor: [[1, 'sha-1']],
            notListenedFor: [{ soundId: 2, reason: 'x' }],
            claimedIds: [],
            upToChange: 0,
          },
        }),
      },
      'partly examined',
    ],
    ['a track was not listened to', withTrack({ notListenedReason: 'It is AC-3.' }), 'partly examined'],
    ['a span was not decoded', withTrack({ missing: [{ startS: 50, endS: 60 }] }), 'partly examined'],
    ['the file breaks off', withTrack({ end: 'broke-off' }), 'partly examined'],
    [
      'a stage was not finished',
      withTrack({
        stages: [{ name: 'again', soundCount: 1, threshold: 9, otherSpeeds: false, isComplete: false }],
      }),
      'partly examined',
    ],
    ['music is unexplained', withTrack(MUSIC), '1 point open'],
    ['noise is unexplained', withTrack({ segments: [{ kind: 'noise', startS: 0, endS: 9 }] }), '1 point open'],
    ['speech is nobody’s', withTrack({ segments: [{ kind: 'speech', startS: 0, endS: 9 }] }), '1 point open'],
    ['silence asks for nothing', withTrack({ segments: [{ kind: 'silence', startS: 0, endS: 60 }] }), 'ready'],
  ] as const)('%s', (_name, more, expected) => {
    expect(words(more as Parameters<typeof input>[0])).toBe(expected)
  })

  it('counts credits, and names who accepted what', () => {
    const credited = papers(1, { terms: terms({ credit: 'duty' }) })
    expect(words({ papers: [credited] })).toBe('ready, 1 credit owed')
    const accepted = { ...withTrack(MUSIC), papers: [credited], answers: [answer({})] }
    expect(words(accepted)).toBe('ready, 1 credit owed, with 1 point accepted by Ann')
    expect(words({ ...withTrack(MUSIC), answers: [answer({ kind: 'own' })] })).toBe('ready')
  })

  it('is not ready by one track when another holds something else', () => {
    const tracks = [track(), track({ index: 1, ...MUSIC })]
    expect(words({ facts: facts({ tracks }) })).toBe('1 point open')
    expect(words({ facts: facts({ tracks }), answers: [answer({})] })).toBe('1 point open')
    expect(words({ facts: facts({ tracks }), answers: [answer({ trackIndex: 1 })] })).toContain('ready')
  })
})

describe('an answer', () => {
  it.each([
    ['of another file', { fileSha256: 'other film' }],
    ['to another kind', { pointKind: 'noise' }],
    ['to a part', { places: [{ startS: 10, endS: 30 }] }],
    ['to another track', { trackIndex: 1 }],
    ['that it is from a sound that is not heard there', { kind: 'from', fromSoundId: 2 }],
  ] as const)('%s settles nothing', (_name, more) => {
    expect(words({ ...withTrack(MUSIC), answers: [answer(more as Partial<PointAnswer>)] })).toBe('1 point open')
  })

  it('is of the very point that was shown, in whatever order its members stand', () => {
    const shown = { kind: 'music', trackIndex: 0, places: [{ endS: 2, startS: 1 }], soundIds: [3, 4] } as const
    const sent = { soundIds: [3, 4], places: [{ startS: 1, endS: 2 }], trackIndex: 0, kind: 'music' } as const
    expect(isSamePoint(shown, sent)).toBe(true)
    const others = [
      { kind: 'noise' },
      { trackIndex: 1 },
      { trackIndex: null },
      { places: [] },
      { places: [{ startS: 1, endS: 2.01 }] },
      { places: [...sent.places, { startS: 5, endS: 6 }] },
      { soundIds: [3] },
      { soundIds: [3, 4, 5] },
    ] as const
    for (const other of others) expect(isSamePoint(shown, { ...sent, ...other })).toBe(false)
  })

  it('to a gap does not settle that the file breaks off later', () => {
    const gap = answer({ pointKind: 'undecoded', places: [{ startS: 10, endS: 20 }] })
    expect(words({ ...withTrack({ end: 'broke-off' }), answers: [gap] })).toBe('partly examined')
  })

  it('that only another check can give is not taken', () => {
    const accepted = answer({ pointKind: 'nothing-listened-for', trackIndex: null, places: [] })
    const none = facts({
      detections: [],
      reference: { listenedFor: [], notListenedFor: [], claimedIds: [], upToChange: 0 },
    })
    expect(words({ facts: none, answers: [accepted] })).toBe('partly examined')
    const grew = answer({ pointKind: 'list-grew', trackIndex: null, places: [], soundIds: [9] })
    expect(words({ unlistedIds: [9], answers: [grew] })).toBe('partly examined')
    const unread = answer({ pointKind: 'unread-source', trackIndex: null, places: [] })
    expect(words({ unreadSources: ['Tin Barn'], answers: [unread] })).toBe('partly examined')
  })

  it('about sounds that could not be listened for does not cover one more', () => {
    const missing = (...ids: number[]): CheckFacts =>
      facts({
        reference: {
          listenedFor: [[1, 'sha-1']],
          notListenedFor: ids.map((soundId) => ({ soundId, reason: 'x' })),
          claimedIds: [],
          upToChange: 0,
        },
      })
    const accepted = answer({ pointKind: 'not-listened-for', trackIndex: null, places: [], soundIds: [7, 8] })
    expect(words({ facts: missing(7, 8), answers: [accepted] })).toBe('ready, with 1 point accepted by Ann')
    expect(words({ facts: missing(7, 8, 9), answers: [accepted] })).toBe('partly examined')
  })

  it('about sounds that are known by an excerpt does not cover one more', () => {
    const accepted = answer({ pointKind: 'known-in-part', trackIndex: null, places: [], soundIds: [7, 8] })
    expect(words({ inPartIds: [7, 8], answers: [accepted] })).toBe('ready, with 1 point accepted by Ann')
    expect(words({ inPartIds: [7], answers: [accepted] })).toBe('ready, with 1 point accepted by Ann')
    expect(words({ inPartIds: [7, 8, 9], answers: [accepted] })).toBe('partly examined')
    const own = answer({ ...accepted, kind: 'own' })
    expect(words({ inPartIds: [7, 8], answers: [own] })).toBe('partly examined')
  })

  it('about the voices of the channel holds for speech, and for nothing else', () => {
    const segments = [
      { kind: 'speech', startS: 0, endS: 9 },
      { kind: 'music', startS: 9, endS: 30 },
    ] as const
    expect(words(withTrack({ segments }))).toBe('2 points open')
    expect(words({ ...withTrack({ segments }), ownSpeech: { by: 'Ann', at: '' } })).toBe('1 point open')
    const sentenceWith = (ownSpeech: ClearanceInput['ownSpeech']) =>
      clearance(input({ ...withTrack({ segments }), ownSpeech })).points.find(({ kind }) => kind === 'speech')?.sentence
    expect(sentenceWith(null)).toBe('The sound track holds speech, and nobody put on record whose it is.')
    expect(sentenceWith({ by: 'Ann', at: '' })).toBe('The sound track holds speech.')
  })
})

describe('what stands out', () => {
  const event = (startS: number, more = {}) => ({
    startS,
    endS: startS + 0.2,
    lowHz: 500,
    highHz: 4000,
    levelDb: -20,
    ...more,
  })
  it('is one point for all that is alike', () => {
    const unexplained = [event(1), event(9, { levelDb: -23 }), event(20, { lowHz: 90, highHz: 200 }), event(30)]
    const { points } = clearance(input(withTrack({ unexplained })))
    expect(points.map(({ places }) => places.map(({ startS }) => startS))).toEqual([[1, 9, 30], [20]])
  })
  it('is not settled when one more of its kind came', () => {
    const answers = [answer({ pointKind: 'event', places: [{ startS: 1, endS: 1.2 }] })]
    expect(words({ ...withTrack({ unexplained: [event(1)] }), answers })).toContain('ready')
    expect(words({ ...withTrack({ unexplained: [event(1), event(30)] }), answers })).toBe('1 point open')
  })

  it('is examined only in part where left and right oppose each other, but for what is heard there', () => {
    const opposed = [
      { startS: 10, endS: 12 },
      { startS: 30, endS: 30.5 },
    ]
    const inFilm = (...detections: DetectionFacts[]): ClearanceInput =>
      input({ facts: facts({ detections, tracks: [track({ opposed })] }) })
    const { points, state } = clearance(inFilm(heard(1)))
    expect(state.kind).toBe('partly-examined')
    expect(points.map(({ kind, places }) => [kind, places])).toEqual([['opposed', opposed]])
    expect(points[0]?.sentence).toMatch(/^From 0:10.0 on left and right .* in 2 places/)
    const one = heard(1, { startS: 9, endS: 12 })
    expect(clearance(inFilm(one)).points[0]?.places).toEqual([{ startS: 30, endS: 30.5 }])
    // Where the side was searched, what is told is what is left of it: nothing that is heard explains it.
    const side = { name: 'side', soundCount: 1, threshold: 8, otherSpeeds: false, isComplete: true } as const
    const searched = track({ opposed, stages: [...track({}).stages, side] })
    const [left] = clearance(input({ facts: facts({ detections: [one], tracks: [searched] }) })).points
    expect(left?.places).toEqual(opposed)
    expect(left?.sentence).toMatch(/ in 2 places\. What is there was not recognised\.$/)
    expect(points[0]?.sentence).toMatch(/ What is there was not listened for: check the video again\.$/)
    expect(stateInWords(clearance(inFilm(one, heard(2, { startS: 29.95, endS: 30.45 }))).state)).toBe('ready')
    const answers = [answer({ pointKind: 'opposed', places: opposed, kind: 'own' })]
    expect(stateInWords(clearance({ ...inFilm(heard(1)), answers }).state)).toBe('ready')
    const half = [answer({ pointKind: 'opposed', places: opposed.slice(0, 1), kind: 'own' })]
    expect(clearance({ ...inFilm(heard(1)), answers: half }).state.kind).toBe('partly-examined')
  })

  it('is examined only in part where they do so under something else, whatever is heard there', () => {
    const partlyOpposed = [{ startS: 20, endS: 20.5 }]
    const over = heard(1, { startS: 19, endS: 22 })
    const inFilm = (opposed: TimeRange[]): ClearanceInput =>
      input({ facts: facts({ detections: [over], tracks: [track({ opposed, partlyOpposed })] }) })
    const { points, state } = clearance(inFilm([]))
    expect(state.kind).toBe('partly-examined')
    expect(points.map(({ kind, places }) => [kind, places])).toEqual([['opposed', partlyOpposed]])
    expect(points[0]?.sentence).toMatch(
      /^At 0:20.0 part of what is heard in .* cancels itself out between left and right. That part was not listened for: check the video again/,
    )
    const answers = [answer({ pointKind: 'opposed', places: partlyOpposed, kind: 'own' })]
    expect(stateInWords(clearance({ ...inFilm([]), answers }).state)).toBe('ready')
    // An answer to what was known before is none to what came to light since, and all of it is one point in the order of time.
    const whole = { startS: 30, endS: 31 }
    const both = clearance({
      ...inFilm([whole]),
      answers: [answer({ pointKind: 'opposed', places: [whole], kind: 'own' })],
    })
    expect(both.points.map(({ places, isOpen }) => [places, isOpen])).toEqual([[[...partlyOpposed, whole], true]])
    expect(both.points[0]?.sentence).toMatch(/^From 0:20.0 on left and right of .* cancel each other out in 2 places/)
  })

  it('is none about what lies within a sound that was heard later, unless more is there than that explains', () => {
    const detections = [heard(1, { startS: 10, endS: 14 })]
    const open = (startS: number, endS: number, beyondHeard?: TrackFacts['beyondHeard']): string =>
      words({ facts: facts({ detections, tracks: [track({ unexplained: [event(startS, { endS })], beyondHeard })] }) })
    expect(open(11, 12, [])).toBe('ready')
    expect(open(9.95, 14.05, [])).toBe('ready')
    // It was not looked whether more is there.
    expect(open(11, 12)).toBe('1 point open')
    expect(open(11, 12, [{ startS: 11.5, endS: 13 }])).toBe('1 point open')
    expect(open(11, 12, [{ startS: 12.5, endS: 13 }])).toBe('ready')
    expect(open(13.5, 14.2, [])).toBe('1 point open')
    expect(open(20, 21, [])).toBe('1 point open')
  })
  it('in music is explained where a listed sound is heard', () => {
    const bed = heard(1, { startS: 0, endS: 41 })
    expect(words({ facts: facts({ tracks: [track(MUSIC)], detections: [bed] }) })).toBe('ready')
    const half = heard(1, { startS: 0, endS: 20 })
    const { points } = clearance(input({ facts: facts({ tracks: [track(MUSIC)], detections: [half] }) }))
    expect(points[0]?.places).toEqual([{ startS: 20.3, endS: 40 }])
  })
  it('is not explained by a heard sound in which more is there than that', () => {
    const over = (beyondHeard: readonly { startS: number; endS: number }[] | undefined) =>
      clearance(
        input({
          facts: facts({
            tracks: [track({ ...MUSIC, beyondHeard })],
            detections: [heard(1, { startS: 0, endS: 60 })],
          }),
        }),
      )
    // A quiet ambience that is listed lies under all of it, and the music is nobody’s.
    const all = over([{ startS: 0, endS: 60 }])
    expect(stateInWords(all.state)).toBe('1 point open')
    expect(all.points).toMatchObject([{ kind: 'music', places: [{ startS: 10, endS: 40 }] }])
    expect(over([{ startS: 30, endS: 60 }]).points[0]?.places).toEqual([{ startS: 30, endS: 40 }])
    // Less than a second of it is no point, and what was not looked at counts as explained, as it did before.
    expect(stateInWords(over([{ startS: 39.5, endS: 60 }]).state)).toBe('ready')
    expect(stateInWords(over(undefined).state)).toBe('ready')
  })
})

describe('papers', () => {
  it('hold for the content that they were given for, whatever its name', () => {
    const changed = sound(1, {
      contentSha256: 'sha-new',
      changes: [{ fromSha256: 'sha-1', toSha256: 'sha-new', on: '2026-05-04' }],
    })
    const other = facts({ detections: [heard(1, { audioSha256: 'sha-new' })] })
    const [finding] = clearance(input({ facts: other, only: [changed] })).findings
    expect(finding).toMatchObject({ verdict: 'no-papers', ground: null })
    expect(finding?.sentence).toBe('This file changed on 4 May 2026; its papers were for the file before.')
    expect(finding?.settlements.join()).toContain('Put the earlier file back')
  })

  it('hold for every form of it that they name', () => {
    const tagged = papers(1, { contents: ['sha-1', 'sha-tagged'] })
    const detections = [heard(1), heard(1, { audioSha256: 'sha-tagged', startS: 9, endS: 10 })]
    expect(words({ facts: facts({ detections }), papers: [tagged] })).toBe('ready')
    expect(words({ facts: facts({ detections }), papers: [papers(1)] })).toBe('1 point open')
  })

  it('are named with the words that permit it', () => {
    const barring = papers(1, { papersId: 1, terms: terms({ online: 'no' }) })
    const [finding] = clearance(input({ papers: [barring, papers(1, { papersId: 2, termsSha256: 'good' })] })).findings
    expect(finding?.ground).toMatchObject({ papersId: 2, soundId: 1, termsSha256: 'good', why: null })
    expect(finding?.ground?.quotes).toContain('words on online')
  })

  it('give the credit line of the paper that decides, not of another', () => {
    const closed = papers(1, { papersId: 1, creditLine: 'wrong', terms: terms({ online: 'no', credit: 'duty' }) })
    const open = papers(1, { papersId: 2, creditLine: 'right', terms: terms({ credit: 'duty' }) })
    expect(clearance(input({ papers: [closed, open] })).findings[0]?.creditLine).toBe('right')
  })
})

describe('a recording that is there several times', () => {
  const twins = (first: Partial<SoundOnFile>, second: Partial<SoundOnFile>): SoundOnFile[] => [
    sound(1, { sameRecordingIds: [2], ...first }),
    sound(2, { sameRecordingIds: [1], ...second }),
  ]
  const state = (only: SoundOnFile[], papersOf: readonly PapersOnFile[], answers: PointAnswer[] = []) =>
    clearance(input({ only, papers: papersOf, answers }))

  it('lends papers where only the other file is here and the maker is the same, and says so', () => {
    const [finding] = state(twins({ hasCopy: false }, {}), [papers(2)]).findings
    expect(finding).toMatchObject({ verdict: 'clear', ground: { soundId: 2 } })
    expect(finding?.ground?.why).toContain('only that file is here')
  })

  it.each([
    ['another maker', { hasCopy: false }, { maker: 'Tilda' }],
    ['no maker named', { hasCopy: false, maker: '' }, { maker: '' }],
    ['a folder’s own file', { hasCopy: false }, { isFromLibrary: false }],
    ['files of both here', {}, {}],
    ['a file that has changed since', { hasCopy: false }, { contentSha256: 'sha-new' }],
  ] as const)('lends none with %s', (_name, first, second) => {
    const decided = state(twins(first, second), [papers(2)])
    expect(decided.findings[0]).toMatchObject({ verdict: 'no-papers', ground: null })
    expect(stateInWords(decided.state)).toBe('1 point open')
  })

  it('is a matter to settle when a file of a member without papers is here too', () => {
    const decided = state(twins({}, {}), [papers(1)])
    expect(decided.findings[0]?.verdict).toBe('clear')
    expect(decided.points.map(({ kind }) => kind)).toEqual(['which-copy'])
    expect(stateInWords(decided.state)).toBe('1 point open')
    const told = saidFrom(1)
    const settled = state(twins({}, {}), [papers(1)], [told])
    expect(stateInWords(settled.state)).toBe('ready')
    // The answer stays to be seen.
    expect(settled.points).toMatchObject([{ kind: 'which-copy', isOpen: false, answer: { fromSoundId: 1 } }])
    const other = state(twins({}, {}), [papers(1)], [{ ...told, fromSoundId: 2 }])
    expect(other.findings[0]?.verdict).toBe('no-papers')
  })

  it('is a matter to settle when a file of one’s own is what a library lists, copy or not', () => {
    const own = twins({ isFromLibrary: false }, { hasCopy: false })
    const decided = state(own, [papers(1)])
    expect(decided.findings[0]?.verdict).toBe('clear')
    expect(decided.points.map(({ kind }) => kind)).toEqual(['which-copy'])
    expect(stateInWords(decided.state)).toBe('1 point open')
  })

  it.each([
    ['a library’s sound, under a file of one’s own', { isFromLibrary: false }, { hasCopy: false }, true],
    ['a sound whose file is here too', {}, {}, true],
    ['a library’s sound of which nothing is here', {}, { hasCopy: false }, false],
  ] as const)('is a matter to settle when what is heard may as well be %s', (_name, first, second, isOpen) => {
    const one = facts({ detections: [heard(1, { alternativeIds: [2] })] })
    const decided = (papersOf: PapersOnFile[], answers: PointAnswer[] = []) =>
      clearance(input({ facts: one, only: [sound(1, first), sound(2, second)], papers: papersOf, answers }))
    const { findings, points, state: open } = decided([papers(1)])
    expect(findings[0]?.verdict).toBe('clear')
    expect(points.map(({ kind }) => kind)).toEqual(isOpen ? ['which-copy'] : [])
    expect(open.kind).toBe(isOpen ? 'points-open' : 'ready')
    if (!isOpen) return
    expect(points[0]?.sentence).toContain('cannot be told from')
    // With papers for both it does not matter; no papers are lent.
    expect(decided([papers(1), papers(2)]).state.kind).toBe('ready')
    expect(decided([papers(2)]).findings[0]).toMatchObject({ verdict: 'no-papers', ground: null })
    expect(decided([papers(1)], [saidFrom(1)]).state.kind).toBe('ready')
    expect(decided([papers(1)], [saidFrom(2)]).findings[0]?.verdict).toBe('no-papers')
  })

  it('says on whose word it rests', () => {
    const declared = { by: 'Small Hours', on: '2026-05-01' }
    const word = papers(1)
    const [finding] = state([sound(1, {})], [{ ...word, papers: { ...word.papers, declared } }]).findings
    expect(finding?.ground?.declared).toEqual(declared)
    expect(state([sound(1, {})], [word]).findings[0]?.ground?.declared).toBeNull()
  })

  it('is told by possession when there is no copy of the other', () => {
    expect(stateInWords(state(twins({}, { hasCopy: false }), [papers(1)]).state)).toBe('ready')
  })
})

describe('a sound that is only possible', () => {
  const possible = heard(1, { confidence: 0.7, startS: 12.34, endS: 13 })
  const decided = (detections: readonly DetectionFacts[], answers: PointAnswer[] = [], papersOf = [papers(1)]) =>
    clearance(input({ facts: facts({ detections: [...detections] }), papers: papersOf, answers }))
  const said = (kind: PointAnswer['kind'], more: Partial<PointAnswer> = {}) =>
    answer({
      pointKind: 'unsure',
      kind,
      trackIndex: 0,
      places: [{ startS: 12.34, endS: 13 }],
      soundIds: [1],
      fromSoundId: kind === 'from' ? 1 : null,
      ...more,
    })

  it('settles nothing by itself, though its papers permit it', () => {
    const { state: open, points, findings } = decided([possible])
    expect(findings[0]?.verdict).toBe('clear')
    expect(points).toMatchObject([
      { kind: 'unsure', trackIndex: 0, soundIds: [1], places: [{ startS: 12.34, endS: 13 }], isOpen: true },
    ])
    expect(points[0]?.sentence).toContain('only possible that “Sound number 1” (A library) is heard at 0:12.3')
    expect(stateInWords(open)).toBe('1 point open')
  })

  it('is a point up to the confidence that is called very likely, and not from there on', () => {
    const at = (confidence: number) => stateInWords(decided([{ ...possible, confidence }]).state)
    expect(at(0.5)).toBe('1 point open')
    expect(at(0.8999)).toBe('1 point open')
    expect(at(0.9)).toBe('ready')
  })

  it('is one point for all of its places in a track, also where it is certain elsewhere', () => {
    const { points } = decided([
      heard(1),
      possible,
      heard(1, { confidence: 0.6, startS: 30, endS: 31 }),
      heard(1, { confidence: 0.6, startS: 5, endS: 6, trackIndex: 1 }),
    ])
    expect(points.map(({ trackIndex, places }) => [trackIndex, places.map(({ startS }) => startS)])).toEqual([
      [0, [12.34, 30]],
      [1, [5]],
    ])
    expect(points[0]?.sentence).toContain('in 2 places, from 0:12.3 on')
  })

  it.each(['from', 'own', 'accepted'] as const)('is settled by the creator’s word (%s)', (kind) => {
    const { state: settled, points } = decided([possible], [said(kind)])
    expect(settled.kind).toBe('ready')
    expect(points).toMatchObject([{ kind: 'unsure', isOpen: false, answer: { kind } }])
  })

  it('is not settled by a word about another sound, another place or another kind of point', () => {
    for (const more of [
      { soundIds: [2] },
      { places: [{ startS: 12.34, endS: 12.6 }] },
      { trackIndex: 1 },
      { pointKind: 'event' as const },
      { fileSha256: 'another film' },
    ])
      expect(decided([possible], [said('from', more)]).state.kind).toBe('points-open')
  })

  it('is not counted twice where it has no papers', () => {
    const { state: open, points } = decided([possible], [], [])
    expect(points).toEqual([])
    expect(stateInWords(open)).toBe('1 point open')
  })
})

describe('a sound that was placed in the video and was not heard', () => {
  const placed = (soundId: number, more: Partial<PlacedFacts> = {}): PlacedFacts => ({
    soundId,
    audioSha256: null,
    bedId: null,
    startS: 12.34,
    endS: 13,
    ...more,
  })
  const decided = (placements: readonly PlacedFacts[], more: Parameters<typeof input>[0] = {}) =>
    clearance(input({ papers: [papers(1)], ...more, facts: facts({ placed: [...placements], ...more?.facts }) }))
  const kinds = (...given: Parameters<typeof decided>) => decided(...given).points.map(({ kind }) => kind)

  it('keeps the video from being ready while nothing on file allows it', () => {
    const { state, points } = decided([placed(2), placed(2, { startS: 3, endS: 4 })])
    expect(stateInWords(state)).toBe('1 point open')
    expect(points).toMatchObject([{ kind: 'placed', soundIds: [2], isOpen: true, isUnexamined: false }])
    expect(points[0]?.places.map(({ startS }) => startS)).toEqual([3, 12.34])
    expect(points[0]?.sentence).toMatch(
      /“Sound number 2” \(A library\) is placed in 2 places, from 0:03.0 on.*Nothing on file/,
    )
    expect(stateInWords(decided([]).state)).toBe('ready')
  })

  it('is no point where its papers permit it, for the very copy that was placed', () => {
    const both = [papers(1), papers(2)]
    expect(kinds([placed(2)], { papers: both })).toEqual([])
    expect(kinds([placed(2, { audioSha256: 'sha-2' })], { papers: both })).toEqual([])
    expect(kinds([placed(2, { audioSha256: 'another copy' })], { papers: both })).toEqual(['placed'])
  })

  it('is one where its papers do not permit the video, or a credit is owed, and says which', () => {
    const under = (answers: Parameters<typeof terms>[0]) => [papers(1), papers(2, { terms: terms(answers) })]
    const refused = decided([placed(2)], { papers: under({ online: 'no' }) }).points
    expect(refused[0]?.sentence).toMatch(/Replace it/)
    const owed = decided([placed(2)], { papers: under({ credit: 'duty' }) }).points
    expect(owed[0]?.sentence).toMatch(/a credit is owed: credit for 2$/)
  })

  it('is asked about elsewhere, or heard, where it is named beside another, is the same recording, the copy, or in the whole of its bed', () => {
    const bare = { papers: [papers(1)] }
    const beside = facts({ detections: [heard(1, { alternativeIds: [2] })] })
    expect(kinds([placed(2)], { ...bare, facts: beside })).not.toContain('placed')
    const twins = [sound(1, { sameRecordingIds: [2] }), sound(2, { sameRecordingIds: [1] })]
    expect(kinds([placed(2)], { ...bare, only: twins })).not.toContain('placed')
    expect(kinds([placed(2)], { ...bare, only: [sound(1), sound(2, { wholeId: 1 })] })).not.toContain('placed')
    expect(kinds([placed(2, { audioSha256: 'sha-1' })], bare)).not.toContain('placed')
    expect(kinds([placed(2, { bedId: 1 })], bare)).not.toContain('placed')
    expect(kinds([placed(2, { bedId: 3 })], bare)).toContain('placed')
  })

  it('is not cleared by another sound that was heard in its place, of which alone there are papers, until it is said which was used', () => {
    // Of the placed one there is no copy: it was placed by its preview.
    const copy = sound(2, { hasCopy: false })
    const twins = [sound(1, { sameRecordingIds: [2] }), sound(2, { hasCopy: false, sameRecordingIds: [1] })]
    const beside = facts({ detections: [heard(1, { alternativeIds: [2] })] })
    const cases = [
      { only: [sound(1), copy], facts: beside },
      { only: twins.map((one) => ({ ...one, maker: `Maker ${one.soundId}` })) },
    ]
    for (const more of cases) {
      expect(stateInWords(decided([], more).state)).toBe('ready')
      const { state, points } = decided([placed(2)], more)
      expect(points).toMatchObject([{ kind: 'placed', soundIds: [2], isOpen: true }])
      expect(points[0]?.sentence).toMatch(/what is heard may be it.*Nothing on file/)
      expect(stateInWords(state)).toBe('1 point open')
      const said = saidFrom(1)
      expect(decided([placed(2)], { ...more, answers: [said] }).state.kind).toBe('ready')
      expect(kinds([placed(2)], { ...more, papers: [papers(1), papers(2)] })).toEqual([])
    }
  })

  it('is asked about once where it is asked already which of both was used, or where the heard one has no papers', () => {
    const only = [sound(1), sound(2)]
    const beside = facts({ detections: [heard(1, { alternativeIds: [2] })] })
    expect(kinds([placed(2)], { only, facts: beside })).toEqual(['which-copy'])
    expect(kinds([placed(2)], { only, facts: beside, papers: [] })).toEqual([])
    expect(decided([placed(2)], { only, facts: beside, papers: [] }).state.kind).toBe('points-open')
  })

  it('is permitted by the papers of what holds all of it, and heard only where all of its stems are', () => {
    const part = sound(2, { hasCopy: false, wholeId: 3 })
    const [taken, listed] = [sound(3), sound(3, { hasCopy: false })]
    const filed = [papers(1), papers(3)]
    expect(kinds([placed(2)], { papers: filed, only: [sound(1), part, taken] })).toEqual([])
    expect(kinds([placed(2)], { papers: filed, only: [sound(1), part, listed] })).toEqual(['placed'])
    const bed = sound(2, { stemIds: [1, 4] })
    expect(kinds([placed(2)], { only: [sound(1), bed] })).toEqual(['placed'])
    const allStems = facts({ detections: [heard(1), heard(4)] })
    expect(kinds([placed(2)], { only: [sound(1), bed], facts: allStems })).not.toContain('placed')
  })

  it('is settled by the creator’s word about it, and not by one about another sound or file', () => {
    const said = (more: Partial<PointAnswer>) =>
      decided([placed(2)], {
        answers: [
          answer({
            pointKind: 'placed',
            soundIds: [2],
            places: [{ startS: 12.34, endS: 13 }],
            reason: 'cut out',
            ...more,
          }),
        ],
      }).state
    expect(stateInWords(said({}))).toBe('ready, with 1 point accepted by Ann')
    for (const more of [{ soundIds: [1] }, { fileSha256: 'another film' }, { pointKind: 'event' as const }])
      expect(said(more).kind).toBe('points-open')
  })

  it('is not asked about where facts do not tell what was placed', () => {
    expect(stateInWords(clearance(input({ papers: [papers(1)] })).state)).toBe('ready')
  })
})

describe('licences across sounds', () => {
  const alike = (soundId: number, spdxId: string): PapersOnFile =>
    papers(soundId, { terms: terms({ 'share-alike': 'duty' }, { spdxId, title: spdxId }) })
  const both = facts({ detections: [heard(1), heard(2)] })
  const decided = (first: string, second: string, videoLicence: string | null) =>
    clearance(
      input({
        facts: both,
        papers: [alike(1, first), alike(2, second)],
        context: { uses: { ...USES, videoLicence }, asOf: '2026-06-01', videoId: 5 },
      }),
    )

  it('that cannot be met together are named, and the video is not ready', () => {
    const { conflicts, state } = decided('CC-BY-SA-4.0', 'CC-BY-NC-SA-4.0', 'CC-BY-SA-4.0')
    expect(conflicts).toHaveLength(1)
    expect(conflicts[0]).toMatchObject({ soundIds: [1, 2], sentence: expect.stringContaining('no licence meets both') })
    expect(state.kind).toBe('points-open')
  })
  it('that want the same are no conflict', () => {
    const { conflicts, state } = decided('CC-BY-SA-4.0', 'CC-BY-SA-4.0', 'CC-BY-SA-4.0')
    expect(conflicts).toEqual([])
    expect(state.kind).toBe('ready')
  })
  it.each([
    ['CC-BY-SA-4.0', { standalone: 'no' }, 'does not allow passing the sound on'],
    ['CC-BY-SA-4.0', { standalone: 'not-stated' }, 'does not allow passing the sound on'],
    ['CC-BY-SA-4.0', { earning: 'no' }, 'does not allow commercial use'],
    ['CC-BY-NC-SA-4.0', { earning: 'no' }, null],
    ['CC-BY-4.0', { standalone: 'no', earning: 'no' }, 'passing the sound on and commercial use'],
    ['CC-BY-SA-4.0', {}, null],
    [null, { standalone: 'no', earning: 'no' }, null],
  ] as const)('of a video under %s and a sound whose terms say %j', (videoLicence, answers, sentence) => {
    const context = { uses: { ...USES, videoLicence }, asOf: '2026-06-01', videoId: 5 }
    const { conflicts, state } = clearance(input({ papers: [papers(1, { terms: terms(answers) })], context }))
    expect(conflicts.map((one) => one.sentence)).toEqual(sentence === null ? [] : [expect.stringContaining(sentence)])
    expect(state.kind).toBe(sentence === null ? 'ready' : 'points-open')
  })

  it.each([
    ['the same', 'CC-BY-SA-4.0', 'CC-BY-SA-4.0', {}, true],
    ['two that cannot be met together', 'CC-BY-SA-4.0', 'CC-BY-NC-SA-4.0', {}, false],
    ['one, beside a sound that may not be passed on', 'CC-BY-SA-4.0', null, { standalone: 'no' }, false],
    ['one, beside a sound that may not earn', 'CC-BY-SA-4.0', null, { earning: 'no' }, false],
    ['one for free, beside a sound that may not earn', 'CC-BY-NC-SA-4.0', null, { earning: 'no' }, true],
  ] as const)(
    'offer the same licence for the video where it settles both (%s)',
    (_, first, second, answers, offered) => {
      const other = second === null ? papers(2, { terms: terms(answers) }) : alike(2, second)
      const { findings } = clearance(
        input({
          facts: both,
          papers: [alike(1, first), other],
          context: { uses: USES, asOf: '2026-06-01', videoId: 5 },
        }),
      )
      const settlements = findings.find(({ soundId }) => soundId === 1)?.settlements ?? []
      expect(settlements.includes('Publish the whole video under the same licence.')).toBe(offered)
      expect(settlements).toContain('Replace the sound.')
    },
  )

  it('stand against a video whose rights are all kept', () => {
    const { conflicts, state } = decided('CC-BY-SA-4.0', 'CC-BY-SA-4.0', null)
    expect(conflicts[0]?.sentence).toContain('all rights in this video are kept')
    expect(state).toMatchObject({ kind: 'points-open', points: 2 })
  })
})

describe('a bed that is to be had in stems and parts', () => {
  const bed = sound(1, { stemIds: [2, 3], hasCopy: false })
  const stem = (id: number, more: Partial<SoundOnFile> = {}): SoundOnFile => sound(id, { hasCopy: false, ...more })
  const opening = sound(4, { hasCopy: false })
  const found = (
    detections: readonly DetectionFacts[],
    { only = [bed, stem(2), stem(3), opening], filed = [] as PapersOnFile[] } = {},
  ) =>
    clearance(input({ facts: facts({ detections }), only, papers: filed })).findings.map((one) => [
      one.soundId,
      one.verdict,
      one.stemIds,
      one.ground?.why ?? null,
    ])
  const whole = heard(1, { startS: 2, endS: 10, fromS: 0, toS: 8, gainDb: -6 })
  const inIt = heard(2, { startS: 2, endS: 10, fromS: 0, toS: 8, gainDb: -5 })

  it('has its stems in it where they are as they are in it', () => {
    expect(found([whole, inIt])).toEqual([[1, 'no-papers', [2], null]])
  })

  it('holds no stem that it was not found to be the sum of: voices over what has none are no part of it', () => {
    const only = [{ ...bed, stemIds: [] }, stem(2), opening]
    expect(found([whole, inIt], { only }).map(([id]) => id)).toEqual([1, 2])
    // Nor does a part or version of it: it may be the one without that stem.
    const held = found([heard(4, { startS: 2, endS: 10, gainDb: -6 }), inIt], { filed: [papers(4)] })
    expect(held).toEqual([
      [2, 'no-papers', [], null],
      [4, 'clear', [], null],
    ])
  })

  it.each([
    ['louder than in the whole', { gainDb: -3 }],
    ['at another place of it', { fromS: 0.2 }],
    ['in another track', { trackIndex: 1 }],
    ['at another speed', { speed: 1.1 }],
    ['beyond its end', { endS: 16, toS: 14 }],
  ])('has a stem beside it that is %s', (_, other) => {
    expect(found([whole, { ...inIt, ...other }]).map(([id]) => id)).toEqual(expect.arrayContaining([1, 2]))
  })

  it('holds no stem of another bed, and a stem holds nothing', () => {
    const strange = { ...inIt, soundId: 9, audioSha256: 'sha-9' }
    expect(found([whole, strange], { only: [bed, stem(9)] }).map(([id]) => id)).toEqual([1, 9])
    expect(found([inIt, { ...inIt, soundId: 3, audioSha256: 'sha-3' }]).map(([id]) => id)).toEqual([2, 3])
  })

  it('is cleared by the papers of all of its stems, and by no fewer', () => {
    const taken = [stem(2, { hasCopy: true }), stem(3, { hasCopy: true })]
    const filed = [papers(2), papers(3)]
    expect(found([whole], { only: [bed, ...taken], filed })).toEqual([
      [
        1,
        'clear',
        [],
        'It is what its stems add up to, and all of them were taken: “Sound number 2”, “Sound number 3”.',
      ],
    ])
    expect(found([whole], { only: [bed, ...taken], filed: [papers(2)] })).toEqual([[1, 'no-papers', [], null]])
    const barred = [papers(2), papers(3, { terms: terms({ online: 'no' }) })]
    expect(found([whole], { only: [bed, ...taken], filed: barred })).toEqual([[1, 'no-papers', [], null]])
    expect(found([whole], { only: [bed, stem(2, { hasCopy: true }), stem(3)], filed })).toEqual([
      [1, 'no-papers', [], null],
    ])
  })

  it('gives its papers to a part that lies in it, and to no stem', () => {
    const taken = { ...bed, hasCopy: true }
    const part = heard(4, { audioSha256: 'sha-4' })
    const only = [taken, stem(2), { ...opening, wholeId: 1 }]
    expect(found([part, inIt], { only, filed: [papers(1)] })).toEqual([
      [2, 'no-papers', [], null],
      [4, 'clear', [], 'It is a part of “Sound number 1”, which was taken as a whole.'],
    ])
    // That it is called a part of it is not enough.
    expect(found([part], { only: [taken, opening], filed: [papers(1)] })).toEqual([[4, 'no-papers', [], null]])
    // Papers without the file may be for another one.
    expect(found([part], { only: [bed, { ...opening, wholeId: 1 }], filed: [papers(1)] })).toEqual([
      [4, 'no-papers', [], null],
    ])
  })
})

const rank = ({ state }: { state: VideoState }): number => STATE_KINDS.indexOf(state.kind)

/** Any video: some tracks with some of what can be wrong, some sounds with some papers. */
const anyInput = fc
  .record({
    tracks: fc.array(
      fc.record({
        music: fc.boolean(),
        missing: fc.boolean(),
        deaf: fc.boolean(),
        unfinished: fc.boolean(),
        end: fc.constantFrom('whole', 'broke-off', 'stalled' as const),
      }),
      { minLength: 1, maxLength: 3 },
    ),
    heardIds: fc.uniqueArray(fc.integer({ min: 1, max: 4 }), { maxLength: 4 }),
    withPapers: fc.uniqueArray(fc.integer({ min: 1, max: 4 }), { maxLength: 4 }),
    answers: fc.constantFrom<ClauseAnswer[]>(['yes'], ['yes', 'yes', 'duty'], ['yes', 'no', 'not-stated']),
    grouped: fc.boolean(),
    copies: fc.uniqueArray(fc.integer({ min: 1, max: 4 }), { maxLength: 4 }),
    listed: fc.integer({ min: 0, max: 4 }),
    settled: fc.boolean(),
  })
  .map(({ tracks, heardIds, withPapers, answers, grouped, copies, listed, settled }): ClearanceInput => {
    const key = (index: number): ClauseKey => CLAUSE_KEYS[index % CLAUSE_KEYS.length] as ClauseKey
    const under = terms(Object.fromEntries(answers.map((one, index) => [key(index * 7), one])))
    return input({
      facts: facts({
        tracks: tracks.map(({ music, missing, deaf, unfinished, end }, index) =>
          track({
            index,
            end,
            segments: music ? MUSIC.segments : [],
            missing: missing ? [{ startS: 50, endS: 60 }] : [],
            notListenedReason: deaf ? 'It could not be decoded.' : null,
            stages: [{ name: 'catalogue', soundCount: 4, threshold: 9, otherSpeeds: false, isComplete: !unfinished }],
          }),
        ),
        detections: heardIds.map((id) => heard(id)),
        reference: {
          listenedFor: Array.from({ length: listed }, (_, at) => [at + 1, `sha-${at + 1}`] as const),
          notListenedFor: [],
          claimedIds: [],
          upToChange: 0,
        },
      }),
      only: [1, 2, 3, 4].map((id) =>
        sound(id, {
          hasCopy: copies.includes(id),
          sameRecordingIds: grouped && id <= 2 ? [3 - id] : [],
        }),
      ),
      papers: withPapers.map((id) => papers(id, { terms: under })),
      answers: settled
        ? [0, 1, 2].flatMap((trackIndex) => [
            answer({ id: trackIndex, trackIndex }),
            answer({ id: 10 + trackIndex, trackIndex, pointKind: 'undecoded', places: [{ startS: 0, endS: 60 }] }),
          ])
        : [],
    })
  })

describe('properties', () => {
  it('facts that say less was examined never improve the state', () => {
    const less = fc.constantFrom<((facts: CheckFacts) => Partial<CheckFacts>)[]>(
      ({ tracks }) => ({ tracks: tracks.map((one) => ({ ...one, notListenedReason: 'It is gone.' })) }),
      ({ tracks }) => ({ tracks: tracks.map((one) => ({ ...one, missing: [{ startS: 3, endS: 20 }] })) }),
      ({ tracks }) => ({ tracks: tracks.map((one) => ({ ...one, end: 'broke-off' as const })) }),
      ({ tracks }) => ({
        tracks: tracks.map((one) => ({ ...one, stages: one.stages.map((stage) => ({ ...stage, isComplete: false })) })),
      }),
      ({ reference }) => ({ reference: { ...reference, listenedFor: [] } }),
      ({ reference }) => ({
        reference: { ...reference, notListenedFor: [...reference.notListenedFor, { soundId: 9, reason: 'x' }] },
      }),
      ({ tracks }) => ({ tracks: [...tracks, track({ index: tracks.length, notListenedReason: 'It is AC-3.' })] }),
    )
    fc.assert(
      fc.property(anyInput, less, (given, change) => {
        const before = clearance(given)
        const after = clearance({
          ...given,
          facts: { ...(given.facts as CheckFacts), ...change(given.facts as CheckFacts) },
        })
        expect(rank(after)).toBeLessThanOrEqual(rank(before))
        if (given.answers.length === 0) expect(after.state.kind).not.toBe('ready')
      }),
      { numRuns: 500 },
    )
  })

  it('taking papers away never improves the state', () => {
    fc.assert(
      fc.property(anyInput, fc.integer({ min: 0, max: 3 }), (given, at) => {
        const after = clearance({ ...given, papers: given.papers.filter((_, index) => index !== at) })
        expect(rank(after)).toBeLessThanOrEqual(rank(clearance(given)))
      }),
      { numRuns: 500 },
    )
  })

  it('a clause that is asked for and not stated never gives clear', () => {
    const asked = fc.constantFrom<ClauseKey[]>('online', 'modification', 'territory', 'share-alike', 'duration')
    fc.assert(
      fc.property(anyInput, asked, (given, key) => {
        const silent = given.papers.map((one) => ({
          ...one,
          papers: { ...one.papers, terms: terms({ [key]: 'not-stated' }) },
        }))
        for (const { verdict, ground } of clearance({ ...given, papers: silent }).findings) {
          expect(['no-papers', 'not-allowed']).toContain(verdict)
          expect(ground).toBeNull()
        }
      }),
    )
  })

  it('nothing is clear without a paper for what was heard', () => {
    fc.assert(
      fc.property(anyInput, (given) => {
        for (const { verdict, ground } of clearance(given).findings)
          if (verdict === 'clear' || verdict === 'owes-credit')
            expect(given.papers.some(({ papersId }) => papersId === ground?.papersId)).toBe(true)
      }),
    )
  })

  it('offers change what would settle a point, and never the state', () => {
    fc.assert(
      fc.property(anyInput, (given) => {
        const offer = { kind: 'plan', title: 'Plan', price: null, papers: (papers(1) as PapersOnFile).papers } as const
        const offers = new Map([1, 2, 3, 4].map((id) => [id, [offer]]))
        expect(clearance({ ...given, offers }).state).toEqual(clearance(given).state)
      }),
    )
  })

  it('the same input gives the same bytes', () => {
    fc.assert(
      fc.property(anyInput, (given) => {
        const twice = [clearance(given), clearance(structuredClone(given))]
        expect(JSON.stringify(twice[1])).toBe(JSON.stringify(twice[0]))
      }),
    )
  })
})
