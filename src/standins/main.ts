import fs from 'node:fs'
import path from 'node:path'
import { serveHeronSlate } from './heron-slate'
import { servePellMarrow } from './pell-marrow'
import type { Standin } from './serve'
import { serveSkerryview } from './skerryview'
import { serveTinBarn } from './tin-barn'

/** Serves all stand-in libraries on free ports: `standins.mjs FOLDER`. Ends with its parent. */
const [dir = ''] = process.argv.slice(2)
const [tinBarn, heronSlate, pellMarrow, skerryview] = await Promise.all([
  serveTinBarn(path.join(dir, 'tin-barn'), 0),
  serveHeronSlate(path.join(dir, 'heron-slate'), 0),
  servePellMarrow(path.join(dir, 'pell-marrow'), 0, path.join(dir, 'pellMarrow.orders.json')),
  serveSkerryview(path.join(dir, 'skerryview'), 0),
])
for (const [name, standin] of Object.entries({ tinBarn, heronSlate, pellMarrow, skerryview })) remember(name, standin)
process.send?.({
  ready: true,
  urls: {
    'tin-barn': tinBarn.url,
    'heron-slate': heronSlate.url,
    'pell-marrow': pellMarrow.url,
    skerryview: skerryview.url,
  },
})
process.on('disconnect', () => process.exit(0))

/** What a library was told stays so when it is started again; faults do not. */
function remember(name: string, standin: Standin): void {
  const file = path.join(dir, `${name}.told.json`)
  if (fs.existsSync(file)) Object.assign(standin.control, JSON.parse(fs.readFileSync(file, 'utf8')))
  standin.onControl = () => {
    const { edition, planUntil, withdrawn } = standin.control
    fs.writeFileSync(file, JSON.stringify({ edition, planUntil, withdrawn }))
  }
}
