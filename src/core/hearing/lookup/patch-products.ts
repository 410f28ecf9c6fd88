/** Templates that are multiplied at a time. */
export const TEMPLATES_AT_ONCE = 4

/**
 * The part of a lookup that takes the time: products of the patches of a track with templates, whole numbers throughout.
 *
 * There is a plain one, which is the reference, and one in SIMD WebAssembly; both give the same numbers.
 */
export interface PatchProducts {
  readonly name: 'plain' | 'wasm'
  /** Sets the patches: rows of `size` numbers, `size` a multiple of 8, one after another. They are copied. */
  loadPatches(rows: Int16Array, size: number): void
  /**
   * Multiplies all patches with some templates.
   *
   * @param templates `TEMPLATES_AT_ONCE` rows of `size` numbers of 8 bits.
   * @returns For each template after another the sums of all patches. Valid until the next call.
   * The sums must fit 32 bits: with patches up to ±8191 and a size up to 2048 they do.
   */
  multiply(templates: Int8Array): Int32Array
}
