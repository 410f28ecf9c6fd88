// Builds what runs outside the browser (workers, command line, stand-ins, seed) with esbuild, and the application with Astro.
import { spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..')

/**
 * Packages that are bundled with what uses them. They are many small files, and every process and every thread would look for each of them anew: a second before
 * anything is done. All others stay outside, above all those that bring files of their own.
 */
const BUNDLED = new Set([
  '@mediabunny/aac-encoder',
  '@mediabunny/flac-encoder',
  'csv-parse',
  'csv-stringify',
  'd3-dsv',
  'diff',
  'kysely',
  'mediabunny',
  'p-queue',
  'read-excel-file',
  'zod',
])

const someBundled = {
  name: 'some-bundled',
  setup({ onResolve }) {
    onResolve({ filter: /^[^.]/ }, ({ path: wanted, kind, importer }) => {
      const name = wanted.split('/', wanted.startsWith('@') ? 2 : 1).join('/')
      if (kind === 'entry-point' || path.isAbsolute(wanted) || BUNDLED.has(name)) return undefined
      // What a bundled package needs is bundled with it.
      return importer.includes('node_modules') && !wanted.startsWith('node:') ? undefined : { external: true }
    })
  },
}

export async function buildNode() {
  const { build } = await import('esbuild')
  const { metafile } = await build({
    absWorkingDir: root,
    entryPoints: {
      worker: 'src/server/workers/worker.ts',
      finder: 'src/server/finding/finder-thread.ts',
      thud: 'src/cli/thud.ts',
      standins: 'demo/libraries.ts',
      seed: 'demo/seed.ts',
      prepare: 'demo/prepare.ts',
      'own-folder': 'demo/own-folder-thread.ts',
    },
    outdir: 'dist/node',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    plugins: [someBundled],
    // Some of what is bundled asks for Node's own modules in the older way.
    banner: {
      js: "import { createRequire as createRequireHere } from 'node:module'; const require = createRequireHere(import.meta.url);",
    },
    sourcemap: true,
    logLevel: 'warning',
    metafile: true,
  })
  const folder = path.join(root, 'dist', 'node')
  fs.copyFileSync(path.join(root, 'vocabulary', 'sounds.txt'), path.join(folder, 'sounds.txt'))
  // What an earlier build named otherwise is of no use any more.
  const made = new Set([...Object.keys(metafile.outputs).map((file) => path.basename(file)), 'sounds.txt'])
  for (const name of fs.readdirSync(folder)) if (!made.has(name)) fs.rmSync(path.join(folder, name))
}

export async function buildApp() {
  const astro = path.join(root, 'node_modules', 'astro', 'astro.js')
  const child = spawn(process.execPath, [astro, 'build', '--silent'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
  })
  const status = await new Promise((resolve) => child.once('exit', resolve))
  if (status !== 0) throw new Error('The application could not be built; the lines above say why.')
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await buildNode()
  if (!process.argv.includes('--node-only')) await buildApp()
}
