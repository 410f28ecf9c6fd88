// Measures the search over large catalogues. Options are those of bench/find/run.ts.
import { build, installPackages } from './ready.mjs'
import { runBundled } from './run-bundled.mjs'

installPackages()
await build({ appToo: true })
await runBundled('bench/find/run.ts', process.argv.slice(2))
