import v8 from 'node:v8'

/**
 * Compiled modules are made faster function by function only where they have run for a while: so much, in about the bytes that were run. By itself that comes so
 * soon that a short piece of work waits for compiling that it never gains from. Measured in seconds of a core, as it is by itself and with this: a check of 44 s
 * among 120 sounds 11.2 and 6.6. With ten times as much the last is no less, and long work never gets fast.
 */
const BUDGET = 200_000_000
/** The most that can be said. */
const NEVER = 2 ** 31 - 1

setBudget(BUDGET)

/**
 * Loads a module of which no function is ever made faster: its functions are so large that to do so takes seconds of a core, and 100 to 160 MB that are kept, and gains nothing.
 *
 * @param load Compiles the module. How far its functions are from being made faster is set when it is compiled; what another thread compiles meanwhile is never made
 *   faster either, which costs the kernel of the search 3 %.
 */
export async function loadedWithoutTiering<T>(load: () => Promise<T>): Promise<T> {
  setBudget(NEVER)
  try {
    return await load()
  } finally {
    setBudget(BUDGET)
  }
}

function setBudget(bytes: number): void {
  v8.setFlagsFromString(`--wasm-tiering-budget=${bytes}`)
}
