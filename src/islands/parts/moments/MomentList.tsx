import { useVirtualizer } from '@tanstack/react-virtual'
import { type KeyboardEvent, useEffect, useRef, useState } from 'react'
import type { Moment } from '../../../core/moments'
import { messages } from '../../../messages'
import { KIND_WORDS, WEIGHT_WORDS } from '../../format/moment-words'

const ROW_PX = 44

interface MomentListProps {
  readonly moments: readonly Moment[]
  readonly chosenIds: ReadonlySet<string>
  /** The one that keys move from. */
  readonly currentId: string | null
  readonly soundTitles: Readonly<Record<string, string>>
  readonly timecode: (timeS: number) => string
  readonly onChoose: (ids: ReadonlySet<string>, currentId: string) => void
  readonly onWords: (id: string, words: string) => void
  readonly onRemove: (ids: ReadonlySet<string>) => void
}

/** The moments by time: moved through by arrow keys, edited in place, several chosen with Shift. */
export function MomentList(props: MomentListProps) {
  const { moments, chosenIds, currentId, soundTitles, timecode, onChoose, onWords, onRemove } = props
  const boxRef = useRef<HTMLDivElement>(null)
  const [editingId, setEditingId] = useState<string | null>(null)
  const anchorRef = useRef<string | null>(null)
  const rows = useVirtualizer({
    count: moments.length,
    getScrollElement: () => boxRef.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
  })
  const index = moments.findIndex(({ id }) => id === currentId)
  useEffect(() => {
    if (index >= 0) rows.scrollToIndex(index)
  }, [index, rows])
  const choose = (to: number, several: boolean): void => {
    const at = Math.max(0, Math.min(moments.length - 1, to))
    const moment = moments[at]
    if (!moment) return
    if (!several || anchorRef.current === null) anchorRef.current = moment.id
    const anchor = several ? moments.findIndex(({ id }) => id === anchorRef.current) : at
    const [from, until] = [Math.min(anchor < 0 ? at : anchor, at), Math.max(anchor < 0 ? at : anchor, at)]
    onChoose(new Set(moments.slice(from, until + 1).map(({ id }) => id)), moment.id)
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.target !== boxRef.current || event.ctrlKey || event.metaKey || event.altKey) return
    const act = ((): (() => void) | null => {
      switch (event.key) {
        case 'ArrowDown':
          return () => choose(index + 1, event.shiftKey)
        case 'ArrowUp':
          return () => choose(index < 0 ? 0 : index - 1, event.shiftKey)
        case 'Home':
          return () => choose(0, event.shiftKey)
        case 'End':
          return () => choose(moments.length - 1, event.shiftKey)
        case 'Enter':
          return () => setEditingId(currentId)
        case 'Delete':
        case 'Backspace':
          return () => onRemove(chosenIds)
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
    <div
      ref={boxRef}
      role="listbox"
      aria-label={messages.common.moments}
      aria-multiselectable="true"
      aria-activedescendant={currentId && index >= 0 ? `moment-${currentId}` : undefined}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-y-auto"
      data-step-keys="list"
      onKeyDown={onKeyDown}
    >
      <div className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index: at, start }) => {
          const moment = moments[at] as Moment
          const isChosen = chosenIds.has(moment.id)
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the list handles the keys
            <div
              key={moment.id}
              role="option"
              id={`moment-${moment.id}`}
              aria-selected={isChosen}
              tabIndex={-1}
              className={`absolute inset-x-0 grid cursor-default grid-cols-[5.500rem_minmax(0,1fr)_minmax(0,9rem)] items-center gap-3 px-3 ${isChosen ? 'bg-base-300 shadow-[inset_4px_0_0_var(--color-primary)]' : 'hover:bg-base-200'}`}
              style={{ top: start, height: ROW_PX }}
              onClick={(event) => {
                boxRef.current?.focus()
                choose(at, event.shiftKey)
              }}
              onDoubleClick={() => setEditingId(moment.id)}
            >
              <span className="tabular-nums leading-tight">
                {timecode(moment.atS)}
                {moment.endS !== null && (
                  <span className={`block text-xs ${isChosen ? '' : 'quiet'}`}>
                    {messages.moments.to(timecode(moment.endS))}
                  </span>
                )}
              </span>
              {editingId === moment.id ? (
                <WordsField
                  words={moment.words}
                  onEnd={(words) => {
                    setEditingId(null)
                    if (words !== null && words !== moment.words) onWords(moment.id, words)
                    boxRef.current?.focus()
                  }}
                />
              ) : (
                <span className="min-w-0 leading-tight">
                  <span className={`block truncate ${moment.words ? 'font-semibold' : 'quiet italic'}`}>
                    {moment.words || messages.moments.noWordsYet}
                  </span>
                  <span className={`block truncate text-xs ${isChosen ? '' : 'quiet'}`}>
                    <KindMark kind={moment.kind} /> {KIND_WORDS[moment.kind]}
                    {moment.weight === 'nice' && ` · ${WEIGHT_WORDS.nice}`}
                    {moment.note && ` · ${moment.note}`}
                  </span>
                </span>
              )}
              <span className="min-w-0 truncate text-right text-sm">{stateOf(moment, soundTitles)}</span>
            </div>
          )
        })}
      </div>
    </div>
  )
}

function stateOf(
  { soundId, shortList, kind, cutOutFromS }: Moment,
  soundTitles: Readonly<Record<string, string>>,
): React.ReactNode {
  if (cutOutFromS !== null) return <span className="text-error">{messages.moments.wasCutOut}</span>
  if (soundId !== null) return soundTitles[String(soundId)] ?? messages.moments.hasASound
  if (kind === 'silence') return messages.moments.staysSilent
  if (shortList.length > 0) return <span className="quiet">{messages.moments.onTheShortList(shortList.length)}</span>
  return <span className="quiet">{messages.moments.wantsASound}</span>
}

/** The pattern of a kind, as on the map. */
export function KindMark({ kind }: { kind: Moment['kind'] }) {
  return <span className={`moment-${kind} inline-block h-2 w-4 align-baseline`} aria-hidden="true" />
}

function WordsField({ words, onEnd }: { words: string; onEnd: (words: string | null) => void }) {
  const [text, setText] = useState(words)
  const ref = useRef<HTMLInputElement>(null)
  useEffect(() => ref.current?.select(), [])
  return (
    <input
      ref={ref}
      className="input input-sm w-full"
      aria-label={messages.moments.wordsOfTheMoment}
      maxLength={200}
      value={text}
      onChange={({ target }) => setText(target.value)}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Enter') onEnd(text)
        if (event.key === 'Escape') onEnd(null)
      }}
      onBlur={() => onEnd(text)}
    />
  )
}
