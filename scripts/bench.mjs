// Runs the benchmarks on a small scale. They print figures; they are no tests.
import { installPackages } from './ready.mjs'
import { runBundled } from './run-bundled.mjs'

installPackages()
const { buildNode } = await import('./build.mjs')
await buildNode()
await runBundled('bench/hearing/run.ts', ['--sounds', '120', '--minutes', '4', '--sets', 'untouched,absent'])
