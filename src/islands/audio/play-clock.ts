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

const NEVER = (): (() => void) => () => {}
const NONE = (): null => null

/** Follows a clock, s. @param follows Whether at all; null where not. */
export function usePlayTime(clock: PlayClock, follows: boolean): number | null {
  return useSyncExternalStore(follows ? clock.subscribe : NEVER, follows ? clock.now : NONE, NONE)
}
