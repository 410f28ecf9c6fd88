/**
 * What was made of a mix before it is heard: the first moments of playing are the heaviest, since every sound is begun at once by code that has not run yet.
 */
export class MadeAhead {
  private at = 0

  /** @param fromFrame Of the mix, of the first sample. Both sides are equally long. */
  constructor(
    private readonly fromFrame: number,
    private readonly left: Float32Array,
    private readonly right: Float32Array,
  ) {}

  /** The frame of the mix that comes next. */
  get nextFrame(): number {
    return this.fromFrame + this.at
  }

  get endFrame(): number {
    return this.fromFrame + this.left.length
  }

  /** Goes on at another frame. @returns Whether that was made. */
  goTo(frame: number): boolean {
    const at = frame - this.fromFrame
    if (at < 0 || at >= this.left.length) return false
    this.at = at
    return true
  }

  /** Fills both sides with what comes next. @returns How many frames of them: fewer at the end. */
  take(left: Float32Array, right: Float32Array): number {
    const count = Math.min(left.length, this.left.length - this.at)
    left.set(this.left.subarray(this.at, this.at + count))
    right.set(this.right.subarray(this.at, this.at + count))
    this.at += count
    return count
  }
}
