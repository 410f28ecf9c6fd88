import { describe, expect, it } from 'vitest'
import type { Shelf, ShelfSound } from '../../contract'
import { parsedQuery } from '../../core/finding'
import {
  DEFAULT_OPTIONS,
  endedAt,
  heardBefore,
  listeningGainDb,
  savedOptions,
  saveOptions,
  startedAt,
} from '../audio/listening-options'
import { PlayClock } from '../audio/play-clock'
import { listeningAction, type Player } from '../audio/player'
import { LINE_WORDS } from '../format/line-words'
import { withToggled } from './compare'
import {
  addressOf,
  EVERYTHING,
  filtered,
  fromAddress,
  fromQuestion,
  isNothingAsked,
  NOTHING_ASKED,
  offersIn,
  questionOf,
  taken,
  toggled,
  typed,
} from './find-state'
import { beforeAfterDrop, shelfSounds } from './shelf-view'

describe('what Find shows', () => {
  it('a condition that is typed becomes a chip when its bracket closes', () => {
    const open = typed(NOTHING_ASKED, 'door [under 2')
    expect(open).toMatchObject({ text: 'door [under 2', filters: [] })
    const closed = typed(open, 'door [under 2 s]')
    expect(closed).toMatchObject({ text: 'door ', filters: [{ kind: 'length', fromS: null, toS: 2 }] })
    expect(typed(closed, 'door [no such thing]').text).toBe('door [no such thing]')
  })

  it('leaves blanks alone while someone types', () => {
    expect(typed(NOTHING_ASKED, ' ice ').text).toBe(' ice ')
  })

  it.each([
    ['/find', ''],
    ['/find?q=owl', '?q=owl'],
    [
      '/find?q=owl+%5Bfree%5D+%5Bunder+2+s%5D&sort=newest&like=sound%3A3',
      '?q=owl [free] [under 2 s]&sort=newest&like=sound:3',
    ],
  ])('%s', (address, search) => {
    expect(addressOf(fromAddress(search))).toBe(address)
    expect(fromAddress(address.replace(/^[^?]*/, ''))).toEqual(fromAddress(search))
  })

  it('ignores what an address cannot mean', () => {
    expect(fromAddress('?sort=wild&like=owl')).toEqual(NOTHING_ASKED)
  })

  it('asks in one text, and reads it back', () => {
    const state = filtered(fromQuestion('"far off" -door'), 'kept', { kind: 'kept', is: true })
    expect(questionOf(state)).toBe('"far off" -door [kept]')
    expect(fromQuestion(questionOf(state))).toEqual(state)
    expect(filtered(state, 'kept', null).filters).toEqual([])
  })

  it('values are put in and taken out; none is no condition', () => {
    expect(toggled(['a'], 'b')).toEqual(['a', 'b'])
    expect(toggled(['a', 'b'], 'a')).toEqual(['b'])
    expect(toggled(['a'], 'a')).toBeNull()
  })
})

describe('how it is listened', () => {
  it.each([
    [-12, true, -12],
    [-24, true, 0],
    [-30, true, 6],
    [-60, true, 14],
    [10, true, -30],
    [-12, false, 0],
    [null, true, 0],
  ])('%s LUFS, matched %s: %s dB', (loudnessLufs, matched, gainDb) => {
    expect(listeningGainDb(loudnessLufs, matched)).toBe(gainDb)
  })

  it('is kept, and anything else that lies there is ignored', () => {
    const kept = new Map<string, string>()
    const storage = {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => void kept.set(key, value),
    }
    expect(savedOptions(storage)).toEqual(DEFAULT_OPTIONS)
    saveOptions(storage, { ...DEFAULT_OPTIONS, mono: true, rate: 2 })
    expect(savedOptions(storage)).toMatchObject({ mono: true, rate: 2, matched: true })
    kept.set('listening', '{"mono":"yes","rate":7}')
    expect(savedOptions(storage)).toEqual(DEFAULT_OPTIONS)
    kept.set('listening', 'broken')
    expect(savedOptions(storage)).toEqual(DEFAULT_OPTIONS)
  })

  it('a part never ends before it begins', () => {
    expect(startedAt(null, 1, 3)).toEqual({ startS: 1, endS: 3 })
    expect(startedAt({ startS: 0, endS: 2 }, 1, 3)).toEqual({ startS: 1, endS: 2 })
    expect(startedAt({ startS: 0, endS: 2 }, 2.5, 3)).toEqual({ startS: 2.5, endS: 3 })
    expect(endedAt(null, 1)).toEqual({ startS: 0, endS: 1 })
    expect(endedAt({ startS: 2, endS: 3 }, 1)).toEqual({ startS: 0, endS: 1 })
    expect(endedAt(null, 0).endS).toBeGreaterThan(0)
  })

  it('what was heard stands there once, the newest first', () => {
    const one = { id: 1 }
    const two = { id: 2 }
    expect(heardBefore([one, two], two)).toEqual([two, one])
    expect(heardBefore([one, two], { id: 3 }, 2)).toEqual([{ id: 3 }, one])
  })
})

describe('keys', () => {
  const called: string[] = []
  const clock = new PlayClock()
  clock.set(1)
  const player = {
    sound: { durationS: 4 },
    playing: true,
    clock,
    part: null,
    options: DEFAULT_OPTIONS,
    toggle: () => called.push('toggle'),
    stop: () => called.push('stop'),
    skip: (byS: number) => called.push(`skip ${byS}`),
    setPart: (part: unknown) => called.push(`part ${JSON.stringify(part)}`),
    setOptions: (change: unknown) => called.push(JSON.stringify(change)),
  } as unknown as Player

  it.each([
    [' ', false, 'toggle'],
    ['ArrowLeft', false, 'skip -0.5'],
    ['ArrowRight', true, 'skip 0.05'],
    ['j', false, 'skip -2'],
    ['k', false, 'stop'],
    ['l', false, '{"rate":1.25}'],
    ['i', false, 'part {"startS":1,"endS":4}'],
    ['o', false, 'part {"startS":0,"endS":1}'],
    ['r', false, '{"loopPart":true}'],
    ['x', false, 'part null'],
    ['m', false, '{"mono":true}'],
  ])('%j', (key, shiftKey, effect) => {
    listeningAction(player, { key, shiftKey })?.()
    expect(called.pop()).toBe(effect)
  })

  it('find the time of now; who follows the clock is told of changes alone, until leaving', () => {
    const told: number[] = []
    const leave = clock.subscribe(() => told.push(clock.now()))
    clock.set(1)
    clock.set(2)
    listeningAction(player, { key: 'i', shiftKey: false })?.()
    expect(called.pop()).toBe('part {"startS":2,"endS":4}')
    leave()
    clock.set(1)
    expect(told).toEqual([2])
  })

  it('do nothing while nothing was heard, and others never', () => {
    expect(listeningAction({ ...player, sound: null }, { key: ' ', shiftKey: false })).toBeNull()
    expect(listeningAction(player, { key: 'q', shiftKey: false })).toBeNull()
  })
})

describe('pinned sounds', () => {
  it('are let go when pinned again; the seventh takes the place of the first', () => {
    const sounds = [1, 2, 3, 4, 5, 6].map((id) => ({ id }))
    expect(withToggled(sounds, { id: 2 }).map(({ id }) => id)).toEqual([1, 3, 4, 5, 6])
    expect(withToggled(sounds, { id: 7 }).map(({ id }) => id)).toEqual([2, 3, 4, 5, 6, 7])
  })
})

describe('the Shelf', () => {
  const sound = (id: number, more: Partial<ShelfSound>): ShelfSound =>
    ({
      id,
      title: `Sound ${id}`,
      maker: '',
      category: '',
      note: '',
      habits: [],
      originalTitle: null,
      fileName: null,
      kept: false,
      copySha256: null,
      source: { id: 's', name: 'S', kind: 'library' },
      ...more,
    }) as ShelfSound
  const shelf: Shelf = {
    sounds: [
      sound(1, { kept: true, habits: ['jump cut'] }),
      sound(2, { copySha256: 'x', note: 'too soft' }),
      sound(3, { source: { id: 'f', name: 'Hill', kind: 'folder' }, originalTitle: 'owl' }),
    ],
    collections: [{ id: 7, name: 'Nights', soundIds: [3, 1] }],
    duplicates: [{ soundIds: [3, 2], how: 'same file' }],
    cut: false,
  }
  const ids = (view: Parameters<typeof shelfSounds>[1], text = ''): number[] =>
    shelfSounds(shelf, view, text).map(({ id }) => id)

  it.each([
    ['all', [1, 2, 3]],
    ['kept', [1]],
    ['copies', [2]],
    ['own', [3]],
    ['habits', [1]],
    ['twice', [3, 2]],
  ] as const)('%s', (kind, wanted) => {
    expect(ids({ kind })).toEqual(wanted)
  })

  it('shows a collection in its order, and looks through names, notes and habits', () => {
    expect(ids({ kind: 'collection', id: 7 })).toEqual([3, 1])
    expect(ids({ kind: 'collection', id: 8 })).toEqual([])
    expect(ids({ kind: 'all' }, 'SOFT')).toEqual([2])
    expect(ids({ kind: 'all' }, 'jump 1')).toEqual([1])
    expect(ids({ kind: 'all' }, 'owl hill')).toEqual([3])
  })

  it.each([
    [1, 3, 4],
    [3, 1, 1],
    [1, 4, null],
    [4, 2, 2],
    [9, 2, 2],
    [2, 2, 3],
  ])('%i dropped over %i comes before %s', (moved, over, before) => {
    expect(beforeAfterDrop([1, 2, 3, 4], moved, over)).toBe(before)
  })
})

describe('what the help says can be typed', () => {
  it.each(LINE_WORDS.flatMap(([examples]) => examples))('%s is understood', (example) => {
    const { parts, filters, unknown } = parsedQuery(example)
    expect(unknown).toEqual([])
    expect(filters.length).toBe(example.startsWith('[') ? 1 : 0)
    expect(parts.length > 0).toBe(!example.startsWith('['))
  })
})

describe('before anything is asked', () => {
  it('any word, condition, order or comparison is a question', () => {
    expect(isNothingAsked(NOTHING_ASKED)).toBe(true)
    expect(isNothingAsked({ ...NOTHING_ASKED, text: '  ' })).toBe(true)
    expect(isNothingAsked(EVERYTHING)).toBe(false)
    expect(isNothingAsked({ ...NOTHING_ASKED, text: 'a' })).toBe(false)
    expect(isNothingAsked({ ...NOTHING_ASKED, filters: [{ kind: 'kept', is: true }] })).toBe(false)
    expect(isNothingAsked({ ...NOTHING_ASKED, like: 'sound:1' })).toBe(false)
    expect(isNothingAsked({ ...NOTHING_ASKED, forMoment: { videoId: 1, momentId: 'a' } })).toBe(false)
  })

  it('the whole list has an address of its own', () => {
    expect(addressOf(EVERYTHING)).toBe('/find?sort=name')
    expect(fromAddress('?sort=name')).toEqual(EVERYTHING)
  })
})

describe('a condition in plain words', () => {
  it('becomes a condition, and its words leave the line', () => {
    const state = { ...NOTHING_ASKED, text: 'kettle under 2s near' }
    const [offer] = offersIn(state)
    if (!offer) throw new Error('nothing is offered')
    expect(taken(state, offer)).toMatchObject({
      text: 'kettle near',
      filters: [{ kind: 'length', fromS: null, toS: 2 }],
    })
  })

  it('takes the place of the one of its kind, and is not offered once it is on', () => {
    const on = { ...NOTHING_ASKED, text: 'under 2 s', filters: [{ kind: 'length', fromS: 5, toS: null } as const] }
    const [offer] = offersIn(on)
    if (!offer) throw new Error('nothing is offered')
    const after = taken(on, offer)
    expect(after).toMatchObject({ text: '', filters: [{ kind: 'length', fromS: null, toS: 2 }] })
    expect(offersIn({ ...after, text: 'under 2 s' })).toEqual([])
  })
})
