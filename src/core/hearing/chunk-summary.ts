import type { ChunkValues } from './kernel/block-kernel'

/** Summary of the correlation of one piece with a window, a value for each chunk of 32 ms; places are counted from its start. */
export type ChunkSummary = ChunkValues
