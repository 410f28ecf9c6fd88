import type { TimeRange } from '../../core/time-range'
import { endedAt, startedAt } from '../audio/listening-options'
import type { CutPlayer } from './use-cut-player'
import type { KeyActions } from './use-step-keys'

/** Larger steps with Shift, frames. */
export const MANY_FRAMES = 10

/** What of a cut the keys for playing move. */
export interface PlayedCut {
  readonly player: CutPlayer
  readonly part: TimeRange | null
  readonly setPart: (part: TimeRange | null) => void
  readonly durationS: number
}

/** The keys by which a cut is played, the same in every step. */
export function transportKeys({ player, part, setPart, durationS }: PlayedCut): KeyActions {
  return {
    ' ': player.toggle,
    j: player.backwards,
    k: player.stop,
    l: player.forwards,
    arrowleft: () => player.step(-1),
    arrowright: () => player.step(1),
    'shift+arrowleft': () => player.step(-MANY_FRAMES),
    'shift+arrowright': () => player.step(MANY_FRAMES),
    i: () => setPart(startedAt(part, player.clock.now(), durationS)),
    o: () => setPart(endedAt(part, player.clock.now())),
    x: () => setPart(null),
    r: () => player.setLooping(!player.isLooping),
  }
}
