type Numbers = Uint8Array | Uint16Array | Uint32Array | Float32Array | Float64Array

/** A list of numbers of one kind that grows, without an object for each. */
export class Growing<T extends Numbers> {
  private values: T
  length = 0

  constructor(private readonly Kind: new (length: number) => T) {
    this.values = new Kind(1024)
  }

  push(value: number): void {
    this.reserve(1)
    this.values[this.length++] = value
  }

  pushAll(values: ArrayLike<number>): void {
    this.reserve(values.length)
    this.values.set(values, this.length)
    this.length += values.length
  }

  /** Puts one value in many times. */
  pushSame(value: number, count: number): void {
    this.reserve(count)
    this.values.fill(value, this.length, this.length + count)
    this.length += count
  }

  /** A copy of just the length. */
  toArray(): T {
    return this.values.slice(0, this.length) as T
  }

  private reserve(count: number): void {
    const needed = this.length + count
    if (needed <= this.values.length) return
    const larger = new this.Kind(Math.max(needed, Math.ceil(this.values.length * 1.5)))
    larger.set(this.values.subarray(0, this.length))
    this.values = larger
  }
}

/** Gives every different text a number, counting from 0. */
export class Interner {
  readonly texts: string[] = []
  private readonly indexOf = new Map<string, number>()

  index(text: string): number {
    const known = this.indexOf.get(text)
    if (known !== undefined) return known
    this.indexOf.set(text, this.texts.length)
    this.texts.push(text)
    return this.texts.length - 1
  }
}
