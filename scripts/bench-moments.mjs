// Judges what is found in the demo's rough cut, and how moments are carried over to the next one. Needs ffmpeg.
import { runBundled } from './run-bundled.mjs'

await runBundled('bench/moments/run.ts', process.argv.slice(2))
