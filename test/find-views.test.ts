import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import type { Filter } from '../src/core/finding'
import { BinRange } from '../src/islands/parts/find/BinRange'
import { CategoryRail } from '../src/islands/parts/find/CategoryRail'
import { EverythingHidden, FilterChips } from '../src/islands/parts/find/FilterChips'
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
