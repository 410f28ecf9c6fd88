import path from 'node:path'
import { serveHeronSlate } from './heron-slate'
import { serveTinBarn } from './tin-barn'

/** Serves both stand-in libraries: `standins.mjs FOLDER PORT PORT`. Ends with its parent. */
const [dir = '', tinBarnPort = '0', heronSlatePort = '0'] = process.argv.slice(2)
const standins = await Promise.all([
  serveTinBarn(path.join(dir, 'tin-barn'), Number(tinBarnPort)),
  serveHeronSlate(path.join(dir, 'heron-slate'), Number(heronSlatePort)),
])
process.send?.({ ready: true, urls: standins.map(({ url }) => url) })
process.on('disconnect', () => process.exit(0))
