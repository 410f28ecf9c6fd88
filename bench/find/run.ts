import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { Chance } from '../../demo/synthesis/toolkit'
import { parsedVocabulary } from '../../src/core/finding'
import { demoFinder, JUDGED, ndcgAt10 } from '../../test/judged-queries'
import { makeCatalogue, ZipfWords } from './catalogue'
import { likenessRates } from './likeness'

// Measures as-you-type searches at the HTTP endpoint of the built application over catalogues of several sizes.

const PORT = 4871
/** Rows of the first answer, as the page asks for them. */
const LIMIT = 30
/** Queries whose times do not count. */
const WARM_UP = 40

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    sounds: { type: 'string', default: '50000,1000000' },
    queries: { type: 'string', default: '400' },
    alike: { type: 'boolean', default: false },
    scroll: { type: 'boolean', default: false },
  },
})

/** Folder of the project. */
const ROOT = positionals[0] ?? process.cwd()
const vocabulary = parsedVocabulary(fs.readFileSync(path.join(ROOT, 'vocabulary', 'sounds.txt'), 'utf8')).vocabulary
const words = new ZipfWords([...vocabulary.expressions].filter((one) => !one.includes(' ')))
console.log(`ranking: nDCG@10 of ${JUDGED.length} judged queries ${judgedGain().toFixed(3)}`)
// Making every sound of the demo twice takes five minutes.
if (values.alike) console.log(`sounds alike: ${likenessRates()}`)
for (const count of values.sounds.split(',').map(Number)) await measure(count, Number(values.queries))

async function measure(count: number, queryCount: number): Promise<void> {
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-bench-find-'))
  try {
    await makeCatalogue(dir, count, words)
    const server = await started(dir)
    try {
      const startMs = performance.now()
      await answer('q=')
      const builtMs = performance.now() - startMs
      const results: number[] = []
      const whole: number[] = []
      for (const [at, q] of queries(queryCount + WARM_UP).entries()) {
        const [resultsMs, wholeMs] = await asked(q)
        if (at < WARM_UP) continue
        results.push(resultsMs)
        whole.push(wholeMs)
      }
      const memoryMb = residentMb(server.pid as number)
      const size = (await (await fetch(`http://127.0.0.1:${PORT}/api/sounds/index-size`)).json()) as Record<
        string,
        number
      >
      console.log(`\n${count.toLocaleString('en')} sounds, ${size.words?.toLocaleString('en')} different words`)
      console.log(
        `  index     ${((size.bytes ?? 0) / 1e6).toFixed(0)} MB in typed arrays, made in ${(builtMs / 1000).toFixed(1)} s`,
      )
      console.log(`  process   ${memoryMb.toFixed(0)} MB resident`)
      console.log(`  results            ${distribution(results)}`)
      console.log(`  results and counts ${distribution(whole)}`)
      if (values.scroll) await scrolled()
    } finally {
      server.kill()
    }
  } finally {
    fs.rmSync(dir, { recursive: true, force: true })
  }
}

/** Scrolls through the list in a browser, and prints how long frames take. */
async function scrolled(): Promise<void> {
  const script = path.join(ROOT, 'bench', 'find', 'scroll.mjs')
  await once(fork(script, [`http://127.0.0.1:${PORT}`], { cwd: ROOT }), 'exit')
}

function judgedGain(): number {
  const finder = demoFinder(vocabulary)
  return JUDGED.reduce((sum, judged) => sum + ndcgAt10(finder, judged), 0) / JUDGED.length
}

/** Texts of one to three words of the catalogue as they grow in the line, letter by letter. */
function queries(count: number): string[] {
  const chance = new Chance(5)
  const typed: string[] = []
  while (typed.length < count) {
    const text = Array.from({ length: 1 + Math.floor(chance.between(0, 3)) }, () => words.draw(chance)).join(' ')
    for (let length = 1; length <= text.length; length++) typed.push(text.slice(0, length))
  }
  return typed.slice(0, count)
}

/** Asks for results and counts at once. @returns Milliseconds until the results came, and until both had come. */
async function asked(q: string): Promise<[number, number]> {
  const text = new URLSearchParams({ q })
  const startMs = performance.now()
  let resultsMs = 0
  await Promise.all([
    answer(`${text}&limit=${LIMIT}`).then(() => {
      resultsMs = performance.now() - startMs
    }),
    answer(`${text}&kinds=category,source`, 'sounds/counts'),
  ])
  return [resultsMs, performance.now() - startMs]
}

async function answer(query: string, what = 'sounds'): Promise<void> {
  const response = await fetch(`http://127.0.0.1:${PORT}/api/${what}?${query}`)
  if (!response.ok) throw new Error(`${response.status} ${await response.text()}`)
  await response.arrayBuffer()
}

async function started(dataDir: string): Promise<ChildProcess> {
  const server = fork(path.join(ROOT, 'scripts', 'app.mjs'), {
    env: {
      ...process.env,
      HOST: '127.0.0.1',
      PORT: String(PORT),
      THUD_ROOT: ROOT,
      THUD_DATA: dataDir,
      THUD_NODE_DIR: path.join(ROOT, 'dist', 'node'),
      NODE_ENV: 'production',
    },
  })
  for (let tries = 0; tries < 300; tries++) {
    if (
      await fetch(`http://127.0.0.1:${PORT}/api/health`).then(
        (one) => one.ok,
        () => false,
      )
    )
      return server
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error('the application did not start')
}

function residentMb(pid: number): number {
  const status = fs.readFileSync(`/proc/${pid}/status`, 'utf8')
  return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024
}

function distribution(times: readonly number[]): string {
  const sorted = [...times].sort((a, b) => a - b)
  const at = (share: number): string =>
    (sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] as number).toFixed(1).padStart(6)
  return `median ${at(0.5)}   p90 ${at(0.9)}   p95 ${at(0.95)}   p99 ${at(0.99)}   worst ${at(1)}  ms`
}
