import { setTimeout } from 'node:timers/promises'
import type { Fault } from '../../src/standins/serve'
import { doSomething } from './activity'
import { Random } from './random'
import type { Campaign } from './run'
import { Scene } from './scene'

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
/** While so many jobs wait, nothing more is asked for: else the queue grows all the time, and the end would never come. */
const MOST_OPEN_JOBS = 60
const LET_WORK_MS = 2_000

/** Libraries that change their faults all the time, while sounds are synchronised, downloaded and bought. */
export const lyingLibraries: Campaign = async (options) => {
  const { seed, minutes = 60, say } = options
  const random = new Random(seed)
  const scene = await Scene.open(options, 12)
  const { server, libraries, done } = scene
  await server.start()
  await scene.firstSync()
  const endMs = performance.now() + minutes * 60_000
  let acts = 0
  let faults = 0
  let lastSaidMs = performance.now()
  while (performance.now() < endMs) {
    if (faults % 20 === 19)
      while (performance.now() < endMs && (await server.openJobs()) > MOST_OPEN_JOBS) await setTimeout(LET_WORK_MS)
    const standin = random.pick(libraries.all)
    standin.control.fault = random.pick(FAULTS)
    standin.control.withdrawn = random.next() < 0.2 ? [random.pick(['t1', 'h2', 'p3', 's4'])] : []
    if (random.next() < 0.1) standin.control.edition++
    faults++
    await Promise.all(Array.from({ length: 3 }, () => doSomething(server, random, done)))
    acts += 3
    scene.notePeak()
    if (performance.now() - lastSaidMs > 60_000) {
      lastSaidMs = performance.now()
      say(`${acts} acts, ${faults} changes of mood, ${Math.round((endMs - performance.now()) / 60_000)} min left`)
    }
  }
  for (const { control } of libraries.all) Object.assign(control, { fault: 'none', withdrawn: [] })
  const stuck = await server.settled(SETTLE_MS)
  await server.kill()
  const problems = [...stuck.map((title) => `“${title}” does not end.`), ...(await scene.broken())]
  await scene.close()
  return {
    rows: [['minutes', minutes], ['acts', acts], ['changes of mood', faults], ...scene.rows()],
    problems,
  }
}
