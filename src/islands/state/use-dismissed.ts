import { type RefObject, useEffect } from 'react'
import { useDocumentKeys } from './use-document-keys'

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
    document.addEventListener('pointerdown', onPointer)
    return () => document.removeEventListener('pointerdown', onPointer)
  }, [ref, open, onDismiss])
  useDocumentKeys(
    (event) => {
      if (event.key === 'Escape') onDismiss(true)
    },
    { active: open },
  )
}
