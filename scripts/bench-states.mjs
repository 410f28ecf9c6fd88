// Measures how long the states of many videos take at the endpoints. Options are those of bench/states/run.ts.
import { build, installPackages } from './ready.mjs'
import { runBundled } from './run-bundled.mjs'

installPackages()
await build({ appToo: true })
await runBundled('bench/states/run.ts', process.argv.slice(2))
