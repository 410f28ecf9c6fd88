import v8 from 'node:v8'

/**
 * Compiled modules are made faster function by function only where they have run for a while: so much, in about the bytes that were run. By itself that comes so
 * soon that a short piece of work waits for compiling that it never gains from: twice the time for a check of some seconds.
 */
const BUDGET_BYTES = 20_000_000
/**
 * The voice model's runtime has functions so large that making them faster takes four seconds of a core. Measured: a minute of a track is heard for 1.5 s of
 * a core without it and for 5.4 s with it, twenty for 18 and 21 s.
 */
const LARGE_BUDGET_BYTES = 2_000_000_000

setBudget(BUDGET_BYTES)

/** Loads a module whose functions are large: they stay as they are compiled at first. What is loaded at the same time may be taken along. */
export async function withLargeFunctions<T>(load: () => Promise<T>): Promise<T> {
  setBudget(LARGE_BUDGET_BYTES)
  try {
    return await load()
  } finally {
    setBudget(BUDGET_BYTES)
  }
}

function setBudget(bytes: number): void {
  v8.setFlagsFromString(`--wasm-tiering-budget=${bytes}`)
}
