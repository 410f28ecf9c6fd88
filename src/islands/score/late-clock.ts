/** Quanta come in bunches, so that the two clocks are apart by as much now and then, s. */
const BUNCH_S = 0.04
/** Clocks of different crystals part slowly, s a second: that is no fault. */
const PARTS_BY = 0.0005

/**
 * Counts how often the audio came too late: what is not made in time is not heard, and the clock of the audio stands meanwhile while that on the wall goes
 * on.
 */
export class LateClock {
  count = 0
  /** The least that the clock on the wall was before that of the audio, s; null before the first look. */
  private least: number | null = null
  private lastWallS = 0

  /** @param wallS Clock on the wall, s. @param audioS Clock of the audio, s. */
  look(wallS: number, audioS: number): void {
    const apartS = wallS - audioS
    if (this.least === null) this.least = apartS
    else this.least = Math.min(apartS, this.least + Math.max(0, wallS - this.lastWallS) * PARTS_BY)
    this.lastWallS = wallS
    if (apartS <= this.least + BUNCH_S) return
    this.count++
    this.least = apartS
  }

  /** Begins anew, as after a pause: what was counted stays. */
  begin(): void {
    this.least = null
  }
}
