import fs from 'node:fs'
import path from 'node:path'
import { afterAll, afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { temporaryDir } from '../../../test/world'

const dir = temporaryDir('programs')
const probes = path.join(dir, 'asked.txt')
afterAll(() => fs.rmSync(dir, { recursive: true }))

/** A program of this name in a folder of its own. */
function program(name: string, script: string, mode = 0o755): string {
  const folder = fs.mkdtempSync(path.join(dir, 'on-path-'))
  fs.writeFileSync(path.join(folder, name), `#!/bin/sh\n${script}\n`, { mode })
  return folder
}

/** The module as it is when nothing was asked yet. */
async function fresh(...folders: readonly string[]): Promise<typeof import('./ffmpeg')> {
  vi.stubEnv('PATH', folders.join(path.delimiter))
  vi.resetModules()
  return import('./ffmpeg')
}

describe('ffmpeg', () => {
  beforeEach(() => fs.rmSync(probes, { force: true }))
  afterEach(() => {
    vi.unstubAllEnvs()
    vi.resetModules()
  })
  const works = () => program('ffmpeg', `echo asked >> '${probes}'; echo 'ffmpeg version 9.1-small'`)

  it('is there where both programs are, and is asked for its version once', async () => {
    const { ffmpegIsThere, ffmpegDecoder } = await fresh(works(), program('ffprobe', 'exit 0'))
    expect(ffmpegIsThere()).toBe(true)
    expect(ffmpegIsThere()).toBe(true)
    expect(ffmpegDecoder.version()).toBe('9.1-small')
    expect(fs.readFileSync(probes, 'utf8')).toBe('asked\n')
  })

  it.each([
    ['there is none of them', () => []],
    ['it has no companion', () => [works()]],
    ['its companion cannot be run', () => [works(), program('ffprobe', 'exit 0', 0o644)]],
    ['only its companion is there', () => [program('ffprobe', 'exit 0')]],
    ['it ends without a word', () => [program('ffmpeg', 'exit 1'), program('ffprobe', 'exit 0')]],
  ])('is not there where %s', async (_what, folders) => {
    const { ffmpegIsThere, ffmpegDecoder } = await fresh(...folders())
    expect(ffmpegIsThere()).toBe(false)
    if (!fs.existsSync(probes)) expect(ffmpegDecoder.version()).toBe('unknown')
  })

  it('is asked again where it told nothing', async () => {
    const fails = program(
      'ffprobe',
      `echo asked >> '${probes}'; [ $(wc -l < '${probes}') = 2 ] && echo '{"streams":[]}'`,
    )
    const { probeFile } = await fresh(fails, '/bin', '/usr/bin')
    const file = path.join(dir, 'slow.wav')
    fs.writeFileSync(file, 'the same throughout')
    expect(probeFile(file)).toBeNull()
    expect(probeFile(file)).toEqual({ streams: [] })
  })

  it('tells of a file anew when it was changed', async () => {
    const told = program('ffprobe', `echo asked >> '${probes}'; echo '{"streams":[]}'`)
    const { probeFile } = await fresh(told, '/bin', '/usr/bin')
    const file = path.join(dir, 'one.wav')
    fs.writeFileSync(file, 'as it was')
    expect(probeFile(file)).toEqual({ streams: [] })
    expect(probeFile(file)).toEqual({ streams: [] })
    expect(fs.readFileSync(probes, 'utf8')).toBe('asked\n')
    fs.writeFileSync(file, 'as it is now, which is longer')
    expect(probeFile(file)).toEqual({ streams: [] })
    expect(fs.readFileSync(probes, 'utf8')).toBe('asked\nasked\n')
  })
})
