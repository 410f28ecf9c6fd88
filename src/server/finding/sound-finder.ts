import path from 'node:path'
import { Worker } from 'node:worker_threads'
import { DomainError } from '../domain-error'
import type { FinderAnswer, FinderCall, FinderCalls, FinderStart } from '../ports/finder-messages'

interface Waiting {
  resolve(value: unknown): void
  reject(error: unknown): void
}

/** Asks the thread that holds the index. A thread that died is started again with the next question. */
export class SoundFinder {
  private worker: Worker | null = null
  private readonly waiting = new Map<number, Waiting>()
  private number = 0

  constructor(
    private readonly nodeDir: string,
    private start: FinderStart,
  ) {}

  /** @throws {DomainError} not-listened-to; internal when the thread dies. */
  ask<K extends keyof FinderCalls>(name: K, task: FinderCalls[K]['task']): Promise<FinderCalls[K]['result']> {
    this.worker ??= this.started()
    const number = ++this.number
    const answer = new Promise<unknown>((resolve, reject) => this.waiting.set(number, { resolve, reject }))
    this.worker.postMessage({ number, name, task } satisfies FinderCall<K>)
    return answer as Promise<FinderCalls[K]['result']>
  }

  /** Takes the text of another vocabulary. */
  async learn(vocabulary: string): Promise<void> {
    this.start = { ...this.start, vocabulary }
    if (this.worker) await this.ask('learn', vocabulary)
  }

  async close(): Promise<void> {
    const { worker } = this
    this.worker = null
    await worker?.terminate()
  }

  private started(): Worker {
    const worker = new Worker(path.join(this.nodeDir, 'finder.mjs'), { workerData: this.start })
    worker.unref()
    worker.on('message', (answer: FinderAnswer) => {
      const waiting = this.waiting.get(answer.number)
      this.waiting.delete(answer.number)
      if (answer.ok) waiting?.resolve(answer.value)
      else waiting?.reject(problemOf(answer))
    })
    const ended = (cause: unknown): void => {
      if (this.worker === worker) this.worker = null
      for (const { reject } of this.waiting.values()) reject(stopped(cause))
      this.waiting.clear()
    }
    worker.on('error', ended)
    worker.on('exit', () => ended(null))
    return worker
  }
}

function problemOf({ code, message }: Extract<FinderAnswer, { ok: false }>): DomainError {
  return code === 'not-listened-to' ? new DomainError(code, message) : stopped(message)
}

function stopped(cause: unknown): DomainError {
  const detail = 'The search stopped in the middle. Search again.'
  return new DomainError('search-stopped', detail, { cause })
}
