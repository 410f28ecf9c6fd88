import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { encoded } from '../demo/synthesis/encode'
import { writeWav } from '../src/core/formats/wav'
import { withWavRights } from '../src/core/formats/wav-tags'
import type { TimeRange } from '../src/core/time-range'
import { startDownload } from '../src/server/copies/start-download'
import { todayIso } from '../src/server/database/open'
import { loadDesk } from '../src/server/desk/desk'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { addFolder, answerProposal, enqueueScan, listOpenProposals } from '../src/server/folders/folders'
import { fileFacts } from '../src/server/folders/read-tags'
import { listLedgerEntries, verifyLedger } from '../src/server/ledger/ledger'
import { declarePapers, takeBack } from '../src/server/papers/declare'
import { mayI } from '../src/server/papers/may-i'
import { listPapers } from '../src/server/papers/papers-list'
import { setSourceRemoved } from '../src/server/removal/remove-source'
import { tagFile } from '../src/server/workers/tag-file'
import { searched, soundId, soundSamples, sourceOf, temporaryDir, worldForEach } from './world'

const world = worldForEach('folders', async () => {})
let folder: string
const TODAY = todayIso()
const USES = { places: ['online' as const], earns: false, territory: 'worldwide', publishOn: TODAY, videoLicence: null }

beforeEach(() => {
  folder = temporaryDir('own')
})
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }))

function wav(id: string): Uint8Array {
  return writeWav({ sampleRateHz: 48000, channels: [soundSamples(id)] })
}

function put(relative: string, bytes: Uint8Array | string): void {
  fs.mkdirSync(path.dirname(path.join(folder, relative)), { recursive: true })
  fs.writeFileSync(path.join(folder, relative), bytes)
}

/** Watches the folder and waits until it was looked through. Its id, and what the job said. */
async function watch(): Promise<{ readonly id: string; readonly message: string }> {
  const { id, jobId } = await addFolder(world().app, { path: folder, name: 'Mine', defaultTerms: null })
  await world().app.jobs.idle()
  return { id, message: (await world().app.jobs.find(jobId))?.message ?? '' }
}

async function scan(id: string): Promise<string> {
  const jobId = await enqueueScan(world().app, id)
  await world().app.jobs.idle()
  const job = await world().app.jobs.find(jobId)
  return `${job?.state}: ${job?.message}`
}

async function titles(q = ''): Promise<string[]> {
  return (await searched(world().app, { q, limit: 50, offset: 0, sort: 'best' }, null)).sounds
    .map(({ title }) => title)
    .sort()
}

function say(id: number, terms: Parameters<typeof declarePapers>[2]['terms']): Promise<void> {
  return declarePapers(world().app, id, { from: 'a page', who: 'Ivo', when: '2026-05-01', note: '', terms })
}

const DOOR = 'Doors/DOORWood_Kitchen door_SMHR_DOME.wav'

describe('a folder of the creator’s own', () => {
  it('is looked through with all that is in it; names of folders and files become words', {
    tags: 'long',
  }, async () => {
    put(DOOR, wav('o1'))
    put('Wind/high/gust at the fence.wav', wav('o2'))
    put('.hidden/secret.wav', wav('o3'))
    put('notes.txt', 'buy milk')
    put('Broken/not a sound.wav', 'RIFF')
    fs.symlinkSync('/etc', path.join(folder, 'link'))
    const { id, message } = await watch()
    expect(message).toContain('Found 2 new, 0 changed, 0 moved, 0 gone; 1 could not be read (Broken/not a sound.wav')
    expect(await titles('door')).toEqual(['Kitchen door'])
    expect(await titles('high')).toEqual(['gust at the fence'])
    const source = await sourceOf(world().app, id)
    expect(source).toMatchObject({
      name: 'Mine',
      kind: 'folder',
      noPapersCount: expect.any(Number),
      folderPath: folder,
    })
  })

  it('has nothing to download', async () => {
    put(DOOR, wav('o1'))
    await watch()
    const own = await soundId(world().app, 'Kitchen door')
    await expect(startDownload(world().app, own, null)).rejects.toMatchObject({ code: 'own' })
  })

  it('has no papers for what nobody spoke of, and says so', async () => {
    put(DOOR, wav('o1'))
    await watch()
    const door = await soundId(world().app, 'Kitchen door')
    expect(await mayI(world().app, door, { uses: USES, videoId: null, asOf: todayIso() })).toMatchObject({
      verdict: 'no-papers',
    })
    const row = (await listPapers(world().app, TODAY)).find(({ soundId: one }) => one === door)
    expect(row).toMatchObject({ grantId: null, marks: expect.arrayContaining(['no-papers']) })
  })

  it('is not read again where nothing changed', async () => {
    put(DOOR, wav('o1'))
    put('Broken/not a sound.wav', 'RIFF')
    const { id } = await watch()
    fs.rmSync(path.join(folder, 'Broken'), { recursive: true })
    expect(await scan(id)).toBe('done: Found 0 new, 0 changed, 0 moved, 0 gone')
  })

  it('knows moved files by their content, and keeps their papers', async () => {
    put(DOOR, wav('o1'))
    const { id } = await watch()
    const door = await soundId(world().app, 'Kitchen door')
    await say(door, { kind: 'known', spdxId: 'CC0-1.0' })
    fs.mkdirSync(path.join(folder, 'House'))
    fs.renameSync(path.join(folder, DOOR), path.join(folder, 'House/DOORWood_Back door_SMHR_DOME.wav'))
    expect(await scan(id)).toBe('done: Found 0 new, 0 changed, 1 moved, 0 gone')
    expect(await soundId(world().app, 'Back door')).toBe(door)
    expect((await mayI(world().app, door, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('clear')
  })

  it('tells what changed and what is gone; the papers of what is gone stay', async () => {
    put(DOOR, wav('o1'))
    put('gust at the fence.wav', wav('o2'))
    const { id } = await watch()
    await say(await soundId(world().app, 'Kitchen door'), { kind: 'own' })
    put('gust at the fence.wav', wav('o4'))
    put('new.wav', wav('o5'))
    fs.rmSync(path.join(folder, 'Doors'), { recursive: true })
    expect(await scan(id)).toBe('done: Found 1 new, 1 changed, 0 moved, 1 gone')
    expect(await titles('kitchen door')).toEqual([])
    expect((await listPapers(world().app, TODAY)).map(({ title }) => title)).toContain('Kitchen door')
  })

  it('proposes a text beside the files as papers, and never takes it by itself', async () => {
    put('Borrowed/README.txt', 'Reeds by Ivo Tarn, https://creativecommons.org/licenses/by/4.0/ .')
    put('Borrowed/reeds.wav', wav('o6'))
    put('new.wav', wav('o5'))
    await watch()
    const reeds = await soundId(world().app, 'reeds')
    expect((await mayI(world().app, reeds, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('no-papers')
    const [proposal] = await listOpenProposals(world().app)
    expect(proposal).toMatchObject({ path: path.join('Borrowed', 'README.txt'), soundCount: 1 })
    expect(proposal?.reading.licences[0]).toMatchObject({ spdxId: 'CC-BY-4.0', by: 'url' })
    const terms = { kind: 'known', spdxId: 'CC-BY-4.0' } as const
    expect(await answerProposal(world().app, proposal?.id ?? 0, { accept: true, terms })).toBe(1)
    expect((await mayI(world().app, reeds, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe(
      'owes-credit',
    )
    const other = await soundId(world().app, 'new')
    expect((await mayI(world().app, other, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('no-papers')
    await expect(answerProposal(world().app, proposal?.id ?? 0, { accept: false })).rejects.toMatchObject({
      code: 'not-found',
    })
  })

  it('holds a text beside a file against what was declared of it, until that is answered', async () => {
    put('Pond/README.txt', 'Reeds by Ivo Tarn. Licensed under CC BY-NC 4.0.')
    put('Pond/reeds.wav', wav('o6'))
    put('far.wav', wav('o5'))
    await watch()
    const [reeds, far] = [await soundId(world().app, 'reeds'), await soundId(world().app, 'far')]
    for (const sound of [reeds, far]) await say(sound, { kind: 'known', spdxId: 'CC-BY-4.0' })
    const ask = (sound: number) =>
      mayI(world().app, sound, { uses: { ...USES, earns: true }, videoId: null, asOf: TODAY })
    // What lies in another folder does not speak of it.
    expect((await ask(far)).verdict).toBe('owes-credit')
    const barred = await ask(reeds)
    expect(barred.verdict).toBe('not-allowed')
    const where = path.join('Pond', 'README.txt')
    expect(barred.reasons[0]).toMatchObject({ quote: 'CC BY-NC 4.0' })
    expect(barred.reasons[0]?.sentence).toContain('Creative Commons BY 4.0')
    expect(barred.reasons[0]?.sentence).toContain(where)
    expect(barred.settlements[0]).toBe(`Read ${where} under Sources, and take it or put it away.`)
    const [proposal] = await listOpenProposals(world().app)
    await answerProposal(world().app, proposal?.id ?? 0, { accept: false })
    expect((await ask(reeds)).verdict).toBe('owes-credit')
  })

  it('holds the tag of a file against what was declared of it, also when it was read in an earlier way', async () => {
    const rights = { title: 'Bell', maker: 'Ivo', source: 'Ivo', copyright: 'Ivo, CC BY-ND 4.0', comment: '' }
    const more = { licenceUrl: null, creditLine: null, acquisitionId: 'x', acquiredOn: TODAY }
    put('tagged.wav', withWavRights(wav('o7'), { ...rights, ...more }))
    await watch()
    const bell = await soundId(world().app, 'Bell')
    await say(bell, { kind: 'own' })
    const ask = async () => (await mayI(world().app, bell, { uses: USES, videoId: null, asOf: TODAY })).verdict
    expect(await ask()).toBe('not-allowed')
    await world().app.db.updateTable('papers_proposals').set({ reading_json: '{"licences":[],"clauses":[]}' }).execute()
    expect(await ask()).toBe('clear')
    await world().reopen()
    expect(await ask()).toBe('not-allowed')
  })

  it('reads what the tags of a file say of its rights', async () => {
    const rights = {
      title: 'Bell buoy',
      maker: 'Ivo Tarn',
      source: 'Tarn',
      copyright: 'Ivo Tarn, CC BY-SA 4.0',
      comment: '',
      licenceUrl: null,
      creditLine: null,
      acquisitionId: 'x',
      acquiredOn: TODAY,
    }
    put('tagged.wav', withWavRights(wav('o7'), rights))
    await watch()
    expect(await titles('buoy')).toEqual(['Bell buoy'])
    const proposal = (await listOpenProposals(world().app)).find(({ path: where }) => where === 'tagged.wav')
    expect(proposal?.reading.licences.map(({ spdxId }) => spdxId)).toEqual(['CC-BY-SA-4.0'])
    expect(proposal?.soundCount).toBe(1)
  })

  it('takes the nearest words for a file, whatever is answered first', async () => {
    put('Deep/LICENSE.txt', 'SPDX-License-Identifier: CC-BY-4.0\n')
    put('Deep/er/LICENSE.txt', 'SPDX-License-Identifier: CC0-1.0\n')
    put('Deep/one.wav', wav('o21'))
    put('Deep/er/two.wav', wav('o22'))
    put('Deep/er/three.wav', wav('o23'))
    await watch()
    const [two, three] = [await soundId(world().app, 'two'), await soundId(world().app, 'three')]
    await say(three, { kind: 'own' })
    const at = async (where: string): Promise<number> =>
      (await listOpenProposals(world().app)).find((one) => one.path === path.join(...where.split('/')))?.id ?? 0
    const accept = async (where: string, spdxId: string): Promise<number> =>
      answerProposal(world().app, await at(where), { accept: true, terms: { kind: 'known', spdxId } })
    const termsOf = async (sound: number): Promise<string | undefined> =>
      (await listPapers(world().app, TODAY)).find(({ soundId: one }) => one === sound)?.termsTitle
    expect(await accept('Deep/er/LICENSE.txt', 'CC0-1.0')).toBe(1)
    // The folder above speaks of all three, and comes later: only the file that nothing nearer speaks of is its own.
    expect(await accept('Deep/LICENSE.txt', 'CC-BY-4.0')).toBe(1)
    expect(await termsOf(await soundId(world().app, 'one'))).toBe('Creative Commons BY 4.0')
    expect(await termsOf(two)).toBe('Creative Commons Zero 1.0')
    expect(await termsOf(three)).toBe('Own recording')
  })

  it('whose disk is away changes nothing', async () => {
    put(DOOR, wav('o1'))
    const { id } = await watch()
    const before = await titles()
    fs.renameSync(folder, `${folder}-away`)
    expect(await scan(id)).toMatch(/^failed: The folder .* cannot be opened/)
    fs.renameSync(`${folder}-away`, folder)
    expect(await titles()).toEqual(before)
    expect(before).toEqual(['Kitchen door'])
    const source = await sourceOf(world().app, id)
    expect(source?.lastError).toContain('Is the disk connected?')
  })

  it('can have papers for everything in it', async () => {
    put('pan.wav', wav('o8'))
    const text =
      'All sounds may be used online. No credit is required. This licence is perpetual. It is valid worldwide.'
    const terms = { kind: 'text', title: 'My note', text, confirmed: ['online', 'credit'] as const, setAside: [] }
    await addFolder(world().app, {
      path: folder,
      name: '',
      defaultTerms: { ...terms, confirmed: [...terms.confirmed] } as never,
    })
    await world().app.jobs.idle()
    const pan = await soundId(world().app, 'pan')
    const answer = await mayI(world().app, pan, { uses: USES, videoId: null, asOf: todayIso() })
    // What was not confirmed stays not stated, and is no ground.
    expect(answer.verdict).toBe('not-allowed')
    expect(answer.reasons.find(({ key }) => key === 'online')).toMatchObject({ effect: 'allows' })
    expect(answer.reasons.find(({ key }) => key === 'modification')).toMatchObject({ effect: 'unstated' })
  })

  it.each([
    ['relative/path', 'no-folder'],
    ['/no/such/folder', 'no-folder'],
    [import.meta.filename, 'no-folder'],
  ])('is refused at %s', async (where, code) => {
    await expect(addFolder(world().app, { path: where, name: '', defaultTerms: null })).rejects.toMatchObject({ code })
  })

  it('is refused twice, and where the application keeps its own files', async () => {
    put(DOOR, wav('o1'))
    await watch()
    const inside = path.join(folder, 'Doors')
    await expect(addFolder(world().app, { path: inside, name: '', defaultTerms: null })).rejects.toMatchObject({
      code: 'already',
    })
    for (const own of [world().dir, path.dirname(world().dir)])
      await expect(addFolder(world().app, { path: own, name: '', defaultTerms: null })).rejects.toMatchObject({
        code: 'own-data',
      })
  })

  it('can be let go; its papers stay', async () => {
    put('reeds.wav', wav('o6'))
    const { id } = await watch()
    await say(await soundId(world().app, 'reeds'), { kind: 'own' })
    const rows = (await listPapers(world().app, TODAY)).filter(({ grantId }) => grantId !== null)
    await setSourceRemoved(world().app, { id, removed: true })
    expect(await titles('reeds')).toEqual([])
    const left = await listPapers(world().app, TODAY)
    expect(rows).toHaveLength(1)
    expect(left.map(({ grantId }) => grantId)).toEqual(expect.arrayContaining(rows.map(({ grantId }) => grantId)))
    await expect(setSourceRemoved(world().app, { id, removed: true })).rejects.toMatchObject({ code: 'not-found' })
    // Brought back, it is as it was; with the same folder added anew there would be two.
    await setSourceRemoved(world().app, { id, removed: false })
    expect(await titles('reeds')).toEqual(['reeds'])
    await setSourceRemoved(world().app, { id, removed: true })
    await watch()
    await expect(setSourceRemoved(world().app, { id, removed: false })).rejects.toMatchObject({ code: 'already' })
  })
})

describe('a file from elsewhere', () => {
  const bring = (name: string, bytes: Uint8Array, range: TimeRange | null = null) =>
    takeInFromElsewhere(world().app, {
      name,
      body: Readable.from([Buffer.from(bytes)]),
      range,
      signal: new AbortController().signal,
    })

  it('has no papers, also when nobody knows where it is from, and that is on record', async () => {
    const { soundId: id } = await bring('../../grabbed owl.wav', wav('e1'))
    expect(await titles('grabbed')).toEqual(['grabbed owl'])
    await say(id, { kind: 'unknown' })
    expect((await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('no-papers')
    expect((await listLedgerEntries(world().app.db, 0)).at(-1)).toMatchObject({
      kind: 'declared',
      body: { terms: null },
    })
  })

  it('has those that are declared; a correction is an entry of its own, and they can be taken back', async () => {
    const { soundId: id } = await bring('grabbed owl.wav', wav('e1'))
    await say(id, { kind: 'known', spdxId: 'CC-BY-4.0' })
    const answer = await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })
    expect(answer.verdict).toBe('owes-credit')
    // Whose word it is, and whom the credit names.
    expect(answer.declared).toMatchObject({ on: TODAY })
    expect(answer.creditLine).toContain('“grabbed owl” by Ivo (a page)')
    expect(await titles('[licence CC BY]')).toContain('grabbed owl')
    await say(id, { kind: 'known', spdxId: 'CC-BY-ND-4.0' })
    expect(await titles('[licence CC BY]')).not.toContain('grabbed owl')
    const question = { q: '[licence CC BY-ND] owl', limit: 5, offset: 0, sort: 'best' as const }
    const { sounds } = await searched(world().app, question, null)
    expect(sounds.map(({ title, licence }) => [title, licence])).toEqual([['grabbed owl', 'CC BY-ND']])
    expect((await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('not-allowed')
    expect((await listLedgerEntries(world().app.db, 0)).at(-1)?.kind).toBe('corrected')
    const row = (await listPapers(world().app, TODAY)).find(({ soundId: one }) => one === id)
    const change = (taken: boolean) => takeBack(world().app.db, row?.grantId ?? 0, taken)
    await change(true)
    expect((await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('no-papers')
    await change(false)
    expect((await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('not-allowed')
    expect((await verifyLedger(world().app.db)).broken).toBeNull()
    // What was corrected does not come back beside its correction.
    const { id: first } = await world()
      .app.db.selectFrom('grants')
      .select('id')
      .where('sound_id', '=', id)
      .orderBy('id')
      .executeTakeFirstOrThrow()
    await expect(takeBack(world().app.db, first, false)).rejects.toMatchObject({ code: 'replaced' })
    expect((await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('not-allowed')
  })

  it('refuses a clause that the text does not speak for', async () => {
    const { soundId: id } = await bring('grabbed owl.wav', wav('e1'))
    const terms = {
      kind: 'text' as const,
      title: '',
      text: 'You may use it online, for ever.',
      confirmed: ['broadcast' as const],
      setAside: [],
    }
    await expect(say(id, terms)).rejects.toMatchObject({ code: 'bad-clauses' })
  })

  describe('from a text', () => {
    const HONEST =
      'You may use the sounds in online videos. You may edit the sounds. No credit is required. The licence is worldwide and perpetual. Your videos may be published under any licence.'
    const ALL = ['online', 'modification', 'credit', 'territory', 'duration', 'share-alike'] as const
    const text = (more: string, setAside: string[] = []) => ({
      kind: 'text' as const,
      title: '',
      text: `${HONEST} ${more}`.trim(),
      confirmed: [...ALL],
      setAside,
    })
    const verdict = async (id: number) =>
      (await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })).verdict

    it('are clear when it says every point plainly and each was confirmed', async () => {
      const { soundId: id } = await bring('honest.wav', wav('e31'))
      await say(id, text(''))
      expect(await verdict(id)).toBe('clear')
    })

    it.each(['This holds for subscribers only.', 'Adverts are another matter. The rest ends with your plan.'])(
      'allow nothing while nobody has read what stands beside it: %s',
      { tags: 'long' },
      async (more) => {
        const { soundId: id } = await bring('beside.wav', wav('e32'))
        await expect(say(id, text(more))).rejects.toMatchObject({ code: 'bad-clauses' })
        expect(await verdict(id)).toBe('no-papers')
      },
    )

    it('are clear when what was not understood was read and set aside, and that is on record', async () => {
      const { soundId: id } = await bring('aside.wav', wav('e33'))
      const more = 'Our cat sleeps in the dome.'
      await say(id, text(more, [more]))
      expect(await verdict(id)).toBe('clear')
      expect((await listLedgerEntries(world().app.db, 0)).at(-1)?.body).toMatchObject({ setAside: more })
    })

    it('are read again when the way of reading was mended, and the ledger and the Desk tell of it', async () => {
      const { soundId: id } = await bring('lax.wav', wav('e35'))
      await say(id, text('Our cat sleeps in the dome.', ['Our cat sleeps in the dome.']))
      expect(await verdict(id)).toBe('clear')
      // As an earlier way of reading left it: the prohibition was taken for a permission.
      const forbids = 'You can’t edit the sounds.'
      const { terms_id: termsId } = await world()
        .app.db.selectFrom('active_grants')
        .select('terms_id')
        .where('sound_id', '=', id)
        .executeTakeFirstOrThrow()
      const { id: _, ...row } = await world()
        .app.db.selectFrom('terms')
        .selectAll()
        .where('id', '=', termsId)
        .executeTakeFirstOrThrow()
      const old = await world()
        .app.db.insertInto('terms')
        .values({ ...row, key: 'text-old', text: `${row.text} ${forbids}`, sha256: 'old', reading_version: 1 })
        .returning('id')
        .executeTakeFirstOrThrow()
      await world().app.db.updateTable('grants').set({ terms_id: old.id }).where('sound_id', '=', id).execute()
      expect(await verdict(id)).toBe('clear')
      await world().app.jobs.idle()
      await world().reopen()
      expect(await verdict(id)).toBe('not-allowed')
      const entry = (await listLedgerEntries(world().app.db, 0)).find(({ kind }) => kind === 'terms-read-again')
      expect(entry?.body).toMatchObject({
        termsId: old.id,
        changes: expect.arrayContaining([{ key: 'modification', from: 'yes', to: 'no' }]),
      })
      const { notices } = await loadDesk(world().app, TODAY)
      expect(notices.map(({ href }) => href)).toContain(`/papers/terms/${old.id}`)
      // Once is enough.
      const entries = (await listLedgerEntries(world().app.db, 0)).length
      await world().app.jobs.idle()
      await world().reopen()
      expect(await listLedgerEntries(world().app.db, 0)).toHaveLength(entries)
    })

    it('hold to the no of a text that says both', async () => {
      const { soundId: id } = await bring('both.wav', wav('e34'))
      await say(id, text('You may not edit the sounds.'))
      expect(await verdict(id)).toBe('not-allowed')
    })
  })

  it('has its own tag held against what is declared of it, and no other file’s', async () => {
    const rights = { title: 'Bell', maker: 'Ivo', source: 'Ivo', copyright: 'Ivo, CC BY-NC 4.0', comment: '' }
    const more = { licenceUrl: null, creditLine: null, acquisitionId: 'x', acquiredOn: TODAY }
    const { soundId: tagged } = await bring('bell.wav', withWavRights(wav('e51'), { ...rights, ...more }))
    const { soundId: plain } = await bring('other.wav', wav('e52'))
    for (const id of [tagged, plain]) await say(id, { kind: 'known', spdxId: 'CC0-1.0' })
    const ask = async (id: number) => mayI(world().app, id, { uses: USES, videoId: null, asOf: TODAY })
    expect((await ask(plain)).verdict).toBe('clear')
    expect(await ask(tagged)).toMatchObject({ verdict: 'not-allowed' })
    const [proposal] = await listOpenProposals(world().app)
    expect(proposal).toMatchObject({ path: `${tagged} bell.wav`, soundCount: 1, sourceName: 'From elsewhere' })
    const terms = { kind: 'known', spdxId: 'CC-BY-NC-4.0' } as const
    await answerProposal(world().app, proposal?.id ?? 0, { accept: true, terms })
    // Whoever takes the tag takes back what was said against it.
    expect(await ask(tagged)).toMatchObject({ verdict: 'owes-credit', terms: { title: 'Creative Commons BY-NC 4.0' } })
  })

  it('is the sound that is here already when it is brought twice', async () => {
    const first = await bring('one.wav', wav('e2'))
    expect(await bring('another name.wav', wav('e2'))).toEqual({ soundId: first.soundId, already: true })
  })

  it('can be a part of a longer file, to the sample', async () => {
    const samples = soundSamples('e3')
    const { soundId: id } = await bring('long.wav', wav('e3'), { startS: 0.1, endS: 0.4 })
    const row = await world()
      .app.db.selectFrom('analyses')
      .selectAll()
      .where('sound_id', '=', id)
      .executeTakeFirstOrThrow()
    expect(row.duration_s).toBeCloseTo(0.3, 4)
    expect(samples.length).toBeGreaterThan(0.4 * 48000)
    await expect(bring('x.wav', wav('e4'), { startS: 3, endS: 1 })).rejects.toMatchObject({ code: 'bad-range' })
  })

  it('that is no sound leaves nothing behind', async () => {
    const before = (await listPapers(world().app, TODAY)).length
    await expect(bring('text.wav', new TextEncoder().encode('not a sound at all'))).rejects.toMatchObject({
      name: 'MediaError',
    })
    expect((await listPapers(world().app, TODAY)).length).toBe(before)
  })
})

describe('rights in the tags of every format', () => {
  const rights = {
    title: 'Owl, “far”',
    maker: 'Zoë',
    source: 'Skerryview',
    licenceTitle: 'Free Collection (version 1)',
    licenceUrl: 'https://terms.example/1',
    creditLine: 'Sound: Owl by Zoë',
    acquisitionId: 'GT-abc',
    acquiredOn: TODAY,
  }

  it.each(['wav', 'flac', 'mp3', 'ogg'] as const)(
    '%s: written, read back, and the audio is as it was',
    async (format) => {
      const dir = temporaryDir('tags')
      const file = path.join(dir, `owl.${format}`)
      const before = await encoded([soundSamples('t1')], format)
      fs.writeFileSync(file, before)
      expect(tagFile(file, format, rights)).toBe(true)
      const facts = await fileFacts(file, `owl.${format}`)
      expect(facts.maker).toBe(format === 'wav' ? 'Zoe' : 'Zoë')
      expect(facts.title).toContain('Owl')
      expect(facts.rightsText).toContain('https://terms.example/1')
      expect(facts.rightsText).toContain('Sound: Owl by Zo')
      const after = fs.readFileSync(file)
      expect(after.includes(Buffer.from(audioOf(before, format)))).toBe(true)
      fs.rmSync(dir, { recursive: true })
    },
  )

  it('are not tried on a kind that takes none', () => {
    expect(tagFile('/nowhere/x.bin', 'bin', rights)).toBe(false)
  })
})

/** Bytes of a file that hold nothing but audio: its last third. */
function audioOf(bytes: Uint8Array, format: string): Uint8Array {
  // Pages of Ogg carry numbers that a longer head shifts; within a page the audio is untouched.
  const from = Math.floor(bytes.length * 0.67)
  return format === 'ogg' ? bytes.subarray(from + 400, from + 900) : bytes.subarray(from, bytes.length - 2)
}
