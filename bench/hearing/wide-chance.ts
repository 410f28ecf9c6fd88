import { Chance } from '../../demo/synthesis/toolkit'

/**
 * Chance for material of which thousands of sounds are made.
 *
 * The demo's goes round one circle of 2^32 numbers: of some hundred noises of half a million numbers each, two share a stretch, and are found as the
 * same recording, which there they are. This one has a state of 128 bits.
 *
 * Source: C. Doty-Humphrey, sfc32, PractRand 0.93.
 */
export class WideChance extends Chance {
  private a: number
  private b: number
  private c = 0
  private count = 1

  constructor(seed: number) {
    super(seed)
    this.a = seed | 0
    this.b = Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b)
    // What a seed begins with is alike for the next one; after twelve draws nothing is.
    for (let draw = 0; draw < 12; draw++) this.unit()
  }

  override unit(): number {
    const sum = (((this.a + this.b) | 0) + this.count) | 0
    this.count = (this.count + 1) | 0
    this.a = this.b ^ (this.b >>> 9)
    this.b = (this.c + (this.c << 3)) | 0
    this.c = (((this.c << 21) | (this.c >>> 11)) + sum) | 0
    return (sum >>> 0) / 4294967296
  }
}
