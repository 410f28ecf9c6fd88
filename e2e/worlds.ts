import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { test } from '@playwright/test'
import { DEMO_DATA } from '../scripts/demo-data.mjs'
import { type Launched, launch } from './launch'

const FIRST_PORT = 4890
const PORTS_PER_PROCESS = 40
/** Files in these folders are named by their content and are never written again: a world may share them. */
const SHARED_DIRS = ['blobs', 'features']

/** A Good Thud that runs for some tests alone. */
export interface World {
  /** The server that runs now. */
  readonly running: Launched
  /** Ends every process at once, as a power cut does, and starts again on the same data. */
  cutPower(): Promise<void>
}

/** Ports that are given out by one test process. */
const ports = ((first) => {
  let next = first
  return () => next++
})(FIRST_PORT + PORTS_PER_PROCESS * Number(process.env.TEST_PARALLEL_INDEX ?? 0))

/**
 * A server for the tests of the file or group that calls this, on data of their own: a copy of the demo's, or none. What other files do is not seen
 * here. `each` starts a new one for every test. `without` names libraries of the demo that are disconnected: among fewer sounds a check is done sooner.
 */
export function openWorld(
  from: 'demo' | 'empty',
  {
    each = false,
    env = {},
    without = [],
  }: { each?: boolean; env?: Readonly<Record<string, string>>; without?: readonly string[] } = {},
): World {
  const port = ports()
  let running: Launched | null = null
  test.use({ baseURL: `http://localhost:${port}` })
  const start = async (): Promise<void> => {
    running = await launch({ port, data: from === 'demo' ? copyOfDemo() : emptyData(), env })
    for (const id of without) await disconnect(running, id)
  }
  const stop = async (): Promise<void> => {
    if (!running) return
    await running.interrupt()
    fs.rmSync(running.data, { recursive: true, force: true })
    running = null
  }
  if (each) {
    test.beforeEach(start)
    test.afterEach(stop)
  } else {
    test.beforeAll(start)
    test.afterAll(stop)
  }
  const current = (): Launched => {
    if (!running) throw new Error('the world is not open')
    return running
  }
  return {
    get running() {
      return current()
    },
    cutPower: async () => {
      const { data, kill } = current()
      await kill()
      running = await launch({ port, data, env })
    },
  }
}

async function disconnect({ url }: Launched, id: string): Promise<void> {
  const answer = await fetch(`${url}/api/sources/${id}/removal`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ removed: true }),
  })
  if (!answer.ok) throw new Error(`${id} could not be disconnected: ${await answer.text()}`)
}

function copyOfDemo(): string {
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-e2e-'))
  for (const name of fs.readdirSync(DEMO_DATA)) {
    const [from, to] = [path.join(DEMO_DATA, name), path.join(dir, name)]
    if (SHARED_DIRS.includes(name)) linkAll(from, to)
    else fs.cpSync(from, to, { recursive: true })
  }
  return dir
}

function emptyData(): string {
  return fs.mkdtempSync(path.join(os.tmpdir(), 'thud-e2e-'))
}

/** The same files under a second name; copies where the other folder lies on another disk. */
function linkAll(from: string, to: string): void {
  fs.mkdirSync(to, { recursive: true })
  for (const entry of fs.readdirSync(from, { withFileTypes: true })) {
    const [source, target] = [path.join(from, entry.name), path.join(to, entry.name)]
    if (entry.isDirectory()) linkAll(source, target)
    else
      try {
        fs.linkSync(source, target)
      } catch {
        fs.copyFileSync(source, target)
      }
  }
}
