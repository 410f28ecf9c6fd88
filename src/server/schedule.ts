import { application as messages } from '../messages/server/application'
import { loadBackups } from './backup/plan'
import type { App } from './context'
import { findDoctorReport } from './doctor/doctor-job'
import { takeUpDueOrders } from './orders/orders'

/** How often it is looked what is due, ms. */
const LOOK_EVERY_MS = 30_000
const DAY_MS = 24 * 3600 * 1000
const EXAMINE_EVERY_MS = 7 * DAY_MS

/** Does what is due by itself: what was paid and is not here, the examination of each week, backups. @param nowMs ms since 1970. */
export async function runDue(app: App, nowMs: number): Promise<void> {
  const { db, jobs } = app
  await takeUpDueOrders(app, new Date(nowMs).toISOString())
  const examined = Date.parse((await findDoctorReport(db))?.at ?? '')
  // A folder that is new is not examined on its first day.
  const since = Number.isNaN(examined) ? await begunMs(app, nowMs) : examined
  if (nowMs - since > EXAMINE_EVERY_MS) await jobs.enqueue('doctor', 'all', messages.examiningTheFiles)
  const { plan, last } = await loadBackups(db)
  if (plan?.everyDays && nowMs - Date.parse(last?.at ?? '1970-01-01T00:00:00Z') > plan.everyDays * DAY_MS)
    await enqueueOnceADay(app, nowMs)
}

/** A backup that failed is not tried again on the same day. */
async function enqueueOnceADay({ db, jobs }: App, nowMs: number): Promise<void> {
  const since = new Date(nowMs - DAY_MS).toISOString()
  const tried = await db
    .selectFrom('jobs')
    .select('id')
    .where('kind', '=', 'backup')
    .where('created_at', '>', since)
    .executeTakeFirst()
  if (!tried) await jobs.enqueue('backup', 'all', messages.makingABackup)
}

/** When the oldest entry of the ledger was written. */
async function begunMs({ db }: App, nowMs: number): Promise<number> {
  const first = await db.selectFrom('ledger').select('at').orderBy('number').limit(1).executeTakeFirst()
  return first ? Date.parse(first.at) : nowMs
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
