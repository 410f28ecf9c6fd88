import { Worker } from 'node:worker_threads'
import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { HEARING_RATE_HZ, Track } from '../../core/hearing'
import { TrackCollector } from './track-collector'
import { endTrack, trackMemory, waitForFrames } from './track-memory'

const block = (seed: number): Float32Array => noise(HEARING_RATE_HZ, seed, 0.4)

describe('a track that is still being decoded', () => {
  it('can be read up to the frames that are there', () => {
    const memory = trackMemory()
    const collector = new TrackCollector(memory)
    collector.push([block(1)], HEARING_RATE_HZ)
    const { frames, all } = waitForFrames(memory, 1)
    expect(all).toBe(false)
    expect(frames).toBeGreaterThan(HEARING_RATE_HZ - 200)
    const reader = new Track(new Int16Array(memory.mid), null, frames)
    const early = reader.midSamples(0, 8000)
    collector.push([block(2)], HEARING_RATE_HZ)
    // Memory that grows stays where it is for those that read it.
    expect([...reader.midSamples(0, 8000)]).toEqual([...early])
    expect(waitForFrames(memory, frames + 1).frames).toBeGreaterThan(frames)
  })

  it('ends the wait of those that want more than there will be', () => {
    const memory = trackMemory()
    const collector = new TrackCollector(memory)
    collector.push([block(3), block(4)], HEARING_RATE_HZ)
    const { frames } = collector.track()
    endTrack(memory)
    expect(waitForFrames(memory, 10 * HEARING_RATE_HZ)).toEqual({ frames, all: true })
  })

  it('wakes a thread that waits', async () => {
    const memory = trackMemory()
    const source = `
      const { parentPort, workerData } = require('node:worker_threads')
      const numbers = new Int32Array(workerData)
      parentPort.postMessage('waits')
      const outcome = Atomics.wait(numbers, 0, 0, 20000)
      parentPort.postMessage(outcome)`
    const worker = new Worker(source, { eval: true, workerData: memory.ready })
    const messages: string[] = []
    await new Promise<void>((resolve, reject) => {
      worker.on('error', reject)
      worker.on('message', (message: string) => {
        messages.push(message)
        if (message === 'waits') new TrackCollector(memory).push([block(5)], HEARING_RATE_HZ)
        else resolve()
      })
    })
    await worker.terminate()
    // Where the frames came before the wait began, there was nothing to wait for.
    expect(['ok', 'not-equal']).toContain(messages[1])
  })
})
