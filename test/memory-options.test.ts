import { spawnSync } from 'node:child_process'
import { describe, expect, it } from 'vitest'
import { knownOptions, memoryOptions } from '../scripts/memory.mjs'

describe('options for a process that holds much', () => {
  it('are none that this Node.js does not know: it would not start', () => {
    expect(knownOptions(['--no-such-option-of-node', '--single-threaded-gc'])).toEqual(['--single-threaded-gc'])
  })

  it('let a process and its threads work', () => {
    const script = `
      const { Worker } = require('node:worker_threads')
      const thread = new Worker('require("node:worker_threads").parentPort.postMessage(Array.from({ length: 1e6 }, (_, i) => [i]).length)', { eval: true })
      thread.on('message', (count) => process.stdout.write(process.execArgv.slice(0, -2).join(' ') + ' ' + count))`
    const { stdout, stderr } = spawnSync(process.execPath, [...memoryOptions(), '-e', script], { encoding: 'utf8' })
    expect(stderr).toBe('')
    expect(stdout).toBe('--v8-pool-size=1 --single-threaded-gc 1000000')
  })
})
