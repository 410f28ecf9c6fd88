// Makes the catalogues and previews of the stand-in libraries anew from their recipes. Takes some minutes.
import { runBundled } from './run-bundled.mjs'

await runBundled('demo/make-sounds/main.ts')
