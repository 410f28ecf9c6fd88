import { type RefObject, useEffect, useRef, useState } from 'react'
import type { Moment } from '../../../core/moments'
import { messages } from '../../../messages'

interface NoteLineProps {
  readonly moment: Moment
  readonly time: string
  readonly inputRef: RefObject<HTMLInputElement | null>
  /** Called again and again while words are typed, and at the end. */
  readonly onWords: (words: string) => void
  readonly onDone: () => void
  /** Notes the next moment at once, without leaving the line. */
  readonly onNext: () => void
  readonly onDrop: () => void
}

/** While words are typed they are saved so often, ms. */
const SAVE_EVERY_MS = 400

/** The line in which a moment that was just noted gets its words, while the cut plays on. */
export function NoteLine({ moment, time, inputRef, onWords, onDone, onNext, onDrop }: NoteLineProps) {
  const [words, setWords] = useState(moment.words)
  useEffect(() => inputRef.current?.focus(), [inputRef])
  // Also while somebody types on without a pause.
  const live = useRef({ words, onWords })
  live.current = { words, onWords }
  const isUnsaved = words !== moment.words
  useEffect(() => {
    if (!isUnsaved) return
    const timer = setInterval(() => live.current.onWords(live.current.words), SAVE_EVERY_MS)
    return () => clearInterval(timer)
  }, [isUnsaved])
  const end = (then: () => void): void => {
    if (words !== moment.words) onWords(words)
    then()
  }
  return (
    <fieldset
      className="flex items-center gap-3 rounded border-2 border-primary px-3 py-1.5"
      aria-label={messages.moments.newMoment}
    >
      <span className="font-semibold tabular-nums">{time}</span>
      <input
        ref={inputRef}
        className="input input-sm flex-1"
        aria-label={messages.moments.whatIsWantedHere}
        placeholder={messages.moments.whatIsWantedHere}
        maxLength={200}
        value={words}
        onChange={({ target }) => setWords(target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            event.preventDefault()
            end(event.shiftKey ? onNext : onDone)
          } else if (event.key === 'Escape') {
            event.preventDefault()
            // What was typed stays; an empty one is taken back.
            end(words.trim() === '' ? onDrop : onDone)
          }
        }}
        onBlur={() => {
          if (words !== moment.words) onWords(words)
        }}
      />
      <span className="quiet whitespace-nowrap text-sm">{messages.moments.enterEndsShiftEnterNotes}</span>
    </fieldset>
  )
}
