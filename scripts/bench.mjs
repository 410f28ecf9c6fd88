// Bundles and runs the benchmarks. They print figures; they are no tests.
import { spawnSync } from 'node:child_process'
import path from 'node:path'
import { installPackages, root } from './ready.mjs'

installPackages()
const { build } = await import('esbuild')
const outfile = path.join(root, 'dist', 'bench', 'hearing.mjs')
await build({
  absWorkingDir: root,
  entryPoints: ['bench/hearing.ts'],
  outfile,
  bundle: true,
  format: 'esm',
  platform: 'node',
  packages: 'external',
  logLevel: 'warning',
})
process.exitCode = spawnSync(process.execPath, [outfile], { stdio: 'inherit' }).status ?? 1
