/** A source of chance that a seed repeats. Source: mulberry32, T. Ettinger, public domain. */
export class Random {
  private state: number

  constructor(readonly seed: number) {
    this.state = seed >>> 0
  }

  /** 0 to 1, 1 left out. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0
    let mixed = this.state
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296
  }

  /** A whole number from `from` up to, and without, `to`. */
  whole(from: number, to: number): number {
    return from + Math.floor(this.next() * (to - from))
  }

  pick<T>(items: readonly T[]): T {
    return items[this.whole(0, items.length)] as T
  }
}
