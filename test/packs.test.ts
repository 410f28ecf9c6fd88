import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { buffer } from 'node:stream/consumers'
import { afterAll, describe, expect, it } from 'vitest'
import { ZipFile } from 'yazl'
import { writeWav } from '../src/core/formats/wav'
import { listOpenProposals } from '../src/server/folders/folders'
import { bringPack } from '../src/server/folders/packs'
import { unpackZip } from '../src/server/folders/unpack'
import { findOwnWords, setOwnWords } from '../src/server/rows/own-words'
import { proposeWords } from '../src/server/sounds/word-proposals'
import { effect } from './signals'
import { mirrorAll, RATE_HZ, searched, soundSamples, sourceOf, temporaryDir, worldForEach } from './world'

const world = worldForEach('packs', (first) => mirrorAll(first, ['tin-barn']))
const dir = temporaryDir('unpacked')
afterAll(() => fs.rmSync(dir, { recursive: true, force: true }))
const signal = new AbortController().signal

const wav = (seed: number): Buffer =>
  Buffer.from(writeWav({ sampleRateHz: RATE_HZ, channels: [effect({ length: RATE_HZ / 2, rateHz: RATE_HZ, seed })] }))
/** A ZIP file of some files by their names. */
async function zipOf(files: Readonly<Record<string, Buffer | string>>, options: object = {}): Promise<Buffer> {
  const zip = new ZipFile()
  for (const [name, content] of Object.entries(files)) zip.addBuffer(Buffer.from(content), name, options)
  zip.end()
  return buffer(zip.outputStream as Readable)
}
async function bring(zip: Buffer, name = 'Gates of the valley.zip', id: string | null = null): Promise<string> {
  const upload = { name, body: Readable.from([zip]), sizeBytes: zip.length, signal }
  const brought = await bringPack(world().app, upload, id)
  await world().app.jobs.idle()
  return brought.id
}
const source = (id: string) => sourceOf(world().app, id)
const sounds = (id: string) =>
  world()
    .app.db.selectFrom('sounds')
    .select(['id', 'title', 'maker', 'category', 'tags_json', 'description', 'withdrawn_at'])
    .where('source_id', '=', id)
    .orderBy('title')
    .execute()
const TABLE = `FileName;FXName;Category;Keywords;Designer
gate_01.wav;Old gate, slow;DOORS;"iron, creak";Hedda Marl
gate_02.wav;Old gate, shut;DOORS;"iron, slam";Hedda Marl
not-there.wav;Nothing;;;
`

describe('a pack', () => {
  it('becomes a source with what its table says, and its licence is proposed once', async () => {
    const id = await bring(
      await zipOf({
        'Gates/gate_01.wav': wav(1),
        'Gates/gate_02.wav': wav(2),
        'Gates/table.csv': TABLE,
        'LICENSE.txt': 'All sounds in this pack: https://creativecommons.org/licenses/by/4.0/',
        '__MACOSX/Gates/._gate_01.wav': 'x',
        'run.exe': 'x',
      }),
    )
    expect(await source(id)).toMatchObject({
      name: 'Gates of the valley',
      kind: 'folder',
      soundCount: 2,
      lastError: null,
    })
    expect(await sounds(id)).toMatchObject([
      { title: 'Old gate, shut', maker: 'Hedda Marl', category: 'DOORS' },
      { title: 'Old gate, slow', tags_json: expect.stringContaining('"creak"') },
    ])
    const [proposal, ...others] = (await listOpenProposals(world().app)).filter(({ sourceId }) => sourceId === id)
    expect(others).toEqual([])
    expect(proposal).toMatchObject({ soundCount: 2, reading: { licences: [{ spdxId: 'CC-BY-4.0' }] } })
    // The sounds are stored by themselves; neither the ZIP file nor what was unpacked is needed any more.
    expect(fs.readdirSync(path.join(world().dir, 'incoming'))).toEqual([])
  })

  it('in its newer version keeps what is in both, and tells what is new, changed in words, and gone', async () => {
    const id = await bring(await zipOf({ 'gate_01.wav': wav(1), 'gate_02.wav': wav(2) }))
    const before = await sounds(id)
    expect(before.map(({ title }) => title)).toEqual(['gate 01', 'gate 02'])
    const newer = await zipOf({ 'gate_01.wav': wav(1), 'more/gate_03.wav': wav(3), 'table.csv': TABLE })
    expect(await bring(newer, 'Gates 2.zip', id)).toBe(id)
    const after = await sounds(id)
    expect(after.map(({ title, withdrawn_at }) => [title, withdrawn_at === null])).toEqual([
      ['Old gate, slow', true],
      ['gate 02', false],
      ['gate 03', true],
    ])
    expect(after.find(({ title }) => title === 'Old gate, slow')?.id).toBe(before[0]?.id)
    expect((await source(id))?.lastResult).toMatch(/^Found 1 new, 0 changed, 0 moved, 1 gone/)
  })

  it('says which of its sounds another source has already', async () => {
    const same = Buffer.from(writeWav({ sampleRateHz: RATE_HZ, channels: [soundSamples('b1')] }))
    const id = await bring(await zipOf({ 'crack.wav': same, 'gate.wav': wav(5) }))
    expect((await source(id))?.lastResult).toContain('1 you have already (“crack” is “Ice crack” of Tin Barn Commons)')
  })

  it.each([
    ['a file that is no ZIP file', Buffer.from('not a zip at all, but long enough to look at'), /It is no ZIP file/],
    ['one that is cut off', null, /damaged/],
  ])('that is %s says so on its row, and takes nothing', async (_, bytes, words) => {
    const whole = await zipOf({ 'gate.wav': wav(1), 'other.wav': wav(2) })
    const id = await bring(bytes ?? whole.subarray(0, whole.length - 30))
    expect(await source(id)).toMatchObject({ soundCount: 0, lastError: expect.stringMatching(words) })
    expect(fs.readdirSync(path.join(world().dir, 'incoming'))).toEqual([])
  })

  it('under another ending, or empty, is not taken at all', async () => {
    const upload = (name: string, bytes: Buffer) => ({ name, body: Readable.from([bytes]), sizeBytes: null, signal })
    await expect(bringPack(world().app, upload('gates.rar', wav(1)), null)).rejects.toMatchObject({
      code: 'unsupported-ending',
    })
    await expect(bringPack(world().app, upload('gates.zip', Buffer.alloc(0)), null)).rejects.toMatchObject({
      code: 'empty-file',
    })
    await expect(bringPack(world().app, upload('gates.zip', wav(1)), 'tin-barn')).rejects.toMatchObject({
      code: 'not-found',
    })
  })

  it('with a table that is none still gives its sounds, and says so', async () => {
    const id = await bring(await zipOf({ 'gate.wav': wav(6), 'list.xlsx': 'this is no workbook' }))
    expect(await source(id)).toMatchObject({ soundCount: 1, lastResult: expect.stringContaining('list.xlsx') })
  })
})

describe('words that the creator gives', () => {
  it('are found, stay beside what the file says through a newer version, and can be taken back', async () => {
    const { app } = world()
    const id = await bring(await zipOf({ 'gate_01.wav': wav(1) }))
    const [{ id: soundId } = { id: 0 }] = await sounds(id)
    const find = async (q: string): Promise<number[]> =>
      (await searched(app, { q, sort: 'best', limit: 10, offset: 0 }, null)).sounds.map((one) => one.id)
    expect(await find('portcullis')).toEqual([])
    await setOwnWords(app.db, soundId, { words: ['Portcullis', 'portcullis', 'rust'], category: 'Castle' })
    expect(await find('portcullis')).toEqual([soundId])
    expect(await findOwnWords(app.db, soundId)).toEqual({ words: ['portcullis', 'rust'], category: 'Castle' })
    await bring(await zipOf({ 'gate_01.wav': wav(1), 'table.csv': TABLE }), 'again.zip', id)
    expect(await sounds(id)).toMatchObject([
      { title: 'Old gate, slow', category: 'Castle', tags_json: '["iron","creak","portcullis","rust"]' },
    ])
    await setOwnWords(app.db, soundId, { words: [], category: null })
    expect(await sounds(id)).toMatchObject([{ category: 'DOORS', tags_json: '["iron","creak"]' }])
    expect(await find('portcullis')).toEqual([])
  })

  it('are not given to what a library describes', async () => {
    const { app } = world()
    const barn = await app.db
      .selectFrom('sounds')
      .select('id')
      .where('source_id', '=', 'tin-barn')
      .executeTakeFirstOrThrow()
    await expect(setOwnWords(app.db, barn.id, { words: ['x'], category: null })).rejects.toMatchObject({
      code: 'from-library',
    })
    await expect(setOwnWords(app.db, 99_999, { words: ['x'], category: null })).rejects.toMatchObject({
      code: 'not-found',
    })
  })

  it('are proposed by the sounds that it sounds like, and by none that are nameless themselves', async () => {
    const { app } = world()
    const like = (gain: number): Buffer =>
      Buffer.from(writeWav({ sampleRateHz: RATE_HZ, channels: [soundSamples('b1').map((value) => gain * value)] }))
    const id = await bring(await zipOf({ 'x_01.wav': like(0.5), 'x_02.wav': like(0.4) }))
    const [first = { id: 0 }, second = { id: 0 }] = await sounds(id)
    const { words } = await proposeWords(app, first.id)
    expect(words.map(({ word }) => word)).not.toContain('x')
    await setOwnWords(app.db, second.id, { words: ['crackle'], category: null })
    await app.db.updateTable('sounds').set({ tags_json: '["crackle"]' }).where('source_id', '=', 'tin-barn').execute()
    const proposed = await proposeWords(app, first.id)
    expect(proposed.neighbours).toBeGreaterThanOrEqual(2)
    expect(proposed.words[0]?.word).toBe('crackle')
    await expect(proposeWords(app, 99_999)).rejects.toMatchObject({ code: 'not-found' })
  })
})

describe('unpacking', () => {
  const unpack = async (zip: Buffer): Promise<string[]> => {
    const folder = fs.mkdtempSync(path.join(dir, 'one-'))
    const file = `${folder}.zip`
    fs.writeFileSync(file, zip)
    await unpackZip(file, folder, signal)
    return (fs.readdirSync(folder, { recursive: true }) as string[]).filter((name) => name.includes('.')).sort()
  }

  it('writes nothing outside of its folder', async () => {
    const zip = await zipOf({ 'aaaaaaa/evil.wav': wav(1) })
    const climbing = Buffer.from(zip.toString('latin1').replaceAll('aaaaaaa/evil', '../../../evil'), 'latin1')
    await expect(unpack(climbing)).rejects.toMatchObject({ code: 'not-a-pack' })
    expect(fs.existsSync(path.join(dir, 'evil.wav'))).toBe(false)
    expect(fs.existsSync(path.join(dir, '..', 'evil.wav'))).toBe(false)
  })

  it('passes by links, hidden files and what is neither sound, text nor table', async () => {
    const zip = await zipOf({ 'a.wav': wav(1), '.hidden/b.wav': wav(2), 'c.svg': '<svg/>', 'readme.txt': 'x' })
    expect(await unpack(zip)).toEqual(['a.wav', 'readme.txt'])
    expect(await unpack(await zipOf({ 'link.wav': '/etc/passwd' }, { mode: 0o120777 }))).toEqual([])
  })

  it('does not fill the disk with what is packed very small', async () => {
    const zip = await zipOf({ 'silence.wav': Buffer.alloc(30 * 1024 * 1024) })
    expect(zip.length).toBeLessThan(60_000)
    await expect(unpack(zip)).rejects.toMatchObject({
      code: 'not-a-pack',
      detail: expect.stringContaining('fills the disk'),
    })
  })

  it('stops when it is told to', async () => {
    const file = path.join(dir, 'stopped.zip')
    fs.writeFileSync(file, await zipOf({ 'a.wav': wav(1) }))
    await expect(unpackZip(file, path.join(dir, 'stopped'), AbortSignal.abort())).rejects.toThrow()
  })
})
