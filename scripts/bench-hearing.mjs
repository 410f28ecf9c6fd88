// Measures the hearing engine in full: a thousand sounds and five sets of mixes. Options are those of bench/hearing/run.ts.
import { installPackages } from './ready.mjs'
import { runBundled } from './run-bundled.mjs'

installPackages()
const { buildNode } = await import('./build.mjs')
await buildNode()
await runBundled('bench/hearing/run.ts', process.argv.slice(2))
