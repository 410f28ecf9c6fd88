import { useLayoutEffect, useRef, useSyncExternalStore } from 'react'
import { type TimeView, wholeView } from './view'

/** The view of a map, outside of React: it moves with every frame, and few parts follow it. */
export class ViewStore {
  private view: TimeView
  private readonly listeners = new Set<() => void>()

  constructor(durationS: number) {
    this.view = wholeView(durationS)
  }

  readonly now = (): TimeView => this.view

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  set(view: TimeView): void {
    if (view.startS === this.view.startS && view.endS === this.view.endS) return
    this.view = view
    for (const listener of this.listeners) listener()
  }
}

/** Whether the whole track is in view. Renders anew only when that changes, not with every step of the wheel. */
export function useIsWhole(store: ViewStore, durationS: number): boolean {
  const isWhole = (): boolean => {
    const { startS, endS } = store.now()
    return endS - startS >= durationS - 1e-6
  }
  return useSyncExternalStore(store.subscribe, isWhole, isWhole)
}

interface Subscribable {
  subscribe(listener: () => void): () => void
}

/** Moves something without rendering it anew: before each painting of its part, and whenever one of two things changes. */
export function useMoved(move: () => void, follows: Subscribable, alsoFollows?: Subscribable): void {
  const live = useRef(move)
  live.current = move
  useLayoutEffect(() => live.current())
  useLayoutEffect(() => {
    const moveNow = (): void => live.current()
    const ends = [follows, ...(alsoFollows ? [alsoFollows] : [])].map((one) => one.subscribe(moveNow))
    return () => {
      for (const end of ends) end()
    }
  }, [follows, alsoFollows])
}
