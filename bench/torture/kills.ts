import fs from 'node:fs'
import path from 'node:path'
import { doSomething, nothingYet } from './activity'
import { broken } from './invariants'
import { serveLibraries } from './libraries'
import { Random } from './random'
import type { Campaign } from './run'
import { Server } from './server'

const SETTLE_MS = 120_000
/** The folder is examined after so many kills, and at the end. */
const EXAMINED_EVERY = 10

/** Kills the server in the middle of everything it does, and starts it again on the same data. */
export const kills: Campaign = async ({ root, dir, seed, count = 200, port, say }) => {
  const random = new Random(seed)
  const libraries = await serveLibraries(path.join(dir, 'libraries'), 8, seed)
  const dataDir = path.join(dir, 'data')
  const server = new Server({ root, dataDir, port, urls: libraries.urls })
  const done = nothingYet()
  const problems: string[] = []
  let acts = 0
  let slowestStartMs = 0
  let peakBytes = 0
  for (let kill = 1; kill <= count; kill++) {
    const startMs = performance.now()
    await server.start()
    slowestStartMs = Math.max(slowestStartMs, performance.now() - startMs)
    if (kill === 1) {
      for (const id of Object.keys(libraries.urls)) await server.ask('POST', `/api/sources/${id}/sync`)
      await server.settled(SETTLE_MS)
    }
    const untilMs = performance.now() + random.whole(200, 4000)
    const lanes = Array.from({ length: 3 }, async () => {
      while (performance.now() < untilMs) {
        await doSomething(server, random, done)
        acts++
      }
    })
    await Promise.race([Promise.all(lanes), new Promise((resolve) => setTimeout(resolve, untilMs - performance.now()))])
    peakBytes = Math.max(peakBytes, server.rssBytes())
    await server.kill()
    await Promise.all(lanes)
    if (kill % EXAMINED_EVERY !== 0 && kill !== count) continue
    await server.start()
    const stuck = await server.settled(SETTLE_MS)
    peakBytes = Math.max(peakBytes, server.rssBytes())
    await server.kill()
    for (const title of stuck) problems.push(`After kill ${kill}: “${title}” does not end.`)
    // Half files of the last kill go with the next start.
    fs.rmSync(path.join(dataDir, 'incoming'), { recursive: true, force: true })
    fs.mkdirSync(path.join(dataDir, 'incoming'))
    for (const sentence of await broken(dataDir, done, { orderCount: libraries.shop.orderCount() }))
      problems.push(`After kill ${kill}: ${sentence}`)
    say(`${kill} kills, ${acts} acts, ${problems.length} problems`)
  }
  await libraries.close()
  return {
    rows: [
      ['kills', count],
      ['acts begun', acts],
      [
        'acknowledged: evidence, files, videos, orders',
        `${done.evidence.size}, ${done.exports.size}, ${done.videos.size}, ${done.paid.count}`,
      ],
      ['orders that the shop took', libraries.shop.orderCount()],
      ['slowest start, ms', Math.round(slowestStartMs)],
      ['peak memory, MB', Math.round(peakBytes / 1e6)],
    ],
    problems,
  }
}
