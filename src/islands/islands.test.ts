import { describe, expect, it } from 'vitest'
import type { FindingWire, Job, PapersRow, PointWire, SensitivityWire, VideoStateWire } from '../contract'
import { messages } from '../messages'
import { afterReconnect, shownJobs, withJob } from './api/job-list'
import { printPaths, ribbonColumn } from './format/print-shapes'
import { clock, dayWords, lengthWords, shareWords, treatmentWords } from './format/words'
import { answerSentence, answerWords } from './parts/clearance/point-words'
import { notExaminedWords, summarySentence } from './parts/clearance/summary-sentence'
import {
  limitSentence,
  missedSentence,
  restSentence,
  speedSentences,
  trustSentence,
} from './parts/clearance/TrackBreakdown'
import { filteredPapers, NO_FILTER, type PapersFilter } from './state/papers-filter'

function base64(bytes: readonly number[]): string {
  return Buffer.from(bytes).toString('base64')
}

describe('a print', () => {
  it('stacks four bands round the middle, each as thick as its level', () => {
    const edges = ribbonColumn(Uint8Array.of(255, 0, 255, 0), 0, 40)
    expect(edges).toHaveLength(5)
    // Two full bands of a quarter of the height each, centred.
    expect(edges[0]).toBeCloseTo(20 + 9.8, 5)
    expect(edges[1]).toBeCloseTo(20, 5)
    expect(edges[2]).toBeCloseTo(20, 5)
    expect(edges[4]).toBeCloseTo(20 - 9.8, 5)
  })

  it('is flat in silence and stays in its box at full level', () => {
    expect(new Set(ribbonColumn(new Uint8Array(4), 0, 40))).toEqual(new Set([20]))
    const full = ribbonColumn(Uint8Array.of(255, 255, 255, 255), 0, 40)
    expect(Math.min(...full)).toBeGreaterThanOrEqual(0)
    expect(Math.max(...full)).toBeLessThanOrEqual(40)
  })

  it('draws one shape for each band, on the scale that is asked for', () => {
    const print = { columnS: 0.02, levelsBase64: base64(Array.from({ length: 400 }, () => 128)) }
    const paths = printPaths(print, { heightPx: 34, pxPerS: 36 })
    expect(paths).toHaveLength(4)
    const xs = [...(paths[0] as string).matchAll(/(\d[\d.]*),\d/g)].map((match) => Number(match[1]))
    // 100 columns of 20 ms at 36 px a second end at 72 px.
    expect(Math.max(...xs)).toBeCloseTo(71.6, 0)
  })

  it('does not draw what lies beyond the width', () => {
    const print = { columnS: 0.02, levelsBase64: base64(Array.from({ length: 4000 }, () => 128)) }
    const whole = printPaths(print, { heightPx: 34, pxPerS: 36 }).join('').length
    expect(printPaths(print, { heightPx: 34, pxPerS: 36, maxWidthPx: 100 }).join('').length).toBeLessThan(whole / 4)
  })
})

function finding(
  title: string,
  places: readonly (readonly [number, number])[],
  verdict: FindingWire['verdict'] = 'clear',
): FindingWire {
  return {
    soundId: title.length,
    title,
    maker: '',
    sourceName: '',
    licence: '',
    sold: false,
    verdict,
    reasons: [],
    sentence: '',
    settlements: [],
    ground: null,
    creditLine: null,
    detections: places.map(([startS, endS], index) => ({
      id: title.charCodeAt(0) * 100 + index,
      trackIndex: 0,
      soundId: title.length,
      startS,
      endS,
      fromS: 0,
      toS: endS - startS,
      gainDb: 0,
      confidence: 1,
      certainty: 'certain' as const,
      speed: 1,
      treatment: 'as-is' as const,
      cutoffHz: null,
      balance: 0,
      fadeInS: 0,
      fadeOutS: 0,
    })),
    alternatives: [],
    relatives: [],
    stems: [],
  }
}

describe('words', () => {
  it.each([
    [0.24, '0.2 s'],
    [9.96, '10.0 s'],
    [12.4, '12 s'],
    [65, '1:05 min'],
  ])('length %f', (seconds, words) => {
    expect(lengthWords(seconds)).toBe(words)
  })

  it.each([
    [0, '0:00.0'],
    [59.96, '1:00.0'],
    [64.34, '1:04.3'],
    [3599.9, '59:59.9'],
  ])('clock %f', (seconds, words) => {
    expect(clock(seconds)).toBe(words)
  })

  it('counts and dates', () => {
    expect(messages.counts.sounds(1)).toBe('1 sound')
    expect(messages.counts.sounds(1200)).toBe('1,200 sounds')
    expect(dayWords('2026-12-04')).toBe('4 Dec 2026')
  })

  it('what was done to a sound', () => {
    const [place] = finding('aa', [[0, 1]]).detections as [FindingWire['detections'][number]]
    expect(treatmentWords(place)).toBe('')
    expect(treatmentWords({ ...place, treatment: 'muffled', cutoffHz: 1200, balance: -0.4, fadeInS: 0.84 })).toBe(
      'muffled above 1,200 Hz, more on the left, fades in over 0.8 s',
    )
    expect(treatmentWords({ ...place, treatment: 'speed-pitch-kept', speed: 0.9, balance: 0.95 })).toBe(
      'at 90 % speed, pitch kept, only on the right',
    )
    expect(treatmentWords({ ...place, treatment: 'room', balance: 0.1 })).toBe('in a room')
    expect(treatmentWords({ ...place, inSide: true, balance: 0.5 })).toBe(
      'left and right cancel each other out, more on the right',
    )
    expect(treatmentWords({ ...place, inSide: true, balance: -1 })).toBe('only on the left')
  })

  it('a share is all of it only when it is', () => {
    expect([0, 0.5, 0.9999, 1].map(shareWords)).toEqual(['0 %', '50 %', '99 %', '100 %'])
  })

  it('what a track is made of', () => {
    const secondsOf = { speech: 61, music: 12.4, noise: 0.1, silence: 0, heard: 3, unexplained: 0 }
    const breakdown = { segments: [], unexplained: [], secondsOf, explainedFraction: 1 }
    expect(restSentence(breakdown)).toBe(
      'Beside the findings there is 1:01 min of speech, 12 s of music. Nothing else stands out.',
    )
    const unexplained = [{ startS: 1, endS: 2, lowHz: 100, highHz: 200, levelDb: -20 }]
    expect(restSentence({ ...breakdown, unexplained, explainedFraction: 0.98 })).toContain(
      '98 % of the track is explained.',
    )
  })

  it('where nothing would stand out', () => {
    const secondsOf = { speech: 16.2, music: 12, noise: 0, silence: 0, heard: 3, unexplained: 0 }
    expect(limitSentence({ secondsOf })).toBe(
      'Under the 16 s of speech, a sound that is in none of your libraries is not noticed.',
    )
    expect(limitSentence({ secondsOf: { ...secondsOf, speech: 0.4 } })).toBeNull()
  })

  it('how far a check can be trusted', () => {
    expect(trustSentence({ listenedFor: 24, heard: 0 })).toMatch(/^24 sounds .* none was heard\.$/)
    expect(trustSentence({ listenedFor: 24, heard: 2 })).toContain('2 seemed to be there')
    expect(trustSentence({ listenedFor: 0, heard: 0 })).toBe('Nothing was listened for.')
  })

  it('which of the sounds that were not heard are missed more often', () => {
    const of = (...kinds: (SensitivityWire['kind'] | null)[]) => missedSentence(kinds.map((kind) => ({ kind })))
    // Older checks do not say.
    expect(of()).toBeNull()
    expect(of('noise', null)).toBeNull()
    expect(of('noise', 'tone')).toMatch(
      /^Of them 1 has most of its power in few frequencies, as .* have: in a mix such sounds are missed more often/,
    )
    expect(of('click', 'click', 'tone', 'noise')).toMatch(
      /^Of them 1 has most of its power in few .* have, and 2 are short clicks: /,
    )
    expect(of(...Array.from({ length: 1200 }, () => 'tone' as const))).toContain(
      '1,200 have most of their power in few frequencies',
    )
  })

  it('at which speeds sounds were searched for, and which were not', () => {
    expect(speedSentences({ inFull: 0, lookedUp: 0, not: 0 })).toEqual([])
    expect(speedSentences({ inFull: 1, lookedUp: 0, not: 3 })).toEqual([
      expect.stringMatching(/^1 sound was .* in full .*pitch moving along or kept/),
      '3 sounds were searched for at their own speed only.',
      expect.stringMatching(/^None was searched for backwards/),
    ])
    const [lookedUp, ...more] = speedSentences({ inFull: 0, lookedUp: 1443, not: 0 })
    expect(lookedUp).toMatch(/^1,443 sounds of the libraries were looked up .*not all\.$/)
    expect(more).toEqual([expect.stringMatching(/backwards/)])
  })

  it.each([
    [{ kind: 'not-checked' }, 'Not checked.'],
    [{ kind: 'ready', credits: 0, accepted: [] }, 'Ready.'],
    [{ kind: 'ready', credits: 1, accepted: [] }, 'Ready, 1 credit owed.'],
    [{ kind: 'ready', credits: 0, accepted: [{ by: 'Ann', points: 1 }] }, 'Ready, with 1 point accepted by Ann.'],
    [{ kind: 'points-open', points: 1, credits: 0 }, 'Not ready: 1 point open.'],
    [
      { kind: 'partly-examined', points: 2, credits: 0 },
      'Partly examined: 2 points are open, and what was not examined may hold more.',
    ],
  ] as const)('summary of %j', (state, sentence) => {
    expect(summarySentence(state as VideoStateWire)).toBe(sentence)
  })
})

function point(kind: PointWire['kind'], more: Partial<PointWire> = {}): PointWire {
  return {
    kind,
    trackIndex: null,
    places: [],
    soundIds: [],
    sentence: '',
    answerKinds: [],
    answer: null,
    isOpen: true,
    isUnexamined: false,
    soundTitles: [],
    ...more,
  }
}

describe('what was not examined', () => {
  it('is never nothing', () => {
    expect(notExaminedWords({ notExamined: [], points: [], searchedLive: [], notSynced: [] })).toBe(
      'sounds from elsewhere',
    )
  })

  it('names tracks, parts and sounds', () => {
    const notExamined = [1, 2].map((soundId) => ({ soundId, title: '', reason: '' }))
    const points = [
      point('track'),
      point('undecoded'),
      point('unread-source'),
      point('list-grew', { soundIds: [7] }),
      point('known-in-part', { soundIds: [8] }),
    ]
    expect(
      notExaminedWords({
        notExamined,
        points,
        searchedLive: ['Quarry Hall', 'Wide Fen'],
        notSynced: [{ name: 'Tin Barn', since: '2026-11-03' }],
      }),
    ).toBe(
      '1 track, 1 part of the file, 2 listed sounds, 1 listed sound beyond the preview, 1 sound added since, sources that were not read yet, what Tin Barn added since 3 Nov 2026, sounds of Quarry Hall and Wide Fen that you did not see yet, sounds from elsewhere',
    )
  })
})

describe('an answer in words', () => {
  const answer = {
    id: 1,
    fromSoundId: null,
    fromTitle: null,
    reason: 'old tape',
    by: 'Ann',
    at: '2026-01-01T00:00:00Z',
  }
  it.each([
    [{ ...answer, kind: 'accepted' as const }, 'Accepted by Ann: old tape.'],
    [{ ...answer, kind: 'own' as const, reason: '' }, 'Ann put on record that it is their own.'],
    [{ ...answer, kind: 'from' as const, fromTitle: 'Owl' }, 'is not heard: the point stays open.'],
  ])('%j', (said, words) => {
    expect(answerSentence(point('music', { answer: said }))).toContain(words)
  })
  it('is about which sound it is where that was asked: nothing is looked for', () => {
    const said = { ...answer, kind: 'from' as const, fromTitle: 'Owl' }
    for (const kind of ['unsure', 'which-copy'] as const) {
      const words = answerSentence(point(kind, { answer: said }))
      expect(words).toContain('“Owl”')
      expect(words).not.toContain('stays open')
    }
    expect(answerWords(point('unsure'), 'from')).toBe('It is that sound')
    expect(answerWords(point('unsure'), 'own')).toBe('It is my own')
    expect(answerWords(point('event'), 'from')).toBe('It is from a sound or file')
  })

  it('is none where there is none', () => {
    expect(answerSentence(point('music'))).toBeNull()
    const dotted = { kind: 'accepted', by: 'Ann', reason: 'The rest is black. ', id: 1, at: '', fromSoundId: null }
    expect(answerSentence(point('undecoded', { answer: { ...dotted, fromTitle: null } as PointWire['answer'] }))).toBe(
      'Accepted by Ann: The rest is black.',
    )
  })
})

describe('the list of jobs', () => {
  const job = (id: number, state: Job['state']): Job => ({
    id,
    kind: 'check',
    subject: '1',
    title: 'C',
    state,
    progressFraction: 0,
    message: '',
    createdAt: '2026-01-01T00:00:00.000Z',
    finishedAt: null,
  })

  it('keeps the newest state of each, newest first', () => {
    const jobs = withJob(withJob([job(1, 'running')], job(2, 'queued')), job(1, 'done'))
    expect(jobs.map(({ id, state }) => [id, state])).toEqual([
      [2, 'queued'],
      [1, 'done'],
    ])
  })
})

describe('the list of jobs, when the connection was away', () => {
  const job = (id: number, state: Job['state']): Job => ({
    id,
    kind: 'mirror',
    subject: String(id),
    title: 'M',
    state,
    progressFraction: 0,
    message: '',
    createdAt: '2026-01-01T00:00:00.000Z',
    finishedAt: null,
  })

  const now = (...jobs: Job[]) => ({ at: '2026-01-01T00:10:00.000Z', jobs })
  const endedAt = (time: string, one: Job): Job => ({ ...one, finishedAt: `2026-01-01T${time}.000Z` })

  it('does not leave as running what ended meanwhile', () => {
    const known = [job(3, 'running'), job(2, 'queued'), job(1, 'failed')]
    const newest = [job(4, 'queued'), job(3, 'done'), job(2, 'failed'), job(1, 'failed')]
    const { jobs, ended } = afterReconnect(known, now(...newest), 5000)
    expect(jobs.map(({ id, state }) => [id, state])).toEqual([
      [4, 'queued'],
      [2, 'failed'],
      [1, 'failed'],
    ])
    expect(ended.map(({ id }) => id)).toEqual([3, 2])
  })

  it('shows at first only what is under way: old failures are not told again', () => {
    const { jobs, ended } = afterReconnect([], now(job(2, 'running'), endedAt('00:05:00', job(1, 'failed'))), 5000)
    expect(jobs.map(({ id }) => id)).toEqual([2])
    expect(ended).toEqual([])
  })

  it('does not bring back what was closed', () => {
    expect(afterReconnect([], now(endedAt('00:09:58', job(1, 'failed'))), 5000).jobs).toEqual([])
  })

  it('tells what began and ended while nothing was heard, and not what ended before', () => {
    const newest = now(
      endedAt('00:09:57', job(5, 'done')),
      endedAt('00:09:56', job(4, 'done')),
      endedAt('00:09:40', job(3, 'done')),
      job(2, 'running'),
    )
    const known = [endedAt('00:09:56', job(4, 'done'))]
    expect(afterReconnect(known, newest, 5000).ended.map(({ id }) => id)).toEqual([5])
    expect(afterReconnect([], newest, 5000).ended.map(({ id }) => id)).toEqual([5, 4])
    // A page that took long to open has data that are as old.
    expect(afterReconnect([], newest, 30_000).ended.map(({ id }) => id)).toEqual([5, 4, 3])
  })
})

describe('the jobs that are shown', () => {
  const one = (id: number, state: Job['state'], kind: Job['kind'] = 'download'): Job => ({
    id,
    kind,
    subject: String(id),
    title: '',
    state,
    progressFraction: 0,
    message: '',
    createdAt: '',
    finishedAt: null,
  })

  it('are those that are worked on, and what they are part of, however much waits', () => {
    const waiting = Array.from({ length: 20 }, (_, index) => one(30 - index, 'queued'))
    const list = [...waiting, one(10, 'running'), one(9, 'running'), one(8, 'done'), one(1, 'running', 'prepare')]
    expect(shownJobs(list, 4).map(({ id }) => id)).toEqual([10, 9, 8, 1])
    expect(shownJobs(list, 6).map(({ id }) => id)).toEqual([30, 29, 10, 9, 8, 1])
  })

  it('are all where there is room, the newest first', () => {
    const list = [one(3, 'queued'), one(2, 'failed'), one(1, 'running', 'prepare')]
    expect(shownJobs(list, 4)).toEqual(list)
    expect(shownJobs([], 4)).toEqual([])
  })
})

describe('the list of papers, narrowed', () => {
  const row = (title: string, more: Partial<PapersRow> = {}): PapersRow => ({
    soundId: title.length,
    title,
    maker: 'Ivo',
    sourceName: 'Tin Barn Commons',
    grantId: 1,
    kind: 'licence',
    grantTitle: 'Open licence',
    declared: null,
    paid: null,
    termsId: 1,
    termsTitle: 'Creative Commons BY 4.0',
    termsVersion: '4.0',
    acquiredAt: '2026-01-01T00:00:00.000Z',
    expiresOn: null,
    creditLine: null,
    evidence: [],
    videoTitles: [],
    marks: [],
    ...more,
  })
  const ROWS = [
    row('Ice crack', { creditLine: '“Ice crack”' }),
    row('Owl', { grantId: null, kind: 'none' }),
    row('Dome motor', { expiresOn: '2026-07-01', sourceName: 'Heron & Slate' }),
  ]
  const titles = (filter: Partial<PapersFilter>): string[] =>
    filteredPapers(ROWS, { ...NO_FILTER, ...filter }, '2026-06-15').map(({ title }) => title)

  it.each([
    [{}, ['Ice crack', 'Owl', 'Dome motor']],
    [{ text: 'HERON motor' }, ['Dome motor']],
    [{ text: 'motor tin' }, []],
    [{ noPapers: true }, ['Owl']],
    [{ owesCredit: true }, ['Ice crack']],
    [{ expiresWithinDays: 16 }, ['Dome motor']],
    [{ expiresWithinDays: 15 }, []],
    [{ noPapers: true, owesCredit: true }, []],
  ] as const)('%j', (filter, expected) => {
    expect(titles(filter)).toEqual([...expected])
  })

  it('keeps what expired already in view', () => {
    expect(filteredPapers(ROWS, { ...NO_FILTER, expiresWithinDays: 30 }, '2026-08-01')).toHaveLength(1)
  })
})
