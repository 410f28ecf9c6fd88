import { X } from 'lucide-react'
import { useState } from 'react'
import type { Collection, ShelfSound } from '../../../contract'
import { messages } from '../../../messages'
import { useKeep, useShelfEdit } from '../../api/shelf-queries'
import { UsedInList } from '../shared/UsedInList'

/** What the Shelf knows of a sound: its name, a note, habits, collections, and where it is heard. */
export function ShelfFacts({ sound, collections }: { sound: ShelfSound; collections: readonly Collection[] }) {
  const edit = useShelfEdit()
  const keep = useKeep()
  const [title, setTitle] = useState(sound.title)
  const [note, setNote] = useState(sound.note)
  const ids = [sound.id]
  return (
    <section aria-label={messages.shelf.itsPlaceOnTheShelf} className="space-y-3 border-b ruled p-5 pb-4">
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          const own = title.trim() === '' || title.trim() === sound.originalTitle ? null : title
          edit.mutate({ do: 'rename', soundIds: ids, title: own })
        }}
      >
        <label className="min-w-0 flex-1">
          <span className="small-label block">
            {messages.common.name}
            {sound.originalTitle && messages.shelf.itCameAs(sound.originalTitle)}
          </span>
          <input
            className="input input-sm w-full"
            value={title}
            maxLength={120}
            onChange={({ target }) => setTitle(target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm" disabled={title === sound.title}>
          {messages.shelf.renameButton}
        </button>
      </form>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          keep.mutate({ id: sound.id, note })
        }}
      >
        <label className="min-w-0 flex-1">
          <span className="small-label block">{messages.common.note}</span>
          <input
            className="input input-sm w-full"
            value={note}
            maxLength={500}
            onChange={({ target }) => setNote(target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm" disabled={note === sound.note}>
          {messages.common.save}
        </button>
      </form>
      <Habits sound={sound} edit={edit} />
      {collections.length > 0 && <CollectionChecks sound={sound} collections={collections} edit={edit} />}
      <div>
        <p className="small-label">{messages.shelf.usedIn}</p>
        <UsedInList usedIn={sound.usedIn} />
      </div>
      {edit.error && (
        <p role="alert" className="text-error">
          {edit.error.message}
        </p>
      )}
    </section>
  )
}

interface ShelfPartProps {
  readonly sound: ShelfSound
  readonly edit: ReturnType<typeof useShelfEdit>
}

/** What a moment may say for this sound to be offered first. */
function Habits({ sound, edit }: ShelfPartProps) {
  const [habit, setHabit] = useState('')
  const ids = [sound.id]
  return (
    <div>
      <p className="small-label">{messages.shelf.habitsOfferedFirstWhenA}</p>
      <ul aria-label={messages.shelf.habits} className="flex flex-wrap gap-1.5">
        {sound.habits.map((words) => (
          <li key={words} className="flex items-center rounded border ruled pl-2 text-sm">
            {words}
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={messages.shelf.removeTheHabit(words)}
              onClick={() => edit.mutate({ do: 'no-habit', soundIds: ids, words })}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          edit.mutate({ do: 'habit', soundIds: ids, words: habit }, { onSuccess: () => setHabit('') })
        }}
      >
        <input
          className="input input-sm min-w-0 flex-1"
          aria-label={messages.shelf.newHabit}
          placeholder={messages.shelf.jumpCutKettle}
          maxLength={40}
          value={habit}
          onChange={({ target }) => setHabit(target.value)}
        />
        <button type="submit" className="btn btn-sm" disabled={habit.trim() === ''}>
          {messages.shelf.add}
        </button>
      </form>
    </div>
  )
}

function CollectionChecks({ sound, edit, collections }: ShelfPartProps & { collections: readonly Collection[] }) {
  const ids = [sound.id]
  const { collectionIds } = sound
  return (
    <fieldset>
      <legend className="small-label">{messages.shelf.collections}</legend>
      {collections.map(({ id, name }) => (
        <label key={id} className="flex cursor-pointer items-center gap-2 py-0.5">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={collectionIds.includes(id)}
            onChange={({ target }) =>
              edit.mutate(
                target.checked
                  ? { do: 'put', soundIds: ids, collectionId: id, beforeId: null }
                  : { do: 'take-out', soundIds: ids, collectionId: id },
              )
            }
          />
          {name}
        </label>
      ))}
    </fieldset>
  )
}
