// @module-tag long
import { type SpawnSyncReturns, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { sql } from 'kysely'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { opposedUnderHum } from '../../test/signals'
import { finishedTrack, RATE_HZ, ROOT, soundSamples, temporaryDir } from '../../test/world'
import { CheckReport } from '../contract'
import { writeWav } from '../core/formats/wav'
import { storeCopy } from '../server/copies/acquire'
import { openDatabase } from '../server/database/open'
import { appendToLedger } from '../server/ledger/ledger'
import { grantDeclared } from '../server/papers/declare'
import { knownTerms } from '../server/terms/known-terms'
import { storeTerms } from '../server/terms/terms-store'

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

/** Where it does not matter at which speeds a sound is found, it is looked for at its own only, in one thread. */
const AS_IT_IS = ['--stage', 'catalogue', '--workers', '1']

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
    expect(ice).toMatchObject({ speed: 1, certainty: 'certain', treatment: 'as-is', alternatives: [] })
    expect(report.groups).toEqual([])
    expect(report.decoys).toEqual({ listenedFor: 3, heard: 0 })
    expect(report.segments.at(-1)?.endS).toBeCloseTo(12, 2)
    expect(report.sensitivity.map(({ file }) => file)).toEqual(['deep/hum.wav'])
    expect(report.sensitivity[0]?.fromDb).toBeLessThan(0)
    expect(fs.existsSync(`${out}.part`)).toBe(false)
  })

  it('says when nothing is heard', () => {
    const silent = path.join(dir, 'silent.wav')
    fs.writeFileSync(silent, writeWav({ sampleRateHz: 48000, channels: [new Float32Array(48000)] }))
    const out = path.join(dir, 'silent.json')
    const { stdout } = thud('check', silent, '--sounds', sounds, '--json', out, ...AS_IT_IS)
    expect(stdout).toContain('None of them was heard.')
    expect(CheckReport.parse(JSON.parse(fs.readFileSync(out, 'utf8')))).toMatchObject({
      detections: [],
      loudness: { integratedLufs: null, truePeakDbtp: null },
    })
  })

  it('keeps features in a folder and reuses them, but for those that are damaged', () => {
    const features = path.join(dir, 'kept', 'features')
    const check = () => thud('check', film, '--sounds', sounds, '--json', '-', '--features', features, ...AS_IT_IS)
    const first = CheckReport.parse(JSON.parse(check().stdout))
    const names = fs.readdirSync(features)
    const files = names.filter((name) => name.endsWith('.features')).map((name) => path.join(features, name))
    expect(files).toHaveLength(3)
    // What each is looked up by lies beside it.
    expect(names).toEqual(expect.arrayContaining(files.map((file) => `${path.basename(file, '.features')}.templates`)))
    const [kept, damaged] = files as [string, string]
    fs.writeFileSync(damaged, 'cut off')
    const before = fs.statSync(kept).mtimeMs
    const second = CheckReport.parse(JSON.parse(check().stdout))
    expect(fs.statSync(kept).mtimeMs).toBe(before)
    expect(fs.statSync(damaged).size).toBeGreaterThan(1000)
    expect(second.detections).toEqual(first.detections)
  })

  it('names two files of one recording as a group, and reports it once', () => {
    const folder = path.join(dir, 'twice')
    fs.mkdirSync(folder)
    const louder = soundSamples('b1').map((value) => 1.3 * value)
    fs.writeFileSync(path.join(folder, 'one.wav'), writeWav({ sampleRateHz: RATE_HZ, channels: [soundSamples('b1')] }))
    fs.writeFileSync(path.join(folder, 'other.wav'), writeWav({ sampleRateHz: RATE_HZ, channels: [louder] }))
    const { stdout } = thud('check', film, '--sounds', folder, '--json', '-', ...AS_IT_IS)
    const { detections, groups } = CheckReport.parse(JSON.parse(stdout))
    expect(groups).toEqual([['one.wav', 'other.wav']])
    expect(detections).toHaveLength(1)
    expect([detections[0]?.file, ...(detections[0]?.alternatives ?? [])].sort()).toEqual(['one.wav', 'other.wav'])
  })

  it('listens to every audio track, and says in which each sound is heard', () => {
    const parts = [
      ['one.wav', [['b1', 1, -8]]],
      ['two.wav', [['h5', 2, -8]]],
    ] as const
    for (const [name, placed] of parts) fs.writeFileSync(path.join(dir, name), finishedTrack(5, placed))
    const both = path.join(dir, 'both.mkv')
    const inputs = parts.flatMap(([name]) => ['-i', path.join(dir, name)])
    spawnSync('ffmpeg', ['-v', 'error', '-y', ...inputs, '-map', '0', '-map', '1', '-c:a', 'flac', both])
    const out = path.join(dir, 'both.json')
    const { status, stdout } = thud('check', both, '--sounds', sounds, '--json', out, ...AS_IT_IS)
    expect(status).toBe(0)
    expect(stdout).toMatch(/^track +start/m)
    const report = CheckReport.parse(JSON.parse(fs.readFileSync(out, 'utf8')))
    expect(report.tracks.map(({ index, codec }) => [index, codec])).toEqual([
      [0, 'flac'],
      [1, 'flac'],
    ])
    expect(report.detections.map(({ file, track }) => [path.basename(file), track])).toEqual([
      ['ice.wav', 0],
      ['servo.wav', 1],
    ])
  })

  it('ends with 3 for a file of which a part is missing, and says which', () => {
    const cut = path.join(dir, 'cut.wav')
    const whole = fs.readFileSync(film)
    fs.writeFileSync(cut, whole.subarray(0, Math.floor(whole.length / 2)))
    const out = path.join(dir, 'cut.json')
    const { status, stdout } = thud('check', cut, '--sounds', sounds, '--json', out, ...AS_IT_IS)
    expect(status).toBe(3)
    expect(stdout).toContain('PARTLY EXAMINED:')
    expect(stdout).toContain('track 1 could not be decoded from 0:06.000 to 0:12.000')
    expect(CheckReport.parse(JSON.parse(fs.readFileSync(out, 'utf8')))).toMatchObject({
      examined: 'partly',
      tracks: [{ missing: [{ startS: expect.closeTo(6, 1), endS: expect.closeTo(12, 1) }] }],
    })
  })

  it('ends with 3 where left and right cancel each other out, but not where a listed sound is heard', () => {
    const opposed = path.join(dir, 'opposed.wav')
    const left = new Float32Array(5 * RATE_HZ)
    left.set(soundSamples('x1'), RATE_HZ)
    const right = left.map((value) => -value)
    // This one is on both sides alike.
    for (const channel of [left, right]) channel.set(soundSamples('b1'), 3 * RATE_HZ)
    fs.writeFileSync(opposed, writeWav({ sampleRateHz: RATE_HZ, channels: [left, right] }))
    const out = path.join(dir, 'opposed.json')
    const { status, stdout } = thud('check', opposed, '--sounds', sounds, '--json', out, ...AS_IT_IS)
    expect(status).toBe(3)
    expect(stdout).toContain('track 1: left and right cancel each other out from 0:01.000 to 0:')
    const report = CheckReport.parse(JSON.parse(fs.readFileSync(out, 'utf8')))
    expect(report.examined).toBe('partly')
    expect(report.tracks[0]?.opposed).toHaveLength(1)
    expect(report.detections.map(({ file }) => path.basename(file))).toEqual(['ice.wav'])
  })

  it('ends with 3 where they cancel each other out under something else, whatever is heard there', () => {
    const film = path.join(dir, 'under.wav')
    const channels = opposedUnderHum({ length: 5 * RATE_HZ, rateHz: RATE_HZ, atS: 3 })
    fs.writeFileSync(film, writeWav({ sampleRateHz: RATE_HZ, channels }))
    const { status, stdout } = thud('check', film, '--sounds', sounds, ...AS_IT_IS)
    expect(status).toBe(3)
    expect(stdout).toContain(
      'track 1: from 0:03.000 to 0:04.000 part of what is heard cancels itself out between left and right',
    )
    expect(stdout).not.toContain('cancel each other out')
  })

  it('names a listed sound where they cancel each other out, and has examined all of it then', () => {
    const film = path.join(dir, 'turned.wav')
    const left = new Float32Array(5 * RATE_HZ)
    left.set(soundSamples('b1'), RATE_HZ)
    const channels = [left, left.map((value) => -value)]
    fs.writeFileSync(film, writeWav({ sampleRateHz: RATE_HZ, channels }))
    const { status, stdout } = thud('check', film, '--sounds', sounds, '--json', '-', ...AS_IT_IS)
    const report = CheckReport.parse(JSON.parse(stdout))
    expect(report).toMatchObject({ examined: 'whole', tracks: [{ opposed: [], partlyOpposed: [] }] })
    expect(report.detections).toMatchObject([{ inSide: true, startS: expect.closeTo(1, 2) }])
    expect(path.basename(report.detections[0]?.file as string)).toBe('ice.wav')
    expect(status).toBe(0)
  })

  it.each(['copies', 'catalogue'])('searches by --stage %s', (stage) => {
    const { stdout } = thud('check', film, '--sounds', sounds, '--json', '-', '--stage', stage)
    expect(CheckReport.parse(JSON.parse(stdout)).detections).toHaveLength(2)
  })

  it('takes links to sound files, and writes nothing but the JSON to standard output when asked to', () => {
    const folder = path.join(dir, 'links')
    fs.mkdirSync(folder)
    fs.symlinkSync(path.join(sounds, 'ice.wav'), path.join(folder, 'linked.wav'))
    fs.symlinkSync(path.join(dir, 'gone.wav'), path.join(folder, 'dangling.wav'))
    const { stdout } = thud('check', film, '--sounds', folder, '--json', '-', ...AS_IT_IS)
    expect(CheckReport.parse(JSON.parse(stdout)).detections.map(({ file }) => file)).toEqual(['linked.wav'])
  })

  it('takes a list of paths, relative to the list', () => {
    const list = path.join(dir, 'list.txt')
    fs.writeFileSync(list, `sounds/ice.wav\r\n\n${path.join(sounds, 'deep', 'hum.wav')}\n`)
    const { status, stdout } = thud('check', film, '--sounds', list, '--json', '-', ...AS_IT_IS)
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
      'features that cannot be kept',
      () => [film, '--sounds', sounds, '--features', path.join(film, 'features')],
      'features cannot be saved there',
    ],
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
    [['check', 'a', '--sounds', 's', '--stage', 'all']],
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

describe('thud ledger verify', () => {
  it('says that the chain holds, and names the entry that was changed behind its back', async () => {
    const data = path.join(dir, 'data')
    const db = await openDatabase(data)
    await db.transaction().execute(async (trx) => {
      for (const order of ['A-1', 'A-2', 'A-3']) await appendToLedger(trx, 'plan-period', { order })
    })
    const verify = () => thud('ledger', 'verify', '--data', data)
    expect(verify()).toMatchObject({
      status: 0,
      stdout: expect.stringContaining('3 entries, all as they were written'),
    })
    const [hash = ''] = verify().stdout.match(/[0-9a-f]{64}/) ?? []
    const against = (head: string) => thud('ledger', 'verify', '--data', data, '--head', head)
    expect(against(`3:${hash}`)).toMatchObject({ status: 0, stdout: expect.stringContaining('the one that you noted') })
    expect(against(`2:${hash}`)).toMatchObject({ status: 1, stderr: expect.stringContaining('written anew') })
    expect(against(`4:${hash}`)).toMatchObject({ status: 1, stderr: expect.stringContaining('cut off') })
    await sql.raw('DROP TRIGGER ledger_keeps_its_entries').execute(db)
    await sql.raw(`UPDATE ledger SET body_json = '{"order":"B-2"}' WHERE number = 2`).execute(db)
    await db.destroy()
    expect(verify()).toMatchObject({ status: 1, stderr: expect.stringContaining('Entry 2 is broken: its contents') })
  })

  it('says what is wrong with the command or the folder', () => {
    expect(thud('ledger', 'verify', '--data', path.join(dir, 'nowhere'))).toMatchObject({
      status: 1,
      stderr: expect.stringContaining('no Good Thud data in this folder'),
    })
    expect(thud('ledger', 'erase').status).toBe(2)
    expect(thud('ledger', 'verify', '--data', dir, '--head', 'nonsense').status).toBe(2)
  })
})

describe('thud videos', () => {
  it('lists each video with its one state', async () => {
    const data = path.join(dir, 'videos')
    const db = await openDatabase(data)
    expect(thud('videos', '--data', data).stdout).toContain('There is no video yet.')
    const uses = { places: ['online'], earns: false, territory: 'worldwide', publishOn: null, videoLicence: null }
    const row = { title: 'Night film', uses_json: JSON.stringify(uses), created_at: '2026-01-01T00:00:00.000Z' }
    await db.insertInto('videos').values(row).execute()
    await db.destroy()
    expect(thud('videos', '--data', data)).toMatchObject({ status: 0, stdout: 'Night film: not checked\n' })
    expect(thud('videos', 'Night film', '--data', data).status).toBe(2)
  })
})

describe('thud papers export', () => {
  it('writes all papers in the format that is asked for, to a file or to standard output', async () => {
    const data = path.join(dir, 'papers')
    const db = await openDatabase(data)
    await db.insertInto('sources').values({ id: 's', name: 'S', about: '', connected: 1, plan: '' }).execute()
    await db.transaction().execute(async (trx) => {
      const termsId = await storeTerms(trx, 's', knownTerms('CC-BY-4.0'))
      const sound = {
        source_id: 's',
        external_id: '1',
        title: '=SUM(A1)',
        maker: 'Ivo',
        description: '',
        tags_json: '[]',
        category: '',
        duration_s: 1,
        formats_json: '[]',
        cost: 'free',
        page_url: null,
        preview_ref: '',
        terms_id: termsId,
        withdrawn_at: null,
        updated_at: '',
      }
      const { id } = await trx.insertInto('sounds').values(sound).returning('id').executeTakeFirstOrThrow()
      await storeCopy(trx, { sha256: 'a'.repeat(64), sizeBytes: 1, mime: 'audio/wav', fileName: 'x.wav' })
      await grantDeclared(trx, {
        soundId: id,
        copySha256: 'a'.repeat(64),
        termsId,
        title: 'Declared',
        event: { soundId: id },
      })
    })
    await db.destroy()
    const csv = thud('papers', 'export', '--data', data)
    expect(csv).toMatchObject({ status: 0, stdout: expect.stringContaining("'=SUM(A1),Ivo,S,Declared") })
    const out = path.join(dir, 'papers.json')
    expect(thud('papers', 'export', '--data', data, '--format', 'json', '--out', out).status).toBe(0)
    expect(JSON.parse(fs.readFileSync(out, 'utf8'))).toMatchObject({
      papers: [{ title: '=SUM(A1)', kind: 'declared' }],
    })
    const odrl = JSON.parse(thud('papers', 'export', '--data', data, '--format', 'odrl').stdout) as {
      '@graph': unknown[]
    }
    // The terms, and the agreement under them.
    expect(odrl['@graph']).toHaveLength(2)
  })

  it('says what is wrong with the command, the folder or the file', async () => {
    const data = path.join(dir, 'papers of nobody')
    await (await openDatabase(data)).destroy()
    expect(thud('papers', 'burn').status).toBe(2)
    expect(thud('papers', 'export', '--format', 'xls').status).toBe(2)
    expect(thud('papers', 'export', '--data', path.join(dir, 'nowhere')).status).toBe(1)
    expect(thud('papers', 'export', '--data', data, '--out', '/no/such/dir/x.csv')).toMatchObject({
      status: 1,
      stderr: expect.stringContaining('cannot be written'),
    })
  })
})
