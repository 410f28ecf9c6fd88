import { defaultRangeExtractor, type Range, useVirtualizer } from '@tanstack/react-virtual'
import { type FocusEvent, type HTMLAttributes, type KeyboardEvent, type RefObject, useEffect, useRef } from 'react'
import { useGridList, useGridListItem } from 'react-aria'
import { Item, type Key, type ListState, useListState } from 'react-stately'

/** Rows that Page Up and Page Down go by. */
const PAGE_ROWS = 10

interface Listed {
  readonly id: number
}

interface SoundRowsOptions<Sound extends Listed> {
  readonly label: string
  readonly sounds: readonly Sound[]
  /** The sound that is selected, or −1: the keys go on from it, whoever selected it. */
  readonly selectedIndex: number
  readonly scrollerRef: RefObject<HTMLElement | null>
  readonly rowsRef: RefObject<HTMLElement | null>
  readonly heightPx: (index: number) => number
  /** Height of what lies over the top of the list. */
  readonly headerPx?: number
  readonly overscan: number
  /** Whether keys that are pressed in a button of a row are those of the list. */
  readonly keysOfControls: boolean
  /** A row was reached by a key. */
  readonly onReach: (index: number) => void
  /** Takes the keys that are its own. @returns whether the key was taken. */
  readonly onKey: (event: KeyboardEvent) => boolean
}

/**
 * The rows of a list of sounds: where the focus is, which keys move it, and which rows are drawn. The focus is on one row and goes
 * with what is selected; a row that has the focus is drawn however far it was scrolled away. Put the props on what holds the rows.
 */
export function useSoundRows<Sound extends Listed>(options: SoundRowsOptions<Sound>) {
  const { label, sounds, selectedIndex, scrollerRef, rowsRef, heightPx, headerPx = 0, overscan } = options
  const state = useListState<Sound>({
    items: sounds,
    children: () => <Item>{null}</Item>,
    suppressTextValueWarning: true,
    // What is heard and what is picked are not the same, and neither is the focus.
    selectionMode: 'none',
  })
  const focus = state.selectionManager
  const indexOf = (key: Key | null): number => (key === null ? -1 : (state.collection.getItem(key)?.index ?? -1))
  const keyAt = (index: number): Key | null => sounds[Math.max(0, Math.min(sounds.length - 1, index))]?.id ?? null
  const from =
    (rows: number) =>
    (key: Key): Key | null =>
      keyAt(indexOf(key) + rows)
  const { gridProps } = useGridList(
    {
      'aria-label': label,
      keyboardDelegate: {
        getKeyBelow: from(1),
        getKeyAbove: from(-1),
        getKeyPageBelow: from(PAGE_ROWS),
        getKeyPageAbove: from(-PAGE_ROWS),
        getFirstKey: () => keyAt(0),
        getLastKey: () => keyAt(sounds.length - 1),
      },
      // Letters are commands.
      disallowTypeAhead: true,
      escapeKeyBehavior: 'none',
    },
    state,
    rowsRef,
  )
  const focusIndex = indexOf(focus.focusedKey)
  const virtual = useVirtualizer({
    count: sounds.length,
    getScrollElement: () => scrollerRef.current,
    estimateSize: heightPx,
    overscan,
    scrollPaddingStart: headerPx,
    scrollMargin: headerPx,
    rangeExtractor: (range: Range) => {
      const drawn = defaultRangeExtractor(range)
      return focusIndex < 0 || drawn.includes(focusIndex)
        ? drawn
        : [...drawn, focusIndex].sort((one, other) => one - other)
    },
  })
  const { startIndex, endIndex } = virtual.range ?? { startIndex: 0, endIndex: 0 }
  const selectedId = sounds[selectedIndex]?.id
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what is selected anew moves the focus
  useEffect(() => {
    if (selectedId !== undefined && focus.focusedKey !== selectedId) focus.setFocusedKey(selectedId)
  }, [selectedId])
  const reach = (index: number): void => {
    virtual.scrollToIndex(index)
    options.onReach(index)
  }
  const onKeyDown = (event: KeyboardEvent<HTMLElement>): void => {
    // The Tab key goes through the page as everywhere, and what was handled in a row is done.
    if (event.key === 'Tab' || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
    const { target, currentTarget } = event
    if (!options.keysOfControls && target !== currentTarget && !(target as Element).matches('[data-key]')) return
    const before = focus.focusedKey
    if (options.onKey(event)) event.preventDefault()
    else if (event.key === 'ArrowDown' && selectedIndex < 0) {
      // The row that the focus came to was not heard yet.
      event.preventDefault()
      reach(Math.max(0, indexOf(before)))
    } else {
      gridProps.onKeyDown?.(event)
      const after = focus.focusedKey
      if (after !== before) reach(indexOf(after))
    }
  }
  // Links between the rows keep the focus that comes to them.
  const onFocus = (event: FocusEvent<HTMLElement>): void => {
    if (event.target === event.currentTarget || isInRow(event.target)) gridProps.onFocus?.(event)
  }
  const onBlur = (event: FocusEvent<HTMLElement>): void => {
    if (!event.currentTarget.contains(event.relatedTarget) || !isInRow(event.relatedTarget)) focus.setFocused(false)
  }
  /** First and last of the rows around what is seen; the row with the focus may be drawn far from them. */
  const drawn = [Math.max(0, startIndex - overscan), Math.min(sounds.length - 1, endIndex + overscan)] as const
  const rowsProps = {
    role: 'rowgroup',
    tabIndex: gridProps.tabIndex,
    onFocus,
    onBlur,
    onKeyDown,
    className: 'sound-rows relative',
    style: { height: virtual.getTotalSize() },
  }
  return { state, virtual, drawn, rowsProps }
}

function isInRow(target: Element | null): boolean {
  return target?.closest('[data-key]') != null
}

/** Props of the row of a sound, and whether the Tab key comes to what it holds. */
export function useSoundRow<Sound extends Listed>(
  state: ListState<Sound>,
  id: number,
): { ref: RefObject<HTMLDivElement | null>; rowProps: HTMLAttributes<HTMLDivElement>; isCurrent: boolean } {
  const ref = useRef<HTMLDivElement>(null)
  const node = state.collection.getItem(id)
  if (!node) throw new Error(`sound ${id} is not in the list`)
  const { rowProps } = useGridListItem({ node }, state, ref)
  const { tabIndex, onFocus } = rowProps as HTMLAttributes<HTMLDivElement>
  const marks = { 'data-key': id, 'data-collection': (rowProps as Record<string, unknown>)['data-collection'] }
  return {
    ref,
    rowProps: { tabIndex, onFocus, ...marks } as HTMLAttributes<HTMLDivElement>,
    isCurrent: state.selectionManager.focusedKey === id,
  }
}
