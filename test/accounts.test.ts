// @module-tag long
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import type { LibraryInput } from '../src/contract/library-account'
import { changeKey, connectLibrary, setPaused } from '../src/server/accounts/connect-library'
import { KEY_FILE } from '../src/server/accounts/key-file'
import { descriptionForForm, libraryKinds, signInOf } from '../src/server/accounts/library-kinds'
import { tryLibrary } from '../src/server/accounts/try-library'
import { backUp, listSnapshots, snapshotFolder } from '../src/server/backup/backup'
import { restore } from '../src/server/backup/restore'
import { DomainError } from '../src/server/domain-error'
import { setSourceRemoved } from '../src/server/removal/remove-source'
import { sweep } from '../src/server/removal/room'
import { listSources } from '../src/server/sources/list-sources'
import { STANDIN_SECRETS } from '../src/standins/secrets'
import { mirrorAll, ROOT, sourceOf, temporaryDir, urlsOf, worldForEach } from './world'

const world = worldForEach('accounts', (first) => mirrorAll(first, ['tin-barn']))
const folders = temporaryDir('accounts-folders')
afterAll(() => fs.rmSync(folders, { recursive: true, force: true }))
const signal = new AbortController().signal
const KEY = STANDIN_SECRETS['tin-barn'].key
const text = (change: (text: string) => string = (one) => one): string =>
  change(fs.readFileSync(path.join(ROOT, 'libraries', 'tin-barn.yaml'), 'utf8'))

const described = (over: Partial<LibraryInput> & { readonly text?: string } = {}): LibraryInput => ({
  of: { kind: 'described', text: over.text ?? text() },
  name: 'A barn of ours',
  address: urlsOf(world().standins)['tin-barn'],
  secrets: { key: KEY },
  ...over,
})
const second = (over: Partial<LibraryInput> = {}): LibraryInput => ({
  ...described(),
  of: { kind: 'known', id: 'tin-barn' },
  name: 'The barn, second account',
  ...over,
})
const keyFile = (): string => path.join(world().dir, KEY_FILE)
const connect = async (input: LibraryInput): Promise<string> => {
  const { id } = await connectLibrary(world().app, input, signal)
  await world().app.jobs.idle()
  return id
}
const source = (id: string) => sourceOf(world().app, id)
const soundsOf = async (id: string): Promise<number> =>
  (
    await world()
      .app.db.selectFrom('sounds')
      .select('id')
      .where('source_id', '=', id)
      .where('withdrawn_at', 'is', null)
      .execute()
  ).length

/** Every file of the data folder but one that holds some text. */
function filesWith(needle: string, but: string): string[] {
  return fs
    .readdirSync(world().dir, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath ?? entry.path, entry.name))
    .filter((file) => file !== but && fs.readFileSync(file).includes(needle))
}

describe('a library that is connected by a description', () => {
  it('is mirrored, and its key is in one file that only the user may read', async () => {
    const id = await connect(described())
    // The id of the description is taken by the library that is there already.
    expect(id).toBe('tin-barn-2')
    expect(await source(id)).toMatchObject({ connected: true, soundCount: 4, listenedCount: 4, lastError: null })
    expect(fs.statSync(keyFile()).mode & 0o777).toBe(0o600)
    expect(fs.readFileSync(keyFile(), 'utf8')).toContain(KEY)
    expect(filesWith(KEY, keyFile())).toEqual([])
    expect(JSON.stringify(await listSources(world().app))).not.toContain(KEY)
  })

  it('is asked by its key again after a start anew', async () => {
    const id = await connect(described())
    await world().reopen()
    await mirrorAll(world(), [id])
    fs.rmSync(keyFile())
    await world().reopen()
    await expect(mirrorAll(world(), [id])).rejects.toThrow('There is no key for A barn of ours. Give one in Sources.')
  })

  it('is not there at all when it does not let us in', async () => {
    const before = await listSources(world().app)
    const wrong = connectLibrary(world().app, described({ secrets: { key: 'not-the-key-42' } }), signal)
    await expect(wrong).rejects.toMatchObject({ code: 'none', detail: expect.stringContaining('refused the sign-in') })
    expect(await listSources(world().app)).toEqual(before)
    expect(fs.existsSync(keyFile())).toBe(false)
    expect(filesWith('not-the-key-42', '')).toEqual([])
  })

  it('says each problem of its description by its place', async () => {
    const bad = text((one) => one.replace('length: duration_sec', 'length: "duration_sec["').replace('  id: id\n', ''))
    expect(() => descriptionForForm(bad)).toThrow(DomainError)
    await expect(connectLibrary(world().app, described({ text: bad }), signal)).rejects.toThrow(/sound\.id/)
    expect(descriptionForForm(text())).toMatchObject({ name: 'Tin Barn Commons', signInWith: 'key' })
  })
})

describe('a try', () => {
  it('shows the account, the first sounds as they are understood, and keeps nothing', async () => {
    const before = await listSources(world().app)
    const tried = await tryLibrary(world().app, described(), signal)
    expect(tried).toMatchObject({ plan: 'Free membership', total: 4, problems: [] })
    expect(tried.sounds[0]).toMatchObject({ title: 'Ice crack', maker: 'fernlight', cost: 'free' })
    expect(tried.sounds.map(({ terms }) => terms)).toContain('Creative Commons BY 4.0')
    expect(tried.preview).toMatch(/^audio\/ogg, \d+ kB$/)
    expect(await listSources(world().app)).toEqual(before)
    expect(fs.existsSync(keyFile())).toBe(false)
  })

  it('names every field that is not as described, with its expression and a piece of the answer, and shows the rest', async () => {
    const wrong = text((one) =>
      one.replace('length: duration_sec', 'length: name').replace('maker: author.handle', 'maker: author'),
    )
    const { problems, sounds } = await tryLibrary(world().app, described({ text: wrong }), signal)
    expect(problems.map(({ field }) => field).sort()).toEqual(['length', 'maker'])
    expect(problems.find(({ field }) => field === 'length')?.message).toMatch(/“name” .*Ice crack/)
    expect(sounds.map(({ title }) => title)).toContain('Ice crack')
    expect(sounds[0]).toMatchObject({ maker: '', lengthS: 0 })
    // What is only tried may be half understood; it is not connected so.
    await expect(connectLibrary(world().app, described({ text: wrong }), signal)).rejects.toMatchObject({
      code: 'none',
    })
  })

  it('of a library that is down or lets nobody in says so by what was asked for, and never the key', async () => {
    const { problems, sounds } = await tryLibrary(world().app, described({ secrets: { key: 'wrong-key-7' } }), signal)
    expect(sounds).toEqual([])
    expect(problems).toEqual([{ field: 'catalogue', message: expect.stringContaining('refused the sign-in') }])
    const nowhere = await tryLibrary(world().app, described({ address: 'http://127.0.0.1:9' }), signal)
    expect(nowhere.problems[0]).toEqual({ field: 'catalogue', message: expect.stringContaining('cannot be reached') })
    const query = {
      of: { kind: 'known' as const, id: 'skerryview' as const },
      address: 'http://127.0.0.1:9',
      name: 'S',
    }
    const told = await tryLibrary(world().app, { ...query, secrets: { key: 'in-the-address-9' } }, signal)
    expect(told.problems.length).toBeGreaterThan(0)
    expect(JSON.stringify(told)).not.toContain('in-the-address-9')
  })
})

describe('several accounts', () => {
  it('of one library are sources beside each other, told apart by their names', async () => {
    const id = await connect(second())
    expect(await soundsOf(id)).toBe(4)
    expect(await soundsOf('tin-barn')).toBe(4)
    await expect(
      connectLibrary(world().app, second({ name: 'THE BARN, second account' }), signal),
    ).rejects.toMatchObject({
      code: 'name-taken',
    })
    // What would turn the direction of writing is shown, not obeyed.
    const turned = await connect(second({ name: 'The barn\u202e, third' }))
    expect((await source(turned))?.name).not.toContain('\u202e')
    expect(libraryKinds(world().app.accounts).map((kind) => kind.id)).toContain('tin-barn')
  })
})

describe('another key', () => {
  it('counts once the library has let us in by it; until then the one before does', async () => {
    const id = await connect(second())
    const kept = fs.readFileSync(keyFile(), 'utf8')
    const wrong = changeKey(world().app, { id, secrets: { key: 'nope' }, signal })
    await expect(wrong).rejects.toMatchObject({ code: 'none' })
    expect(fs.readFileSync(keyFile(), 'utf8')).toBe(kept)
    await mirrorAll(world(), [id])
    await changeKey(world().app, { id: 'tin-barn', secrets: { key: KEY }, signal })
    expect(JSON.parse(fs.readFileSync(keyFile(), 'utf8')).keys).toEqual({
      [id]: { key: KEY },
      'tin-barn': { key: KEY },
    })
    expect(fs.statSync(keyFile()).mode & 0o777).toBe(0o600)
    expect(signInOf(await world().app.accounts.find(id))).toBe('key')
    await expect(changeKey(world().app, { id: 'nobody', secrets: {}, signal })).rejects.toMatchObject({
      code: 'not-found',
    })
  })

  it('is not laid over a file that is damaged, and the application starts all the same', async () => {
    const id = await connect(second())
    fs.writeFileSync(keyFile(), '{"format":"good-thud-keys/1","keys":{"tin-barn-2":{"key":"half')
    await world().reopen()
    await expect(mirrorAll(world(), [id])).rejects.toThrow(/file with your keys .* is damaged/)
    await expect(changeKey(world().app, { id, secrets: { key: KEY }, signal })).rejects.toMatchObject({
      code: 'keys-damaged',
      detail: expect.not.stringContaining('half'),
    })
    expect(fs.readFileSync(keyFile(), 'utf8')).toContain('half')
    // What the starter has set up needs no key of the file.
    await mirrorAll(world(), ['tin-barn'])
  })
})

describe('the key of a library that is disconnected', () => {
  it('stays while that can be undone, and goes after', async () => {
    const { app } = world()
    const [id, other] = [await connect(second()), await connect(described())]
    await setSourceRemoved(app, { id, removed: true })
    const dayMs = 24 * 3600_000
    await sweep(app, { nowMs: Date.now() + 29 * dayMs, signal })
    expect(Object.keys(JSON.parse(fs.readFileSync(keyFile(), 'utf8')).keys).sort()).toEqual([id, other].sort())
    await sweep(app, { nowMs: Date.now() + 31 * dayMs, signal })
    expect(Object.keys(JSON.parse(fs.readFileSync(keyFile(), 'utf8')).keys)).toEqual([other])
  })
})

describe('a library that is paused', () => {
  it('is not asked for anything, keeps its sounds and the reading of its terms, and goes on when it is resumed', async () => {
    const { app } = world()
    await mirrorAll(world(), ['heron-slate'])
    const terms = () =>
      app.db.selectFrom('terms').selectAll().where('source_id', '=', 'heron-slate').orderBy('id').execute()
    const before = await terms()
    await setPaused(app, { id: 'heron-slate', paused: true })
    await expect(mirrorAll(world())).rejects.toThrow('Heron & Slate is paused. Resume it in Sources.')
    expect(await source('heron-slate')).toMatchObject({ paused: true, connected: true, soundCount: 18 })
    await world().reopen()
    expect(
      await world()
        .app.db.selectFrom('terms')
        .selectAll()
        .where('source_id', '=', 'heron-slate')
        .orderBy('id')
        .execute(),
    ).toEqual(before)
    await expect(mirrorAll(world(), ['heron-slate'])).rejects.toThrow('is paused')
    await setPaused(world().app, { id: 'heron-slate', paused: false })
    await mirrorAll(world(), ['heron-slate'])
    expect(await source('heron-slate')).toMatchObject({ paused: false, lastError: null })
    await expect(setPaused(world().app, { id: 'from-elsewhere', paused: true })).rejects.toMatchObject({
      code: 'not-found',
    })
  })
})

describe('a backup', () => {
  it('holds keys only when they are asked for, and then only the user may read them', async () => {
    await connect(second())
    const dataDir = world().dir
    const [without, withKeys] = [path.join(folders, 'without'), path.join(folders, 'with')]
    await backUp({ dataDir, folder: without, keepCount: null })
    const names = fs.readdirSync(without, { recursive: true }) as string[]
    expect(names.filter((name) => fs.statSync(path.join(without, name)).isFile())).not.toEqual([])
    expect(names.filter((name) => path.basename(name) === KEY_FILE)).toEqual([])
    await backUp({ dataDir, folder: withKeys, keepCount: null, withKeys: true })
    const [state = ''] = await listSnapshots(withKeys)
    expect(fs.statSync(path.join(snapshotFolder(withKeys, state), KEY_FILE)).mode & 0o777).toBe(0o600)
    const restored = path.join(folders, 'restored')
    await restore({ folder: withKeys, dataDir: restored })
    expect(fs.readFileSync(path.join(restored, KEY_FILE), 'utf8')).toBe(fs.readFileSync(keyFile(), 'utf8'))
    expect(fs.statSync(path.join(restored, KEY_FILE)).mode & 0o777).toBe(0o600)
  })
})
