import { describe, expect, it } from 'vitest'
import { LateClock } from './late-clock'

/** Plays so long; quanta come in bunches of `bunchS`. @returns The clock of the audio at the end. */
function play(clock: LateClock, { fromS, lengthS, behindS = 0, bunchS = 0.02, drift = 0 }: Played): void {
  const quantumS = 128 / 48_000
  for (let audioS = fromS; audioS < fromS + lengthS; audioS += quantumS) {
    const wallS = Math.floor(audioS / bunchS) * bunchS
    clock.look(1000 + behindS + wallS * (1 + drift), audioS)
  }
}

interface Played {
  readonly fromS: number
  readonly lengthS: number
  readonly behindS?: number
  readonly bunchS?: number
  readonly drift?: number
}

describe('audio that comes too late', () => {
  it('is not what comes in bunches, nor what another crystal counts', () => {
    const clock = new LateClock()
    play(clock, { fromS: 0, lengthS: 60 })
    play(clock, { fromS: 60, lengthS: 600, drift: 0.0001 })
    expect(clock.count).toBe(0)
  })

  it('is counted each time that it fell behind, not for ever after', () => {
    const clock = new LateClock()
    play(clock, { fromS: 0, lengthS: 5 })
    play(clock, { fromS: 5, lengthS: 5, behindS: 0.1 })
    expect(clock.count).toBe(1)
    play(clock, { fromS: 10, lengthS: 5, behindS: 0.1 })
    expect(clock.count).toBe(1)
    play(clock, { fromS: 15, lengthS: 5, behindS: 0.25 })
    expect(clock.count).toBe(2)
  })

  it('is found also where it loses a little all the time', () => {
    const clock = new LateClock()
    play(clock, { fromS: 0, lengthS: 10, drift: 0.5 })
    expect(clock.count).toBeGreaterThan(20)
  })

  it('is nothing that a pause made', () => {
    const clock = new LateClock()
    play(clock, { fromS: 0, lengthS: 5 })
    clock.begin()
    play(clock, { fromS: 5, lengthS: 5, behindS: 30 })
    expect(clock.count).toBe(0)
  })
})
