import { type ChildProcess, spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { FIRST_ASKED } from '../../scripts/first-asked.mjs'
import type { LibraryId } from '../../src/contract/library-account'
import { givenLibraries } from '../../src/standins/secrets'

const READY_MS = 60_000

interface WaitedJob {
  readonly id: number
  readonly state: string
  readonly title: string
  readonly progressFraction: number
}

export interface ServerOptions {
  readonly root: string
  readonly dataDir: string
  readonly port: number
  readonly urls: Readonly<Record<LibraryId, string>>
}

/** The application in a process of its own. */
export class Server {
  private child: ChildProcess | null = null
  /** What it said on its error stream since it was started. */
  said = ''

  constructor(private readonly options: ServerOptions) {}

  get url(): string {
    return `http://127.0.0.1:${this.options.port}`
  }

  async start(): Promise<void> {
    const { root, dataDir, port, urls } = this.options
    const child = spawn(process.execPath, [path.join(root, 'scripts', 'app.mjs')], {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: {
        ...process.env,
        THUD_ROOT: root,
        THUD_DATA: dataDir,
        THUD_NODE_DIR: path.join(root, 'dist', 'node'),
        THUD_LIBRARIES: JSON.stringify(givenLibraries(urls)),
        HOST: '127.0.0.1',
        PORT: String(port),
        NODE_ENV: 'production',
      },
    })
    this.child = child
    this.said = ''
    child.stderr?.on('data', (chunk: Buffer) => {
      this.said = `${this.said}${chunk}`.slice(-20_000)
    })
    const endMs = performance.now() + READY_MS
    for (;;) {
      if (child.exitCode !== null) throw new Error(`it ended with ${child.exitCode}: ${this.said}`)
      const answer = await fetch(`${this.url}/api/health`).catch(() => null)
      if (answer?.ok) return
      if (answer && performance.now() > endMs) throw new Error(`not well: ${await answer.text()} ${this.said}`)
      if (performance.now() > endMs) throw new Error(`it does not start: ${this.said}`)
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
  }

  /** As the starter does before it says that it is ready. */
  async warmUp(): Promise<void> {
    for (const address of FIRST_ASKED) await this.ask('GET', address)
  }

  /** As a power cut does. */
  async kill(): Promise<void> {
    const { child } = this
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const ended = new Promise((resolve) => child.once('exit', resolve))
    child.kill('SIGKILL')
    await ended
  }

  /** Memory that it takes now, bytes; 0 where the system does not tell. */
  rssBytes(): number {
    return this.statusBytes('VmRSS')
  }

  /** Memory that it takes now without pages of files that are mapped, which the system takes back when it needs room, bytes. */
  ownBytes(): number {
    return this.statusBytes('RssAnon') + this.statusBytes('RssShmem')
  }

  private statusBytes(name: 'VmRSS' | 'RssAnon' | 'RssShmem'): number {
    try {
      const lines = fs.readFileSync(`/proc/${this.child?.pid}/status`, 'utf8').split('\n')
      const [, value = '0'] = lines.find((line) => line.startsWith(`${name}:`))?.split(/\s+/) ?? []
      return Number(value) * 1024
    } catch {
      return 0
    }
  }

  /** Whether it runs, and how it ended if not. */
  state(): string {
    const { exitCode, signalCode } = this.child ?? {}
    return exitCode == null && signalCode == null ? 'it runs' : `it ended with ${exitCode ?? signalCode}`
  }

  /** What was answered with “something went wrong inside”. */
  readonly wentWrong = new Set<string>()

  /** Why the last request that was not answered was not. */
  notAnswered = ''

  /** Requests that were answered with 507. */
  refusedForRoom = 0

  /** @returns null where it did not answer, as while it is killed. */
  async ask<T>(method: string, address: string, body?: unknown): Promise<{ status: number; value: T | null } | null> {
    try {
      const isBytes = body instanceof Uint8Array
      const answer = await fetch(`${this.url}${address}`, {
        method,
        headers: {
          Origin: this.url,
          ...(body === undefined ? {} : { 'Content-Type': isBytes ? 'application/octet-stream' : 'application/json' }),
        },
        ...(body === undefined ? {} : { body: isBytes ? Buffer.from(body) : JSON.stringify(body) }),
        signal: AbortSignal.timeout(60_000),
      })
      if (answer.status === 507) this.refusedForRoom++
      if (answer.status === 500) this.wentWrong.add(`${method} ${address.split('?')[0]}`)
      const text = await answer.text()
      return { status: answer.status, value: answer.ok ? (JSON.parse(text) as T) : null }
    } catch (error) {
      this.notAnswered = `${method} ${address}: ${error instanceof Error ? (error.cause ?? error) : error}`
      return null
    }
  }

  /** How many jobs are queued or run, as far as the list tells them. */
  async openJobs(): Promise<number> {
    const answer = await this.ask<{ jobs: WaitedJob[] }>('GET', '/api/jobs')
    return answer?.value?.jobs.filter(({ state }) => state === 'queued' || state === 'running').length ?? 0
  }

  /** Waits until nothing is queued or runs. @param maxMs So long nothing may go on. @returns What is still open then. */
  async settled(maxMs: number): Promise<string[]> {
    let endMs = performance.now() + maxMs
    let last = ''
    for (;;) {
      const answer = await this.ask<{ jobs: WaitedJob[] }>('GET', '/api/jobs')
      const open = answer?.value?.jobs.filter(({ state }) => state === 'queued' || state === 'running') ?? []
      if (answer && open.length === 0) return []
      // A long queue is not stuck while what runs goes on.
      const now = open
        .filter(({ state }) => state === 'running')
        .map(({ id, progressFraction }) => `${id}: ${progressFraction}`)
      if (answer && now.join() !== last) endMs = performance.now() + maxMs
      last = now.join()
      if (performance.now() > endMs)
        return answer ? open.map(({ title, state }) => `${title} (${state})`) : ['no answer']
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }
}
