import type { KeyTitles } from '../format/command-words'
import { isTyping } from '../state/keys'
import { usePageActions } from '../state/page-actions'
import { useDocumentKeys } from '../state/use-document-keys'

/** What a key press is, for a table of keys. */
export type KeyActions = Readonly<Record<string, (event: KeyboardEvent) => void>>

/** Keys that a list with the focus takes itself. */
const LIST_KEYS = new Set(['arrowup', 'arrowdown', 'home', 'end', 'enter', 'delete', 'backspace', 'a', 'x'])

/** Keys that a handle on the map takes itself. */
const HANDLE_KEYS = new Set(['arrowup', 'arrowdown', 'arrowleft', 'arrowright', 'delete', 'backspace'])

/** A control with the focus takes the keys that work it itself. */
function takesItself(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null
  if (target?.dataset.stepKeys === 'handle' && HANDLE_KEYS.has(event.key.toLowerCase())) return true
  const list = target?.closest('[data-step-keys="list"]')
  if (list === target && list !== null && LIST_KEYS.has(event.key.toLowerCase())) return true
  const tag = target?.tagName ?? ''
  // Space does nothing on a link.
  return (
    (event.key === 'Enter' && ['BUTTON', 'A', 'SUMMARY'].includes(tag)) ||
    (event.key === ' ' && ['BUTTON', 'SUMMARY'].includes(tag))
  )
}

/**
 * Keys of a step of a video, wherever the focus is, as long as nothing is typed. They come before those of the listening bar.
 *
 * @param actions By key, in lower case; "shift+" before it where Shift is held. @param titles Those that the list of commands offers.
 */
export function useStepKeys(actions: KeyActions, titles: KeyTitles): void {
  usePageActions(
    titles.flatMap(([key, keys, title]) => {
      const action = actions[key]
      return action ? [{ title, keys, run: () => action(new KeyboardEvent('keydown', { key })) }] : []
    }),
  )
  const run = (event: KeyboardEvent, name: string): void => {
    const action = actions[name]
    if (!action) return
    event.preventDefault()
    event.stopPropagation()
    action(event)
  }
  const onKey = (event: KeyboardEvent): void => {
    if (isUndoKey(event) && !isField(event)) run(event, event.shiftKey ? 'redo' : 'undo')
    else if (!event.defaultPrevented && !isTyping(event) && !takesItself(event))
      run(event, `${event.shiftKey && event.key.length > 1 ? 'shift+' : ''}${event.key.toLowerCase()}`)
  }
  useDocumentKeys(onKey, { capture: true })
}

function isUndoKey(event: KeyboardEvent): boolean {
  return (event.ctrlKey || event.metaKey) && !event.altKey && event.key.toLowerCase() === 'z'
}

/** Inputs in which nothing is typed: they undo nothing by themselves. */
const NOT_TYPED = new Set(['checkbox', 'radio', 'range', 'file', 'button', 'submit'])

/** In a field that is typed in the field undoes. */
function isField(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null
  if (target === null) return false
  if (target.tagName === 'INPUT') return !NOT_TYPED.has((target as HTMLInputElement).type)
  return target.isContentEditable || target.tagName === 'TEXTAREA'
}
