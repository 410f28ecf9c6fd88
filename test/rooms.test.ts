import fs from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { ROOT } from './world'

/** Files that each file imports, types included; paths relative to the folder. */
function importsIn(files: ReadonlyMap<string, string>): Map<string, string[]> {
  return new Map(
    [...files].map(([file, text]) => {
      const specifiers = [...text.matchAll(/(?:from|import)\s*\(?\s*['"](\.[^'"?]+)['"]/g)].map((match) => match[1])
      const targets = specifiers.flatMap((specifier) => {
        const base = path.posix.join(path.posix.dirname(file), specifier as string)
        return [base, `${base}.ts`, `${base}.tsx`, `${base}/index.ts`].filter((path) => files.has(path)).slice(0, 1)
      })
      return [file, targets]
    }),
  )
}

/** Edges between folders of one level; a file right in the top folder is a node of its own. */
function roomsOf(imports: ReadonlyMap<string, readonly string[]>, top: string): Map<string, string[]> {
  const roomOf = (file: string): string | null => {
    if (!file.startsWith(`${top}/`)) return null
    const [first, second] = file.slice(top.length + 1).split('/')
    return second === undefined ? null : (first as string)
  }
  const rooms = new Map<string, string[]>()
  for (const [file, targets] of imports) {
    const from = roomOf(file)
    if (from === null) continue
    const to = targets.flatMap((target) => roomOf(target) ?? []).filter((room) => room !== from)
    rooms.set(from, [...new Set([...(rooms.get(from) ?? []), ...to])])
  }
  return rooms
}

/** Some cycle of a graph as the nodes on it, or null when there is none. */
function findCycle(graph: ReadonlyMap<string, readonly string[]>): string[] | null {
  const done = new Set<string>()
  const walk = (node: string, trail: readonly string[]): string[] | null => {
    const at = trail.indexOf(node)
    if (at >= 0) return [...trail.slice(at), node]
    if (done.has(node)) return null
    for (const next of graph.get(node) ?? []) {
      const cycle = walk(next, [...trail, node])
      if (cycle) return cycle
    }
    done.add(node)
    return null
  }
  for (const node of graph.keys()) {
    const cycle = walk(node, [])
    if (cycle) return cycle
  }
  return null
}

function sources(): Map<string, string> {
  const top = path.join(ROOT, 'src')
  const files = fs
    .readdirSync(top, { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\./.test(file))
  return new Map(files.map((file) => [file.split(path.sep).join('/'), fs.readFileSync(path.join(top, file), 'utf8')]))
}

describe('the rooms of the project', () => {
  const imports = importsIn(sources())

  it.each(['server', 'core', 'islands', 'islands/parts'])(
    'folders of %s form no cycle, type imports included',
    (top) => {
      const rooms = roomsOf(imports, top)
      expect(rooms.size).toBeGreaterThan(2)
      expect(findCycle(rooms)).toBeNull()
    },
  )

  it('files form no cycle, type imports included', () => {
    expect(imports.size).toBeGreaterThan(300)
    expect(findCycle(imports)).toBeNull()
  })

  it('a cycle by a type alone, three folders long, is seen', () => {
    const files = new Map([
      ['server/a/one.ts', `import type { T } from '../b/two'`],
      ['server/b/two.ts', `export const t = import('../c/three')`],
      ['server/c/three.ts', `export * from '../a/other'`],
      ['server/a/other.ts', ''],
    ])
    expect(findCycle(roomsOf(importsIn(files), 'server'))).toEqual(['a', 'b', 'c', 'a'])
    expect(findCycle(importsIn(files))).toBeNull()
  })
})
