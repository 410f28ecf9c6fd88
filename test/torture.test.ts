// @module-tag long
import fs from 'node:fs'
import { afterAll, describe, expect, it } from 'vitest'
import { disk } from '../bench/torture/disk'
import { fuzz } from '../bench/torture/fuzz'
import { kills } from '../bench/torture/kills'
import { lyingLibraries } from '../bench/torture/libraries-campaign'
import { load } from '../bench/torture/load'
import { ROOT, temporaryDir } from './world'

const dirs: string[] = []
afterAll(() => {
  for (const dir of dirs) fs.rmSync(dir, { recursive: true, force: true })
})

/** What each campaign is given here: far less than when it is run by itself. */
function options(port: number) {
  const dir = temporaryDir('torture')
  dirs.push(dir)
  return { root: ROOT, dir, seed: 7, port, say: () => {} }
}

describe('a short run of each campaign', () => {
  it('the server is killed in the middle of what it does', async () => {
    const { problems, rows } = await kills({ ...options(4871), count: 1 })
    expect(problems, problems.join('\n')).toEqual([])
    expect(rows).toContainEqual(['kills', 1])
  }, 240_000)

  it('the libraries lie and fail', async () => {
    const { problems, rows } = await lyingLibraries({ ...options(4872), minutes: 0.05 })
    expect(problems, problems.join('\n')).toEqual([])
    expect(Number(rows.find(([name]) => name === 'acts')?.[1])).toBeGreaterThan(3)
  }, 240_000)

  it('the disk fills up', async () => {
    const { problems } = await disk({ ...options(4873), count: 1 })
    expect(problems, problems.join('\n')).toEqual([])
  }, 240_000)

  it('files are damaged', async () => {
    const { problems, rows } = await fuzz({ ...options(4874), count: 20 })
    expect(problems, problems.join('\n')).toEqual([])
    const partly = rows
      .filter(([name]) => /partly|refused/.test(name))
      .reduce((sum, [, count]) => sum + Number(count), 0)
    expect(partly).toBeGreaterThan(2)
  }, 240_000)

  it('fifty clients ask at once while a check runs', async () => {
    const { problems, rows } = await load({ ...options(4875), minutes: 0.05 })
    expect(problems, problems.join('\n')).toEqual([])
    expect(Number(rows.find(([name]) => name === 'requests')?.[1])).toBeGreaterThan(50)
  }, 240_000)
})
