// Checks all types: TypeScript by the compiler for this machine, pages of Astro by Astro's own, and the core once more alone, as what knows neither browser nor Node.js.
import { spawnSync } from 'node:child_process'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { root } from './ready.mjs'

const COMPILER = 'node_modules/typescript-native/bin/tsc'

/** Each check of types: what it is called, its program, and how it is called. */
export const TYPE_CHECKS = [
  // First, for it writes down the types that Astro makes.
  [
    'types of pages',
    'node_modules/astro/astro.js',
    ['check', '--minimumSeverity', 'error', '--tsconfig', 'src/tsconfig.pages.json'],
  ],
  ['types', COMPILER, ['--noEmit', '-p', '.', '--singleThreaded']],
  ['types of the core alone', COMPILER, ['-p', 'src/core']],
]

if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const [, program, args] of TYPE_CHECKS) {
    const { status } = spawnSync(process.execPath, [path.join(root, program), ...args], { cwd: root, stdio: 'inherit' })
    if (status !== 0) process.exitCode = 1
  }
