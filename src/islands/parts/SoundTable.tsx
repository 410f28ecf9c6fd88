import { useVirtualizer } from '@tanstack/react-virtual'
import { Bookmark, Check, Columns2, Download, ShoppingBag } from 'lucide-react'
import { type KeyboardEvent, memo, type RefObject, useCallback, useEffect, useRef } from 'react'
import type { SoundSummary } from '../../contract'
import { useCompare } from '../state/compare'
import { isUnderWay } from '../state/job-list'
import { useJobOf } from '../state/jobs'
import { usePlayer } from '../state/player'
import { useKeep, useUnkeep } from '../state/shelf-queries'
import { counted, lengthWords } from '../state/words'
import { PrintView } from './PrintView'
import { FitMark } from './VerdictMark'

const ROW_PX = 44
const PAGE_ROWS = 10
const HEADER_PX = 22
const PRINT_PX = 156
/** Seconds that the print column shows: one scale for all rows, so that length is seen. */
const SCALE_S = 6
const SCALE_TICKS_S = [0, 1, 2, 3]
const COLUMNS = `minmax(9rem,1fr) ${PRINT_PX}px 4.200rem 7.600rem 7rem 6.400rem`

interface SoundTableProps {
  readonly ref: RefObject<HTMLDivElement | null>
  readonly sounds: readonly SoundSummary[]
  /** How many there are with those that are not loaded yet. */
  readonly total: number
  readonly selectedIndex: number
  readonly picked: ReadonlySet<number>
  /** Every print as wide as the column, instead of all on one scale. */
  readonly fitEach: boolean
  readonly onFitEach: (fitEach: boolean) => void
  readonly onHear: (index: number, fromS?: number) => void
  readonly onPickUp: (index: number) => void
  readonly onDownload: (sound: SoundSummary) => void
  readonly onLeave: () => void
  /** The last rows came into view. */
  readonly onEnd: () => void
}

/** The results: a list that is moved through by arrow keys, each row heard as it is reached. */
export function SoundTable(props: SoundTableProps) {
  const { ref, sounds, selectedIndex, onHear, onDownload, onLeave, onEnd } = props
  const compare = useCompare()
  const keep = useKeep()
  const unkeep = useUnkeep()
  const rows = useVirtualizer({
    count: sounds.length,
    getScrollElement: () => ref.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
    // The header row lies over the list.
    scrollPaddingStart: HEADER_PX,
    scrollMargin: HEADER_PX,
  })
  const items = rows.getVirtualItems()
  const lastIndex = items[items.length - 1]?.index ?? 0
  useEffect(() => {
    if (lastIndex >= sounds.length - AHEAD_ROWS) onEnd()
  }, [lastIndex, sounds.length, onEnd])

  const move = (index: number): void => {
    const to = Math.max(0, Math.min(sounds.length - 1, index))
    rows.scrollToIndex(to)
    onHear(to)
  }
  const selected = sounds[selectedIndex]
  const keyAction = (key: string): (() => void) | null => {
    switch (key) {
      case 'ArrowDown':
        return () => move(selectedIndex + 1)
      case 'ArrowUp':
        return selectedIndex <= 0 ? onLeave : () => move(selectedIndex - 1)
      case 'Home':
        return () => move(0)
      case 'End':
        return () => move(sounds.length - 1)
      case 'PageDown':
        return () => move(selectedIndex + PAGE_ROWS)
      case 'PageUp':
        return () => move(selectedIndex - PAGE_ROWS)
      case 'Escape':
        return onLeave
      case 'd':
        return () => selected && !selected.copySha256 && onDownload(selected)
      case 's':
        return () => selected && (selected.kept ? unkeep.mutate(selected.id) : keep.mutate({ id: selected.id }))
      case 'c':
        return () => selected && compare.toggle(selected)
      case 'Enter':
        return () => selected && props.onPickUp(selectedIndex)
      default:
        return null
    }
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const action = keyAction(event.key)
    if (!action) return
    event.preventDefault()
    action()
  }
  // Rows are drawn again only when they change, however often the list is.
  const acts = useRef(props)
  acts.current = props
  const hear = useCallback((index: number, fromS?: number) => acts.current.onHear(index, fromS), [])
  const pickUp = useCallback((index: number) => acts.current.onPickUp(index), [])
  const download = useCallback((sound: SoundSummary) => acts.current.onDownload(sound), [])
  const marks = useRef({ keep, unkeep, compare })
  marks.current = { keep, unkeep, compare }
  const toggleKept = useCallback((sound: SoundSummary) => {
    if (sound.kept) marks.current.unkeep.mutate(sound.id)
    else marks.current.keep.mutate({ id: sound.id })
  }, [])
  const togglePinned = useCallback((sound: SoundSummary) => marks.current.compare.toggle(sound), [])
  return (
    <div
      ref={ref}
      role="grid"
      aria-label="Sounds"
      aria-rowcount={props.total + 1}
      aria-multiselectable="true"
      aria-activedescendant={selected ? `sound-${selected.id}` : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="relative min-h-0 flex-1 overflow-y-auto"
    >
      <Header fitEach={props.fitEach} onFitEach={props.onFitEach} />
      <div role="presentation" className="relative" style={{ height: rows.getTotalSize() }}>
        {items.map(({ index, start }) => {
          const sound = sounds[index] as SoundSummary
          return (
            <SoundRow
              key={sound.id}
              sound={sound}
              index={index}
              topPx={start - HEADER_PX}
              selected={index === selectedIndex}
              picked={props.picked.has(sound.id)}
              fitEach={props.fitEach}
              onHear={hear}
              onPickUp={pickUp}
              pinned={compare.has(sound.id)}
              onDownload={download}
              onKeep={toggleKept}
              onPin={togglePinned}
            />
          )
        })}
      </div>
    </div>
  )
}

/** So many rows before the end the next ones are asked for. */
const AHEAD_ROWS = 40

function Header({ fitEach, onFitEach }: { fitEach: boolean; onFitEach: (fitEach: boolean) => void }) {
  return (
    <div
      role="row"
      className="small-label sticky top-0 z-10 grid items-end gap-2.5 border-b ruled bg-base-100 px-4 pb-1"
      style={{ gridTemplateColumns: COLUMNS }}
    >
      <span role="columnheader">Sound</span>
      <span
        role="columnheader"
        className="relative block h-4"
        aria-label={fitEach ? 'Print' : `Print, ${SCALE_S} seconds wide`}
      >
        {!fitEach &&
          SCALE_TICKS_S.map((second) => (
            <span
              key={second}
              className="absolute border-l ruled pl-1 leading-4"
              style={{ left: (second * PRINT_PX) / SCALE_S }}
            >
              {second === 0 ? '0 s' : second}
            </span>
          ))}
        <button
          type="button"
          className="absolute right-0 bg-base-100 pl-1 leading-4 underline underline-offset-2"
          aria-pressed={fitEach}
          onClick={() => onFitEach(!fitEach)}
        >
          {fitEach ? 'One scale' : 'Fit each'}
        </button>
      </span>
      <span role="columnheader">Length</span>
      <span role="columnheader">Source</span>
      <span role="columnheader">This video</span>
      <span role="columnheader">
        <span className="sr-only">Here, kept, used</span>
      </span>
    </div>
  )
}

interface SoundRowProps {
  readonly sound: SoundSummary
  readonly index: number
  readonly topPx: number
  readonly selected: boolean
  readonly picked: boolean
  readonly pinned: boolean
  readonly fitEach: boolean
  readonly onHear: (index: number, fromS?: number) => void
  readonly onPickUp: (index: number) => void
  readonly onDownload: (sound: SoundSummary) => void
  readonly onKeep: (sound: SoundSummary) => void
  readonly onPin: (sound: SoundSummary) => void
}

const SoundRow = memo(function SoundRow(props: SoundRowProps) {
  const { sound, index, topPx, selected, picked, fitEach, onHear, onPickUp } = props
  const ground = selected
    ? 'bg-base-300 shadow-[inset_4px_0_0_var(--color-primary)]'
    : picked
      ? 'bg-base-200 shadow-[inset_4px_0_0_var(--color-base-content)]'
      : 'hover:bg-base-200'
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles the keys
    <div
      role="row"
      id={`sound-${sound.id}`}
      aria-rowindex={index + 2}
      aria-selected={selected || picked}
      data-selected={selected}
      className={`absolute inset-x-0 grid cursor-default items-center gap-2.5 px-4 ${ground}`}
      style={{ gridTemplateColumns: COLUMNS, height: ROW_PX, top: topPx }}
      onClick={(event) => (event.ctrlKey || event.metaKey || event.shiftKey ? onPickUp(index) : onHear(index))}
    >
      <span role="gridcell" className="min-w-0">
        <span className="block truncate font-semibold leading-tight" title={sound.title}>
          {sound.title}
        </span>
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>
          {sound.likeness ? (
            <Difference likeness={sound.likeness} />
          ) : (
            [sound.maker, sound.category].filter(Boolean).join(' · ')
          )}
        </span>
      </span>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the row below handles clicks beside the print */}
      <span role="gridcell" className="border-l ruled" onClick={(event) => event.stopPropagation()}>
        <RowPrint sound={sound} fitEach={fitEach} onHear={(at) => onHear(index, at)} />
      </span>
      <span role="gridcell">
        <span className="block leading-tight">{lengthWords(sound.durationS)}</span>
        <span className={`block whitespace-nowrap text-xs leading-tight ${selected ? '' : 'quiet'}`}>
          {sound.loudnessLufs === null ? 'not measured' : `${sound.loudnessLufs.toFixed(1)} LUFS`}
        </span>
      </span>
      <span role="gridcell" className="min-w-0">
        <span className="block truncate text-sm leading-tight">{sound.source.name}</span>
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>{sound.cost}</span>
      </span>
      <span role="gridcell" className="min-w-0 text-sm leading-tight">
        <FitMark fit={sound.fit} />
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>{sound.licence}</span>
      </span>
      <span role="gridcell" className="flex items-center justify-end gap-0.5">
        <StateMarks {...props} />
      </span>
    </div>
  )
})

function Difference({ likeness }: { likeness: NonNullable<SoundSummary['likeness']> }) {
  const { fraction, differences } = likeness
  return `${Math.round(fraction * 100)} % alike${differences.length > 0 ? ` · ${differences.join(', ')}` : ''}`
}

function RowPrint({
  sound,
  fitEach,
  onHear,
}: {
  sound: SoundSummary
  fitEach: boolean
  onHear: (atS: number) => void
}) {
  const player = usePlayer()
  if (!sound.print) return <span className="quiet pl-2 text-xs">not listened to yet</span>
  const current = player.sound?.id === sound.id
  return (
    <PrintView
      print={sound.print}
      durationS={sound.durationS}
      widthPx={PRINT_PX}
      heightPx={34}
      pxPerS={PRINT_PX / (fitEach ? Math.max(0.05, sound.durationS) : SCALE_S)}
      timeS={current ? player.timeS : null}
      part={current ? player.part : null}
      onPick={onHear}
      {...(player.options.hover ? { onHover: () => player.play(sound) } : {})}
    />
  )
}

/** Used before, kept, pinned, and whether a copy is here; else the button that fetches one. */
function StateMarks({ sound, pinned, onDownload, onKeep, onPin }: SoundRowProps) {
  return (
    <>
      {sound.usedCount > 0 && (
        <span className="mr-0.5 text-xs" title={`Heard in ${counted(sound.usedCount, 'video')}`}>
          {sound.usedCount}×<span className="sr-only"> used before</span>
        </span>
      )}
      <button
        type="button"
        tabIndex={-1}
        className={`btn btn-xs btn-square ${pinned ? 'btn-neutral' : 'btn-ghost'}`}
        aria-pressed={pinned}
        aria-label={`Compare ${sound.title}`}
        onClick={(event) => {
          event.stopPropagation()
          onPin(sound)
        }}
      >
        <Columns2 size={15} aria-hidden="true" />
      </button>
      <button
        type="button"
        tabIndex={-1}
        className="btn btn-ghost btn-xs btn-square"
        aria-pressed={sound.kept}
        aria-label={`Keep ${sound.title}`}
        onClick={(event) => {
          event.stopPropagation()
          onKeep(sound)
        }}
      >
        <Bookmark size={15} aria-hidden="true" fill={sound.kept ? 'currentColor' : 'none'} />
      </button>
      <HereMark sound={sound} onDownload={onDownload} />
    </>
  )
}

/** Whether a copy is here; else the button that fetches one. */
function HereMark({ sound, onDownload }: { sound: SoundSummary; onDownload: (sound: SoundSummary) => void }) {
  const job = useJobOf('download', String(sound.id))
  if (sound.copySha256)
    return (
      <span className="inline-flex w-6 justify-center" title="A copy is here, with its papers">
        <Check size={16} aria-hidden="true" />
        <span className="sr-only">A copy is here</span>
      </span>
    )
  if (isUnderWay(job))
    return (
      <span
        className="radial-progress text-[0px]"
        style={
          { '--value': job.progressFraction * 100, '--size': '1.4rem', '--thickness': '3px' } as React.CSSProperties
        }
        role="progressbar"
        aria-label={`Downloading ${sound.title}`}
        aria-valuenow={Math.round(job.progressFraction * 100)}
      />
    )
  return (
    <button
      type="button"
      tabIndex={-1}
      className="btn btn-ghost btn-xs btn-square"
      aria-label={sound.sold ? `See what ${sound.title} costs` : `Download ${sound.title}`}
      onClick={(event) => {
        // What is sold is chosen at the side: the row is selected.
        if (sound.sold) return
        event.stopPropagation()
        onDownload(sound)
      }}
    >
      {sound.sold ? <ShoppingBag size={15} aria-hidden="true" /> : <Download size={15} aria-hidden="true" />}
    </button>
  )
}
