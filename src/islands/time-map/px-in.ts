import type { PointerEvent } from 'react'

/** Where the pointer is, px from the left edge of what it is over. */
export function pxIn(event: PointerEvent<Element>): number {
  return event.clientX - event.currentTarget.getBoundingClientRect().left
}
