import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { doSomething } from './activity'
import { Random } from './random'
import type { Campaign } from './run'
import { Scene } from './scene'

const DISK_MB = 420
const SETTLE_MS = 120_000

/** A disk of its own that is filled up and emptied again in the middle of everything. Needs the right to mount. */
export const disk: Campaign = async (options) => {
  const { dir, seed, count = 20, say } = options
  const mount = path.join(dir, 'disk')
  fs.mkdirSync(mount)
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', mount]).status !== 0)
    return { rows: [['left out', 'a disk of its own cannot be mounted here']], problems: [] }
  const random = new Random(seed)
  const scene = await Scene.open(options, 8, path.join(mount, 'data'))
  const { server, done } = scene
  const problems: string[] = []
  try {
    await server.start()
    await scene.firstSync()
    for (let round = 1; round <= count; round++) {
      const ballast = path.join(mount, 'ballast')
      const working = Array.from({ length: 4 }, async () => {
        for (let act = 0; act < 6; act++) await doSomething(server, random, done)
      })
      await new Promise((resolve) => setTimeout(resolve, random.whole(50, 800)))
      fill(ballast, random.whole(0, 200_000))
      await Promise.all(working)
      // Something that has to be stored, while there is no room at all.
      await server.ask('PUT', `/api/elsewhere?name=late-${round}.wav`, new Uint8Array(2_000_000))
      fs.rmSync(ballast, { force: true })
      const stuck = await server.settled(SETTLE_MS)
      scene.notePeak()
      for (const title of stuck) problems.push(`Round ${round}: “${title}” does not end once there is room.`)
      if (round % 5 === 0) say(`${round} times full, ${problems.length} problems`)
    }
    const health = await server.ask('GET', '/api/health')
    if (health?.status !== 200)
      problems.push(
        `The server is not well at the end: ${health?.status ?? server.notAnswered}, ${server.state()}. It said: ${server.said.slice(-5000)}`,
      )
    for (const request of server.wentWrong)
      problems.push(`${request} was answered without saying that the disk is full.`)
    await server.kill()
    problems.push(...(await scene.broken()))
  } finally {
    await scene.close()
    spawnSync('umount', ['-l', mount])
  }
  return { rows: [['times full', count], ...scene.rows(), ['answered with 507', server.refusedForRoom]], problems }
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
