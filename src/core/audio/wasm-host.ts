/** The little of the WebAssembly interface that is used; the core knows no browser and no Node.js. */
export interface WasmHost {
  validate(bytes: Uint8Array): boolean
  Module: new (bytes: Uint8Array) => object
  Instance: new (module: object, imports: object) => { readonly exports: object }
  Memory: new (size: { initial: number }) => { readonly buffer: ArrayBuffer }
}

/** Pages in which WebAssembly memory is counted, bytes. */
export const WASM_PAGE_BYTES = 65536

/** WebAssembly where the program runs, if there is any. */
export function wasmHost(): WasmHost | undefined {
  return (globalThis as { WebAssembly?: WasmHost }).WebAssembly
}

const compiled = new WeakMap<WasmHost, Map<string, object | null>>()

/** A compiled kernel from its hexadecimal bytes, or null where it cannot run. Compiled once: instances are made of it again and again. */
export function wasmModule(host: WasmHost | undefined, hex: string): object | null {
  if (!host) return null
  const modules = compiled.get(host) ?? new Map<string, object | null>()
  compiled.set(host, modules)
  const known = modules.get(hex)
  if (known !== undefined) return known
  const bytes = Uint8Array.from(hex.match(/../g) ?? [], (pair) => Number.parseInt(pair, 16))
  const module = host.validate(bytes) ? compiledModule(host, bytes) : null
  modules.set(hex, module)
  return module
}

/** Null where it may not be compiled: a page can be forbidden to. */
function compiledModule(host: WasmHost, bytes: Uint8Array): object | null {
  try {
    return new host.Module(bytes)
  } catch {
    return null
  }
}

/** Arrays of equal power-of-two size would share the same lines of a cache. Measured: set apart by this, a transform takes half the time. */
const APART_BYTES = 1088

/** Places arrays in the memory of a kernel, one after another. */
export class WasmLayout {
  bytes = 0

  /** Reserves 32-bit values on a multiple of 16 bytes and returns where they start. */
  floats(count: number): number {
    const at = this.bytes
    this.bytes += Math.ceil((4 * count) / 16) * 16 + APART_BYTES
    return at
  }
}
