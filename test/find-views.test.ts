import { createElement, type FC, type PropsWithChildren } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { Router } from 'wouter'
import type { SectionHeading } from '../src/contract'
import type { Filter } from '../src/core/finding'
import { askAgainMs } from '../src/islands/api/find-queries'
import { BinRange } from '../src/islands/parts/find/BinRange'
import { CategoryRail } from '../src/islands/parts/find/CategoryRail'
import { EverythingHidden, FilterChips } from '../src/islands/parts/find/FilterChips'
import { Offered } from '../src/islands/parts/find/FoundNotes'
import { SectionRow } from '../src/islands/parts/find/SectionRow'
import { NOTHING_ASKED } from '../src/islands/state/find-state'

const nothing = (): void => undefined
const FILTERS: readonly Filter[] = [
  { kind: 'length', fromS: null, toS: 2 },
  { kind: 'kept', is: true },
]

/** Text of a view without its markup. */
function textOf(markup: string): string {
  return markup
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .replaceAll('&amp;', '&')
    .trim()
}

describe('chips', () => {
  it('say every condition in words, with what is compared with', () => {
    const state = { ...NOTHING_ASKED, filters: FILTERS, like: 'sound:3' }
    const markup = renderToStaticMarkup(createElement(FilterChips, { state, likeTitle: 'Owl', onChange: nothing }))
    expect(textOf(markup)).toBe('sounds like Owl under 2 s kept Clear all')
    expect(markup).toContain('aria-label="Remove “under 2 s”"')
  })

  it('are not there when nothing is on', () => {
    expect(
      renderToStaticMarkup(createElement(FilterChips, { state: NOTHING_ASKED, likeTitle: null, onChange: nothing })),
    ).toBe('')
  })
})

describe('when the filters hide everything', () => {
  const hides = [
    { kind: 'length' as const, hidden: 1200, hiddenByItAlone: 3 },
    { kind: 'kept' as const, hidden: 5, hiddenByItAlone: 0 },
  ]

  it('each says how many it hides, and the one that hides most alone stands out', () => {
    const state = { ...NOTHING_ASKED, text: 'door', filters: FILTERS }
    const markup = renderToStaticMarkup(createElement(EverythingHidden, { state, hides, onChange: nothing }))
    expect(textOf(markup)).toContain('There are sounds for “door”, but none meets every filter.')
    expect(textOf(markup)).toContain('Remove “under 2 s” hides 1,200, 3 of them it alone')
    expect(textOf(markup)).toContain('Remove “kept” hides 5')
    expect(markup.match(/btn-primary/g)).toHaveLength(1)
  })

  it('none stands out where none hides any alone', () => {
    const state = { ...NOTHING_ASKED, filters: FILTERS }
    const alike = hides.map((one) => ({ ...one, hiddenByItAlone: 0 }))
    const markup = renderToStaticMarkup(createElement(EverythingHidden, { state, hides: alike, onChange: nothing }))
    expect(markup).not.toContain('btn-primary')
    expect(textOf(markup)).toContain('No sound meets every filter.')
  })
})

describe('categories', () => {
  const counts = [
    { value: { group: 'People', name: 'Steps' }, count: 3 },
    { value: { group: 'Places', name: 'Ambience' }, count: 1200 },
    { value: { group: 'Other', name: 'Borrowed' }, count: 2 },
  ]
  const rail = (chosen: readonly string[]): string =>
    renderToStaticMarkup(createElement(CategoryRail, { counts, chosen, onChoose: nothing }))

  it('stand in two levels with sums, groups without sounds left out', () => {
    expect(textOf(rail([]))).toBe(
      'Categories All 1,205 People 3 Steps 3 Places 1,200 Ambience 1,200 Other 2 Borrowed 2',
    )
  })

  it('show which is chosen', () => {
    expect(rail(['Steps']).match(/aria-pressed="true"/g)).toHaveLength(1)
    expect(rail([]).match(/aria-pressed="true"/g)).toHaveLength(1)
  })
})

describe('a range on a histogram', () => {
  const range = (from: number | null, to: number | null): string =>
    renderToStaticMarkup(
      createElement(BinRange, {
        name: 'Length',
        edges: [0, 1, 2, 5],
        counts: [4, 0, 1, 16],
        from,
        to,
        words: (low, high) => `${low ?? 'any'} to ${high ?? 'any'}`,
        onChange: nothing,
      }),
    )

  it('draws a bar for each step, those within the range darker', () => {
    const markup = range(1, 5)
    expect(markup.match(/<rect/g)).toHaveLength(4)
    expect(markup.match(/var\(--color-base-content\)/g)).toHaveLength(2)
    expect(textOf(markup)).toContain('1 to 5 Any')
  })

  it('says the ends to those who do not see them, and never lets them pass each other', () => {
    const markup = range(5, 2)
    expect(markup).toContain('aria-label="Length, lower end" aria-valuetext="5" value="3"')
    expect(markup).toContain('aria-label="Length, upper end" aria-valuetext="no limit" value="4"')
    expect(range(null, null)).toContain('any')
  })
})

describe('what stands above a part of the list', () => {
  const shown = (heading: SectionHeading) => {
    const markup = renderToStaticMarkup(
      createElement(
        Router as FC<PropsWithChildren<{ ssrPath: string }>>,
        { ssrPath: '/find' },
        createElement(SectionRow, { heading, topPx: 0 }),
      ),
    )
    return [textOf(markup), decodeURIComponent((/href="([^"]*)"/.exec(markup)?.[1] ?? '').replaceAll('&amp;', '&'))]
  }
  const moment = { kind: 'moment', videoId: 3, momentId: 'm1', words: 'ice breaks', time: '00:15:02' } as const

  it.each<[SectionHeading, string, string]>([
    [
      { ...moment, q: 'ice breaks [effects]', count: 7 },
      '00:15:02 ice breaks a moment without a sound Show all 7',
      '/find?q=ice+breaks+[effects]&for=3.m1',
    ],
    [
      { ...moment, q: 'ice', count: 1 },
      '00:15:02 ice breaks a moment without a sound Search for it',
      '/find?q=ice&for=3.m1',
    ],
    [{ kind: 'category', name: 'Doors', count: 21 }, 'Doors 21 sounds Show all', '/find?q=[in+Doors]'],
    [{ kind: 'kept', count: 1 }, 'Kept 1 sound Show all', '/find?q=[kept]'],
    [
      { kind: 'often-used', count: 2 },
      'Used most in your videos 2 sounds Show all',
      '/find?q=[used+before]&sort=most-used',
    ],
    [{ kind: 'newest', count: 900 }, 'Newest Show all', '/find?sort=newest'],
    [
      { kind: 'words', met: ['hollow', 'door'], of: 3, count: 4 },
      '2 of 3 words: hollow door 4 sounds Search for “hollow door”',
      '/find?q=hollow+door',
    ],
    [
      { kind: 'alike', soundId: 8, title: '<b>Owl</b>' },
      'Sounds like &lt;b&gt;Owl&lt;/b&gt; Show all',
      '/find?like=sound:8',
    ],
  ])('%o', (heading, words, address) => {
    expect(shown(heading)).toEqual([words, address])
  })
})

describe('conditions that are offered', () => {
  const offered = (text: string, filters: readonly Filter[] = []) =>
    renderToStaticMarkup(createElement(Offered, { state: { ...NOTHING_ASKED, text, filters }, onChange: nothing }))

  it('are told in words, the first with the key that takes it', () => {
    expect(textOf(offered('kettle under 2s no credit'))).toBe('Did you mean length under 2 s? Enter no credit owed?')
    expect(offered('kettle under 2s')).toContain('aria-label="Add the filter “under 2 s”"')
  })

  it('are not there where nothing reads as one, or where it is on', () => {
    expect(offered('kettle under the hill')).toBe('')
    expect(offered('under 2 s', [{ kind: 'length', fromS: null, toS: 2 }])).toBe('')
  })
})

describe('answers that do not know the last changes', () => {
  it('are asked for again once the slowest is done, but never at once, and not when none is behind', () => {
    expect(askAgainMs([])).toBe(false)
    expect(askAgainMs([{ behindMs: null }, { behindMs: null }])).toBe(false)
    expect(askAgainMs([{ behindMs: null }, { behindMs: 1 }])).toBe(1000)
    expect(askAgainMs([{ behindMs: 4000 }, { behindMs: 20 }, { behindMs: null }])).toBe(4000)
  })
})
