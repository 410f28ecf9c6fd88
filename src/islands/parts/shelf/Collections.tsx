import { useDroppable } from '@dnd-kit/core'
import { ArrowDown, ArrowUp, Pencil, Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { Collection, Shelf } from '../../../contract'
import { messages } from '../../../messages'
import { useChangeCollection, useEndCollection, useMakeCollection } from '../../api/shelf-queries'
import { type ShelfView, shelfSounds, VIEW_WORDS } from '../../state/shelf-view'

const VIEWS = Object.keys(VIEW_WORDS) as (keyof typeof VIEW_WORDS)[]

interface CollectionsProps {
  readonly shelf: Shelf
  readonly view: ShelfView
  readonly onView: (view: ShelfView) => void
}

/** What of the Shelf there is to look at, and the collections; sounds can be dropped onto their names. */
export function Collections({ shelf, view, onView }: CollectionsProps) {
  const make = useMakeCollection()
  const [name, setName] = useState('')
  return (
    <nav
      aria-label={messages.common.shelf}
      className="relative flex min-h-0 flex-col overflow-y-auto border-r ruled bg-base-200 py-3 text-sm"
    >
      <ul>
        {VIEWS.map((kind) => (
          <li key={kind}>
            <ViewButton
              label={VIEW_WORDS[kind]}
              count={shelfSounds(shelf, { kind }, '').length}
              chosen={view.kind === kind}
              onClick={() => onView({ kind })}
            />
          </li>
        ))}
      </ul>
      <h2 className="small-label mt-4 mb-1 px-3">{messages.shelf.collections}</h2>
      <ul aria-label={messages.shelf.collections}>
        {shelf.collections.map((collection, index) => (
          <CollectionRow
            key={collection.id}
            collection={collection}
            before={shelf.collections[index - 1]?.id ?? null}
            afterNext={shelf.collections[index + 2]?.id ?? null}
            last={index === shelf.collections.length - 1}
            chosen={view.kind === 'collection' && view.id === collection.id}
            onView={onView}
          />
        ))}
      </ul>
      <form
        className="mt-2 flex gap-1 px-3"
        onSubmit={(event) => {
          event.preventDefault()
          make.mutate(name, {
            onSuccess: ({ id }) => {
              setName('')
              onView({ kind: 'collection', id })
            },
          })
        }}
      >
        <input
          className="input input-sm min-w-0 flex-1"
          aria-label={messages.shelf.nameOfANewCollection}
          placeholder={messages.shelf.newCollection}
          maxLength={60}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <button
          type="submit"
          className="btn btn-sm btn-square"
          aria-label={messages.shelf.addTheCollection}
          disabled={name.trim() === ''}
        >
          <Plus size={15} aria-hidden="true" />
        </button>
      </form>
      {make.error && (
        <p role="alert" className="px-3 text-error">
          {make.error.message}
        </p>
      )}
    </nav>
  )
}

interface CollectionRowProps {
  readonly collection: Collection
  /** The one above it, and the one below the next. */
  readonly before: number | null
  readonly afterNext: number | null
  readonly last: boolean
  readonly chosen: boolean
  readonly onView: (view: ShelfView) => void
}

function CollectionRow({ collection, before, afterNext, last, chosen, onView }: CollectionRowProps) {
  const { id, name, soundIds } = collection
  const { setNodeRef, isOver } = useDroppable({ id: `collection-${id}` })
  const change = useChangeCollection()
  const end = useEndCollection()
  const [text, setText] = useState<string | null>(null)
  return (
    <li ref={setNodeRef} className={isOver ? 'outline-2 outline-primary' : ''}>
      {text === null ? (
        <ViewButton
          label={name}
          count={soundIds.length}
          chosen={chosen}
          onClick={() => onView({ kind: 'collection', id })}
        />
      ) : (
        <form
          className="px-3 py-1"
          onSubmit={(event) => {
            event.preventDefault()
            change.mutate({ id, name: text }, { onSuccess: () => setText(null) })
          }}
        >
          <input
            className="input input-sm w-full"
            aria-label={messages.shelf.newNameOf(name)}
            // biome-ignore lint/a11y/noAutofocus: the creator has just asked to write here
            autoFocus
            maxLength={60}
            value={text}
            onChange={({ target }) => setText(target.value)}
            onKeyDown={({ key }) => key === 'Escape' && setText(null)}
          />
          {change.error && (
            <p role="alert" className="text-error">
              {change.error.message}
            </p>
          )}
        </form>
      )}
      {chosen && text === null && (
        <div className="flex px-2">
          <Act label={messages.shelf.renameNamed(name)} onClick={() => setText(name)}>
            <Pencil size={13} aria-hidden="true" />
          </Act>
          <Act
            label={messages.shelf.moveUp(name)}
            disabled={before === null}
            onClick={() => change.mutate({ id, beforeId: before })}
          >
            <ArrowUp size={13} aria-hidden="true" />
          </Act>
          <Act
            label={messages.shelf.moveDown(name)}
            disabled={last}
            onClick={() => change.mutate({ id, beforeId: afterNext })}
          >
            <ArrowDown size={13} aria-hidden="true" />
          </Act>
          <Act
            label={messages.shelf.endItsSoundsStayKept(name)}
            onClick={() => {
              onView({ kind: 'all' })
              end.mutate(id)
            }}
          >
            <Trash2 size={13} aria-hidden="true" />
          </Act>
        </div>
      )}
    </li>
  )
}

function Act(props: { label: string; disabled?: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square"
      aria-label={props.label}
      disabled={props.disabled}
      onClick={props.onClick}
    >
      {props.children}
    </button>
  )
}

function ViewButton(props: { label: string; count: number; chosen: boolean; onClick: () => void }) {
  const { label, count, chosen, onClick } = props
  return (
    <button
      type="button"
      aria-current={chosen}
      className={`flex w-full items-baseline gap-2 px-3 py-1.5 text-left leading-tight ${chosen ? 'bg-base-300 font-semibold shadow-[inset_4px_0_0_var(--color-primary)]' : 'hover:bg-base-300'}`}
      onClick={onClick}
    >
      <span className="min-w-0 flex-1 break-words">{label}</span>
      <span className={chosen ? '' : 'quiet'}>{count}</span>
    </button>
  )
}
