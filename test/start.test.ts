import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import net from 'node:net'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { checkNode } from '../scripts/ready.mjs'
import { howToInstall, leftOutFor, packagesFor, testFiles } from '../scripts/test-programs.mjs'
import { lockFolder } from '../src/server/database/folder-lock'
import { ROOT, temporaryDir } from './world'

const dir = temporaryDir('start')
afterAll(() => fs.rmSync(dir, { recursive: true, force: true }))

function start(...args: string[]): { status: number | null; lines: string[] } {
  const result = spawnSync(process.execPath, [path.join(ROOT, 'scripts', 'run.mjs'), ...args], {
    encoding: 'utf8',
    timeout: 60_000,
  })
  return { status: result.status, lines: result.stderr.trim().split('\n') }
}

describe('the starter', () => {
  it('says in one line that a port is in use', async () => {
    const server = net.createServer()
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const { port } = server.address() as { port: number }
    // In a thread of its own the server would still hold the port: the call below blocks, the port stays taken.
    const { status, lines } = start('--port', String(port), '--data', path.join(dir, 'a'))
    server.close()
    expect(status).toBe(1)
    expect(lines).toEqual([`Port ${port} is in use. Start with another one: npm run demo -- --port ${port + 1}`])
  })

  it('says in one line that a folder cannot be written', () => {
    const file = path.join(dir, 'a-file')
    fs.writeFileSync(file, '')
    const { status, lines } = start('--port', '4897', '--data', path.join(file, 'below'))
    expect(status).toBe(1)
    expect(lines).toHaveLength(1)
    expect(lines[0]).toContain('cannot be written')
    expect(lines[0]).toContain('--data DIR')
  })

  it.each([
    [['--port', 'eighty'], '--port takes a number'],
    [['--port', '70000'], '--port takes a number'],
    [['--loud'], '--loud'],
  ])('ends with 2 and the options for %j', (args, words) => {
    const { status, lines } = start(...args)
    expect(status).toBe(2)
    expect(lines.join('\n')).toContain(words)
    expect(lines.join('\n')).toContain('--reset')
  })

  it('does not run twice on one folder', async () => {
    const data = path.join(dir, 'locked')
    const unlock = await lockFolder(data)
    const { status, lines } = start('--port', '4896', '--data', data)
    await unlock()
    expect(status).toBe(1)
    expect(lines[lines.length - 1]).toContain('already runs on')
    expect(lines[lines.length - 1]).toContain(`process ${process.pid}`)
  })
})

describe('the Node.js version', () => {
  it.each([
    ['20.19.0', true],
    ['22.0.0', true],
    ['20.18.9', false],
    ['18.20.0', false],
  ])('%s', (version, enough) => {
    const answer = checkNode(version)
    if (enough) expect(answer).toBeNull()
    else expect(answer).toContain(`this is ${version}`)
  })
})

describe('the programs that tests need', () => {
  it('are installed only where nobody is asked for a password', () => {
    const here = { isRoot: false, hasApt: true, hasSudo: false }
    expect(howToInstall(here)).toBeNull()
    expect(howToInstall({ ...here, isRoot: true })).toEqual(['apt-get'])
    expect(howToInstall({ ...here, hasSudo: true })).toEqual(['sudo', '-n', 'apt-get'])
    expect(howToInstall({ isRoot: true, hasApt: false, hasSudo: true })).toBeNull()
  })

  it('are taken from the first package that a system has', () => {
    const browser = { name: 'chromium', from: ['small', 'whole'] }
    const from = (...offered: string[]) => packagesFor([browser], (name: string) => offered.includes(name))
    expect(from('small', 'whole')).toEqual(['small'])
    expect(from('whole')).toEqual(['whole'])
    // What no package has is asked for by the name that most systems know, and so is said to be missing.
    expect(from()).toEqual(['whole'])
  })

  it('leave out just the tests that call them', () => {
    const files = testFiles(ROOT)
    expect(leftOutFor([], ROOT, files)).toEqual([])
    const withoutBrowser = leftOutFor(['chromium'], ROOT, files)
    expect(withoutBrowser).toEqual(files.filter((file) => file.startsWith('e2e/')))
    const withoutFfmpeg = leftOutFor(['ffmpeg'], ROOT, files)
    expect(withoutFfmpeg).toContain('test/cuts.test.ts')
    expect(withoutFfmpeg).toContain('e2e/moments.spec.ts')
    expect(withoutFfmpeg).not.toContain('src/core/audio/peaks.test.ts')
    expect(withoutFfmpeg.length).toBeLessThan(files.length / 4)
  })
})
