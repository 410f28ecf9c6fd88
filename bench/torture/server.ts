import { type ChildProcess, spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'

const READY_MS = 60_000

export interface ServerOptions {
  readonly root: string
  readonly dataDir: string
  readonly port: number
  readonly urls: Readonly<Record<string, string>>
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
    const child = spawn(process.execPath, [path.join(root, 'dist', 'server', 'entry.mjs')], {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: {
        ...process.env,
        THUD_ROOT: root,
        THUD_DATA: dataDir,
        THUD_NODE_DIR: path.join(root, 'dist', 'node'),
        THUD_LIBRARIES: JSON.stringify(urls),
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
    try {
      const status = fs.readFileSync(`/proc/${this.child?.pid}/status`, 'utf8')
      return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) * 1024
    } catch {
      return 0
    }
  }

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
      const text = await answer.text()
      return { status: answer.status, value: answer.ok ? (JSON.parse(text) as T) : null }
    } catch {
      return null
    }
  }

  /** Waits until nothing is queued or runs. @returns What is still open when the time is up. */
  async settled(maxMs: number): Promise<string[]> {
    const endMs = performance.now() + maxMs
    for (;;) {
      const answer = await this.ask<{ jobs: { state: string; title: string }[] }>('GET', '/api/jobs')
      const open = answer?.value?.jobs.filter(({ state }) => state === 'queued' || state === 'running') ?? []
      if (answer && open.length === 0) return []
      if (performance.now() > endMs)
        return answer ? open.map(({ title, state }) => `${title} (${state})`) : ['no answer']
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }
}
