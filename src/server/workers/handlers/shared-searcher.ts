import { bestKernel, Searcher } from '../../../core/hearing'

/** Made at the first task that needs it: its kernel owns large buffers. One a thread. */
let made: Searcher | null = null

/** The searcher of this thread. */
export function sharedSearcher(): Searcher {
  made ??= new Searcher()
  return made
}

/** The kernel of this thread's searcher where it has one already. */
export function sharedKernel(): ReturnType<typeof bestKernel> {
  return made?.correlator.kernel ?? bestKernel()
}
