import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable'
import { Search } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link } from 'wouter'
import type { Shelf } from '../../contract'
import { messages } from '../../messages'
import { useShelf, useShelfEdit } from '../api/shelf-queries'
import { BatchBar } from '../parts/shared/BatchBar'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { Collections } from '../parts/shelf/Collections'
import { NamePattern } from '../parts/shelf/NamePattern'
import { ShelfFacts } from '../parts/shelf/ShelfFacts'
import { ShelfList } from '../parts/shelf/ShelfList'
import { SoundPanel } from '../parts/sound/SoundPanel'
import { toggled } from '../state/find-state'
import { beforeAfterDrop, type ShelfView, shelfSounds, VIEW_WORDS } from '../state/shelf-view'

/** The Shelf: what was kept, what is here, in collections; renamed, put in order, and with where it was used. */
export function ShelfPlace() {
  const query = useShelf()
  if (query.isPending) return <Loading what={messages.shelf.openingTheShelf} />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  return <ShelfOf shelf={query.data} />
}

function ShelfOf({ shelf }: { shelf: Shelf }) {
  const edit = useShelfEdit()
  const [view, setView] = useState<ShelfView>({ kind: 'all' })
  const [text, setText] = useState('')
  const [selectedId, setSelectedId] = useState<number | null>(null)
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set())
  const sounds = useMemo(() => shelfSounds(shelf, view, text), [shelf, view, text])
  const sensors = useSensors(
    // A click is no drag.
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const selected = shelf.sounds.find(({ id }) => id === selectedId) ?? null
  const onDragEnd = ({ active, over }: DragEndEvent): void => {
    if (!over) return
    const moved = Number(active.id)
    const soundIds = picked.has(moved) ? [...picked] : [moved]
    const target = String(over.id)
    if (target.startsWith('collection-'))
      edit.mutate({ do: 'put', soundIds, collectionId: Number(target.slice('collection-'.length)), beforeId: null })
    else if (view.kind === 'collection' && moved !== Number(target)) {
      const beforeId = beforeAfterDrop(
        sounds.map(({ id }) => id),
        moved,
        Number(target),
      )
      edit.mutate({ do: 'put', soundIds: [moved], collectionId: view.id, beforeId })
    }
  }
  const nameOf = (id: UniqueIdentifier): string =>
    shelf.sounds.find((one) => one.id === id)?.title ??
    shelf.collections.find((one) => `collection-${one.id}` === id)?.name ??
    ''
  if (shelf.sounds.length === 0)
    return (
      <Empty
        title={messages.shelf.nothingIsOnTheShelf}
        action={
          <Link href="/find" className="btn">
            {messages.common.goToFind}
          </Link>
        }
      >
        {messages.shelf.keepASoundInFind}
      </Empty>
    )
  return (
    <DndContext
      sensors={sensors}
      accessibility={{
        screenReaderInstructions: { draggable: messages.shelf.howToMove },
        announcements: {
          onDragStart: ({ active }) => messages.shelf.moving(nameOf(active.id)),
          onDragOver: ({ active, over }) =>
            over ? messages.shelf.movingOver(nameOf(active.id), nameOf(over.id)) : undefined,
          onDragEnd: ({ active, over }) =>
            over
              ? messages.shelf.movedTo(nameOf(active.id), nameOf(over.id))
              : messages.shelf.notMoved(nameOf(active.id)),
          onDragCancel: ({ active }) => messages.shelf.notMoved(nameOf(active.id)),
        },
      }}
      collisionDetection={(args) => {
        const within = pointerWithin(args)
        return within.length > 0 ? within : closestCenter(args)
      }}
      onDragEnd={onDragEnd}
    >
      <div className="grid h-full grid-cols-[12.500rem_minmax(0,1fr)_20rem] max-lg:grid-cols-[10rem_minmax(0,1fr)]">
        <Collections shelf={shelf} view={view} onView={setView} />
        <section aria-label={messages.shelf.onTheShelf} className="flex min-h-0 min-w-0 flex-col">
          <div className="flex items-center gap-3 px-4 pt-3 pb-2">
            <h1 className="text-xl font-semibold">{messages.common.shelf}</h1>
            <label className="input input-sm flex-1">
              <Search size={16} aria-hidden="true" />
              <span className="sr-only">{messages.shelf.searchTheShelf}</span>
              <input
                type="search"
                value={text}
                placeholder={messages.shelf.nameNoteHabit}
                onChange={({ target }) => setText(target.value)}
              />
            </label>
            <p role="status" className="quiet whitespace-nowrap text-sm" data-testid="shelf-count">
              {messages.counts.sounds(sounds.length)}
            </p>
            <NamePattern />
          </div>
          {edit.error && (
            <p role="alert" className="px-4 text-error">
              {edit.error.message}
            </p>
          )}
          {sounds.length === 0 ? (
            <Empty title={text ? messages.shelf.nothingHereIsCalled(text) : messages.shelf.nothingInHereYet}>
              {view.kind === 'collection'
                ? messages.shelf.dragSoundsOntoTheName
                : messages.shelf.thereIsNothingUnder(
                    view.kind === 'twice' ? messages.shelf.duplicates : VIEW_WORDS[view.kind],
                  )}
            </Empty>
          ) : (
            <ShelfList
              sounds={sounds}
              duplicates={view.kind === 'twice' ? shelf.duplicates : []}
              sortable={view.kind === 'collection' && text === ''}
              selectedId={selectedId}
              picked={picked}
              onSelect={setSelectedId}
              onPick={(id) => setPicked(new Set(toggled([...picked], id) ?? []))}
            />
          )}
          {picked.size > 0 && (
            <BulkEdit shelf={shelf} view={view} ids={[...picked]} onDone={() => setPicked(new Set())} />
          )}
        </section>
        <aside
          aria-label={messages.shelf.selectedSound}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
          tabIndex={0}
          className="relative min-h-0 overflow-y-auto border-l ruled bg-base-200 max-lg:hidden"
        >
          {selected ? (
            <>
              <ShelfFacts key={`facts ${selected.id}`} sound={selected} collections={shelf.collections} />
              <SoundPanel key={selected.id} id={selected.id} withUses={false} />
            </>
          ) : (
            <p className="quiet p-6">{messages.shelf.chooseASoundToRename}</p>
          )}
        </aside>
      </div>
    </DndContext>
  )
}

/** One change to all that are picked. */
function BulkEdit({ shelf, view, ids, onDone }: { shelf: Shelf; view: ShelfView; ids: number[]; onDone: () => void }) {
  const edit = useShelfEdit()
  const [habit, setHabit] = useState('')
  return (
    <>
      <section
        aria-label={messages.shelf.changeThemAll}
        className="flex flex-wrap items-center gap-2 border-t ruled px-4 py-1.5 text-sm"
      >
        <select
          className="select select-sm w-44"
          aria-label={messages.shelf.putIntoACollection}
          value=""
          onChange={({ target }) =>
            edit.mutate({ do: 'put', soundIds: ids, collectionId: Number(target.value), beforeId: null })
          }
        >
          <option value="">{messages.shelf.putInto}</option>
          {shelf.collections.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        {view.kind === 'collection' && (
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => edit.mutate({ do: 'take-out', soundIds: ids, collectionId: view.id })}
          >
            {messages.shelf.removeFromTheCollection}
          </button>
        )}
        <button type="button" className="btn btn-sm" onClick={() => edit.mutate({ do: 'unkeep', soundIds: ids })}>
          {messages.shelf.removeFromTheShelf}
        </button>
        <form
          className="flex gap-1"
          onSubmit={(event) => {
            event.preventDefault()
            edit.mutate({ do: 'habit', soundIds: ids, words: habit }, { onSuccess: () => setHabit('') })
          }}
        >
          <input
            className="input input-sm w-36"
            aria-label={messages.shelf.habitForAll}
            placeholder={messages.shelf.chapterCard}
            maxLength={40}
            value={habit}
            onChange={({ target }) => setHabit(target.value)}
          />
          <button type="submit" className="btn btn-sm" disabled={habit.trim() === ''}>
            {messages.shelf.giveAHabit}
          </button>
        </form>
        {edit.error && (
          <span role="alert" className="text-error">
            {edit.error.message}
          </span>
        )}
      </section>
      <BatchBar soundIds={ids} onClose={onDone} />
    </>
  )
}
