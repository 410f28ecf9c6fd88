import { WASM_PAGE_BYTES, type WasmHost, wasmHost, wasmModule } from '../../audio/wasm-host'
import { type PatchProducts, TEMPLATES_AT_ONCE } from './patch-products'
import { PRODUCTS_HEX } from './products-bytes'

interface ProductsExports {
  products(...offsets: number[]): void
}

/** The products in SIMD WebAssembly, or null where that cannot run. */
export function wasmProducts(host: WasmHost | undefined = wasmHost()): PatchProducts | null {
  const module = wasmModule(host, PRODUCTS_HEX)
  return host && module ? new WasmProducts(host, module) : null
}

class WasmProducts implements PatchProducts {
  readonly name = 'wasm'
  private buffer: ArrayBuffer = new ArrayBuffer(0)
  private exports: ProductsExports | null = null
  private size = 0
  private count = 0
  /** Rows in memory: an even number, the last one may be empty. */
  private rowsHeld = 0

  constructor(
    private readonly host: WasmHost,
    private readonly module: object,
  ) {}

  loadPatches(rows: Int16Array, size: number): void {
    this.size = size
    this.count = size === 0 ? 0 : rows.length / size
    this.rowsHeld = 2 * Math.ceil(this.count / 2)
    const { bytes } = this.layout()
    if (bytes > this.buffer.byteLength) this.instantiate(bytes)
    const held = new Int16Array(this.buffer, 0, this.rowsHeld * size)
    held.fill(0, rows.length)
    held.set(rows)
  }

  multiply(templates: Int8Array): Int32Array {
    const { size, count, rowsHeld } = this
    const { templatesAt, outAt } = this.layout()
    new Int16Array(this.buffer, templatesAt, TEMPLATES_AT_ONCE * size).set(templates)
    this.exports?.products(0, rowsHeld, templatesAt, 2 * size, outAt)
    const out = new Int32Array(this.buffer, outAt, TEMPLATES_AT_ONCE * rowsHeld)
    if (rowsHeld === count) return out
    const exact = new Int32Array(TEMPLATES_AT_ONCE * count)
    for (let template = 0; template < TEMPLATES_AT_ONCE; template++)
      exact.set(out.subarray(template * rowsHeld, template * rowsHeld + count), template * count)
    return exact
  }

  private layout() {
    const templatesAt = 2 * this.rowsHeld * this.size
    const outAt = templatesAt + 2 * TEMPLATES_AT_ONCE * this.size
    return { templatesAt, outAt, bytes: outAt + 4 * TEMPLATES_AT_ONCE * this.rowsHeld }
  }

  private instantiate(bytes: number): void {
    const memory = new this.host.Memory({ initial: Math.ceil(bytes / WASM_PAGE_BYTES) })
    const instance = new this.host.Instance(this.module, { env: { memory } })
    this.exports = instance.exports as unknown as ProductsExports
    this.buffer = memory.buffer
  }
}
