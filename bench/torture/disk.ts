import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { doSomething, nothingYet } from './activity'
import { broken } from './invariants'
import { serveLibraries } from './libraries'
import { Random } from './random'
import type { Campaign } from './run'
import { Server } from './server'

const DISK_MB = 420
const SETTLE_MS = 120_000

/** A disk of its own that is filled up and emptied again in the middle of everything. Needs the right to mount. */
export const disk: Campaign = async ({ root, dir, seed, count = 20, port, say }) => {
  const mount = path.join(dir, 'disk')
  fs.mkdirSync(mount)
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', mount]).status !== 0)
    return { rows: [['left out', 'a disk of its own cannot be mounted here']], problems: [] }
  const random = new Random(seed)
  const libraries = await serveLibraries(path.join(dir, 'libraries'), 8, seed)
  const dataDir = path.join(mount, 'data')
  const server = new Server({ root, dataDir, port, urls: libraries.urls })
  const done = nothingYet()
  const problems: string[] = []
  let refused = 0
  try {
    await server.start()
    for (const id of Object.keys(libraries.urls)) await server.ask('POST', `/api/sources/${id}/sync`)
    await server.settled(SETTLE_MS)
    for (let round = 1; round <= count; round++) {
      const ballast = path.join(mount, 'ballast')
      const working = Array.from({ length: 4 }, async () => {
        for (let act = 0; act < 6; act++) await doSomething(server, random, done)
      })
      await new Promise((resolve) => setTimeout(resolve, random.whole(50, 800)))
      fill(ballast, random.whole(0, 200_000))
      await Promise.all(working)
      const full = await server.ask('POST', '/api/videos', { title: 'x'.repeat(150), uses: {} })
      if (full?.status === 507) refused++
      fs.rmSync(ballast, { force: true })
      const stuck = await server.settled(SETTLE_MS)
      for (const title of stuck) problems.push(`Round ${round}: “${title}” does not end once there is room.`)
      if (round % 5 === 0) say(`${round} times full, ${problems.length} problems`)
    }
    const health = await server.ask('GET', '/api/health')
    if (health?.status !== 200) problems.push('The server is not well at the end.')
    await server.kill()
    fs.rmSync(path.join(dataDir, 'incoming'), { recursive: true, force: true })
    fs.mkdirSync(path.join(dataDir, 'incoming'))
    problems.push(...(await broken(dataDir, done, { orderCount: libraries.shop.orderCount() })))
  } finally {
    await server.kill()
    await libraries.close()
    spawnSync('umount', ['-l', mount])
  }
  return {
    rows: [
      ['times full', count],
      [
        'acknowledged: evidence, files, videos, orders',
        `${done.evidence.size}, ${done.exports.size}, ${done.videos.size}, ${done.paid.count}`,
      ],
      ['orders that the shop took', libraries.shop.orderCount()],
      ['answered with 507', refused],
    ],
    problems,
  }
}

/** Fills the disk up to its last bytes. @param leftBytes What stays free. */
function fill(file: string, leftBytes: number): void {
  const handle = fs.openSync(file, 'w')
  const block = Buffer.alloc(1024 * 1024)
  try {
    for (;;) fs.writeSync(handle, block)
  } catch {
    // It is full.
  } finally {
    fs.closeSync(handle)
  }
  fs.truncateSync(file, Math.max(0, fs.statSync(file).size - leftBytes))
}
