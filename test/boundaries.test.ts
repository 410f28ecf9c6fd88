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
  const broken = new Map<string, string>()
  for (const file of files.keys()) {
    const { stdout, stderr } = spawnSync(process.execPath, [biome, 'lint', file], { cwd: dir, encoding: 'utf8' })
    broken.set(file, [...(stdout + stderr).matchAll(/lint\/\w+\/(\w+)/g)].map((match) => match[1]).join(' '))
  }
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
