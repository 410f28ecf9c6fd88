import { Search } from 'lucide-react'
import { type DragEvent, type RefObject, useDeferredValue, useRef } from 'react'
import type { SoundCounts, SoundPage } from '../../../contract'
import { SORTS } from '../../../core/finding'
import { messages } from '../../../messages'
import { useProbeFile } from '../../api/find-queries'
import { useShell } from '../../api/queries'
import type { MomentTarget } from '../../moments/use-moment-target'
import { EVERYTHING, type FindState, isNothingAsked, offersIn, SORT_WORDS, taken, typed } from '../../state/find-state'
import { isTyping } from '../../state/keys'
import { useDocumentKeys } from '../../state/use-document-keys'
import { FilterChips } from './FilterChips'
import { FilterMenus } from './FilterMenus'
import { ForMoment } from './ForMoment'
import { Corrections, Offered, Unread } from './FoundNotes'
import { SearchMenu } from './SearchMenu'

interface SearchHeadProps {
  readonly state: FindState
  readonly onChange: (state: FindState) => void
  readonly first: SoundPage | undefined
  /** Words that stand nowhere, and what was taken for them. */
  readonly corrections: SoundPage['corrections']
  readonly searchRef: RefObject<HTMLInputElement | null>
  readonly drop: ReturnType<typeof useDroppedSound>
  readonly categories: SoundCounts['category']
  /** The down arrow was pressed in the search line. */
  readonly onDown: () => void
  /** The moment that is looked for, or null. */
  readonly target: MomentTarget | null
}

/** The search line with its order and conditions, and what is to be said about what was typed. */
export function SearchHead(props: SearchHeadProps) {
  const { state, onChange, first, corrections, searchRef, drop, categories, onDown, target } = props
  const shell = useShell()
  const text = useDeferredValue(state.text)
  return (
    <div className="space-y-1.5 px-4 pt-3 pb-2">
      <div className="flex items-center gap-3">
        <label className="input w-full border-base-content/40 text-base">
          <Search size={18} aria-hidden="true" />
          <span className="sr-only">{messages.find.searchEverything}</span>
          <input
            ref={searchRef}
            type="search"
            placeholder={messages.find.thudIceCrackDoorUnder}
            value={state.text}
            onChange={(event) => onChange(typed(state, event.target.value))}
            onKeyDown={(event) => {
              if (event.key !== 'ArrowDown' && event.key !== 'Enter') return
              event.preventDefault()
              const [offer] = event.key === 'Enter' ? offersIn(state) : []
              if (offer) onChange(taken(state, offer))
              else onDown()
            }}
          />
        </label>
        <SearchMenu state={state} onOpen={onChange} />
        <label className="shrink-0">
          <span className="sr-only">{messages.find.order}</span>
          <select
            className="select select-sm w-36"
            value={state.sort}
            onChange={({ target }) => onChange({ ...state, sort: SORTS.find((one) => one === target.value) ?? 'best' })}
          >
            {SORTS.map((sort) => (
              <option key={sort} value={sort}>
                {SORT_WORDS[sort]}
              </option>
            ))}
          </select>
        </label>
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <FilterMenus
          state={state}
          onChange={onChange}
          hasVideo={shell.data?.videoInHandId != null}
          categories={categories}
        />
        {first && isNothingAsked(state) && (
          <button type="button" className="btn btn-sm" aria-keyshortcuts="e" onClick={() => onChange(EVERYTHING)}>
            {messages.find.listAll(<kbd className="kbd kbd-xs">E</kbd>)}
          </button>
        )}
        <p
          role="status"
          className="quiet min-w-0 flex-1 whitespace-nowrap text-right text-sm"
          data-testid="result-count"
        >
          {first ? countWords(first, state) : ''}
        </p>
      </div>
      {target && <ForMoment target={target} onDrop={() => onChange({ ...state, forMoment: null })} />}
      <FilterChips state={state} likeTitle={first?.likeTitle ?? null} onChange={onChange} />
      <Offered state={state} onChange={onChange} />
      {corrections.length > 0 && <Corrections corrections={corrections} />}
      <Unread text={text} />
      {drop.problem && (
        <p role="alert" className="text-error">
          {drop.problem}
        </p>
      )}
      {drop.working && <p role="status">{messages.find.listeningToTheFile}</p>}
    </div>
  )
}

/** The search line; "/" goes to it from anywhere. */
export function useSearchKey() {
  const ref = useRef<HTMLInputElement>(null)
  useDocumentKeys((event) => {
    if (event.key !== '/' || isTyping(event)) return
    event.preventDefault()
    ref.current?.focus()
    ref.current?.select()
  })
  return ref
}

/** What makes use of the down arrow itself. */
const USES_ARROWS = 'select, [role="grid"], [role="listbox"], [role="menu"], [role="slider"], aside, video, audio'

/** The down arrow goes to the results, wherever the focus is: from the moment the page is seen, and after a menu was closed. */
export function useDownKey(onDown: () => void): void {
  useDocumentKeys((event) => {
    if (event.key !== 'ArrowDown' || event.shiftKey || event.defaultPrevented || isTyping(event)) return
    if (event.target instanceof Element && event.target.closest(USES_ARROWS)) return
    // In an open menu it goes through what the menu holds.
    if (document.querySelector('[aria-expanded="true"]')) return
    event.preventDefault()
    onDown()
  })
}

/** A file that is dropped anywhere on Find: sounds like it are looked for. */
export function useDroppedSound(onProbe: (probeId: number) => void) {
  const probe = useProbeFile()
  return {
    working: probe.isPending,
    problem: probe.error?.message ?? null,
    handlers: {
      onDragOver: (event: DragEvent) => {
        if (event.dataTransfer.types.includes('Files')) event.preventDefault()
      },
      onDrop: (event: DragEvent) => {
        const [file] = event.dataTransfer.files
        if (!file) return
        event.preventDefault()
        probe.mutate(file, { onSuccess: ({ id }) => onProbe(id) })
      },
    },
  }
}

function countWords({ total, catalogueTotal }: SoundPage, { text, filters, like }: FindState): string {
  const all = text.trim() === '' && filters.length === 0 && like === null
  return all
    ? messages.counts.sounds(total)
    : messages.find.soundsOfTotal(messages.counts.sounds(total), catalogueTotal.toLocaleString('en-GB'))
}
