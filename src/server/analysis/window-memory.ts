import { PATCH_COMPONENTS, patchCount, spectraLength, WINDOW_FRAMES, whitenedLength } from '../../core/hearing'
import type { SharedTrack, SharedWindow } from '../workers/tasks'
import type { GrowableBuffer } from '../workers/track-memory'

/** Shared memory for the windows of a stage, used again by the next one, and for the rest of the track: what is given up is freed late. */
export interface WindowMemory {
  readonly windows: Omit<SharedWindow, 'start' | 'frames'>[]
  readonly patches: SharedArrayBuffer[]
  /** What is left of the track without what was heard. */
  rest: SharedArrayBuffer | null
}

/** For what is left of a track. It is laid over the side, of which nothing is asked once all has been searched; a mono track has none. */
export function restMemory(memory: WindowMemory, { side, frames }: SharedTrack): SharedArrayBuffer {
  memory.rest ??= (side && grownTo(2 * frames, side as GrowableBuffer)) ?? new SharedArrayBuffer(2 * frames)
  return memory.rest
}

/** The memory with so many bytes at least, or null where it cannot grow so far. */
function grownTo(bytes: number, memory: GrowableBuffer): GrowableBuffer | null {
  if (memory.byteLength >= bytes) return memory
  if (!memory.growable || memory.maxByteLength < bytes) return null
  memory.grow(bytes)
  return memory
}

/** For the patches of the window at a place in its stage. */
export function patchMemory({ patches }: WindowMemory, at: number): SharedArrayBuffer {
  patches[at] ??= new SharedArrayBuffer(2 * PATCH_COMPONENTS * (patchCount({ start: 0, frames: WINDOW_FRAMES }) + 1))
  return patches[at]
}

/** For the spectra of the window at a place in its stage. */
export function memoryFor({ windows: memory }: WindowMemory, at: number): WindowMemory['windows'][number] {
  const bytes = 4 * spectraLength(WINDOW_FRAMES)
  memory[at] ??= {
    spectraRe: new SharedArrayBuffer(bytes),
    spectraIm: new SharedArrayBuffer(bytes),
    whitened: new SharedArrayBuffer(4 * whitenedLength(WINDOW_FRAMES)),
    whitenedHalf: new SharedArrayBuffer(2 * whitenedLength(WINDOW_FRAMES)),
  }
  return memory[at]
}
