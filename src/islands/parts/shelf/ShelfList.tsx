import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { useVirtualizer } from '@tanstack/react-virtual'
import { Bookmark, Check, GripVertical } from 'lucide-react'
import { type KeyboardEvent, useRef } from 'react'
import type { Shelf, ShelfSound } from '../../../contract'
import { messages } from '../../../messages'
import { usePlayer } from '../../audio/player'
import { fitCondition, lengthWords } from '../../format/words'
import { PrintView } from '../shared/PrintView'
import { FitMark } from '../shared/VerdictMark'

const ROW_PX = 48
const PRINT_PX = 150
const SCALE_S = 6

interface ShelfListProps {
  readonly sounds: readonly ShelfSound[]
  /** Groups of the same audio, which are told row by row. */
  readonly duplicates: Shelf['duplicates']
  /** Whether rows can be put in another order. */
  readonly sortable: boolean
  readonly selectedId: number | null
  readonly picked: ReadonlySet<number>
  readonly onSelect: (id: number) => void
  readonly onPick: (id: number) => void
}

/** Sounds of the Shelf: moved through and heard by the arrow keys, dragged by their handle. */
export function ShelfList({ sounds, duplicates, sortable, selectedId, picked, onSelect, onPick }: ShelfListProps) {
  const ref = useRef<HTMLDivElement>(null)
  const player = usePlayer()
  const rows = useVirtualizer({
    count: sounds.length,
    getScrollElement: () => ref.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
  })
  const at = sounds.findIndex(({ id }) => id === selectedId)
  const hear = (index: number): void => {
    const sound = sounds[Math.max(0, Math.min(sounds.length - 1, index))]
    if (!sound) return
    onSelect(sound.id)
    player.play(sound)
    player.setUpcoming(sounds.slice(sounds.indexOf(sound) + 1, sounds.indexOf(sound) + 20))
    player.prefetch(sounds.slice(Math.max(0, index - 1), index + 4))
    rows.scrollToIndex(Math.max(0, index))
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[event.key]
    if (step !== undefined) hear(at + step)
    else if (event.key === 'Home') hear(0)
    else if (event.key === 'End') hear(sounds.length - 1)
    else if (event.key === 'Enter' && at >= 0) onPick((sounds[at] as ShelfSound).id)
    else return
    event.preventDefault()
  }
  return (
    <div
      ref={ref}
      role="grid"
      aria-label={messages.shelf.soundsOnTheShelf}
      aria-multiselectable="true"
      aria-rowcount={sounds.length}
      aria-activedescendant={at >= 0 ? `shelf-${selectedId}` : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="relative min-h-0 flex-1 overflow-y-auto"
    >
      <SortableContext items={sounds.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <div role="presentation" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const sound = sounds[index] as ShelfSound
            return (
              <Row
                key={sound.id}
                sound={sound}
                topPx={start}
                sortable={sortable}
                selected={sound.id === selectedId}
                picked={picked.has(sound.id)}
                twice={twiceWords(duplicates, sound.id)}
                onHear={() => hear(index)}
                onPick={() => onPick(sound.id)}
              />
            )
          })}
        </div>
      </SortableContext>
    </div>
  )
}

/** "same file, best papers": what a row says of the group that it stands in. */
function twiceWords(duplicates: Shelf['duplicates'], id: number): string | null {
  const group = duplicates.find(({ soundIds }) => soundIds.includes(id))
  if (!group) return null
  return `${group.how}${group.soundIds[0] === id ? messages.shelf.betterPapers : ''}`
}

interface RowProps {
  readonly sound: ShelfSound
  readonly topPx: number
  readonly sortable: boolean
  readonly selected: boolean
  readonly picked: boolean
  readonly twice: string | null
  readonly onHear: () => void
  readonly onPick: () => void
}

function Row({ sound, topPx, sortable, selected, picked, twice, onHear, onPick }: RowProps) {
  const { setNodeRef, attributes, listeners, transform, isDragging } = useSortable({
    id: sound.id,
    disabled: { droppable: !sortable },
  })
  const player = usePlayer()
  const current = player.sound?.id === sound.id
  const moved = transform ? `translate3d(${transform.x}px, ${transform.y}px, 0)` : undefined
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list handles the keys
    <div
      ref={setNodeRef}
      id={`shelf-${sound.id}`}
      role="row"
      tabIndex={-1}
      aria-selected={selected || picked}
      className={`absolute inset-x-0 flex cursor-default items-center gap-3 pr-4 pl-1 ${selected ? 'bg-base-300 shadow-[inset_4px_0_0_var(--color-primary)]' : 'hover:bg-base-200'} ${isDragging ? 'z-20 opacity-80 shadow-lg' : ''}`}
      style={{ top: topPx, height: ROW_PX, transform: moved }}
      onClick={(event) => (event.ctrlKey || event.metaKey || event.shiftKey ? onPick() : onHear())}
    >
      <span role="gridcell" className="flex items-center gap-2">
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square cursor-grab"
          {...attributes}
          {...listeners}
          aria-label={messages.shelf.move(sound.title)}
          onClick={(event) => event.stopPropagation()}
        >
          <GripVertical size={15} aria-hidden="true" />
        </button>
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          aria-label={messages.shelf.pick(sound.title)}
          checked={picked}
          onClick={(event) => event.stopPropagation()}
          onChange={onPick}
        />
      </span>
      <span role="gridcell" className="min-w-0 flex-1">
        <span className="block truncate font-semibold leading-tight">{sound.title}</span>
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>
          {twice ??
            [
              sound.originalTitle && messages.shelf.was(sound.originalTitle),
              ...sound.habits.map((one) => messages.shelf.for(one)),
              sound.note || sound.maker,
              sound.source.name,
            ]
              .filter(Boolean)
              .join(' · ')}
        </span>
      </span>
      <span role="gridcell" className="border-l ruled">
        {sound.print && (
          <PrintView
            print={sound.print}
            durationS={sound.durationS}
            widthPx={PRINT_PX}
            heightPx={34}
            pxPerS={PRINT_PX / SCALE_S}
            clock={current ? player.clock : null}
          />
        )}
      </span>
      <span role="gridcell" className="w-12 text-right">
        {lengthWords(sound.durationS)}
      </span>
      <span role="gridcell" className="w-28 text-sm">
        <FitMark fit={sound.fit} condition={fitCondition(sound)} />
      </span>
      <span role="gridcell" className="w-9 text-sm" title={sound.usedIn.map(({ title }) => title).join(', ')}>
        {sound.usedIn.length > 0 && `${sound.usedIn.length}×`}
        {sound.usedIn.length > 0 && <span className="sr-only"> {messages.shelf.used}</span>}
      </span>
      <span role="gridcell" className="flex w-10 justify-end gap-1">
        {sound.kept && <Bookmark size={15} fill="currentColor" aria-label={messages.common.kept} />}
        {sound.copySha256 && <Check size={16} aria-label={messages.common.aCopyIsHere} />}
      </span>
    </div>
  )
}
