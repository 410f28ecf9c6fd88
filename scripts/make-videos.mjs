// Makes the demo's finished videos anew. Needs ffmpeg, espeak-ng and chromium from Debian's packages.
import { spawnSync } from 'node:child_process'
import path from 'node:path'
import { installPackages, root } from './ready.mjs'

installPackages()
const { build } = await import('esbuild')
const outfile = path.join(root, 'dist', 'make-videos.mjs')
await build({
  absWorkingDir: root,
  entryPoints: ['demo/make-videos/main.ts'],
  outfile,
  bundle: true,
  format: 'esm',
  platform: 'node',
  packages: 'external',
  logLevel: 'warning',
})
process.exitCode = spawnSync(process.execPath, [outfile], { cwd: root, stdio: 'inherit' }).status ?? 1
