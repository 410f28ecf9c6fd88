import { Fragment, type RefObject, useCallback, useEffect, useRef } from 'react'
import type { SectionHeading, SoundSummary } from '../../../contract'
import { messages } from '../../../messages'
import { useToggleKept } from '../../api/shelf-queries'
import type { MomentTarget } from '../../moments/use-moment-target'
import { useCompare } from '../../state/compare'
import { useSoundRows } from '../shared/use-sound-rows'
import { HEADING_PX, SectionRow } from './SectionRow'
import { PRINT_PX, ROW_PX, SCALE_S, SoundRow } from './SoundRow'

const HEADER_PX = 22
const SCALE_TICKS_S = [0, 1, 2, 3]

interface SoundTableProps {
  readonly ref: RefObject<HTMLDivElement | null>
  readonly sounds: readonly SoundSummary[]
  /** What stands above some sounds, by the index of the sound. */
  readonly headings: ReadonlyMap<number, SectionHeading>
  /** How many there are with those that are not loaded yet. */
  readonly total: number
  readonly selectedIndex: number
  readonly picked: ReadonlySet<number>
  /** The moment that is looked for, or null. */
  readonly target: MomentTarget | null
  /** Every print as wide as the column, instead of all on one scale. */
  readonly fitEach: boolean
  readonly onFitEach: (fitEach: boolean) => void
  readonly onHear: (index: number, fromS?: number) => void
  readonly onPickUp: (index: number) => void
  readonly onDownload: (sound: SoundSummary) => void
  readonly onLeave: () => void
  /** The last rows came into view. */
  readonly onEnd: () => void
  /** Which rows are drawn, the last not among them. */
  readonly onShown: (rows: readonly [from: number, to: number]) => void
}

/** The results: a list that is moved through by arrow keys, each row heard as it is reached. */
export function SoundTable(props: SoundTableProps) {
  const { ref, sounds, headings, selectedIndex, onHear, onDownload, onLeave, onEnd, onShown } = props
  const compare = useCompare()
  const toggleKept = useToggleKept()
  const scrollerRef = useRef<HTMLDivElement>(null)
  const selected = sounds[selectedIndex]
  const {
    state,
    virtual: rows,
    drawn,
    rowsProps,
  } = useSoundRows({
    label: messages.common.sounds,
    sounds,
    selectedIndex,
    scrollerRef,
    rowsRef: ref,
    heightPx: (index) => ROW_PX + (headings.has(index) ? HEADING_PX : 0),
    // The header row lies over the list.
    headerPx: HEADER_PX,
    overscan: 6,
    keysOfControls: true,
    onReach: onHear,
    onKey: ({ key }) => {
      const action = keyAction(key)
      action?.()
      return action !== null
    },
  })
  // Where headings stand changes with every question.
  // biome-ignore lint/correctness/useExhaustiveDependencies: `headings` names what is measured anew
  useEffect(() => rows.measure(), [rows, headings])
  const items = rows.getVirtualItems()
  const [firstIndex, lastIndex] = drawn
  useEffect(() => onShown([firstIndex, lastIndex + 1]), [firstIndex, lastIndex, onShown])
  useEffect(() => {
    if (lastIndex >= sounds.length - AHEAD_ROWS) onEnd()
  }, [lastIndex, sounds.length, onEnd])

  const keyAction = (key: string): (() => void) | null => {
    switch (key) {
      case 'ArrowUp':
        return selectedIndex <= 0 ? onLeave : null
      case 'Escape':
        return onLeave
      case 'd':
        return () => selected && !selected.copySha256 && onDownload(selected)
      case 'a':
        return props.target && selected ? () => props.target?.toggle(selected) : null
      case 's':
        return () => selected && toggleKept(selected)
      case 'c':
        return () => selected && compare.toggle(selected)
      case 'Enter':
        return () => selected && props.onPickUp(selectedIndex)
      default:
        return null
    }
  }
  // What rows say is drawn again only when it changes, however often the list is.
  const acts = useRef(props)
  acts.current = props
  const hear = useCallback((index: number, fromS?: number) => acts.current.onHear(index, fromS), [])
  const download = useCallback((sound: SoundSummary) => acts.current.onDownload(sound), [])
  const marks = useRef({ toggleKept, compare })
  marks.current = { toggleKept, compare }
  const markKept = useCallback((sound: SoundSummary) => marks.current.toggleKept(sound), [])
  const list = useCallback((sound: SoundSummary) => acts.current.target?.toggle(sound), [])
  const pin = useCallback((sound: SoundSummary) => marks.current.compare.toggle(sound), [])
  return (
    <div
      ref={scrollerRef}
      role="grid"
      aria-label={messages.common.sounds}
      aria-rowcount={props.total + 1}
      aria-multiselectable="true"
      className="relative min-h-0 flex-1 overflow-y-auto"
      style={{ scrollPaddingTop: HEADER_PX }}
    >
      <Header fitEach={props.fitEach} onFitEach={props.onFitEach} isForMoment={props.target !== null} />
      <div ref={ref} {...rowsProps}>
        {items.map(({ index, start }) => {
          const sound = sounds[index] as SoundSummary
          const heading = headings.get(index)
          const topPx = start - HEADER_PX
          return (
            <Fragment key={sound.id}>
              {heading && <SectionRow heading={heading} topPx={topPx} />}
              <SoundRow
                state={state}
                sound={sound}
                index={index}
                topPx={topPx + (heading ? HEADING_PX : 0)}
                selected={index === selectedIndex}
                picked={props.picked.has(sound.id)}
                fitEach={props.fitEach}
                onHear={hear}
                onPickUp={props.onPickUp}
                pinned={compare.has(sound.id)}
                onDownload={download}
                onKeep={markKept}
                onPin={pin}
                place={props.target?.place ?? null}
                listed={props.target?.listedIds.has(sound.id) ?? false}
                onList={list}
              />
            </Fragment>
          )
        })}
      </div>
    </div>
  )
}

/** So many rows before the end the next ones are asked for. */
const AHEAD_ROWS = 40

function Header({
  fitEach,
  onFitEach,
  isForMoment,
}: {
  fitEach: boolean
  onFitEach: (fitEach: boolean) => void
  isForMoment: boolean
}) {
  return (
    <div
      role="row"
      className="small-label sound-columns sticky top-0 z-10 grid items-end gap-2.5 border-b ruled bg-base-100 px-4 pb-1"
      data-for-moment={isForMoment}
    >
      <span role="columnheader">{messages.common.sound}</span>
      <span
        role="columnheader"
        className="relative block h-4"
        aria-label={fitEach ? messages.find.print : messages.find.printSecondsWide(SCALE_S)}
      >
        {!fitEach &&
          SCALE_TICKS_S.map((second) => (
            <span
              key={second}
              className="absolute border-l ruled pl-1 leading-4"
              style={{ left: (second * PRINT_PX) / SCALE_S }}
            >
              {second === 0 ? messages.find.n0S : second}
            </span>
          ))}
        <button
          type="button"
          className="absolute right-0 bg-base-100 pl-1 leading-4 underline underline-offset-2"
          aria-pressed={fitEach}
          onClick={() => onFitEach(!fitEach)}
        >
          {fitEach ? messages.find.oneScale : messages.find.fitEach}
        </button>
      </span>
      <span role="columnheader">{isForMoment ? messages.find.fitsThere : messages.common.length}</span>
      <span role="columnheader">{messages.find.source}</span>
      <span role="columnheader">{messages.find.thisVideo}</span>
      <span role="columnheader">
        <span className="sr-only">{messages.find.hereKeptUsed}</span>
      </span>
    </div>
  )
}
