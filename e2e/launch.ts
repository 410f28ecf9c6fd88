import { type ChildProcess, spawn } from 'node:child_process'
import path from 'node:path'

export const ROOT = path.resolve(import.meta.dirname, '..')

/** A started Good Thud. */
export interface Launched {
  readonly url: string
  readonly data: string
  readonly output: () => string
  /** Ends it as Ctrl-C does. Resolves with the exit status. */
  interrupt(): Promise<number | null>
  /** Ends every process of it at once, as a power cut does. */
  kill(): Promise<void>
}

/** Starts Good Thud as a person does and waits for its address. Throws with its output when it ends before that. */
export async function launch(options: {
  port: number
  data: string
  demo?: boolean
  env?: Readonly<Record<string, string>>
}): Promise<Launched> {
  const { port, data, demo = false, env = {} } = options
  const child = spawn(
    process.execPath,
    [path.join(ROOT, 'scripts', 'run.mjs'), ...(demo ? ['--demo'] : []), '--port', String(port), '--data', data],
    {
      cwd: ROOT,
      detached: true,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, THUD_LOG: 'quiet', THUD_READY: 'yes', ...env },
    },
  )
  let output = ''
  await new Promise<void>((resolve, reject) => {
    const read = (chunk: Buffer): void => {
      output += chunk
      if (output.includes('is ready')) resolve()
    }
    child.stdout.on('data', read)
    child.stderr.on('data', read)
    child.once('exit', (code) => reject(new Error(`it ended with ${code}:\n${output}`)))
  })
  return {
    url: `http://localhost:${port}`,
    data,
    output: () => output,
    interrupt: async () => {
      const ended = exit(child)
      child.kill('SIGINT')
      return ended
    },
    kill: async () => {
      const ended = exit(child)
      process.kill(-(child.pid as number), 'SIGKILL')
      await ended
    },
  }
}

function exit(child: ChildProcess): Promise<number | null> {
  return new Promise((resolve) => child.once('exit', (code) => resolve(code)))
}
