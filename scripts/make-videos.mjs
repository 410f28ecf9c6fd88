// Makes the demo's videos and cuts anew, or those whose files are named. Needs ffmpeg, espeak-ng and chromium from Debian's packages.
import { runBundled } from './run-bundled.mjs'

await runBundled('demo/make-videos/main.ts', process.argv.slice(2))
