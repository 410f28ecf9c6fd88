import { useDeferredValue, useMemo, useState } from 'react'
import type { SoundSummary } from '../../../contract'
import { messages } from '../../../messages'
import { useSounds } from '../../api/find-queries'
import { fromQuestion } from '../../state/find-state'

const SHOWN = 8

interface SoundPickerProps {
  readonly sound: Pick<SoundSummary, 'id'> | null
  readonly onPick: (sound: SoundSummary) => void
  readonly label?: string
}

/** Chooses a sound by a part of its title. */
export function SoundPicker({ sound, onPick, label = messages.shared.theSound }: SoundPickerProps) {
  const [text, setText] = useState('')
  const q = useDeferredValue(text.trim())
  const query = useSounds(useMemo(() => fromQuestion(q), [q]))
  // What was found for the words before would be picked by mistake.
  const isCurrent = q !== '' && q === text.trim() && !query.isPlaceholderData
  const found = isCurrent ? (query.data?.pages[0]?.sounds ?? []).slice(0, SHOWN) : []
  return (
    <div>
      <label className="block">
        <span className="small-label block">{label}</span>
        <input
          type="search"
          className="input w-full"
          placeholder={messages.shared.partOfItsTitle}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      {found.length > 0 && (
        <ul className="mt-1 border-b ruled">
          {found.map((one) => (
            <li key={one.id}>
              <button
                type="button"
                aria-pressed={one.id === sound?.id}
                className="w-full border-t ruled px-2 py-1.5 text-left hover:bg-base-200 aria-pressed:bg-base-300"
                onClick={() => onPick(one)}
              >
                <span className="block truncate font-semibold leading-tight">{one.title}</span>
                <span className="quiet block truncate text-xs">
                  {one.source.name} · {one.licence}
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {isCurrent && query.data && found.length === 0 && (
        <p className="quiet mt-1 text-sm">{messages.shared.noSoundIsCalledThat}</p>
      )}
    </div>
  )
}
