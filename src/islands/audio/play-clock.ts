import { useSyncExternalStore } from 'react'

/** Where the sound that is heard stands. Apart from the rest of the player: it moves with every frame, and few parts show it. */
export class PlayClock {
  private timeS = 0
  private readonly listeners = new Set<() => void>()

  readonly now = (): number => this.timeS

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  set(timeS: number): void {
    if (timeS === this.timeS) return
    this.timeS = timeS
    for (const listener of this.listeners) listener()
  }
}

/** Follows a clock, s, in whole steps: what shows tenths is drawn again ten times a second and not with every frame. @param stepS Every change where it is left out. */
export function usePlayTime(clock: PlayClock, stepS?: number): number {
  const now = (): number => (stepS === undefined ? clock.now() : Math.round(clock.now() / stepS) * stepS)
  return useSyncExternalStore(clock.subscribe, now, NEVER_PLAYED)
}

const NEVER_PLAYED = (): number => 0
