// Bundles a TypeScript program of the project and runs it.
import { spawnSync } from 'node:child_process'
import path from 'node:path'
import { memoryOptions } from './memory.mjs'
import { installPackages, root } from './ready.mjs'

/** With the options of Node.js that the product has. @param entry Path below the project. @param args Handed on. Sets this process's exit status to the program's. */
export async function runBundled(entry, args = []) {
  installPackages()
  const { build } = await import('esbuild')
  const outfile = path.join(root, 'dist', 'programs', `${entry.replace(/\W+/g, '-')}.mjs`)
  await build({
    absWorkingDir: root,
    entryPoints: [entry],
    outfile,
    bundle: true,
    format: 'esm',
    platform: 'node',
    packages: 'external',
    logLevel: 'warning',
  })
  const { status } = spawnSync(process.execPath, [...memoryOptions(), outfile, root, ...args], {
    cwd: root,
    stdio: 'inherit',
  })
  process.exitCode = status ?? 1
}
