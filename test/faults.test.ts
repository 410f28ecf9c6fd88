import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { writeWav } from '../src/core/formats/wav'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { addFolder, enqueueScan } from '../src/server/folders/folders'
import { walkFolder } from '../src/server/folders/walk'
import { mirrorAll, soundId, soundSamples, temporaryDir, worldForEach } from './world'

const world = worldForEach('faults', async () => {})
let folder: string
beforeEach(() => {
  folder = temporaryDir('faults')
})
afterEach(() => fs.rmSync(folder, { recursive: true }))

const signal = new AbortController().signal

function put(relative: string, bytes: Uint8Array | string): void {
  fs.mkdirSync(path.dirname(path.join(folder, relative)), { recursive: true })
  fs.writeFileSync(path.join(folder, relative), bytes)
}

function wav(id: string): Uint8Array {
  return writeWav({ sampleRateHz: 48000, channels: [soundSamples(id)] })
}

async function count(table: 'sounds' | 'copies'): Promise<number> {
  const { n } = await world()
    .app.db.selectFrom(table)
    .select((eb) => eb.fn.countAll<number>().as('n'))
    .executeTakeFirstOrThrow()
  return n
}

async function scan(id: string): Promise<string> {
  const jobId = await enqueueScan(world().app, id)
  await world().app.jobs.idle()
  return (await world().app.jobs.find(jobId))?.message ?? ''
}

describe('a watched folder', () => {
  /** Watches “deep”, which is in the folder. Its id. */
  async function watchDeep(): Promise<string> {
    const { id } = await addFolder(world().app, { path: path.join(folder, 'deep'), name: 'Deep', defaultTerms: null })
    await world().app.jobs.idle()
    return id
  }

  it('does not gain a sound at each scan by a file that cannot be read', { tags: 'long' }, async () => {
    put('deep/good.wav', wav('o1'))
    put('deep/bad.wav', `RIFF${'x'.repeat(100)}`)
    const id = await watchDeep()
    const after = await count('sounds')
    expect(await scan(id)).toContain('1 could not be read')
    expect(await scan(id)).toContain('1 could not be read')
    expect(await count('sounds')).toBe(after)
  })

  it('is not accepted below or above one that is watched: every file would be there twice', async () => {
    put('deep/good.wav', wav('o1'))
    await watchDeep()
    for (const where of [folder, path.join(folder, 'deep'), path.dirname(folder)]) {
      const adding = addFolder(world().app, { path: where, name: '', defaultTerms: null })
      await expect(adding).rejects.toMatchObject({ name: 'DomainError' })
    }
    fs.mkdirSync(path.join(folder, 'beside'))
    const beside = await addFolder(world().app, { path: path.join(folder, 'beside'), name: '', defaultTerms: null })
    await world().app.jobs.idle()
    expect(beside.id).toMatch(/^folder-/)
  })

  it('is looked through to the end when a file vanishes meanwhile', async () => {
    for (const name of ['bad.wav', 'good.wav', 'here.wav']) put(`deep/${name}`, wav('o2'))
    const gone = path.join(folder, 'deep', 'gone.wav')
    fs.symlinkSync('/nowhere', path.join(folder, 'deep', 'link.wav'))
    fs.writeFileSync(gone, 'x')
    const stat = fs.promises.stat
    fs.promises.stat = (async (file: fs.PathLike) => {
      if (String(file) === gone) throw Object.assign(new Error('gone'), { code: 'ENOENT' })
      return stat(file)
    }) as typeof stat
    const { sounds } = await walkFolder(path.join(folder, 'deep'), signal).finally(() => {
      fs.promises.stat = stat
    })
    expect(sounds.map(({ path: file }) => file)).toEqual(['bad.wav', 'good.wav', 'here.wav'])
    fs.rmSync(gone)
  })

  it('lets all lost files with one content go at once', async () => {
    for (const name of ['one.wav', 'two.wav', 'three.wav']) put(`deep/${name}`, wav('o3'))
    const id = await watchDeep()
    for (const name of ['one.wav', 'two.wav', 'three.wav']) fs.rmSync(path.join(folder, 'deep', name))
    expect(await scan(id)).toContain('3 gone')
    expect(await scan(id)).toContain('0 gone')
  })
})

describe('a file from elsewhere', () => {
  it('of which only a part is wanted is not kept whole', async () => {
    const long = new Float32Array(20 * 48000)
    long.set(soundSamples('e1'), 5 * 48000)
    const bytes = Buffer.from(writeWav({ sampleRateHz: 48000, channels: [long] }))
    const { soundId: id } = await takeInFromElsewhere(world().app, {
      name: 'evening.wav',
      body: Readable.from([bytes]),
      range: { startS: 5, endS: 6 },
      signal,
    })
    await world().app.jobs.idle()
    const { audio_sha256 } = await world()
      .app.db.selectFrom('analyses')
      .select('audio_sha256')
      .where('sound_id', '=', id)
      .executeTakeFirstOrThrow()
    expect(fs.statSync(world().app.store.blobPath(audio_sha256)).size).toBeLessThan(bytes.length / 5)
    const blobs = fs.readdirSync(path.join(world().dir, 'blobs'), { recursive: true, withFileTypes: true })
    const largest = Math.max(
      ...blobs.filter((one) => one.isFile()).map((one) => fs.statSync(path.join(one.parentPath, one.name)).size),
    )
    expect(largest).toBeLessThan(bytes.length / 2)
    expect(fs.readdirSync(path.join(world().dir, 'incoming'))).toEqual([])
  })
})

describe('a library', () => {
  it('whose sound is not sold any more has no price for it left', { tags: 'long' }, async () => {
    await mirrorAll(world(), ['pell-marrow'])
    const crate = await soundId(world().app, 'Crate lands')
    const tiers = () => world().app.db.selectFrom('sound_tiers').select('key').where('sound_id', '=', crate).execute()
    expect((await tiers()).length).toBeGreaterThan(0)
    const connector = world().app.connector('pell-marrow')
    const page = connector.page.bind(connector)
    const free = {
      ...connector,
      page: async (after: string | null, abort: AbortSignal) => {
        const read = await page(after, abort)
        return { ...read, sounds: read.sounds.map((sound) => ({ ...sound, tiers: [] })) }
      },
    }
    const { mirrorSource } = await import('../src/server/sources/mirror')
    const services = { ...world().app, connector: () => free }
    const job = { id: 0, kind: 'mirror', subject: 'pell-marrow' } as never
    await mirrorSource(services, 'pell-marrow', { job, format: null, signal, report: () => {} })
    expect(await tiers()).toEqual([])
  })
})
