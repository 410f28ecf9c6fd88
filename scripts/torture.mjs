// Does damage at random, and looks whether what is promised holds. Options are those of bench/torture/run.ts.
import { build, installPackages } from './ready.mjs'
import { runBundled } from './run-bundled.mjs'

installPackages()
await build({ appToo: true })
await runBundled('bench/torture/run.ts', process.argv.slice(2))
