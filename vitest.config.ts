import { defineConfig } from 'vitest/config'
import { memoryOptions } from './scripts/memory.mjs'

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'demo/**/*.test.ts', 'test/**/*.test.ts'],
    // What takes long is left out of the quick run of all checks, and is all there is to the long one.
    tags: [{ name: 'long', description: 'A test that takes more than a second or two' }],
    globalSetup: ['test/global-setup.ts'],
    // Signal processing and real processes take their time on a small machine; the limit only ends what hangs.
    testTimeout: 120_000,
    hookTimeout: 120_000,
    // One more than the cores of a small machine: for a part of their time they wait for processes, disks and other threads.
    maxWorkers: 3,
    execArgv: memoryOptions(),
    // What one file has loaded, and the threads that it started, are there for the next one: a third of the time.
    isolate: false,
    reporters: ['default', ['json', { outputFile: 'test-results/unit.json' }]],
  },
})
