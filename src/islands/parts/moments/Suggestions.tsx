import { useVirtualizer } from '@tanstack/react-virtual'
import { type KeyboardEvent, useRef, useState } from 'react'
import type { SuggestionList } from '../../../contract'
import { messages } from '../../../messages'
import { SUGGESTION_WORDS } from '../../format/moment-words'

type Suggestion = SuggestionList['suggestions'][number]

interface SuggestionsProps {
  readonly list: SuggestionList
  readonly timecode: (timeS: number) => string
  readonly onGo: (timeS: number) => void
  readonly onTake: (suggestion: Suggestion) => void
  readonly onDismiss: (suggestions: readonly Suggestion[]) => void
  readonly onCaptions: () => void
  readonly onRemoveCaptions: () => void
}

const ROW_PX = 46

/** Places where a sound may be wanted, each with its reason: A takes it, X puts it aside for good. */
export function Suggestions(props: SuggestionsProps) {
  const { list, timecode, onGo, onTake, onDismiss, onCaptions, onRemoveCaptions } = props
  const { captionFile, cuesBeyondEnd } = list
  const boxRef = useRef<HTMLDivElement>(null)
  const [kind, setKind] = useState<Suggestion['kind'] | null>(null)
  const [at, setAt] = useState(0)
  const kinds = [...new Set(list.suggestions.map((one) => one.kind))]
  const shown = list.suggestions.filter((one) => kind === null || one.kind === kind)
  const index = Math.min(at, shown.length - 1)
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => boxRef.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
  })
  const go = (to: number): void => {
    const next = Math.max(0, Math.min(shown.length - 1, to))
    setAt(next)
    rows.scrollToIndex(next)
    const suggestion = shown[next]
    if (suggestion) onGo(suggestion.atS)
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    const current = shown[index]
    if (event.ctrlKey || event.metaKey || event.altKey || !current) return
    const act = ((): (() => void) | null => {
      switch (event.key) {
        case 'ArrowDown':
          return () => go(index + 1)
        case 'ArrowUp':
          return () => go(index - 1)
        case 'a':
          return () => onTake(current)
        case 'x':
        case 'Delete':
          return () => onDismiss([current])
        default:
          return null
      }
    })()
    if (!act) return
    event.preventDefault()
    event.stopPropagation()
    act()
  }
  return (
    <section aria-labelledby="suggestions" className="flex min-h-0 flex-col">
      <header className="mb-1 flex flex-wrap items-center gap-3">
        <h2 id="suggestions" className="flex-1 text-lg font-semibold">
          {messages.moments.suggestions}
        </h2>
        {captionFile && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={onRemoveCaptions}>
            {messages.moments.removeCaptions}
          </button>
        )}
        <button type="button" className="btn btn-sm" onClick={onCaptions}>
          {captionFile ? messages.moments.replaceCaptions : messages.moments.addCaptions}
        </button>
      </header>
      {cuesBeyondEnd > 0 && (
        <p className="mb-1 text-sm">{messages.moments.captionsBehindTheEnd(cuesBeyondEnd, captionFile)}</p>
      )}
      {kinds.length > 1 && (
        <fieldset className="mb-1 flex flex-wrap gap-1" aria-label={messages.moments.kindsOfSuggestions}>
          {[null, ...kinds].map((one) => (
            <button
              key={one ?? 'all'}
              type="button"
              className={`btn btn-xs ${one === kind ? 'btn-neutral' : 'btn-ghost'}`}
              aria-pressed={one === kind}
              onClick={() => {
                setKind(one)
                setAt(0)
              }}
            >
              {one === null ? messages.common.all : SUGGESTION_WORDS[one]}{' '}
              {one === null ? list.suggestions.length : list.suggestions.filter((other) => other.kind === one).length}
            </button>
          ))}
        </fieldset>
      )}
      {shown.length === 0 ? (
        <p className="quiet py-3">
          {messages.moments.nothingToSuggestWhatThe}
          {!captionFile && messages.moments.addTheCaptionsSubripOr}
        </p>
      ) : (
        <div
          ref={boxRef}
          role="grid"
          aria-label={messages.moments.suggestions}
          tabIndex={0}
          aria-activedescendant={`suggestion-${index}`}
          className="max-h-80 overflow-y-auto"
          data-step-keys="list"
          onKeyDown={onKeyDown}
        >
          <div role="presentation" className="relative" style={{ height: rows.getTotalSize() }}>
            {rows.getVirtualItems().map(({ index: row, start }) => {
              const one = shown[row] as Suggestion
              return (
                <SuggestionRow
                  key={`${one.kind} ${one.atS}`}
                  suggestion={one}
                  row={row}
                  topPx={start}
                  isChosen={row === index}
                  time={timecode(one.atS)}
                  onGo={() => {
                    boxRef.current?.focus()
                    go(row)
                  }}
                  onTake={() => onTake(one)}
                  onDismiss={() => onDismiss([one])}
                />
              )
            })}
          </div>
        </div>
      )}
      {shown.length > 3 && kind !== null && (
        <button type="button" className="btn btn-ghost btn-xs mt-1 self-start" onClick={() => onDismiss(shown)}>
          {messages.moments.dismissAll(shown.length)}
        </button>
      )}
    </section>
  )
}

interface SuggestionRowProps {
  readonly suggestion: Suggestion
  readonly row: number
  readonly topPx: number
  readonly isChosen: boolean
  readonly time: string
  readonly onGo: () => void
  readonly onTake: () => void
  readonly onDismiss: () => void
}

function SuggestionRow({ suggestion, row, topPx, isChosen, time, onGo, onTake, onDismiss }: SuggestionRowProps) {
  const { kind, reason, confidence, words } = suggestion
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list handles the keys
    <div
      role="row"
      id={`suggestion-${row}`}
      aria-selected={isChosen}
      className={`absolute inset-x-0 flex cursor-default items-center gap-3 px-2 ${isChosen ? 'bg-base-200' : ''}`}
      style={{ top: topPx, height: ROW_PX }}
      onClick={onGo}
    >
      <span role="gridcell" className="w-20 shrink-0 tabular-nums">
        {time}
      </span>
      <span role="gridcell" className="min-w-0 flex-1 leading-tight">
        <span className="block truncate">
          <span className="font-semibold">{kind === 'word' || kind === 'habit' ? words : SUGGESTION_WORDS[kind]}</span>{' '}
          <span className="quiet text-sm">{messages.moments.sure(Math.round(confidence * 100))}</span>
        </span>
        <span className="quiet block truncate text-sm" title={reason}>
          {reason}
        </span>
      </span>
      <span role="gridcell" className="flex gap-1">
        <button
          type="button"
          tabIndex={-1}
          className="btn btn-xs"
          aria-label={messages.moments.takeReason(reason)}
          onClick={(event) => {
            event.stopPropagation()
            onTake()
          }}
        >
          {messages.moments.takeButton}
        </button>
        <button
          type="button"
          tabIndex={-1}
          className="btn btn-ghost btn-xs"
          aria-label={messages.moments.dismiss(reason)}
          onClick={(event) => {
            event.stopPropagation()
            onDismiss()
          }}
        >
          {messages.common.dismiss}
        </button>
      </span>
    </div>
  )
}
