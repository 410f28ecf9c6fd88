import { execFileSync } from 'node:child_process'
import path from 'node:path'
import { expect } from '@playwright/test'
import type { Launched } from './launch'

/** Tells every stand-in how to behave, through the address that only the demo and tests use. */
export async function tellStandins(running: Launched, change: object): Promise<void> {
  for (const url of standinUrls(running)) {
    const answer = await fetch(`${url}/control`, { method: 'POST', body: JSON.stringify(change) })
    expect(answer.ok).toBe(true)
  }
}

function standinUrls(running: Launched): string[] {
  const pids = execFileSync('pgrep', ['-f', `standins.mjs ${path.join(running.data, 'standins')}`], {
    encoding: 'utf8',
  })
  const pid = pids.split('\n')[0]
  const open = execFileSync('ss', ['-ltnpH'], { encoding: 'utf8' })
  return open
    .split('\n')
    .filter((line) => line.includes(`pid=${pid},`))
    .map((line) => `http://127.0.0.1:${/127\.0\.0\.1:(\d+)/.exec(line)?.[1]}`)
}
