import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable'
import { Search } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link } from 'wouter'
import type { Shelf } from '../../contract'
import { useShelf, useShelfEdit } from '../api/shelf-queries'
import { counted } from '../format/words'
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
  if (query.isPending) return <Loading what="Opening the Shelf" />
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
  if (shelf.sounds.length === 0)
    return (
      <Empty
        title="Nothing is on the Shelf yet"
        action={
          <Link href="/find" className="btn">
            Go to Find
          </Link>
        }
      >
        Keep a sound in Find, with the key S or the bookmark in its row. What you download and your own folders stand
        here too.
      </Empty>
    )
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={(args) => {
        const within = pointerWithin(args)
        return within.length > 0 ? within : closestCenter(args)
      }}
      onDragEnd={onDragEnd}
    >
      <div className="grid h-full grid-cols-[12.500rem_minmax(0,1fr)_20rem] max-lg:grid-cols-[10rem_minmax(0,1fr)]">
        <Collections shelf={shelf} view={view} onView={setView} />
        <section aria-label="On the shelf" className="flex min-h-0 min-w-0 flex-col">
          <div className="flex items-center gap-3 px-4 pt-3 pb-2">
            <h1 className="text-xl font-semibold">Shelf</h1>
            <label className="input input-sm flex-1">
              <Search size={16} aria-hidden="true" />
              <span className="sr-only">Search the Shelf</span>
              <input
                type="search"
                value={text}
                placeholder="name, note, habit …"
                onChange={({ target }) => setText(target.value)}
              />
            </label>
            <p role="status" className="quiet whitespace-nowrap text-sm" data-testid="shelf-count">
              {counted(sounds.length, 'sound')}
            </p>
            <NamePattern />
          </div>
          {edit.error && (
            <p role="alert" className="px-4 text-error">
              {edit.error.message}
            </p>
          )}
          {sounds.length === 0 ? (
            <Empty title={text ? `Nothing here is called “${text}”` : 'Nothing in here yet'}>
              {view.kind === 'collection'
                ? 'Drag sounds onto the name of the collection, or put them in from the side.'
                : `There is nothing under “${view.kind === 'twice' ? 'Duplicates' : VIEW_WORDS[view.kind]}”.`}
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
          aria-label="Selected sound"
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
            <p className="quiet p-6">
              Choose a sound to rename it, write a note, give it a habit, and see where it was used.
            </p>
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
        aria-label="Change them all"
        className="flex flex-wrap items-center gap-2 border-t ruled px-4 py-1.5 text-sm"
      >
        <select
          className="select select-sm w-44"
          aria-label="Put into a collection"
          value=""
          onChange={({ target }) =>
            edit.mutate({ do: 'put', soundIds: ids, collectionId: Number(target.value), beforeId: null })
          }
        >
          <option value="">Put into …</option>
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
            Remove from the collection
          </button>
        )}
        <button type="button" className="btn btn-sm" onClick={() => edit.mutate({ do: 'unkeep', soundIds: ids })}>
          Remove from the Shelf
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
            aria-label="Habit for all"
            placeholder="chapter card"
            maxLength={40}
            value={habit}
            onChange={({ target }) => setHabit(target.value)}
          />
          <button type="submit" className="btn btn-sm" disabled={habit.trim() === ''}>
            Give a habit
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
