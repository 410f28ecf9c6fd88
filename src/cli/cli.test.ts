import { type SpawnSyncReturns, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { finishedTrack, RATE_HZ, ROOT, soundSamples, temporaryDir } from '../../test/world'
import { CheckReport } from '../contract'
import { writeWav } from '../core/formats/wav'

const dir = temporaryDir('cli')
const sounds = path.join(dir, 'sounds')
const film = path.join(dir, 'film.wav')

beforeAll(() => {
  fs.mkdirSync(path.join(sounds, 'deep', 'er'), { recursive: true })
  for (const [id, name] of [
    ['b1', 'ice.wav'],
    ['b2', 'deep/hum.wav'],
    ['h5', 'deep/er/servo.wav'],
  ] as const)
    fs.writeFileSync(path.join(sounds, name), writeWav({ sampleRateHz: RATE_HZ, channels: [soundSamples(id)] }))
  fs.writeFileSync(path.join(sounds, 'notes.txt'), 'not a sound')
  fs.writeFileSync(path.join(sounds, 'broken.wav'), 'not a sound either')
  fs.writeFileSync(
    film,
    finishedTrack(12, [
      ['b1', 2, -8],
      ['h5', 6.5, -10],
    ]),
  )
})
afterAll(() => fs.rmSync(dir, { recursive: true }))

/** Runs the built program as a shell would. */
function thud(...args: string[]): SpawnSyncReturns<string> {
  const script = `const { main } = await import(${JSON.stringify(path.join(ROOT, 'dist', 'node', 'thud.mjs'))}); process.exitCode = await main(${JSON.stringify(args)})`
  return spawnSync(process.execPath, ['--input-type=module', '-e', script], { encoding: 'utf8', cwd: dir })
}

describe('thud check', () => {
  it('prints a table and writes the result as JSON', () => {
    const out = path.join(dir, 'out.json')
    const { status, stdout, stderr } = thud('check', film, '--sounds', sounds, '--json', out)
    expect(status).toBe(0)
    expect(stdout).toContain('ice.wav')
    expect(stdout).toContain(path.join('deep', 'er', 'servo.wav'))
    expect(stderr).toContain('broken.wav: left out.')
    const report = CheckReport.parse(JSON.parse(fs.readFileSync(out, 'utf8')))
    expect(report.media).toBe(film)
    expect(report.durationS).toBeCloseTo(12, 2)
    expect(report.loudness.integratedLufs).toBeLessThan(-5)
    expect(report.detections.map(({ file }) => file)).toEqual(['ice.wav', path.join('deep', 'er', 'servo.wav')])
    const [ice] = report.detections
    expect(Math.abs((ice?.startS ?? 0) - 2)).toBeLessThan(0.02)
    expect(Math.abs((ice?.gainDb ?? 0) + 8)).toBeLessThan(1.5)
    expect(ice?.speed).toBe(1)
    expect(fs.existsSync(`${out}.part`)).toBe(false)
  })

  it('writes the JSON alone to standard output, and says when nothing is heard', () => {
    const silent = path.join(dir, 'silent.wav')
    fs.writeFileSync(silent, writeWav({ sampleRateHz: 48000, channels: [new Float32Array(48000)] }))
    const { stdout } = thud('check', silent, '--sounds', sounds, '--json', '-')
    expect(CheckReport.parse(JSON.parse(stdout))).toMatchObject({
      detections: [],
      loudness: { integratedLufs: null, truePeakDbtp: null },
    })
    expect(thud('check', silent, '--sounds', sounds).stdout).toContain('None of them was heard.')
  })

  it('takes a list of paths, relative to the list', () => {
    const list = path.join(dir, 'list.txt')
    fs.writeFileSync(list, `sounds/ice.wav\r\n\n${path.join(sounds, 'deep', 'hum.wav')}\n`)
    const { status, stdout } = thud('check', film, '--sounds', list, '--json', '-', '--workers', '1')
    expect(status).toBe(0)
    expect(CheckReport.parse(JSON.parse(stdout)).detections.map(({ file }) => file)).toEqual(['sounds/ice.wav'])
  })

  it.each([
    ['a file that is not there', () => ['nowhere.mp4', '--sounds', sounds], 'there is no such file'],
    ['an empty file', () => [empty('empty.mp4'), '--sounds', sounds], 'the file is empty'],
    ['a folder', () => [sounds, '--sounds', sounds], 'not a file'],
    ['a text', () => [path.join(sounds, 'notes.txt'), '--sounds', sounds], 'not a video or sound file'],
    ['no sounds', () => [film, '--sounds', path.join(dir, 'nothing')], 'no such folder'],
    ['a folder without sounds', () => [film, '--sounds', emptyDir()], 'no sound files'],
    ['a list that names what is not there', () => [film, '--sounds', listOf('gone.wav')], 'gone.wav'],
    [
      'a place that cannot be written',
      () => [film, '--sounds', sounds, '--json', path.join(dir, 'no', 'such', 'o.json')],
      'could not be written',
    ],
  ])('ends with 1 and one line for %s', (_what, args, words) => {
    const { status, stderr } = thud('check', ...args())
    expect(status).toBe(1)
    const lines = stderr
      .trim()
      .split('\n')
      .filter((line) => !line.includes('left out'))
    expect(lines).toHaveLength(1)
    expect(lines[0]).toContain(words)
  })

  it.each([
    [[]],
    [['listen']],
    [['check']],
    [['check', 'a', 'b', '--sounds', 's']],
    [['check', 'a']],
    [['check', 'a', '--sounds', 's', '--loud']],
    [['check', 'a', '--sounds', 's', '--workers', '0']],
  ])('ends with 2 and the usage for %j', (args) => {
    const { status, stderr } = thud(...args)
    expect(status).toBe(2)
    expect(stderr).toContain('thud check FILE --sounds FOLDER')
  })

  it('explains itself', () => {
    const { status, stdout } = thud('--help')
    expect(status).toBe(0)
    expect(stdout).toContain('--sounds PLACE')
  })
})

function empty(name: string): string {
  const file = path.join(dir, name)
  fs.writeFileSync(file, '')
  return file
}

function emptyDir(): string {
  const folder = path.join(dir, 'empty')
  fs.mkdirSync(folder, { recursive: true })
  return folder
}

function listOf(line: string): string {
  const file = path.join(dir, 'bad-list.txt')
  fs.writeFileSync(file, line)
  return file
}
