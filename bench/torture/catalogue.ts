import http from 'node:http'
import path from 'node:path'
import { licenceText } from '../../src/server/licences/licence-texts'
import { percentile } from './percentile'
import type { Campaign } from './run'
import { Server } from './server'

const PAGE_SOUNDS = 1000
const SLOW_MS = 200
/** So many of the slow requests are listed. */
const SLOW_SHOWN = 30
const ASKED_EVERY_MS = 50
const WORDS = ['hollow', 'door', 'gravel', 'bright', 'tick', 'rush', 'stone', 'lamp', 'wide', 'low', 'glass', 'drift']

/** A library of a million sounds is taken over while somebody searches: how long each answer takes. */
export const catalogue: Campaign = async ({ root, dir, count = 1_000_000, port, say }) => {
  const library = await serveEndless(count)
  const nowhere = 'http://127.0.0.1:9'
  const urls = { 'tin-barn': library.url, 'heron-slate': nowhere, 'pell-marrow': nowhere, skerryview: nowhere }
  const server = new Server({ root, dataDir: path.join(dir, 'data'), port, urls })
  await server.start()
  await server.warmUp()
  const times = new Map<string, number[]>()
  const slowest: { readonly name: string; readonly ms: number; readonly atS: number }[] = []
  const beganMs = performance.now()
  let isOver = false
  let peakBytes = 0
  let peakOwnBytes = 0
  const asking = (async () => {
    for (let at = 0; !isOver; at++) {
      const word = WORDS[at % WORDS.length] ?? ''
      const [name, address] = (
        [
          ['search', `/api/sounds?q=${word}`],
          ['state', '/api/state'],
          ['sources', '/api/sources'],
          ['desk', '/api/desk'],
        ] as const
      )[at % 4] as readonly [string, string]
      const startMs = performance.now()
      await server.ask('GET', address)
      const ms = performance.now() - startMs
      times.set(name, [...(times.get(name) ?? []), ms])
      if (ms > SLOW_MS) slowest.push({ name, ms, atS: (startMs - beganMs) / 1000 })
      peakBytes = Math.max(peakBytes, server.rssBytes())
      peakOwnBytes = Math.max(peakOwnBytes, server.ownBytes())
      await new Promise((resolve) => setTimeout(resolve, ASKED_EVERY_MS))
    }
  })()
  const startMs = performance.now()
  const started = await server.ask<{ jobId: number }>('POST', '/api/sources/tin-barn/sync')
  const tookS = await untilListening(server, say)
  // The search is made anew beside the one that answers.
  const found = await untilFound(server)
  isOver = true
  await asking
  await server.ask('DELETE', `/api/jobs/${started?.value?.jobId}`)
  await server.kill()
  library.close()
  const all = [...times.values()].flat()
  const slow = all.filter((ms) => ms > SLOW_MS)
  return {
    rows: [
      ['sounds', count],
      ['taken over, s', tookS],
      ['found by the search, s after the start', Math.round((found - startMs) / 1000)],
      ['requests beside it', all.length],
      ...[...times].map(([name, list]): [string, string] => [
        name,
        `p50 ${Math.round(percentile(list, 50))} · p99 ${Math.round(percentile(list, 99))} · max ${Math.round(Math.max(...list))} ms`,
      ]),
      [`over ${SLOW_MS} ms`, slow.length],
      ...slowest
        .slice(0, SLOW_SHOWN)
        .map(({ name, ms, atS }): [string, string] => [
          `${name}, ${Math.round(atS)} s after the start`,
          `${Math.round(ms)} ms`,
        ]),
      ['peak memory, MB', Math.round(peakBytes / 1e6)],
      ['without pages of the database that are mapped, MB', Math.round(peakOwnBytes / 1e6)],
      ...longTurns(server.said),
    ],
    problems: slow.length > 0 ? [`${slow.length} of ${all.length} requests took over ${SLOW_MS} ms.`] : [],
  }
}

function longTurns(said: string): [string, string][] {
  return said
    .split('\n')
    .filter((line) => /^One (turn|statement)/.test(line))
    .slice(-20)
    .map((line): [string, string] => ['', line])
}

/** @returns How long taking over took, s. */
async function untilListening(server: Server, say: (line: string) => void): Promise<number> {
  const startMs = performance.now()
  for (let last = ''; ; ) {
    const answer = await server.ask<{ jobs: { kind: string; state: string; message: string }[] }>('GET', '/api/jobs')
    const job = answer?.value?.jobs.find(({ kind }) => kind === 'mirror')
    if (job && (job.message.startsWith('Listening') || job.state !== 'running')) {
      say(job.message)
      return Math.round((performance.now() - startMs) / 1000)
    }
    if (job && job.message !== last && /0000 sounds/.test(job.message)) say(job.message)
    last = job?.message ?? ''
    await new Promise((resolve) => setTimeout(resolve, 500))
  }
}

async function untilFound(server: Server): Promise<number> {
  const endMs = performance.now() + 300_000
  for (;;) {
    const answer = await server.ask<{ total: number }>('GET', '/api/sounds?q=hollow')
    if ((answer?.value?.total ?? 0) > 0 || performance.now() > endMs) return performance.now()
    await new Promise((resolve) => setTimeout(resolve, 500))
  }
}

/** A library with as many sounds as are asked for, none of which can be heard. */
async function serveEndless(count: number): Promise<{ url: string; close(): void }> {
  const body = licenceText('CC0-1.0')
  const server = http.createServer((request, response) => {
    const url = new URL(request.url ?? '/', 'http://127.0.0.1')
    const json = (value: unknown, status = 200): void => {
      response.writeHead(status, { 'Content-Type': 'application/json' })
      response.end(JSON.stringify(value))
    }
    if (url.pathname === '/v2/sounds') {
      const offset = Number(url.searchParams.get('offset') ?? 0)
      const length = Math.max(0, Math.min(PAGE_SOUNDS, count - offset))
      json({ total: count, offset, results: Array.from({ length }, (_, index) => soundAt(offset + index)) })
    } else if (url.pathname.startsWith('/v2/licences/'))
      json({ spdx: 'CC0-1.0', title: 'Zero', url: 'https://licences.example/zero', body })
    else if (url.pathname === '/v2/changes') json({ revision: 1, removed: [] })
    else json({ message: 'not here' }, 404)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as { port: number }
  return { url: `http://127.0.0.1:${port}`, close: () => server.close() }
}

function soundAt(index: number): object {
  const word = (step: number): string => WORDS[Math.floor(index / step) % WORDS.length] ?? ''
  return {
    id: `s${index}`,
    name: `${word(1)} ${word(12)} ${word(144)} ${index}`,
    author: { handle: `maker ${index % 997}` },
    license: 'CC0-1.0',
    duration_sec: (index % 300) / 10,
    description: `${word(7)} and ${word(31)}`,
    tags: [word(3), word(5)],
    category: 'Effects',
    format: 'wav',
    permalink: null,
    fetched: index % 10_000,
  }
}
