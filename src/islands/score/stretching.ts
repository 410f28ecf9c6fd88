import type { StretchAnswer, StretchRequest } from './stretch-worker'

type Channels = readonly Float32Array<ArrayBuffer>[]

/** Stretches sounds in a thread of its own, which is started when it is first needed. */
export class Stretching {
  private worker: Worker | null = null
  private readonly waiting = new Map<string, { done: (channels: Channels) => void; failed: (error: Error) => void }>()

  /** @param key Names the request. @param channels Not kept: they go to the other thread. */
  stretched(request: StretchRequest): Promise<Channels> {
    return new Promise((done, failed) => {
      this.waiting.set(request.key, { done, failed })
      this.opened().postMessage(
        request,
        request.channels.map(({ buffer }) => buffer),
      )
    })
  }

  close(): void {
    this.worker?.terminate()
    this.worker = null
    for (const { failed } of this.waiting.values()) failed(new Error('the page was left'))
    this.waiting.clear()
  }

  private opened(): Worker {
    if (this.worker) return this.worker
    this.worker = new Worker(new URL('./stretch-worker.ts', import.meta.url), { type: 'module' })
    this.worker.onmessage = ({ data }: MessageEvent<StretchAnswer>) => {
      const asked = this.waiting.get(data.key)
      this.waiting.delete(data.key)
      if ('problem' in data) asked?.failed(new Error(data.problem))
      else asked?.done(data.channels)
    }
    return this.worker
  }
}
