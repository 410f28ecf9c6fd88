// How sixty placed sounds play in a real browser. Prints figures; it is no test.
import { benchLive } from '../bench/mix/live.mjs'
import { DEMO_DATA, makeDemoData } from './demo-data.mjs'
import { build, installPackages, root } from './ready.mjs'

installPackages()
await build({ appToo: true })
await makeDemoData()
await benchLive(root, DEMO_DATA)
