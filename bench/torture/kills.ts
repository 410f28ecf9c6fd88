import { doSomething } from './activity'
import { Random } from './random'
import type { Campaign } from './run'
import { Scene } from './scene'

const SETTLE_MS = 120_000
/** The folder is examined after so many kills, and at the end. */
const EXAMINED_EVERY = 10

/** Kills the server in the middle of everything it does, and starts it again on the same data. */
export const kills: Campaign = async (options) => {
  const { seed, count = 200, say } = options
  const random = new Random(seed)
  const scene = await Scene.open(options, 8)
  const { server, done } = scene
  const problems: string[] = []
  let acts = 0
  let slowestStartMs = 0
  for (let kill = 1; kill <= count; kill++) {
    const startMs = performance.now()
    await server.start()
    slowestStartMs = Math.max(slowestStartMs, performance.now() - startMs)
    if (kill === 1) await scene.firstSync()
    const untilMs = performance.now() + random.whole(200, 4000)
    const lanes = Array.from({ length: 3 }, async () => {
      while (performance.now() < untilMs) {
        await doSomething(server, random, done)
        acts++
      }
    })
    await Promise.race([Promise.all(lanes), new Promise((resolve) => setTimeout(resolve, untilMs - performance.now()))])
    scene.notePeak()
    await server.kill()
    await Promise.all(lanes)
    if (kill % EXAMINED_EVERY !== 0 && kill !== count) continue
    await server.start()
    const stuck = await server.settled(SETTLE_MS)
    scene.notePeak()
    await server.kill()
    const before = problems.length
    for (const title of stuck) problems.push(`After kill ${kill}: “${title}” does not end.`)
    for (const sentence of await scene.broken()) problems.push(`After kill ${kill}: ${sentence}`)
    for (const sentence of problems.slice(before)) say(sentence)
    say(`${kill} kills, ${acts} acts, ${problems.length} problems`)
  }
  await scene.close()
  return {
    rows: [['kills', count], ['acts begun', acts], ...scene.rows(), ['slowest start, ms', Math.round(slowestStartMs)]],
    problems,
  }
}
