// How fast a score is mixed into a file: ten minutes, twelve layers, sixty placements. Prints figures; it is no test.
import { randomUUID } from 'node:crypto'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { Readable } from 'node:stream'
import { writeWav } from '../../src/core/formats/wav'
import {
  type DuckRule,
  EMPTY_SCORE,
  inOrder,
  type Layer,
  NEW_DUCK,
  newLayer,
  newPlacement,
  type Placement,
  type Score,
} from '../../src/core/score'
import { nowIso } from '../../src/server/database/db'
import { openDatabase } from '../../src/server/database/open'
import { FileStore } from '../../src/server/files/store'
import { makeMixFiles } from '../../src/server/score/mix-files'
import { createPool } from '../../src/server/workers/pool'

const [root = '.'] = process.argv.slice(2)
const RATE_HZ = 48_000
const LENGTH_S = 600
const LAYERS = 12
const PLACEMENTS = 60
const SPEEDS = [0.7, 0.8, 0.9, 1.1, 1.25, 1.5]

function noise(lengthS: number, seed: number): Float32Array {
  let state = seed
  return Float32Array.from({ length: lengthS * RATE_HZ }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0
    return (0.2 * state) / 2 ** 31
  })
}

const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-bench-mix-'))
const db = await openDatabase(dir)
const store = new FileStore(dir)
const pool = createPool(path.join(root, 'dist', 'node'))
try {
  const shas = await Promise.all([20, 60, 3, 5].map((lengthS, at) => stored(lengthS, at + 1)))
  console.log(`${LENGTH_S / 60} min, ${LAYERS} layers, ${PLACEMENTS} placements, ${pool.maxThreads} threads`)
  await measure('other speeds as they are', scoreOf(shas, false))
  await measure('other speeds with their pitch kept', scoreOf(shas, true))
} finally {
  await pool.destroy()
  await db.destroy()
  fs.rmSync(dir, { recursive: true, force: true })
}

async function stored(lengthS: number, seed: number): Promise<string> {
  const channels = [noise(lengthS, seed), noise(lengthS, seed + 100)]
  const bytes = Buffer.from(writeWav({ sampleRateHz: RATE_HZ, channels }))
  return (await store.storeStream(Readable.from([bytes]), { maxBytes: 1e9 })).sha256
}

/** Eight beds of a minute, three of them with seams, three ducked layers, ten sounds behind walls, two in rooms, six at another speed. */
function scoreOf(shas: readonly string[], keepsPitch: boolean): Score {
  const duck: DuckRule = NEW_DUCK
  const layers: Layer[] = Array.from({ length: LAYERS }, (_, at) =>
    newLayer(`l${at}`, `Layer ${at + 1}`, 'effects', { duck: at < 3 ? duck : null }),
  )
  const placements = Array.from({ length: PLACEMENTS }, (_, at): Placement => {
    const isBed = at < 8
    const lengthS = isBed ? 60 : ([20, 60, 3, 5][at % 4 === 1 ? 0 : at % 4] as number)
    const sha256 = shas[isBed ? 1 : at % 4 === 1 ? 0 : at % 4] as string
    const startS = isBed ? at * 65 : (at * 37) % (LENGTH_S - 25)
    return newPlacement(
      `p${at}`,
      { layerId: `l${at % LAYERS}`, audio: { kind: 'copy', sha256, soundId: null }, startS, toS: lengthS },
      {
        gainDb: -12,
        assembly:
          at < 3
            ? [
                { fromS: 0, toS: 20, times: 1, seamS: 0 },
                { fromS: 5, toS: 20, times: 3, seamS: 0.25 },
              ]
            : null,
        treatments:
          at >= 10 && at < 20
            ? [{ kind: 'wall', amountFraction: 0.7 }]
            : at === 20 || at === 21
              ? [{ kind: 'large-room', amountFraction: 0.5 }]
              : [],
        rate: at >= 30 && at < 36 ? (SPEEDS[at - 30] as number) : 1,
        keepsPitch,
      },
    )
  })
  return { ...EMPTY_SCORE, layers, placements: inOrder(placements) }
}

async function measure(name: string, score: Score): Promise<void> {
  const startMs = performance.now()
  const { result, outputs } = await makeMixFiles(
    { db, store, pool },
    {
      videoId: 1,
      title: 'Bench',
      score,
      withStems: false,
      format: 'wav',
      withVideo: false,
      writtenAt: nowIso(),
      newPath: (ending) => path.join(dir, 'incoming', `${randomUUID()}.${ending}`),
      context: { signal: new AbortController().signal, report: () => {} },
    },
  )
  const tookS = (performance.now() - startMs) / 1000
  for (const file of fs.readdirSync(path.join(dir, 'incoming'))) fs.rmSync(path.join(dir, 'incoming', file))
  const times = (result.lengthS / tookS).toFixed(1)
  console.log(
    `${name.padEnd(38)} ${result.lengthS.toFixed(0)} s in ${tookS.toFixed(1)} s: ${times} times real time, ${outputs.length} file, at most ${Math.round(process.resourceUsage().maxRSS / 1024)} MB`,
  )
}
