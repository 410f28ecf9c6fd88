// How fast a score is mixed. Prints figures; it is no test.
import { build } from './ready.mjs'
import { runBundled } from './run-bundled.mjs'

await build({ appToo: false })
await runBundled('bench/mix/run.ts')
