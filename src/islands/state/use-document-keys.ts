import { useLayoutEffect, useRef } from 'react'

interface DocumentKeys {
  /** Before anything in the page has had the key. */
  readonly capture?: boolean
  readonly active?: boolean
}

/**
 * Hears every key press in the page, from the moment that what is drawn can be seen: an effect that runs after the painting would
 * lose the key of whoever is quick on a slow machine.
 */
export function useDocumentKeys(
  onKey: (event: KeyboardEvent) => void,
  { capture = false, active = true }: DocumentKeys = {},
): void {
  const live = useRef(onKey)
  live.current = onKey
  useLayoutEffect(() => {
    if (!active) return
    const hear = (event: KeyboardEvent): void => live.current(event)
    document.addEventListener('keydown', hear, { capture })
    return () => document.removeEventListener('keydown', hear, { capture })
  }, [capture, active])
}
