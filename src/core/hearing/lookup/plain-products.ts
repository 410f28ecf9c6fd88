import { type PatchProducts, TEMPLATES_AT_ONCE } from './patch-products'

/** The reference: plain loops. */
export class PlainProducts implements PatchProducts {
  readonly name = 'plain'
  private rows = new Int16Array(0)
  private size = 0

  loadPatches(rows: Int16Array, size: number): void {
    this.rows = rows.slice()
    this.size = size
  }

  multiply(templates: Int8Array): Int32Array {
    const { rows, size } = this
    const count = size === 0 ? 0 : rows.length / size
    const out = new Int32Array(TEMPLATES_AT_ONCE * count)
    for (let template = 0; template < TEMPLATES_AT_ONCE; template++) {
      for (let row = 0; row < count; row++) {
        let sum = 0
        for (let k = 0; k < size; k++)
          sum += (rows[row * size + k] as number) * (templates[template * size + k] as number)
        out[template * count + row] = sum
      }
    }
    return out
  }
}
