import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import { createRequire } from 'node:module'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, describe, expect, it } from 'vitest'
import { isUnused, prunePackages } from '../scripts/prune-packages.mjs'
import { ROOT, temporaryDir } from './world'

const dir = temporaryDir('prune')
afterAll(() => fs.rmSync(dir, { recursive: true, force: true }))

const PACKAGES = path.join(ROOT, 'node_modules')
const { dependencies, devDependencies } = JSON.parse(fs.readFileSync(path.join(ROOT, 'package.json'), 'utf8')) as {
  dependencies: Record<string, string>
  devDependencies: Record<string, string>
}

/** The files that Node.js loads where code here imports packages; those that have none, as packages of types, are left out. */
function entriesOf(names: readonly string[]): string[] {
  const script = `for (const name of ${JSON.stringify(names)}) try { console.log(import.meta.resolve(name)) } catch {}`
  const { stdout } = spawnSync(process.execPath, ['--input-type=module', '-e', script], { cwd: ROOT, encoding: 'utf8' })
  return stdout
    .trim()
    .split('\n')
    .map((address) => path.relative(PACKAGES, fileURLToPath(address)).split(path.sep).join('/'))
}

describe('what is taken out of the installed packages', () => {
  it('is nothing that a package begins with', () => {
    const entries = entriesOf(Object.keys({ ...dependencies, ...devDependencies }))
    expect(entries.length).toBeGreaterThan(40)
    expect(entries.filter(isUnused)).toEqual([])
  })

  it('is nothing that is loaded by its path', () => {
    const { resolve } = createRequire(import.meta.url)
    for (const name of [
      'onnxruntime-web/wasm',
      '@ricky0123/vad-web/dist/silero_vad_legacy.onnx',
      'dejavu-fonts-ttf/ttf/DejaVuSans.ttf',
      'dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf',
      'spdx-license-list/licenses/CC0-1.0.json',
      'binaryen',
      'libflacjs',
      'libflacjs/dist/libflac.min.js',
      'mediabunny',
      'daisyui',
      'typescript',
    ]) {
      const file = path.relative(PACKAGES, resolve(name)).split(path.sep).join('/')
      expect([name, isUnused(file)]).toEqual([name, false])
    }
    for (const file of [
      'onnxruntime-web/dist/ort-wasm-simd-threaded.wasm',
      'onnxruntime-web/dist/ort-wasm-simd-threaded.mjs',
      'onnxruntime-web/dist/ort.wasm.bundle.min.mjs',
      `@photostructure/sqlite/prebuilds/${process.platform}-${process.arch}/driver.node`,
      'kysely/dist/esm/index.js',
      '@napi-rs/wasm-runtime/index.js',
      '@tanstack/react-query/build/modern/index.js',
      'mediabunny/dist/bundles/mediabunny.node.cjs',
      'libflacjs/dist/libflac.min.wasm.wasm',
      'lucide-react/dist/esm/icons/x.js',
      'zod/v4/classic/index.cjs',
      'zod/v4/classic/index.d.ts',
      'react-aria/dist/exports/FocusScope.mjs',
      'react-aria/dist/private/intl/table/en-US.mjs',
      'react-dom/cjs/react-dom-server.node.production.js',
      'react-dom/cjs/react-dom-client.production.js',
      'web-streams-polyfill/dist/ponyfill.es2018.js',
      'astro/components/Image.astro',
      'one/LICENSE',
      'one/package.json',
    ])
      expect([file, isUnused(file)]).toEqual([file, false])
  })

  it('is what is for readers, for other systems, and other builds of the same', () => {
    for (const [file, unused] of [
      ['one/README.md', true],
      ['one/dist/index.js', false],
      ['one/dist/index.js.map', true],
      ['@scope/two/lib/two.mjs', false],
      ['onnxruntime-web/dist/ort-wasm-simd-threaded.jsep.wasm', true],
      ['onnxruntime-web/dist/ort.all.min.js', true],
      ['binaryen/bin/wasm-opt', true],
      ['binaryen/index.js', false],
      ['@photostructure/sqlite/prebuilds/none-none/driver.node', true],
      ['react-aria/dist/exports/index.cjs', true],
      ['react-dom/cjs/react-dom-profiling.development.js', true],
      ['prettier/plugins/babel.mjs', true],
    ] as const) {
      fs.mkdirSync(path.dirname(path.join(dir, file)), { recursive: true })
      fs.writeFileSync(path.join(dir, file), '12345678')
      expect([file, isUnused(file)]).toEqual([file, unused])
    }
    expect(prunePackages(dir)).toBe(9 * 8)
    const left = fs.readdirSync(dir, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile())
    expect(left.map(({ name }) => name).sort()).toEqual(['index.js', 'index.js', 'two.mjs'])
    // There is nothing more to take out.
    expect(prunePackages(dir)).toBe(0)
  })
})
