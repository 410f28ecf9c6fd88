import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { SoundFinder } from './sound-finder'

/** Stands in for the thread that holds an index: each says its number, counted in a file, and what it was asked before. */
const THREAD = `
import fs from 'node:fs'
import path from 'node:path'
import { parentPort, workerData } from 'node:worker_threads'
const { dataDir } = workerData
const counted = path.join(dataDir, 'threads')
const thread = (fs.existsSync(counted) ? Number(fs.readFileSync(counted, 'utf8')) : 0) + 1
fs.writeFileSync(counted, String(thread))
const finds = []
const answer = async ({ number, name, task }) => {
  // The second makes its index until it is told that it may be ready.
  if (thread === 2 && name === 'size')
    while (!fs.existsSync(path.join(dataDir, 'ready'))) await new Promise((resolve) => setTimeout(resolve, 10))
  if (name === 'find') finds.push(task.text)
  if (task?.text === 'die') process.exit(1)
  if (task?.text === 'gone') return parentPort.postMessage({ number, ok: false, code: 'not-listened-to', message: 'gone' })
  parentPort.postMessage({ number, ok: true, value: { thread, finds: [...finds] }, isOutdated: thread === 1 })
}
let last = Promise.resolve()
parentPort.on('message', (call) => { last = last.then(() => answer(call)) })
`

let dir = ''
let finder: SoundFinder
beforeEach(() => {
  dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-finder-'))
  fs.writeFileSync(path.join(dir, 'finder.mjs'), THREAD)
  finder = new SoundFinder(dir, { dataDir: dir, vocabulary: '' })
})
afterEach(async () => {
  await finder.close()
  fs.rmSync(dir, { recursive: true, force: true })
})

const ask = (text: string) =>
  finder.ask('find', { text } as never) as unknown as Promise<{ thread: number; finds: string[] }>
const ready = () => fs.writeFileSync(path.join(dir, 'ready'), '')

async function untilThread(thread: number): Promise<string[]> {
  for (;;) {
    const answer = (await finder.ask('size', null)) as unknown as { thread: number; finds: string[] }
    if (answer.thread === thread) return answer.finds
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
}

describe('an index that is outdated', () => {
  it('answers until another is made that has been tried out with the last searches', async () => {
    for (const text of ['one', 'two', 'three', 'four', 'five', 'six', 'seven']) await ask(text)
    expect((await ask('eight')).thread).toBe(1)
    ready()
    expect(await untilThread(2)).toEqual(['three', 'four', 'five', 'six', 'seven', 'eight'])
  })

  it('does not hand on a search that had no answer', async () => {
    await ask('here')
    await expect(ask('gone')).rejects.toMatchObject({ code: 'not-listened-to' })
    ready()
    expect(await untilThread(2)).toEqual(['here'])
  })

  it('does not hand on a search that its thread died of: the next threads live', async () => {
    await ask('here')
    while (fs.readFileSync(path.join(dir, 'threads'), 'utf8') !== '2')
      await new Promise((resolve) => setTimeout(resolve, 10))
    await expect(ask('die')).rejects.toMatchObject({ code: 'search-stopped' })
    ready()
    expect((await ask('again')).thread).toBeGreaterThan(1)
    const tried = await untilThread(2)
    expect(tried).toContain('here')
    expect(tried).not.toContain('die')
  })
})
