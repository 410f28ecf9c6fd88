import { X } from 'lucide-react'
import type { FilterKind } from '../../../core/finding'
import { filterWords } from '../../../core/finding'
import { messages } from '../../../messages'
import { type FindState, filtered } from '../../state/find-state'

interface FilterChipsProps {
  readonly state: FindState
  readonly likeTitle: string | null
  readonly onChange: (state: FindState) => void
}

/** Every condition that is on, in words, each with the way to take it off. */
export function FilterChips({ state, likeTitle, onChange }: FilterChipsProps) {
  const { filters, like } = state
  if (filters.length === 0 && !like) return null
  return (
    <ul aria-label={messages.find.activeFilters} className="flex flex-wrap items-center gap-1.5">
      {like && (
        <Chip
          words={messages.find.soundsLikeChip(likeTitle ?? '…')}
          onRemove={() => onChange({ ...state, like: null })}
        />
      )}
      {filters.map((filter) => (
        <Chip
          key={filter.kind}
          words={filterWords(filter)}
          onRemove={() => onChange(filtered(state, filter.kind, null))}
        />
      ))}
      {filters.length > 1 && (
        <li>
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => onChange({ ...state, filters: [] })}>
            {messages.find.clearAll}
          </button>
        </li>
      )}
    </ul>
  )
}

function Chip({ words, onRemove }: { words: string; onRemove: () => void }) {
  return (
    <li className="flex items-center rounded border border-base-content bg-base-100 pl-2 text-sm">
      <span className="max-w-72 truncate">{words}</span>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={messages.find.removeFilter(words)}
        onClick={onRemove}
      >
        <X size={13} aria-hidden="true" />
      </button>
    </li>
  )
}

interface EverythingHiddenProps {
  readonly state: FindState
  readonly hides: readonly { readonly kind: FilterKind; readonly hidden: number; readonly hiddenByItAlone: number }[]
  readonly onChange: (state: FindState) => void
}

/** Says which condition hides how many, when all are hidden. */
export function EverythingHidden({ state, hides, onChange }: EverythingHiddenProps) {
  const most = Math.max(0, ...hides.map(({ hiddenByItAlone }) => hiddenByItAlone))
  return (
    <div className="max-w-xl p-8">
      <h2 className="mb-2 text-xl font-semibold">{messages.find.theFiltersHideEverything}</h2>
      <p className="quiet mb-4">
        {state.text.trim()
          ? messages.find.thereAreSoundsForBut(state.text.trim())
          : messages.find.noSoundMeetsEveryFilter}
      </p>
      <ul className="space-y-1.5">
        {hides.map(({ kind, hidden, hiddenByItAlone }) => {
          const filter = state.filters.find((one) => one.kind === kind)
          if (!filter) return null
          return (
            <li key={kind} className="flex items-center gap-3">
              <button
                type="button"
                className={`btn btn-sm ${hiddenByItAlone === most && most > 0 ? 'btn-primary' : ''}`}
                onClick={() => onChange(filtered(state, kind, null))}
              >
                {messages.find.removeHidingFilter(filterWords(filter))}
              </button>
              <span>
                {messages.find.hides(hidden.toLocaleString('en-GB'))}
                {hiddenByItAlone > 0 && messages.find.ofThemItAlone(hiddenByItAlone.toLocaleString('en-GB'))}
              </span>
            </li>
          )
        })}
      </ul>
      <button type="button" className="btn btn-sm mt-4" onClick={() => onChange({ ...state, filters: [] })}>
        {messages.find.clearAllFilters}
      </button>
    </div>
  )
}
