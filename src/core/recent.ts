/** Remembers what was made last, up to a size, so that what is wanted again soon is not made again. */
export class Recent<Key, Value> {
  private readonly held = new Map<Key, { readonly value: Value; readonly size: number }>()
  private size = 0

  /** @param sizeMax All that is held together is no larger, but for a single one that is. @param sizeOf In the same unit, 0 and up. */
  constructor(
    private readonly sizeMax: number,
    private readonly sizeOf: (value: Value) => number,
  ) {}

  /** What is held for a key, else what `make` gives for it. */
  get(key: Key, make: () => Value): Value {
    const known = this.held.get(key)
    // What was asked for last goes last.
    this.held.delete(key)
    const one = known ?? this.added(make())
    this.held.set(key, one)
    for (const [oldest, { size }] of this.held) {
      if (this.size <= this.sizeMax || this.held.size === 1) break
      this.held.delete(oldest)
      this.size -= size
    }
    return one.value
  }

  private added(value: Value): { readonly value: Value; readonly size: number } {
    const size = this.sizeOf(value)
    this.size += size
    return { value, size }
  }
}
