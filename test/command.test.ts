// @module-tag long
import { type ChildProcess, spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { writeWav } from '../src/core/formats/wav'
import { finishedTrack, RATE_HZ, ROOT, soundSamples, temporaryDir } from './world'

const dir = temporaryDir('command')
const sounds = path.join(dir, 'sounds')
fs.mkdirSync(sounds)
fs.writeFileSync(path.join(sounds, 'ice.wav'), writeWav({ sampleRateHz: RATE_HZ, channels: [soundSamples('b1')] }))
const film = path.join(dir, 'film.wav')
fs.writeFileSync(film, finishedTrack(6, [['b1', 2, -8]]))
afterAll(() => fs.rmSync(dir, { recursive: true }))

const { THUD_READY: _ready, MALLOC_ARENA_MAX: _arenas, ...plain } = process.env
const children: ChildProcess[] = []
afterAll(() => {
  for (const child of children) child.kill('SIGKILL')
})

/** The command as a shell starts it. */
function thud(args: readonly string[], env: Record<string, string> = {}) {
  const child = spawn(process.execPath, [path.join(ROOT, 'bin', 'thud.mjs'), ...args], {
    cwd: dir,
    env: { ...plain, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  children.push(child)
  const said = { out: '', err: '' }
  child.stdout.on('data', (data) => {
    said.out += String(data)
  })
  child.stderr.on('data', (data) => {
    said.err += String(data)
  })
  const ended = new Promise<number | null>((resolve) => child.once('close', resolve))
  return { child, said, ended }
}

/**
 * The process to which the command handed over, and its environment, once it is itself: just begun, it still is its parent, or nothing yet, and its environment reads as the
 * parent's or as empty.
 */
async function handedOverBy({ pid }: ChildProcess): Promise<{ pid: number; environment: string[] }> {
  const children = () =>
    fs.readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').split(' ').filter(Boolean).map(Number)
  const environmentOf = (begun: number) => fs.readFileSync(`/proc/${begun}/environ`, 'utf8').split('\0')
  const itself = () => children().filter((begun) => environmentOf(begun).includes('THUD_READY=yes'))
  await expect.poll(() => itself().length, { timeout: 60_000, interval: 5 }).toBe(1)
  const [begun] = itself() as [number]
  return { pid: begun, environment: environmentOf(begun) }
}

function isAlive(pid: number): boolean {
  // What has ended and was not yet asked after is no more.
  return fs.existsSync(`/proc/${pid}`) && !/^State:\s+Z/m.test(fs.readFileSync(`/proc/${pid}/status`, 'utf8'))
}

const CHECK = ['check', film, '--sounds', sounds, '--stage', 'catalogue', '--workers', '1']

describe('the command', () => {
  it('checks a film, and hands on what it said and how it ended', async () => {
    const good = thud(CHECK)
    expect(await good.ended).toBe(0)
    expect(good.said.out).toContain('ice.wav')
    const none = thud(['check', path.join(dir, 'nothing.wav'), '--sounds', sounds])
    expect(await none.ended).toBe(1)
    expect(none.said.err).toContain('nothing.wav')
    expect(none.said.out).toBe('')
    expect(await thud(['check']).ended).toBe(2)
    expect(await thud(['no-such-command']).ended).toBe(2)
  })

  describe.runIf(process.platform === 'linux')('while it checks', () => {
    it('gives memory back that was freed, and ends when it is ended', async () => {
      const { child, ended } = thud(CHECK)
      const { pid, environment } = await handedOverBy(child)
      expect(environment).toContain('MALLOC_ARENA_MAX=2')
      expect(environment.filter((line) => /^MALLOC_(MMAP|TRIM)_THRESHOLD_=\d+$/.test(line))).toHaveLength(2)
      child.kill('SIGTERM')
      expect(await ended).not.toBe(0)
      await expect.poll(() => isAlive(pid), { timeout: 60_000 }).toBe(false)
    })

    it('keeps memory as somebody else has said', async () => {
      const { child, ended } = thud(CHECK, { MALLOC_ARENA_MAX: '7' })
      const { environment } = await handedOverBy(child)
      expect(environment).toContain('MALLOC_ARENA_MAX=7')
      expect(await ended).toBe(0)
    })
  })
})
