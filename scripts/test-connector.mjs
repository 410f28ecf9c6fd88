// Tries one connector: `npm run test:connector -- NAME`. Without a name, all that ship.
import { spawnSync } from 'node:child_process'
import path from 'node:path'
import { root } from './ready.mjs'

const [name = ''] = process.argv.slice(2)
const vitest = path.join(root, 'node_modules', 'vitest', 'vitest.mjs')
const { status } = spawnSync(process.execPath, [vitest, 'run', 'test/connectors/conformance.test.ts'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, THUD_CONNECTOR: name },
})
process.exit(status ?? 1)
