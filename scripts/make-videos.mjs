// Makes the demo's finished videos anew. Needs ffmpeg, espeak-ng and chromium from Debian's packages.
import { runBundled } from './run-bundled.mjs'

await runBundled('demo/make-videos/main.ts')
