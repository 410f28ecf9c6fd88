import v8 from 'node:v8'

/**
 * Compiled modules are made faster function by function only where they have run for a while (about a tenth of a second). By itself that comes so soon
 * that a short piece of work waits for compiling that it never gains from: twice the time for a check of some seconds.
 */
v8.setFlagsFromString('--wasm-tiering-budget=20000000')
