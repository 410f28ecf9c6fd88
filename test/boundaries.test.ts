import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { ROOT, temporaryDir } from './world'

const FORBIDDEN = [
  ['src/core/audio', 'node:fs'],
  ['src/core/audio', '../../server/answer'],
  ['src/core/audio', '../../contract'],
  ['src/core/audio', 'react'],
  ['src/contract', '../server/answer'],
  ['src/server', '../islands/Application'],
  ['src/server', '../standins/serve'],
  ['src/islands', '../server/answer'],
  ['src/islands', 'node:fs'],
  ['src/core/audio', '../../messages'],
  ['src/server', '../messages'],
  ['src/server', '../messages/find'],
  ['src/core/audio', '../../messages/server/desk'],
  ['src/contract', '../messages/find'],
  ['src/messages', '../contract'],
  ['src/standins', '../core/rights'],
] as const
const ALLOWED = [
  ['src/core/audio', './fft'],
  ['src/server', '../core/rights'],
  ['src/islands', '../contract'],
  ['src/islands', '../messages'],
  ['src/messages', './plural'],
  ['src/messages/server', '../plural'],
  ['src/server', '../messages/server/desk'],
  ['src/contract', '../messages/server/inputs'],
  ['src/core/audio', '../wording/rights'],
  ['src/cli', '../server/answer'],
] as const

const dir = temporaryDir('boundaries')
afterAll(() => fs.rmSync(dir, { recursive: true }))

/** Rules that each file of a small tree with the project's own settings breaks, by file. */
function brokenRules(files: ReadonlyMap<string, string>): Map<string, string> {
  const settings = JSON.parse(fs.readFileSync(path.join(ROOT, 'biome.json'), 'utf8')) as Record<string, unknown>
  fs.writeFileSync(
    path.join(dir, 'biome.json'),
    JSON.stringify({ ...settings, $schema: undefined, vcs: { enabled: false } }),
  )
  for (const [file, text] of files) {
    fs.mkdirSync(path.dirname(path.join(dir, file)), { recursive: true })
    fs.writeFileSync(path.join(dir, file), text)
  }
  const biome = path.join(ROOT, 'node_modules', '@biomejs', 'biome', 'bin', 'biome')
  const args = [biome, 'lint', '--reporter=github', '--max-diagnostics=none', '.']
  const { stdout, stderr } = spawnSync(process.execPath, args, { cwd: dir, encoding: 'utf8' })
  const broken = new Map([...files.keys()].map((file) => [file, '']))
  for (const [, rule = '', file = ''] of stdout.matchAll(/^::\w+ title=lint\/\w+\/(\w+),file=([^,]+)/gm)) {
    const name = path.relative(fs.realpathSync(dir), path.resolve(dir, file))
    broken.set(name, `${broken.get(name)} ${rule}`)
  }
  // Files of which it is told under another name would break no rule.
  expect(broken.size, stdout + stderr).toBe(files.size)
  return broken
}

describe('the direction of dependencies is guarded', () => {
  const name = (index: number, kind: string, folder: string): string => `${folder}/${kind}-${index}.ts`
  const broken = brokenRules(
    new Map([
      ...FORBIDDEN.map(([folder, imported], index) => [name(index, 'forbidden', folder), probe(imported)] as const),
      ...ALLOWED.map(([folder, imported], index) => [name(index, 'allowed', folder), probe(imported)] as const),
      ['src/core/any.ts', `export const a: ${'an' + 'y'} = 1\n`],
    ]),
  )

  it.each(FORBIDDEN.map((row, index) => [...row, index] as const))(
    '%s may not import %s',
    (folder, _imported, index) => {
      expect(broken.get(name(index, 'forbidden', folder))).toContain('noRestrictedImports')
    },
  )

  it.each(ALLOWED.map((row, index) => [...row, index] as const))('%s may import %s', (folder, _imported, index) => {
    expect(broken.get(name(index, 'allowed', folder))).not.toContain('noRestrictedImports')
  })

  it('forbids any', () => {
    expect(broken.get('src/core/any.ts')).toContain('noExplicitAny')
  })
})

function probe(imported: string): string {
  return `import { a } from '${imported}'\n\nexport const b = a\n`
}

describe('the core', () => {
  it('reads no clock, chance, file or environment', () => {
    const files = fs
      .readdirSync(path.join(ROOT, 'src', 'core'), { recursive: true, encoding: 'utf8' })
      .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts'))
    expect(files.length).toBeGreaterThan(20)
    for (const file of files) {
      const text = fs.readFileSync(path.join(ROOT, 'src', 'core', file), 'utf8')
      expect(text, file).not.toMatch(/Math\.random|Date\.now|new Date\(\)|process\.|performance\.now|console\./)
    }
  })
})
