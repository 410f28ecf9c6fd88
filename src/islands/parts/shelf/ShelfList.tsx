import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { Bookmark, Check, GripVertical } from 'lucide-react'
import { useMemo, useRef } from 'react'
import { mergeRefs } from 'react-aria'
import type { ListState } from 'react-stately'
import type { Shelf, ShelfSound } from '../../../contract'
import { messages } from '../../../messages'
import { usePlayer } from '../../audio/player'
import { fitCondition, lengthWords } from '../../format/words'
import { PrintView } from '../shared/PrintView'
import { useSoundRow, useSoundRows } from '../shared/use-sound-rows'
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
  const scrollerRef = useRef<HTMLDivElement>(null)
  const rowsRef = useRef<HTMLDivElement>(null)
  const player = usePlayer()
  const at = sounds.findIndex(({ id }) => id === selectedId)
  const hear = (index: number): void => {
    const sound = sounds[index]
    if (!sound) return
    onSelect(sound.id)
    player.play(sound)
    player.setUpcoming(sounds.slice(index + 1, index + 20))
    player.prefetch(sounds.slice(Math.max(0, index - 1), index + 4))
  }
  const {
    state,
    virtual: rows,
    rowsProps,
  } = useSoundRows({
    label: messages.shelf.soundsOnTheShelf,
    sounds,
    selectedIndex: at,
    scrollerRef,
    rowsRef,
    heightPx: () => ROW_PX,
    overscan: 8,
    // The handle is moved by arrow keys itself.
    keysOfControls: false,
    onReach: hear,
    onKey: ({ key }) => {
      const selected = sounds[at]
      if (key !== 'Enter' || !selected) return false
      onPick(selected.id)
      return true
    },
  })
  return (
    <div
      ref={scrollerRef}
      role="grid"
      aria-label={messages.shelf.soundsOnTheShelf}
      aria-multiselectable="true"
      aria-rowcount={sounds.length}
      className="relative min-h-0 flex-1 overflow-y-auto"
    >
      <SortableContext items={sounds.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <div ref={rowsRef} {...rowsProps}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const sound = sounds[index] as ShelfSound
            return (
              <Row
                key={sound.id}
                state={state}
                index={index}
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
  readonly state: ListState<ShelfSound>
  readonly index: number
  readonly sound: ShelfSound
  readonly topPx: number
  readonly sortable: boolean
  readonly selected: boolean
  readonly picked: boolean
  readonly twice: string | null
  readonly onHear: () => void
  readonly onPick: () => void
}

function Row({ state, index, sound, topPx, sortable, selected, picked, twice, onHear, onPick }: RowProps) {
  const { setNodeRef, attributes, listeners, transform, isDragging } = useSortable({
    id: sound.id,
    disabled: { droppable: !sortable },
  })
  const { ref, rowProps, isCurrent } = useSoundRow(state, sound.id)
  const bothRefs = useMemo(() => mergeRefs<HTMLDivElement>(setNodeRef, ref), [setNodeRef, ref])
  const player = usePlayer()
  const current = player.sound?.id === sound.id
  const moved = transform ? `translate3d(${transform.x}px, ${transform.y}px, 0)` : undefined
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list handles the keys
    <div
      ref={bothRefs}
      role="row"
      {...rowProps}
      id={`shelf-${sound.id}`}
      aria-rowindex={index + 1}
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
          tabIndex={isCurrent ? 0 : -1}
          aria-label={messages.shelf.move(sound.title)}
          onClick={(event) => event.stopPropagation()}
        >
          <GripVertical size={15} aria-hidden="true" />
        </button>
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          tabIndex={isCurrent ? 0 : -1}
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
