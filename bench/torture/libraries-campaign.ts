import path from 'node:path'
import type { Fault } from '../../src/standins/serve'
import { doSomething, nothingYet } from './activity'
import { broken } from './invariants'
import { serveLibraries } from './libraries'
import { Random } from './random'
import type { Campaign } from './run'
import { Server } from './server'

const FAULTS: readonly Fault[] = [
  'none',
  'none',
  'error',
  'garbage',
  'half-body',
  'busy',
  'html-titles',
  'slow',
  'huge',
  'redirect',
  'private-link',
  'climbing-names',
  'other-currency',
  'overcharges',
  'no-receipt',
  'broken-audio',
  'order-unanswered',
  'order-refused',
  'turning-names',
]
const SETTLE_MS = 180_000

/** Libraries that change their faults all the time, while sounds are synchronised, downloaded and bought. */
export const lyingLibraries: Campaign = async ({ root, dir, seed, minutes = 60, port, say }) => {
  const random = new Random(seed)
  const libraries = await serveLibraries(path.join(dir, 'libraries'), 12, seed)
  const dataDir = path.join(dir, 'data')
  const server = new Server({ root, dataDir, port, urls: libraries.urls })
  await server.start()
  const done = nothingYet()
  for (const id of Object.keys(libraries.urls)) await server.ask('POST', `/api/sources/${id}/sync`)
  await server.settled(SETTLE_MS)
  const endMs = performance.now() + minutes * 60_000
  let acts = 0
  let faults = 0
  let peakBytes = 0
  let lastSaidMs = performance.now()
  while (performance.now() < endMs) {
    const standin = random.pick(libraries.all)
    standin.control.fault = random.pick(FAULTS)
    standin.control.withdrawn = random.next() < 0.2 ? [random.pick(['t1', 'h2', 'p3', 's4'])] : []
    if (random.next() < 0.1) standin.control.edition++
    faults++
    await Promise.all(Array.from({ length: 3 }, () => doSomething(server, random, done)))
    acts += 3
    peakBytes = Math.max(peakBytes, server.rssBytes())
    if (performance.now() - lastSaidMs > 60_000) {
      lastSaidMs = performance.now()
      say(`${acts} acts, ${faults} changes of mood, ${Math.round((endMs - performance.now()) / 60_000)} min left`)
    }
  }
  for (const { control } of libraries.all) Object.assign(control, { fault: 'none', withdrawn: [] })
  const stuck = await server.settled(SETTLE_MS)
  await server.kill()
  const problems = [
    ...stuck.map((title) => `“${title}” does not end.`),
    ...(await broken(dataDir, done, { orderCount: libraries.shop.orderCount() })),
  ]
  await libraries.close()
  return {
    rows: [
      ['minutes', minutes],
      ['acts', acts],
      ['changes of mood', faults],
      ['orders that the shop took', libraries.shop.orderCount()],
      ['peak memory, MB', Math.round(peakBytes / 1e6)],
    ],
    problems,
  }
}
