import path from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { setFlagsFromString } from 'node:v8'
import { z } from 'zod'
import type { Job } from '../contract'
import { LibrarySecrets } from '../contract/library-account'
import { application as messages } from '../messages/server/application'
import { describeSounds, enqueueDescribing } from './analysis/describe-sounds'
import { groupRecordings } from './analysis/listen-to-sounds'
import { backUpByPlan } from './backup/backup-job'
import { catchUp, catchUpMark, enqueueCatchUps } from './checks/catch-up'
import { runCheck } from './checks/run-check'
import { enqueueOpenChecks } from './checks/start-check'
import type { App, ServiceOptions, Services } from './context'
import { acquireSound } from './copies/acquire'
import { enqueueOpenCuts } from './cuts/bring-cut'
import { readCut } from './cuts/read-cut'
import { DataFolderError } from './database/data-folder-error'
import { examineAndClear, remakeFeatures } from './doctor/doctor-job'
import { requireRoom } from './files/disk-full'
import { readProposalsAgain } from './folders/folders'
import { scanFolder } from './folders/scan'
import { type JobHandler, Jobs } from './jobs/jobs'
import { verifyAndKeep } from './ledger/verify'
import { LiveListener } from './live/live-listener'
import { isSearched, LiveSearch } from './live/live-search'
import { refreshLive } from './live/refresh-live'
import { acquireBatch } from './orders/batches'
import { carryOutOrder } from './orders/carry-out'
import { enqueuePreparing, prepare } from './preparing'
import { countUnreadAgain } from './removal/remove-source'
import { sweep } from './removal/room'
import { ensureElsewhere } from './rows/elsewhere-source'
import { startSchedule } from './schedule'
import { enqueueOpenMixes } from './score/start-mix'
import { writeMix } from './score/write-mix'
import { openServices } from './services'
import { mirrorSource } from './sources/mirror'
import { readTermsAgain } from './terms/read-again'

/** Opens a data folder and starts its queue: what an earlier process left unfinished goes on. */
export async function openApp(options: ServiceOptions): Promise<App> {
  const services = await openServices(options)
  services.store.clearIncoming()
  await ensureElsewhere(services.db)
  // Before anything is decided by them.
  await readTermsAgain({ ...services, connectors: services.accounts.all })
  await readProposalsAgain(services)
  /** Work that writes a lot is begun only where there is room for it: nothing is paid for that could not be stored. */
  const withRoom =
    (work: JobHandler): JobHandler =>
    async (context) => {
      await requireRoom(services.store.dataDir)
      return work(context)
    }
  /** What there was when a video began to be looked through for new sounds. */
  const begunAt = new Map<string, string>()
  let setOpened: (app: App) => void = () => {}
  const opened = new Promise<App>((resolve) => {
    setOpened = resolve
  })
  const jobs: Jobs = new Jobs(
    services.db,
    {
      mirror: withRoom(async (context) => {
        await countUnreadAgain(services.db, context.job.subject)
        const connector = services.connector(context.job.subject)
        return isSearched(connector)
          ? refreshLive(services, connector, context)
          : mirrorSource(services, connector.id, context)
      }),
      download: withRoom((context) => acquireSound(services, Number(context.job.subject), context)),
      purchase: withRoom((context) => carryOutOrder(services, Number(context.job.subject), context)),
      scan: withRoom((context) => scanFolder(services, context.job.subject, context)),
      batch: withRoom((context) => acquireBatch(services, Number(context.job.subject), context)),
      describe: withRoom((context) => describeSounds(services, context)),
      check: withRoom((context) => runCheck(services, Number(context.job.subject), context)),
      group: async ({ signal }) => {
        await groupRecordings(services, signal)
        return messages.recordingsCompared
      },
      sweep: async ({ signal }) => {
        const { files, bytes } = await sweep(services, { nowMs: Date.now(), signal })
        return files === 0 ? messages.thereWasNothingToClear : messages.clearedFilesMb(files, Math.ceil(bytes / 1e6))
      },
      verify: ({ signal, report }) =>
        verifyAndKeep({ ...services, signal, report: (fraction) => report(fraction, messages.goingThroughTheFiles) }),
      doctor: (context) => examineAndClear(services, context),
      remake: ({ job, signal }) => remakeFeatures(services, job.subject, signal),
      backup: (context) => backUpByPlan(services, context),
      cut: withRoom((context) => readCut(services, Number(context.job.subject), context)),
      mix: withRoom((context) => writeMix(services, Number(context.job.subject), context)),
      'catch-up': async (context) => {
        begunAt.set(context.job.subject, await catchUpMark(services.db))
        return catchUp(services, Number(context.job.subject), context)
      },
      prepare: withRoom(async (context) => prepare(await opened, options.preparedBy, context)),
    },
    (error) => {
      sayUnlessQuiet(error)
      return services.explain(error)
    },
    async (job) => {
      await endSubject(services, job)
      // What came while a video was looked through was not queued: there was a job for it.
      const isOutrun = job.kind === 'catch-up' && begunAt.get(job.subject) !== (await catchUpMark(services.db))
      if (job.state === 'done' && (BRINGS_AUDIO.includes(job.kind) || isOutrun)) await catchUpAfter(services, jobs)
    },
  )
  await jobs.start()
  // A process that died between writing down a check and queueing it left one without a job.
  await enqueueOpenChecks({ db: services.db, jobs })
  await enqueueOpenCuts({ db: services.db, jobs })
  await enqueueOpenMixes({ db: services.db, jobs })
  await enqueueDescribing({ db: services.db, jobs })
  await enqueueCatchUps({ ...services, jobs })
  await enqueuePreparing({ db: services.db, jobs }, options.preparedBy)
  // What is heard now may be another offer of a recording that is there, and may be in a finished video.
  const onHeard = (): void => {
    jobs.enqueue('group', 'all', messages.comparingRecordings).catch(sayUnlessQuiet)
  }
  const liveListener = new LiveListener(services, onHeard)
  const app: App = {
    ...services,
    jobs,
    live: new LiveSearch(services),
    liveListener,
    close: async () => {
      await liveListener.close()
      await jobs.stop()
      await services.close()
    },
  }
  setOpened(app)
  return app
}

/** Kinds of jobs after which sounds may be there that no check has listened for. */
const BRINGS_AUDIO: readonly Job['kind'][] = ['mirror', 'scan', 'download', 'purchase', 'batch', 'group', 'check']

/** What fails here is tried again after the next job; until then the videos concerned say that their list has grown. */
async function catchUpAfter(services: Services, jobs: Jobs): Promise<void> {
  try {
    await enqueueCatchUps({ ...services, jobs })
  } catch (error) {
    sayUnlessQuiet(error)
  }
}

function sayUnlessQuiet(error: unknown): void {
  if (process.env.THUD_LOG !== 'quiet') console.error(error)
}

/** Rows that a job works on, by its kind: they have the state of the job. */
const WORKED_ON: Partial<Record<Job['kind'], 'checks' | 'cuts' | 'mixes'>> = {
  check: 'checks',
  cut: 'cuts',
  mix: 'mixes',
}

/** A check or a cut whose job was stopped while it waited, or was given up, is not left as waiting. */
async function endSubject({ db }: Services, { kind, subject, state, message }: Job): Promise<void> {
  const table = WORKED_ON[kind]
  if (!table || state === 'done') return
  await db
    .updateTable(table)
    .set({ state, message: state === 'failed' ? message : '' })
    .where('id', '=', Number(subject))
    .where('state', 'in', ['waiting', 'running'])
    .execute()
}

/** Libraries that are there from the start. */
const Given = z.record(
  z.string().regex(/^[a-z][a-z0-9-]{1,39}$/),
  z.object({ address: z.url(), secrets: LibrarySecrets, description: z.string().optional() }),
)

/** Options from the environment that the starter sets. */
export function optionsFromEnvironment(env: NodeJS.ProcessEnv = process.env): ServiceOptions {
  const root = env.THUD_ROOT ?? process.cwd()
  return {
    dataDir: env.THUD_DATA ?? path.join(root, 'data', 'own'),
    nodeDir: env.THUD_NODE_DIR ?? path.join(root, 'dist', 'node'),
    libraries: Given.parse(JSON.parse(env.THUD_LIBRARIES ?? '{}')),
    ...(env.THUD_PREPARED_BY ? { preparedBy: env.THUD_PREPARED_BY } : {}),
  }
}

/** So long a start waits for the search; a very large catalogue takes longer, and its first search waits for the rest. */
const SEARCH_READY_MAX_MS = 3_000

/** Has the index made before anyone searches; if that fails, the first search says so. */
async function withSearchReady(app: App): Promise<App> {
  startSchedule(app)
  const isMade = app.finder.ask('size', null).catch(() => undefined)
  await Promise.race([isMade, setTimeout(SEARCH_READY_MAX_MS, undefined, { ref: false })])
  return app
}

const KEY = Symbol.for('good-thud.app')

/** The one application of this process; held on the global object, since development reloads modules. */
export function sharedApp(): Promise<App> {
  const holder = globalThis as { [KEY]?: Promise<App> }
  if (!holder[KEY]) {
    // The engine would let garbage grow to several times what is in use before it looks: on a machine that somebody works at that is not its to take.
    setFlagsFromString('--heap-growing-percent=40')
    const opened = openApp(optionsFromEnvironment())
    holder[KEY] = opened.then(withSearchReady)
    holder[KEY].catch((error: unknown) => {
      if (error instanceof DataFolderError) console.error(error.message)
    })
    // When the starter is gone, nobody could end this process any more.
    process.once('disconnect', () => process.exit(0))
  }
  return holder[KEY]
}
