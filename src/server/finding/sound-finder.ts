import path from 'node:path'
import { Worker } from 'node:worker_threads'
import { finding as messages } from '../../messages/server/finding'
import { DomainError } from '../domain-error'
import type { FinderAnswer, FinderCall, FinderCalls, FinderStart } from '../ports/finder-messages'

interface Waiting {
  resolve(value: unknown): void
  reject(error: unknown): void
}

/** A thread that holds an index, and what was asked of it. */
class FinderThread {
  private readonly worker: Worker
  private readonly waiting = new Map<number, Waiting>()
  private number = 0

  constructor(
    nodeDir: string,
    start: FinderStart,
    private readonly onOutdated: () => void,
    onEnd: () => void,
  ) {
    const worker = new Worker(path.join(nodeDir, 'finder.mjs'), { workerData: start })
    worker.unref()
    worker.on('message', (answer: FinderAnswer) => this.settle(answer))
    const ended = (cause: unknown): void => {
      onEnd()
      for (const { reject } of this.waiting.values()) reject(stopped(cause))
      this.waiting.clear()
    }
    worker.on('error', ended)
    worker.on('exit', () => ended(null))
    this.worker = worker
  }

  ask<K extends keyof FinderCalls>(name: K, task: FinderCalls[K]['task']): Promise<FinderCalls[K]['result']> {
    const number = ++this.number
    const answer = new Promise<unknown>((resolve, reject) => this.waiting.set(number, { resolve, reject }))
    this.worker.postMessage({ number, name, task } satisfies FinderCall<K>)
    return answer as Promise<FinderCalls[K]['result']>
  }

  /** Ends it once everything that was asked is answered. */
  async retire(): Promise<void> {
    if (this.waiting.size > 0) await this.ask('size', null).catch(() => undefined)
    await this.worker.terminate()
  }

  async end(): Promise<void> {
    await this.worker.terminate()
  }

  private settle(answer: FinderAnswer): void {
    const waiting = this.waiting.get(answer.number)
    this.waiting.delete(answer.number)
    if (!answer.ok) {
      waiting?.reject(problemOf(answer))
      return
    }
    waiting?.resolve(answer.value)
    if (answer.isOutdated) this.onOutdated()
  }
}

/** So many of the last searches are made once by an index that takes over, so that the first that counts is as quick as any. */
const TRIED_BEFORE = 6

/**
 * Asks the thread that holds the index. A thread that died is started again with the next question; where very much has changed, another thread
 * makes an index anew and takes over when it is done.
 */
export class SoundFinder {
  private current: FinderThread | null = null
  private successor: FinderThread | null = null
  private readonly lastFinds: FinderCalls['find']['task'][] = []

  constructor(
    private readonly nodeDir: string,
    private start: FinderStart,
  ) {}

  /** @throws {DomainError} not-listened-to; internal when the thread dies. */
  ask<K extends keyof FinderCalls>(name: K, task: FinderCalls[K]['task']): Promise<FinderCalls[K]['result']> {
    this.current ??= this.started()
    const answer = this.current.ask(name, task)
    if (name === 'find') this.rememberOnceAnswered(task as FinderCalls['find']['task'], answer)
    return answer
  }

  /** Takes the text of another vocabulary. */
  async learn(vocabulary: string): Promise<void> {
    this.start = { ...this.start, vocabulary }
    await Promise.all([this.current, this.successor].map((thread) => thread?.ask('learn', vocabulary)))
  }

  async close(): Promise<void> {
    const { current, successor } = this
    this.current = null
    this.successor = null
    await Promise.all([current?.end(), successor?.end()])
  }

  /** A search that has no answer, or that a thread dies of, is not made again. */
  private rememberOnceAnswered(task: FinderCalls['find']['task'], answer: Promise<unknown>): void {
    answer.then(
      () => {
        this.lastFinds.push(task)
        if (this.lastFinds.length > TRIED_BEFORE) this.lastFinds.shift()
      },
      () => undefined,
    )
  }

  private started(): FinderThread {
    const thread: FinderThread = new FinderThread(
      this.nodeDir,
      this.start,
      () => this.succeed(thread),
      () => {
        if (this.current === thread) this.current = null
        if (this.successor === thread) this.successor = null
      },
    )
    return thread
  }

  /** Has another index made beside one that is outdated. */
  private succeed(outdated: FinderThread): void {
    if (this.successor || this.current !== outdated) return
    const successor = this.started()
    this.successor = successor
    this.tryOut(successor).then(
      () => {
        if (this.successor !== successor) return
        this.successor = null
        // The outdated one, or another that was started since that one died.
        const { current } = this
        this.current = successor
        void current?.retire()
      },
      () => undefined,
    )
  }

  /** Waits until a thread has made its index and has found what was looked for last. @throws {DomainError} when it dies. */
  private async tryOut(thread: FinderThread): Promise<void> {
    await thread.ask('size', null)
    for (const task of this.lastFinds.slice()) {
      // A sound that is compared with may be gone from the new index; whether the thread lives is seen by the next question.
      await thread.ask('find', task).catch(() => undefined)
    }
    await thread.ask('size', null)
  }
}

function problemOf({ code, message }: Extract<FinderAnswer, { ok: false }>): DomainError {
  return code === 'not-listened-to' ? new DomainError(code, message) : stopped(message)
}

function stopped(cause: unknown): DomainError {
  const detail = messages.searchStoppedInMiddleSearch
  return new DomainError('search-stopped', detail, { cause })
}
