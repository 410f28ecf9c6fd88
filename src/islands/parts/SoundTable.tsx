import { useVirtualizer } from '@tanstack/react-virtual'
import { Check, Download, ShoppingBag } from 'lucide-react'
import { type KeyboardEvent, type RefObject, useEffect } from 'react'
import type { SoundSummary } from '../../contract'
import { isUnderWay } from '../state/job-list'
import { useJobOf } from '../state/jobs'
import { usePlayer } from '../state/player'
import { lengthWords } from '../state/words'
import { PrintView } from './PrintView'
import { FitMark } from './VerdictMark'

const ROW_PX = 44
const PAGE_ROWS = 10
const HEADER_PX = 22
const PRINT_PX = 216
/** Seconds that the print column shows: one scale for all rows, so that length is seen. */
const SCALE_S = 6
const SCALE_TICKS_S = [0, 1, 2, 3, 4, 5]
const COLUMNS = `minmax(10rem,1fr) ${PRINT_PX}px 3.300rem 8.600rem 5.600rem 7.600rem 1.800rem`

interface SoundTableProps {
  readonly ref: RefObject<HTMLDivElement | null>
  readonly sounds: readonly SoundSummary[]
  readonly selectedIndex: number
  readonly onHear: (index: number, fromS?: number) => void
  readonly onToggle: () => void
  readonly onDownload: (sound: SoundSummary) => void
  readonly onLeave: () => void
  /** The last rows came into view. */
  readonly onEnd: () => void
}

/** The results: a list that is moved through by arrow keys, each row heard as it is reached. */
export function SoundTable(props: SoundTableProps) {
  const { ref, sounds, selectedIndex, onHear, onToggle, onDownload, onLeave, onEnd } = props
  const rows = useVirtualizer({
    count: sounds.length,
    getScrollElement: () => ref.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
    // The header row lies over the list.
    scrollPaddingStart: HEADER_PX,
    scrollMargin: HEADER_PX,
  })
  const items = rows.getVirtualItems()
  const lastIndex = items[items.length - 1]?.index ?? 0
  useEffect(() => {
    if (lastIndex >= sounds.length - 10) onEnd()
  }, [lastIndex, sounds.length, onEnd])

  const move = (index: number): void => {
    const to = Math.max(0, Math.min(sounds.length - 1, index))
    rows.scrollToIndex(to)
    onHear(to)
  }
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
      case ' ':
        return onToggle
      case 'Escape':
        return onLeave
      case 'd':
        return downloadSelected
      default:
        return null
    }
  }
  const downloadSelected = (): void => {
    const sound = sounds[selectedIndex]
    if (sound && !sound.copySha256) onDownload(sound)
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const action = keyAction(event.key)
    if (!action) return
    event.preventDefault()
    action()
  }
  return (
    <div
      ref={ref}
      role="grid"
      aria-label="Sounds"
      aria-rowcount={sounds.length + 1}
      aria-activedescendant={selectedIndex >= 0 ? `sound-${sounds[selectedIndex]?.id}` : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="min-h-0 flex-1 overflow-y-auto"
    >
      <div
        role="row"
        className="small-label sticky top-0 z-10 grid items-end gap-3 border-b ruled bg-base-100 px-4 pb-1"
        style={{ gridTemplateColumns: COLUMNS }}
      >
        <span role="columnheader">Sound</span>
        <span role="columnheader" className="relative block h-4" aria-label={`Print, ${SCALE_S} seconds wide`}>
          {SCALE_TICKS_S.map((second) => (
            <span
              key={second}
              className="absolute border-l ruled pl-1 leading-4"
              style={{ left: (second * PRINT_PX) / SCALE_S }}
            >
              {second === 0 ? '0 s' : second}
            </span>
          ))}
        </span>
        <span role="columnheader">Length</span>
        <span role="columnheader">Source</span>
        <span role="columnheader">Licence</span>
        <span role="columnheader">This video</span>
        <span role="columnheader">
          <span className="sr-only">Here</span>
        </span>
      </div>
      <div role="presentation" className="relative" style={{ height: rows.getTotalSize() }}>
        {items.map(({ index, start }) => (
          <SoundRow
            key={(sounds[index] as SoundSummary).id}
            sound={sounds[index] as SoundSummary}
            index={index}
            topPx={start - HEADER_PX}
            selected={index === selectedIndex}
            onHear={onHear}
            onDownload={onDownload}
          />
        ))}
      </div>
    </div>
  )
}

interface SoundRowProps {
  readonly sound: SoundSummary
  readonly index: number
  readonly topPx: number
  readonly selected: boolean
  readonly onHear: (index: number, fromS?: number) => void
  readonly onDownload: (sound: SoundSummary) => void
}

function SoundRow({ sound, index, topPx, selected, onHear, onDownload }: SoundRowProps) {
  const player = usePlayer()
  const current = player.sound?.id === sound.id
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles the keys
    <div
      role="row"
      id={`sound-${sound.id}`}
      aria-rowindex={index + 2}
      aria-selected={selected}
      className={`absolute inset-x-0 grid cursor-default items-center gap-3 px-4 ${selected ? 'bg-base-300 shadow-[inset_4px_0_0_var(--color-primary)]' : 'hover:bg-base-200'}`}
      style={{ gridTemplateColumns: COLUMNS, height: ROW_PX, top: topPx }}
      onClick={() => onHear(index)}
    >
      <span role="gridcell" className="min-w-0">
        <span className="block truncate font-semibold leading-tight" title={sound.title}>
          {sound.title}
        </span>
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>
          {[sound.maker, sound.category].filter(Boolean).join(' · ')}
        </span>
      </span>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the row below handles clicks beside the print */}
      <span role="gridcell" className="border-l ruled" onClick={(event) => event.stopPropagation()}>
        {sound.print ? (
          <PrintView
            print={sound.print}
            durationS={sound.durationS}
            widthPx={PRINT_PX}
            heightPx={34}
            pxPerS={PRINT_PX / SCALE_S}
            timeS={current ? player.timeS : null}
            onPick={(at) => onHear(index, at)}
          />
        ) : (
          <span className="quiet pl-2 text-xs">not listened to yet</span>
        )}
      </span>
      <span role="gridcell">{lengthWords(sound.durationS)}</span>
      <span role="gridcell" className="min-w-0">
        <span className="block truncate text-sm leading-tight">{sound.source.name}</span>
        <span className={`block text-xs leading-tight ${selected ? '' : 'quiet'}`}>{sound.cost}</span>
      </span>
      <span role="gridcell" className="text-sm leading-tight">
        {sound.licence}
      </span>
      <span role="gridcell" className="text-sm">
        <FitMark fit={sound.fit} />
      </span>
      <span role="gridcell">
        <HereMark sound={sound} onDownload={onDownload} />
      </span>
    </div>
  )
}

/** Whether a copy is here; else the button that fetches one. */
function HereMark({ sound, onDownload }: { sound: SoundSummary; onDownload: (sound: SoundSummary) => void }) {
  const job = useJobOf('download', String(sound.id))
  if (sound.copySha256)
    return (
      <span className="inline-flex" title="A copy is here, with its papers">
        <Check size={18} aria-hidden="true" />
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
      {sound.sold ? <ShoppingBag size={16} aria-hidden="true" /> : <Download size={16} aria-hidden="true" />}
    </button>
  )
}
