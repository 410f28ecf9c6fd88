import type { MouseEvent } from 'react'

/** Where the pointer is, px from the left edge of what it is over. */
export function pxIn(event: MouseEvent<Element>): number {
  return event.clientX - event.currentTarget.getBoundingClientRect().left
}
