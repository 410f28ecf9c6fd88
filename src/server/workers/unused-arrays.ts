import v8 from 'node:v8'
import vm from 'node:vm'

/** So much may lie about in a thread that nothing holds any more, bytes. */
const UNUSED_MAX = 16_000_000

v8.setFlagsFromString('--expose-gc')
const collectGarbage = vm.runInNewContext('gc') as () => void
/** What was still held when it was last looked after. */
let heldBytes = 0

/**
 * Gives arrays back that nothing holds any more. They lie outside of the heap, and are by themselves looked after only when each thread has some 64 MB of them.
 * To be called between tasks. Measured: some fifty times in a check of sixteen minutes of track, and 60 MB less.
 */
export function returnUnusedArrays(): void {
  const { arrayBuffers } = process.memoryUsage()
  heldBytes = Math.min(heldBytes, arrayBuffers)
  if (arrayBuffers < heldBytes + UNUSED_MAX) return
  collectGarbage()
  heldBytes = process.memoryUsage().arrayBuffers
}
