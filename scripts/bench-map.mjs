// Measures how smooth the time map is with a cut of two hours and 300 moments. Needs ffmpeg and chromium.
import { benchMap } from '../bench/moments/map.mjs'
import { build, installPackages, root } from './ready.mjs'

installPackages()
await build({ appToo: true })
await benchMap(root)
