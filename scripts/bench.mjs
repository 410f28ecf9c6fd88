// Runs the benchmarks. They print figures; they are no tests.
import { runBundled } from './run-bundled.mjs'

await runBundled('bench/hearing.ts')
