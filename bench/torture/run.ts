import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { catalogue } from './catalogue'
import { disk } from './disk'
import { fuzz } from './fuzz'
import { kills } from './kills'
import { lyingLibraries } from './libraries-campaign'
import { load } from './load'

/** What a campaign is given. */
export interface CampaignOptions {
  readonly root: string
  /** An empty folder of its own. */
  readonly dir: string
  readonly seed: number
  readonly port: number
  readonly count?: number | undefined
  readonly minutes?: number | undefined
  readonly say: (line: string) => void
}

/** Does damage at random and looks whether what was promised holds. */
export type Campaign = (options: CampaignOptions) => Promise<{
  readonly rows: readonly (readonly [string, string | number])[]
  readonly problems: readonly string[]
}>

const CAMPAIGNS: Readonly<Record<string, Campaign>> = { kills, fuzz, disk, libraries: lyingLibraries, load, catalogue }
const USAGE = `npm run torture -- ${Object.keys(CAMPAIGNS).join('|')} [--seed N] [--count N] [--minutes N] [--keep]`

/** @returns The exit status: 0 where everything held. */
async function main(root: string, args: readonly string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args: [...args],
    allowPositionals: true,
    options: {
      seed: { type: 'string', default: '1' },
      count: { type: 'string' },
      minutes: { type: 'string' },
      port: { type: 'string', default: '4880' },
      keep: { type: 'boolean', default: false },
    },
  })
  const [name = ''] = positionals
  const campaign = CAMPAIGNS[name]
  if (!campaign) {
    console.error(USAGE)
    return 2
  }
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), `thud-torture-${name}-`))
  const startMs = performance.now()
  const { rows, problems } = await campaign({
    root,
    dir,
    seed: Number(values.seed),
    port: Number(values.port),
    count: values.count === undefined ? undefined : Number(values.count),
    minutes: values.minutes === undefined ? undefined : Number(values.minutes),
    say: (line) => console.log(`  ${line}`),
  })
  console.log(`\n${name}, seed ${values.seed}, ${Math.round((performance.now() - startMs) / 1000)} s`)
  for (const [what, value] of rows) console.log(`${what.padEnd(50)} ${value}`)
  console.log(problems.length === 0 ? '\nEverything held.' : `\n${problems.length} problems:`)
  for (const problem of problems.slice(0, 50)) console.log(`  ${problem}`)
  if (problems.length === 0 && !values.keep) fs.rmSync(dir, { recursive: true, force: true })
  else console.log(`The folder is left: ${dir}`)
  return problems.length === 0 ? 0 : 1
}

const [root = '', ...args] = process.argv.slice(2)
process.exit(await main(root, args))
