/** A list of whole numbers below 2^32 that grows, without an object for each. */
export class GrowingUint32 {
  private values = new Uint32Array(1024)
  length = 0

  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Uint32Array(this.values.length * 2)
      larger.set(this.values)
      this.values = larger
    }
    this.values[this.length++] = value
  }

  /** A copy of just the length. */
  toArray(): Uint32Array {
    return this.values.slice(0, this.length)
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
