import { type RefObject, useEffect } from 'react'

/** While a panel is open: calls when someone points outside of it, or presses Escape. @param onDismiss Told whether by key. */
export function useDismissed(
  ref: RefObject<HTMLElement | null>,
  open: boolean,
  onDismiss: (byKey: boolean) => void,
): void {
  useEffect(() => {
    if (!open) return
    const onPointer = (event: PointerEvent): void => {
      if (!ref.current?.contains(event.target as Node)) onDismiss(false)
    }
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') onDismiss(true)
    }
    document.addEventListener('pointerdown', onPointer)
    document.addEventListener('keydown', onKey)
    return () => {
      document.removeEventListener('pointerdown', onPointer)
      document.removeEventListener('keydown', onKey)
    }
  }, [ref, open, onDismiss])
}
