import { type ChildProcess, fork } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { openDatabase } from '../../src/server/database/open'
import { makeChannel } from './channel'

// Measures the states of many videos at the HTTP endpoints of the built application: the top bar, the Desk, the page of one video.

const PORT = 4872
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    videos: { type: 'string', default: '300' },
    heard: { type: 'string', default: '40' },
    papers: { type: 'string', default: '5000' },
    rounds: { type: 'string', default: '100' },
  },
})
/** Folder of the project. */
const ROOT = positionals[0] ?? process.cwd()
const size = { videos: Number(values.videos), heardPerVideo: Number(values.heard), papers: Number(values.papers) }
const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-bench-states-'))
try {
  await makeChannel(dir, size)
  const server = await started()
  try {
    console.log(`${size.videos} videos with ${size.heardPerVideo} heard sounds each, ${size.papers} papers`)
    console.log(`  first time, all decided   ${(await timed('videos')).toFixed(0)} ms`)
    for (const [name, address] of [
      ['top bar and list', () => 'videos'],
      ['Desk', () => 'desk'],
      ['page of one video', (round: number) => `checks/${1 + (round % size.videos)}`],
    ] as const)
      console.log(`  ${name.padEnd(25)} ${await distribution(address)}`)
    console.log(`  after papers changed      ${await afterChange()}`)
  } finally {
    server.kill()
  }
} finally {
  fs.rmSync(dir, { recursive: true, force: true })
}

/** One grant changes: only the videos in which its sound is heard are decided anew. */
async function afterChange(): Promise<string> {
  const db = await openDatabase(dir)
  const times: number[] = []
  for (let id = 1; id <= 30; id++) {
    await db
      .updateTable('grants')
      .set({ title: `changed ${id}` })
      .where('id', '=', id)
      .execute()
    times.push(await timed('videos'))
  }
  await db.destroy()
  return inWords(times)
}

async function timed(what: string): Promise<number> {
  const startMs = performance.now()
  const response = await fetch(`http://127.0.0.1:${PORT}/api/${what}`)
  if (!response.ok) throw new Error(`${response.status} ${await response.text()}`)
  await response.arrayBuffer()
  return performance.now() - startMs
}

async function distribution(address: (round: number) => string): Promise<string> {
  for (let round = 0; round < 10; round++) await timed(address(round))
  const times: number[] = []
  for (let round = 0; round < Number(values.rounds); round++) times.push(await timed(address(round)))
  return inWords(times)
}

function inWords(times: number[]): string {
  const sorted = [...times].sort((a, b) => a - b)
  const at = (fraction: number): string => (sorted[Math.floor(fraction * (sorted.length - 1))] ?? 0).toFixed(1)
  return `median ${at(0.5)}, p95 ${at(0.95)}, longest ${at(1)} ms`
}

async function started(): Promise<ChildProcess> {
  const server = fork(path.join(ROOT, 'scripts', 'app.mjs'), {
    cwd: ROOT,
    stdio: 'ignore',
    env: { ...process.env, HOST: '127.0.0.1', PORT: String(PORT), THUD_DATA: dir, THUD_ROOT: ROOT },
  })
  for (let tries = 0; tries < 300; tries++) {
    const there = await fetch(`http://127.0.0.1:${PORT}/api/health`).catch(() => null)
    if (there?.ok) return server
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  server.kill()
  throw new Error('The application did not start.')
}
