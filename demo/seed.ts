import fs from 'node:fs'
import path from 'node:path'
import type { Readable } from 'node:stream'
import { fileURLToPath } from 'node:url'
import { isMainThread, Worker, workerData } from 'node:worker_threads'
import { type App, openApp, optionsFromEnvironment } from '../src/server/app'
import { takeInExport } from '../src/server/checks/start-check'
import { findSetting, setSetting } from '../src/server/settings'
import { createVideo } from '../src/server/videos/videos'
import { makeLibraries, makeOneLibrary } from './synthesis/make-library'
import { DEMO_VIDEOS } from './videos'

/** `seed.mjs library DIR` makes what the stand-ins serve; `seed.mjs demo FILES` fills an empty data folder by using the application. */
const [task, place = ''] = process.argv.slice(2)
if (!isMainThread) {
  const { dir, library } = workerData as { dir: string; library: 'tin-barn' | 'heron-slate' }
  await makeOneLibrary(dir, library)
} else if (task === 'library') {
  await makeLibraries(place, (library) => inThread({ dir: place, library }), console.log)
} else if (task === 'demo') {
  const app = await openApp(optionsFromEnvironment())
  try {
    await seedDemo(app, place)
  } finally {
    await app.close()
  }
}

function inThread(data: { dir: string; library: string }): Promise<void> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(fileURLToPath(import.meta.url), { workerData: data })
    worker.once('error', reject)
    worker.once('exit', (code) => (code === 0 ? resolve() : reject(new Error(`thread ended with ${code}`))))
  })
}

/** Mirrors the libraries, acquires what the channel has, makes its videos and checks them. Each step is done once. */
async function seedDemo(app: App, filesDir: string): Promise<void> {
  if (!(await findSetting(app.db, 'licensee')))
    await setSetting(app.db, 'licensee', 'Small Hours (two people, one hill)')
  console.log('Mirroring the two libraries and listening to their sounds …')
  for (const { id, name } of app.connectors) await app.jobs.enqueue('mirror', id, `Synchronising ${name}`)
  await settled(app)
  console.log('Acquiring the sounds that the channel already uses …')
  for (const title of new Set(DEMO_VIDEOS.flatMap(({ acquired }) => acquired))) {
    const sound = await app.db.selectFrom('sounds').select('id').where('title', '=', title).executeTakeFirstOrThrow()
    await app.jobs.enqueue('download', String(sound.id), `Downloading ${title}`)
  }
  await settled(app)
  console.log('Listening to the demo videos …')
  for (const demo of DEMO_VIDEOS) {
    const there = await app.db.selectFrom('videos').select('id').where('title', '=', demo.title).executeTakeFirst()
    if (there) continue
    const video = await createVideo(app, {
      title: demo.title,
      uses: {
        places: [...demo.places],
        earns: demo.earns,
        territory: 'worldwide',
        publishOn: inDays(9),
        videoLicence: null,
        platforms: [],
        audience: null,
      },
    })
    const file = path.join(filesDir, demo.file)
    await takeInExport(app, video.id, {
      name: demo.file,
      body: fs.createReadStream(file) satisfies Readable,
      sizeBytes: fs.statSync(file).size,
      signal: new AbortController().signal,
    })
    await settled(app)
  }
}

async function settled(app: App): Promise<void> {
  await app.jobs.idle()
  const failed = (await app.jobs.list(200)).find(({ state }) => state === 'failed')
  if (failed) throw new Error(`${failed.title}: ${failed.message}`)
}

function inDays(days: number): string {
  return new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10)
}
