import type { App } from './context'
import { takeUpDueOrders } from './orders/orders'

/** How often it is looked what is due, ms. */
const LOOK_EVERY_MS = 30_000

/** Does what is due by itself: orders that were paid and are not here. @param nowMs ms since 1970. */
export async function runDue(app: App, nowMs: number): Promise<void> {
  await takeUpDueOrders(app, new Date(nowMs).toISOString())
}

/** Looks every half minute. @returns Ends it. */
export function startSchedule(app: App): () => void {
  const timer = setInterval(() => {
    // What fails here is due again the next time.
    runDue(app, Date.now()).catch((error: unknown) => {
      if (process.env.THUD_LOG !== 'quiet') console.error(error)
    })
  }, LOOK_EVERY_MS)
  timer.unref()
  return () => clearInterval(timer)
}
