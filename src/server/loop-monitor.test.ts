import { describe, expect, it } from 'vitest'
import { LoopMonitor } from './loop-monitor'

/** Keeps the loop busy. */
function block(ms: number): void {
  const until = performance.now() + ms
  while (performance.now() < until);
}

const turn = () => new Promise((resolve) => setTimeout(resolve, 40))

describe('the monitor of the loop', () => {
  it('tells of a long turn, with what was under way and what ended in it', async () => {
    const said: string[] = []
    const monitor = new LoopMonitor((sentence) => said.push(sentence))
    monitor.start()
    await turn()
    monitor.begin('GET /api/sounds')
    const end = monitor.begin('job check')
    block(350)
    end()
    await turn()
    monitor.look()
    monitor.stop()
    expect(said).toHaveLength(1)
    expect(said[0]).toMatch(/^One turn of the loop took \d{3} ms; under way: GET \/api\/sounds, job check\.$/)
    expect(monitor.delays().maxMs).toBeGreaterThan(300)
  })

  it('says nothing while all turns are short', async () => {
    const said: string[] = []
    const monitor = new LoopMonitor((sentence) => said.push(sentence))
    monitor.start()
    monitor.begin('GET /api/sounds')
    for (let i = 0; i < 5; i++) {
      block(20)
      await turn()
    }
    monitor.look()
    monitor.stop()
    expect(said).toEqual([])
  })
})
