import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { messages } from '../../../messages'
import {
  useForgetSearch,
  useSavedSearches,
  useSaveSearch,
  useSaveVocabulary,
  useVocabulary,
} from '../../api/find-queries'
import { type FindState, fromQuestion, questionOf } from '../../state/find-state'
import { Menu } from '../shared/Menu'

/** Saved searches, and the words that mean the same. */
export function SearchMenu({ state, onOpen }: { state: FindState; onOpen: (state: FindState) => void }) {
  const saved = useSavedSearches()
  const save = useSaveSearch()
  const forget = useForgetSearch()
  const [name, setName] = useState('')
  const question = questionOf(state)
  const searches = saved.data?.searches ?? []
  return (
    <Menu label={messages.find.saved} side="right">
      {(close) => (
        <div className="w-72">
          {searches.length === 0 && <p className="quiet mb-2 text-sm">{messages.find.aSearchWithItsFilters}</p>}
          <ul aria-label={messages.find.savedSearches}>
            {searches.map((one) => (
              <li key={one.id} className="flex items-center">
                <button
                  type="button"
                  className="min-w-0 flex-1 rounded px-2 py-1 text-left hover:bg-base-200"
                  onClick={() => {
                    onOpen(fromQuestion(one.query, one.sort))
                    close()
                  }}
                >
                  <span className="block truncate font-semibold leading-tight">{one.name}</span>
                  <span className="quiet block truncate text-xs">{one.query || messages.find.everything}</span>
                </button>
                <button
                  type="button"
                  className="btn btn-ghost btn-xs btn-square"
                  aria-label={messages.find.removeSavedSearch(one.name)}
                  onClick={() => forget.mutate(one.id)}
                >
                  <Trash2 size={14} aria-hidden="true" />
                </button>
              </li>
            ))}
          </ul>
          <form
            className="mt-2 flex gap-2"
            onSubmit={(event) => {
              event.preventDefault()
              save.mutate({ name, query: question, sort: state.sort }, { onSuccess: () => setName('') })
            }}
          >
            <input
              className="input input-sm flex-1"
              aria-label={messages.find.nameOfThisSearch}
              placeholder={messages.find.nameOfThisSearch}
              maxLength={60}
              value={name}
              onChange={({ target }) => setName(target.value)}
            />
            <button type="submit" className="btn btn-sm" disabled={name.trim() === ''}>
              {messages.common.save}
            </button>
          </form>
          {save.error && (
            <p role="alert" className="mt-1 text-error">
              {save.error.message}
            </p>
          )}
          <OwnWords />
        </div>
      )}
    </Menu>
  )
}

/** The creator's own lines of the vocabulary. */
function OwnWords() {
  const vocabulary = useVocabulary()
  const save = useSaveVocabulary()
  const [text, setText] = useState<string | null>(null)
  if (!vocabulary.data) return null
  const { own, groupCount, problems } = vocabulary.data
  return (
    <details className="mt-3 border-t ruled pt-2">
      <summary className="cursor-pointer text-sm">{messages.find.wordsThatMeanTheSame(groupCount)}</summary>
      <label className="mt-1 block text-sm">
        <span className="quiet">{messages.find.aLineForEachGroup}</span>
        <textarea
          className="textarea mt-1 w-full text-sm"
          rows={4}
          placeholder={messages.find.clackSnickRelayClack}
          value={text ?? own}
          onChange={({ target }) => setText(target.value)}
        />
      </label>
      {problems.map(({ line, text: words }) => (
        <p key={line} className="text-error text-sm">
          {messages.find.lineCannotBeRead(line, words)}
        </p>
      ))}
      <button
        type="button"
        className="btn btn-sm mt-1"
        disabled={text === null || text === own || save.isPending}
        onClick={() => save.mutate(text ?? own)}
      >
        {messages.find.saveTheWords}
      </button>
    </details>
  )
}
