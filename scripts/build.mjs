// Builds what runs outside the browser (workers, command line, stand-ins, seed) with esbuild, and the application with Astro.
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..')

export async function buildNode() {
  const { build } = await import('esbuild')
  await build({
    absWorkingDir: root,
    entryPoints: {
      worker: 'src/server/workers/worker.ts',
      finder: 'src/server/finding/finder-thread.ts',
      thud: 'src/cli/thud.ts',
      standins: 'demo/libraries.ts',
      seed: 'demo/seed.ts',
    },
    outdir: 'dist/node',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    packages: 'external',
    sourcemap: true,
    logLevel: 'warning',
  })
  fs.copyFileSync(path.join(root, 'vocabulary', 'sounds.txt'), path.join(root, 'dist', 'node', 'sounds.txt'))
}

export function buildApp() {
  const astro = path.join(root, 'node_modules', 'astro', 'astro.js')
  const result = spawnSync(process.execPath, [astro, 'build', '--silent'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
  })
  if (result.status !== 0) throw new Error('The application could not be built; the lines above say why.')
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  // The application empties the folder first.
  if (!process.argv.includes('--node-only')) buildApp()
  await buildNode()
}
