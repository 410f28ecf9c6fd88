import v8 from 'node:v8'

/**
 * Compiled modules are made faster function by function only where they have run for a while: so much, in about the bytes that were run. By itself that comes so
 * soon that a short piece of work waits for compiling that it never gains from, above all of the voice model's runtime, whose functions are so large that it takes
 * four seconds of a core. Measured in seconds of a core at a tenth of it and at this: voices in a minute and a half of track 5.4 and 1.4, in 75 minutes 21 and 19; a check
 * of 44 s among 120 sounds 11.2 and 6.6. At ten times as much the last is no less, and long work never gets fast.
 */
v8.setFlagsFromString('--wasm-tiering-budget=200000000')
