import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import type { OwnWordsInput, SoundDetail } from '../../../contract'
import { messages } from '../../../messages'
import { useProposedWords, useSetWords } from '../../api/word-queries'

const percent = (share: number): string => `${Math.round(100 * share)} %`

/** Words for a sound of one's own: those that were given, and proposals by what it sounds like, each with how sure it is. */
export function PanelWords({ sound }: { sound: SoundDetail }) {
  const { id, ownWords, ownCategory } = sound
  const before: OwnWordsInput = { words: ownWords, category: ownCategory }
  const set = useSetWords(id, before)
  const proposals = useProposedWords(id)
  const [typed, setTyped] = useState('')
  const add = (words: readonly string[], category = ownCategory): void => {
    const said = { words: [...new Set([...ownWords, ...words.map((word) => word.toLowerCase())])], category }
    set.mutate({ said, words: messages.sound.added(messages.counts.words(words.length)) })
  }
  const proposed = proposals.data?.words ?? []
  const category = sound.category === '' || sound.category === 'Unsorted' ? (proposals.data?.category ?? null) : null
  return (
    <section aria-label={messages.sound.words}>
      <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">{messages.sound.words}</h3>
      {ownWords.length > 0 && (
        <ul aria-label={messages.sound.wordsThatYouGaveIt} className="mb-2 flex flex-wrap gap-1.5">
          {ownWords.map((word) => (
            <li key={word}>
              <button
                type="button"
                className="btn btn-xs"
                aria-label={messages.sound.remove(word)}
                onClick={() =>
                  set.mutate({
                    said: { words: ownWords.filter((one) => one !== word), category: ownCategory },
                    words: messages.sound.wasRemoved(word),
                  })
                }
              >
                {word} <X size={12} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
      )}
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          const words = typed
            .split(/[,;]/)
            .map((word) => word.trim())
            .filter(Boolean)
          if (words.length > 0) add(words)
          setTyped('')
        }}
      >
        <label className="min-w-0 flex-1">
          <span className="sr-only">{messages.sound.addWords}</span>
          <input
            className="input input-sm w-full"
            placeholder={messages.sound.gateIronSlow}
            maxLength={300}
            value={typed}
            onChange={({ target }) => setTyped(target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm" disabled={typed.trim() === '' || set.isPending}>
          {messages.sound.add}
        </button>
      </form>
      {(proposed.length > 0 || category) && (
        <div className="mt-3">
          <p className="small-label">
            {messages.sound.byThatItSoundsLike(messages.counts.sounds(proposals.data?.neighbours ?? 0))}
          </p>
          <ul aria-label={messages.sound.proposedWords} className="mt-1 flex flex-wrap gap-1.5">
            {category && (
              <li>
                <button
                  type="button"
                  className="btn btn-xs"
                  onClick={() => add([], category.name)}
                  aria-label={messages.sound.takeTheCategory(category.name, percent(category.share))}
                >
                  <Plus size={12} aria-hidden="true" /> {category.name}{' '}
                  <span className="quiet">{messages.sound.category(percent(category.share))}</span>
                </button>
              </li>
            )}
            {proposed.map(({ word, share }) => (
              <li key={word}>
                <button
                  type="button"
                  className="btn btn-xs"
                  onClick={() => add([word])}
                  aria-label={messages.sound.addWord(word, percent(share))}
                >
                  <Plus size={12} aria-hidden="true" /> {word} <span className="quiet">{percent(share)}</span>
                </button>
              </li>
            ))}
          </ul>
          {proposed.length > 1 && (
            <button
              type="button"
              className="btn btn-xs btn-ghost mt-1 -ml-2"
              onClick={() =>
                add(
                  proposed.map(({ word }) => word),
                  category?.name ?? ownCategory,
                )
              }
            >
              {messages.sound.addAll}
            </button>
          )}
        </div>
      )}
      {(set.error ?? proposals.error) && (
        <p role="alert" className="mt-1 text-sm text-error">
          {(set.error ?? proposals.error)?.message}
        </p>
      )}
    </section>
  )
}
