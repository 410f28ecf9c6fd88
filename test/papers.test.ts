// @module-tag long
import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { describe, expect, it } from 'vitest'
import { LIBRARY_IDS } from '../src/contract/library-account'
import { dayWords } from '../src/core/day-words'
import { readWav, writeWav } from '../src/core/formats/wav'
import { wavTags } from '../src/core/formats/wav-tags'
import { USE_PLACES } from '../src/core/rights'
import { loadPapers } from '../src/server/clearance/papers-of'
import { todayIso } from '../src/server/database/open'
import { loadDesk, markSeen } from '../src/server/desk/desk'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { insertOwnSound } from '../src/server/folders/own-sound'
import { listLedgerEntries, verifyLedger } from '../src/server/ledger/ledger'
import { placeOrder } from '../src/server/orders/orders'
import { bindVideo } from '../src/server/papers/bind-video'
import { declarePapers } from '../src/server/papers/declare'
import { attachEvidence } from '../src/server/papers/evidence'
import { exportTerms } from '../src/server/papers/export-odrl'
import { csvOf, exportPapers } from '../src/server/papers/export-papers'
import type { ExportedFile } from '../src/server/papers/exported-file'
import { mayI } from '../src/server/papers/may-i'
import { listPapers } from '../src/server/papers/papers-list'
import { getSoundDetail } from '../src/server/sounds/sound-detail'
import { confirmPolicy } from '../src/server/terms/confirm-policy'
import { importPolicies } from '../src/server/terms/import-policies'
import { listTerms } from '../src/server/terms/list-terms'
import { getTermsPage } from '../src/server/terms/terms-page'
import { createVideo } from '../src/server/videos/videos'
import { mirrorAll, soundId, soundSamples, worldForEach } from './world'

const world = worldForEach('papers', (first) => mirrorAll(first, LIBRARY_IDS))

const TODAY = todayIso()

/** A file that is handed out piece by piece, whole. */
async function wholeOf({ pieces }: ExportedFile): Promise<string> {
  let whole = ''
  for await (const piece of pieces) whole += piece
  return whole
}
const USES = {
  places: ['online' as const],
  earns: false,
  territory: 'worldwide',
  publishOn: TODAY,
  videoLicence: null,
  platforms: [],
  audience: null,
  seats: null,
  publisher: 'licensee' as const,
}

async function video(title: string): Promise<number> {
  return (await createVideo(world().app, { title, uses: USES }, todayIso())).id
}

async function download(title: string): Promise<number> {
  const id = await soundId(world().app, title)
  const { job } = await world().app.jobs.enqueue('download', String(id), title)
  await world().app.jobs.idle()
  expect(await world().app.jobs.find(job.id)).toMatchObject({ state: 'done' })
  return id
}

async function buy(title: string, tier: string, priceMinor: number, videoId: number | null): Promise<string> {
  const id = await soundId(world().app, title)
  const { jobId } = await placeOrder(world().app, id, { tier, priceMinor, videoId })
  await world().app.jobs.idle()
  const job = await world().app.jobs.find(jobId)
  return `${job?.state}: ${job?.message}`
}

describe('a downloaded copy', () => {
  it('carries its rights in its tags, and its samples are those that were served', async () => {
    const id = await download('Ice crack')
    const [filed] = (await loadPapers(world().app.db, [id])).get(id) ?? []
    if (!filed?.servedSha256) throw new Error('no papers')
    const copy = fs.readFileSync(world().app.store.blobPath(filed.copySha256))
    const served = fs.readFileSync(world().app.store.blobPath(filed.servedSha256))
    expect(createHash('sha256').update(copy).digest('hex')).toBe(filed.copySha256)
    expect(filed.copySha256).not.toBe(filed.servedSha256)
    expect(readWav(copy)).toEqual(readWav(served))
    expect(readWav(copy).channels[0]?.length).toBe(soundSamples('b1').length)
    const { info, bext, ixml } = wavTags(copy)
    expect(info.get('INAM')).toBe('Ice crack')
    expect(info.get('IART')).toBe('fernlight')
    expect(info.get('ICOP')).toContain('https://creativecommons.org/licenses/by/4.0/')
    expect(bext?.originatorReference).toMatch(/^GT-[0-9a-f]{12}$/)
    expect(ixml).toContain('Credit: “Ice crack” by fernlight')
  })

  it('has the credit in the form that its terms ask for', async () => {
    const id = await download('Far owl')
    const [filed] = (await loadPapers(world().app.db, [id])).get(id) ?? []
    expect(filed?.creditLine).toBe('Sound: Far owl by Tilda Oak, Skerryview Free Collection')
  })
})

describe('buying', () => {
  it('writes down tier, price, receipt and the video that it is for', async () => {
    const videoId = await video('For the crate')
    expect(await buy('Crate lands', 'web', 300, videoId)).toContain('done: Saved')
    const id = await soundId(world().app, 'Crate lands')
    const [filed] = (await loadPapers(world().app.db, [id], videoId)).get(id) ?? []
    expect(filed).toMatchObject({ kind: 'purchase', paidMinor: 300, paidCurrency: 'EUR' })
    expect(filed?.evidence).toMatchObject([
      { fileName: expect.stringMatching(/^receipt PM-/), mime: 'application/pdf' },
    ])
    expect(filed?.papers.boundTo).toEqual([videoId])
    const kinds = (await listLedgerEntries(world().app.db, 0)).map(({ kind }) => kind)
    expect(kinds.slice(-3)).toEqual(['acquired', 'receipt', 'declared'])
  })

  it('clears the one video that it is for, and no other', async () => {
    const bound = await video('For the crate')
    await buy('Crate lands', 'web', 300, bound)
    const id = await soundId(world().app, 'Crate lands')
    expect((await mayI(world().app, id, { uses: USES, videoId: bound, asOf: todayIso() })).verdict).toBe('clear')
    const other = await mayI(world().app, id, { uses: USES, videoId: await video('Another'), asOf: todayIso() })
    expect(other.verdict).toBe('not-allowed')
    expect(other.settlements).toContain('Buy it once more, for this video.')
    expect(other.settlements[0]).toContain('Buy the tier “Single, online” for 3.00 EUR')
  })

  it('can be put on record for a video later, once', async () => {
    expect(await buy('Vault closes', 'web', 450, null)).toContain('done')
    const id = await soundId(world().app, 'Vault closes')
    const first = await video('First')
    const [filed] = (await loadPapers(world().app.db, [id])).get(id) ?? []
    const before = await mayI(world().app, id, { uses: USES, videoId: first, asOf: todayIso() })
    expect(before.settlements).toContain('Put on record that this purchase is for the video that you ask for.')
    const record = { grantId: filed?.grantId ?? 0, videoId: first, key: 'projects', note: '' }
    await bindVideo(world().app.db, record)
    expect((await mayI(world().app, id, { uses: USES, videoId: first, asOf: todayIso() })).verdict).toBe('clear')
    const count = (await listLedgerEntries(world().app.db, 0)).length
    await bindVideo(world().app.db, record)
    expect((await listLedgerEntries(world().app.db, 0)).length).toBe(count)
    const second = await video('Second')
    const more = bindVideo(world().app.db, { ...record, videoId: second })
    await expect(more).rejects.toMatchObject({ code: 'all-bound' })
    expect((await mayI(world().app, id, { uses: USES, videoId: second, asOf: todayIso() })).verdict).toBe('not-allowed')
  })

  it('names the cheapest tier that would do', async () => {
    await buy('Vault closes', 'web', 450, null)
    const id = await soundId(world().app, 'Vault closes')
    const answer = await mayI(world().app, id, {
      uses: { ...USES, places: ['broadcast'] },
      videoId: null,
      asOf: todayIso(),
    })
    expect(answer.verdict).toBe('not-allowed')
    expect(answer.settlements[0]).toBe('Buy the tier “Everything” for 27.00 EUR: it allows this video.')
  })

  it('stops when the price has gone up, and nothing is bought', async () => {
    const before = world().standins['pell-marrow'].orderCount()
    const id = await soundId(world().app, 'Crate lands')
    await expect(placeOrder(world().app, id, { tier: 'all', priceMinor: 5, videoId: null })).rejects.toMatchObject({
      code: 'price-changed',
    })
    await expect(placeOrder(world().app, id, { tier: 'none', priceMinor: 5, videoId: null })).rejects.toMatchObject({
      code: 'not-found',
    })
    expect(world().standins['pell-marrow'].orderCount()).toBe(before)
  })

  it.each([
    ['other-currency', 'asks 3.00 USD for it; 3.00 EUR were agreed. Nothing was bought.', 0],
    ['overcharges', 'charged 4.00 EUR for order', 1],
  ] as const)(
    'stops when the shop says otherwise than was agreed (%s), with both figures',
    async (fault, words, orders) => {
      const before = world().standins['pell-marrow'].orderCount()
      world().standins['pell-marrow'].control.fault = fault
      const said = await buy('Crate lands', 'web', 300, null)
      expect(said).toContain('failed')
      expect(said).toContain(words)
      expect(said).toContain('3.00 EUR')
      expect(world().standins['pell-marrow'].orderCount()).toBe(before + orders)
      const id = await soundId(world().app, 'Crate lands')
      expect(await world().app.db.selectFrom('grants').select('id').where('sound_id', '=', id).execute()).toEqual([])
      // In good spirits again it is the same order, paid once.
      world().standins['pell-marrow'].control.fault = 'none'
      expect(await buy('Crate lands', 'web', 300, null)).toContain('done')
      expect(world().standins['pell-marrow'].orderCount()).toBe(before + 1)
    },
  )

  it('is one order when it is asked for twice, and when the file breaks off in the middle', async () => {
    const before = world().standins['pell-marrow'].orderCount()
    world().standins['pell-marrow'].control.fault = 'half-body'
    expect(await buy('Bed for a long night', 'promo', 3375, null)).toContain('failed')
    expect(world().standins['pell-marrow'].orderCount()).toBe(before + 1)
    world().standins['pell-marrow'].control.fault = 'none'
    const id = await soundId(world().app, 'Bed for a long night')
    const request = { tier: 'promo', priceMinor: 3375, videoId: null }
    const [first, second] = await Promise.all([
      placeOrder(world().app, id, request),
      placeOrder(world().app, id, request),
    ])
    expect(second.jobId).toBe(first.jobId)
    await world().app.jobs.idle()
    expect(await world().app.jobs.find(first.jobId)).toMatchObject({ state: 'done' })
    expect(world().standins['pell-marrow'].orderCount()).toBe(before + 1)
    const detail = await getSoundDetail(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })
    expect(detail).toMatchObject({ kind: 'music', tempoBpm: 84, mood: 'calm', vocals: true })
    expect(detail.papers).toHaveLength(1)
  })

  it('is taken up again with the same order after the application was ended in the middle', async () => {
    const before = world().standins['pell-marrow'].orderCount()
    world().standins['pell-marrow'].control.fault = 'slow'
    const id = await soundId(world().app, 'Crate lands')
    await placeOrder(world().app, id, { tier: 'all', priceMinor: 1800, videoId: null })
    while ((await world().app.jobs.list()).every(({ kind, state }) => kind !== 'purchase' || state !== 'running'))
      await new Promise((resolve) => setTimeout(resolve, 5))
    // The row says "running", as after a kill: closing would say otherwise.
    await world().app.db.updateTable('jobs').set({ attempts: 1 }).where('state', '=', 'running').execute()
    world().standins['pell-marrow'].control.fault = 'none'
    await world().reopen()
    await world().app.jobs.idle()
    const grants = await world().app.db.selectFrom('grants').select('tier').where('sound_id', '=', id).execute()
    expect(grants.map(({ tier }) => tier)).toEqual(['all'])
    expect(world().standins['pell-marrow'].orderCount()).toBe(before + 1)
  })

  it('keeps the name that the library gave the file, without any path in it', async () => {
    world().standins['pell-marrow'].control.fault = 'climbing-names'
    expect(await buy('Crate lands', 'promo', 675, null)).toContain('done')
    world().standins['pell-marrow'].control.fault = 'none'
    const { original_name } = await world()
      .app.db.selectFrom('grants')
      .select('original_name')
      .where('tier', '=', 'promo')
      .orderBy('id', 'desc')
      .executeTakeFirstOrThrow()
    expect(original_name).toBe('Crate lands.wav')
  })
})

describe('what would settle it', () => {
  it('names another sound of the kind that may be used', async () => {
    const id = await download('Radio hum')
    const answer = await mayI(world().app, id, { uses: { ...USES, earns: true }, videoId: null, asOf: todayIso() })
    expect(answer.verdict).toBe('not-allowed')
    expect(answer.settlements.some((sentence) => /^Take “.*” instead: it allows this video/.test(sentence))).toBe(true)
  })

  it('names a download under the terms of today where the copy came under others', async () => {
    const id = await download('Servo number 2')
    await world()
      .app.db.updateTable('grants')
      .set({ plan_from: '2020-01-01', plan_until: '2020-12-31' })
      .where('sound_id', '=', id)
      .execute()
    const answer = await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })
    expect(answer).toMatchObject({ verdict: 'not-allowed', onFile: true })
    expect(answer.settlements[0]).toBe('Download it under “Studio plan”: it allows this video.')
  })
})

describe('evidence', () => {
  const attach = (grantId: number, name: string, bytes: Buffer) =>
    attachEvidence(world().app, grantId, {
      name,
      body: Readable.from([bytes]),
      signal: new AbortController().signal,
    })

  it('is kept by its hash, under a name that is no path, once', async () => {
    const id = await download('Ice crack')
    const [filed] = (await loadPapers(world().app.db, [id])).get(id) ?? []
    const grantId = filed?.grantId ?? 0
    const png = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex')
    await attach(grantId, '../../shot.png', png)
    const stored = world().app.store.blobPath(createHash('sha256').update(png).digest('hex'))
    expect(fs.readFileSync(stored)).toEqual(png)
    await attach(grantId, 'again.png', png)
    const [after] = (await loadPapers(world().app.db, [id])).get(id) ?? []
    expect(after?.evidence).toMatchObject([{ fileName: 'shot.png', mime: 'image/png' }])
  })

  it('that is a note in a text file is kept and proves nothing', async () => {
    const id = await download('Ice crack')
    const filed = async () => (await loadPapers(world().app.db, [id])).get(id)?.[0]
    const grantId = (await filed())?.grantId ?? 0
    await attach(grantId, 'note.txt', Buffer.from('They said that it was fine.'))
    expect(await filed()).toMatchObject({ evidence: [{ fileName: 'note.txt' }], papers: { hasProof: false } })
    await attach(grantId, 'mail.eml', Buffer.from('From: a@b.example\n\nYes, you may.'))
    expect((await filed())?.papers.hasProof).toBe(true)
  })

  it.each([
    ['page.html', Buffer.from('<script>alert(1)</script>'), 'not-evidence'],
    ['receipt.pdf', Buffer.from('<html>no pdf</html>'), 'not-evidence'],
    ['program.txt', Buffer.from([77, 90, 0, 3]), 'not-evidence'],
  ])('is not %s', async (name, bytes, code) => {
    await download('Ice crack')
    const [row] = await listPapers(world().app, TODAY)
    await expect(attach(row?.grantId ?? 0, name, bytes)).rejects.toMatchObject({ code })
  })

  it('of a grant that is not there is refused', async () => {
    await expect(attach(99999, 'mail.eml', Buffer.from('From: a@b.example'))).rejects.toMatchObject({
      code: 'not-found',
    })
  })
})

describe('the list of papers', () => {
  it('marks every use of every copy as the decision does', async () => {
    for (const title of ['Ice crack', 'Far owl']) await download(title)
    await buy('Crate lands', 'web', 300, null)
    await buy('Crate lands', 'all', 1800, null)
    const rows = await listPapers(world().app, TODAY)
    const ice = rows.find(({ title }) => title === 'Ice crack')
    expect(ice?.marks).toEqual([...USE_PLACES, 'earning'].map(() => 'owes-credit'))
    const crate = rows.filter(({ title }) => title === 'Crate lands')
    expect(crate.map(({ paid, marks }) => [paid, marks[USE_PLACES.indexOf('broadcast')]])).toEqual(
      expect.arrayContaining([
        ['3.00 EUR', 'not-allowed'],
        ['18.00 EUR', 'clear'],
      ]),
    )
    const owl = rows.find(({ title }) => title === 'Far owl')
    expect(owl?.marks[USE_PLACES.indexOf('cinema')]).toBe('not-allowed')
  })

  it('is written as CSV in which no cell can start a formula', async () => {
    await download('Ice crack')
    const [row] = await listPapers(world().app, TODAY)
    const csv = csvOf([
      { ...(row as NonNullable<typeof row>), title: '=HYPERLINK("http://x")', maker: '+1', sourceName: '@x' },
    ])
    expect(csv).toContain(`"'=HYPERLINK(""http://x"")",'+1,'@x`)
    expect(csv.split('\r\n')[0]).toContain('Title,Maker,Source')
  })

  it('is written as JSON and as ODRL agreements', async () => {
    for (const title of ['Ice crack', 'Far owl']) await download(title)
    const json = JSON.parse(await wholeOf(await exportPapers(world().app, 'json', TODAY)))
    expect(json.papers).toHaveLength(2)
    const head = (await listLedgerEntries(world().app.db, 0)).at(-1)
    expect(json.ledgerHead).toEqual({ number: head?.number, hash: head?.hash })
    const odrl = JSON.parse(await wholeOf(await exportPapers(world().app, 'odrl', TODAY)))
    const graph = odrl['@graph'] as Record<string, unknown>[]
    expect(graph.map((one) => one['@type'])).toEqual(['Set', 'Agreement', 'Set', 'Agreement'])
    expect(graph[1]).toMatchObject({
      assignee: { '@type': 'Party', uid: expect.stringMatching(/^urn:/) },
      'thud:under': { '@id': graph[0]?.uid },
      'thud:decisions': { '@value': expect.arrayContaining([expect.objectContaining({ use: 'online' })]) },
    })
    expect((await exportPapers(world().app, 'csv', TODAY)).fileName).toContain(`ledger ${head?.number} `)
  })

  it('goes on beyond what is held at once', async () => {
    const { id: termsId } = await world().app.db.selectFrom('terms').select('id').executeTakeFirstOrThrow()
    const count = 1203
    await world()
      .app.db.transaction()
      .execute(async (trx) => {
        const own = {
          sourceId: 'elsewhere',
          maker: '',
          description: '',
          category: '',
          words: [],
          ending: 'wav',
          termsId,
        }
        for (let index = 0; index < count; index++) await insertOwnSound(trx, { ...own, title: `Own ${index}` })
      })
    const csv = await wholeOf(await exportPapers(world().app, 'csv', TODAY))
    expect(csv.trim().split('\r\n')).toHaveLength(count + 1)
    const json = JSON.parse(await wholeOf(await exportPapers(world().app, 'json', TODAY)))
    expect(new Set(json.papers.map(({ title }: { title: string }) => title)).size).toBe(count)
  })
})

describe('new versions of terms', () => {
  /** A copy under the first edition, and the second one read after it. */
  async function acquireBeforeChange(): Promise<number> {
    const owl = await download('Far owl')
    world().standins.skerryview.control.edition = 2
    await mirrorAll(world(), ['skerryview'])
    return owl
  }

  it('stand beside the old ones, and papers keep theirs', async () => {
    const owl = await acquireBeforeChange()
    const earning = { ...USES, earns: true }
    expect((await mayI(world().app, owl, { uses: earning, videoId: null, asOf: todayIso() })).verdict).toBe(
      'owes-credit',
    )
    const lake = await soundId(world().app, 'Lake at dusk')
    const fresh = await mayI(world().app, lake, { uses: earning, videoId: null, asOf: todayIso() })
    expect(fresh).toMatchObject({ onFile: false, verdict: 'no-papers', terms: { version: '2026-10-19' } })
    expect(fresh.reasons[0]).toMatchObject({ key: 'earning', effect: 'bars' })
  })

  it('are told word by word on their page', async () => {
    await acquireBeforeChange()
    const named = (await listTerms(world().app)).find(({ title }) => title.includes('with a credit'))
    expect(named).toMatchObject({ versionCount: 2, copyCount: 1 })
    const page = await getTermsPage(world().app, named?.id ?? 0)
    expect(page.versions.map(({ version }) => version)).toEqual(['2026-10-19', '2026-03-02'])
    expect(page.differences?.some(({ kind, text }) => kind === 'new' && text.includes('partner'))).toBe(true)
    expect(page.plain.owed.join()).toContain('video that earns')
    const first = await getTermsPage(world().app, page.versions[1]?.id ?? 0)
    expect(first.differences).toBeNull()
    expect(first.copies.map(({ title }) => title)).toEqual(['Far owl'])
  })

  it('of a library are read again by its own phrases when the way of reading was mended', async () => {
    const id = await download('Servo number 1')
    const ask = async () =>
      (await mayI(world().app, id, { uses: { ...USES, places: ['game'] }, videoId: null, asOf: TODAY })).verdict
    expect(await ask()).toBe('not-allowed')
    const { terms_id: termsId } = await world()
      .app.db.selectFrom('active_grants')
      .select('terms_id')
      .where('sound_id', '=', id)
      .executeTakeFirstOrThrow()
    const { clauses } = await getTermsPage(world().app, termsId)
    const online = clauses.find(({ key }) => key === 'online')
    // As a lax way of reading left it.
    const lax = clauses.map((clause) => (clause.key === 'game' ? { ...online, key: 'game' } : clause))
    await world()
      .app.db.updateTable('terms')
      .set({ clauses_json: JSON.stringify(lax), reading_version: 1 })
      .where('id', '=', termsId)
      .execute()
    expect(await ask()).toBe('clear')
    await world().app.jobs.idle()
    await world().reopen()
    expect(await ask()).toBe('not-allowed')
    expect((await getTermsPage(world().app, termsId)).clauses).toEqual(clauses)
    const entry = (await listLedgerEntries(world().app.db, 0)).find(({ kind }) => kind === 'terms-read-again')
    expect(entry?.body).toMatchObject({ termsId, changes: [{ key: 'game', from: 'yes', to: expect.any(String) }] })
  })

  it('count the sounds that are offered under them, in whichever tier', async () => {
    const terms = await listTerms(world().app)
    for (const tier of ['Single, online', 'Online and advertising', 'Everything']) {
      const one = terms.find(({ title }) => title === `Pell & Marrow, ${tier}`)
      expect(one?.offeredCount, tier).toBe(3)
      expect((await getTermsPage(world().app, one?.id ?? 0)).offeredCount, tier).toBe(3)
    }
  })

  it('are known again when they come in as they went out', async () => {
    const [some] = await listTerms(world().app)
    const taken = await takeIn(await wholeOf(await exportTerms(world().app, some?.id ?? 0)))
    expect(taken).toMatchObject({ termsIds: [some?.id], newCount: 0, onFileCount: 1 })
  })
})

/** Takes in a file of policies. */
function takeIn(text: string) {
  return importPolicies(world().app, { body: Readable.from([Buffer.from(text)]), signal: new AbortController().signal })
}

describe('policies that come in', () => {
  /** A policy of terms that are on file nowhere. @param more What is changed in it. */
  async function policyOf(titlePart: string, more: object = {}): Promise<Record<string, unknown>> {
    const { id } = (await listTerms(world().app)).find(({ title }) => title.includes(titlePart)) ?? { id: 0 }
    const policy = JSON.parse(await wholeOf(await exportTerms(world().app, id)))
    policy['thud:terms']['@value'].title = 'Terms of a friend'
    return { ...policy, ...more }
  }

  /** Verdict on a sound from elsewhere that was declared to be under terms. */
  async function verdictUnder(termsId: number, uses: object = {}): Promise<string> {
    const samples = soundSamples(`under ${termsId}`)
    const body = Readable.from([Buffer.from(writeWav({ sampleRateHz: 48000, channels: [samples] }))])
    const signal = new AbortController().signal
    const { soundId: id } = await takeInFromElsewhere(world().app, { name: 'friend.wav', body, range: null, signal })
    const said = { from: '', who: 'Ivo', when: '', note: '', terms: { kind: 'filed' as const, termsId } }
    await declarePapers(world().app, id, said)
    return (await mayI(world().app, id, { uses: { ...USES, ...uses }, videoId: null, asOf: TODAY })).verdict
  }

  it('are papers of nothing before their points are confirmed, and then of those alone', async () => {
    const policy = await policyOf('BY 4.0')
    const { termsIds, newCount } = await takeIn(JSON.stringify(policy))
    const termsId = termsIds[0] ?? 0
    expect(newCount).toBe(1)
    await expect(verdictUnder(termsId)).rejects.toMatchObject({ code: 'bad-clauses' })
    const { toConfirm } = await getTermsPage(world().app, termsId)
    expect(toConfirm).toEqual(expect.arrayContaining(['online', 'modification', 'territory', 'duration']))
    expect(toConfirm).not.toContain('credit')
    const some = await confirmPolicy(world().app, termsId, ['online', 'modification', 'territory'])
    expect(await verdictUnder(some)).toBe('not-allowed')
    const all = await confirmPolicy(world().app, termsId, toConfirm ?? [])
    expect(await verdictUnder(all)).toBe('owes-credit')
    expect(await verdictUnder(all, { earns: true, places: ['cinema'] })).toBe('owes-credit')
    // What was confirmed is confirmed once, and is no policy to be confirmed.
    expect(await confirmPolicy(world().app, termsId, [...(toConfirm ?? [])].reverse())).toBe(all)
    await expect(confirmPolicy(world().app, all, [])).rejects.toMatchObject({ code: 'not-found' })
    await expect(confirmPolicy(world().app, termsId, ['audience'])).rejects.toMatchObject({ code: 'bad-clauses' })
  })

  it('with a constraint that nobody wrote here do not clear, whatever is confirmed', async () => {
    const policy = await policyOf('BY 4.0')
    const [rule, ...others] = policy.permission as { constraint: object[] }[]
    const constraint = [{ leftOperand: 'industry', operator: 'eq', rightOperand: { '@id': 'thud:unstated' } }]
    const changed = { ...policy, permission: [{ ...rule, constraint }, ...others] }
    const { termsIds } = await takeIn(JSON.stringify(changed))
    const { toConfirm } = await getTermsPage(world().app, termsIds[0] ?? 0)
    const all = await confirmPolicy(world().app, termsIds[0] ?? 0, toConfirm ?? [])
    expect(await verdictUnder(all)).toBe('not-allowed')
  })

  it('are told apart by the whole document: the same text with another rule is another policy', async () => {
    const one = await takeIn(JSON.stringify(await policyOf('BY 4.0')))
    const same = await takeIn(JSON.stringify(await policyOf('BY 4.0')))
    expect(same.termsIds).toEqual(one.termsIds)
    const other = await takeIn(JSON.stringify(await policyOf('BY 4.0', { prohibition: [{ action: 'archive' }] })))
    expect(other.termsIds).not.toEqual(one.termsIds)
    expect((await getTermsPage(world().app, other.termsIds[0] ?? 0)).toConfirm).not.toContain('online')
  })

  it('come back from an export of all papers: terms are known, agreements stand under them', async () => {
    for (const title of ['Ice crack', 'Far owl', 'Servo number 1']) await download(title)
    const text = await wholeOf(await exportPapers(world().app, 'odrl', TODAY))
    expect(await takeIn(text)).toMatchObject({ newCount: 0, onFileCount: 3, agreementCount: 3, unreadCount: 0 })
    // Where the terms are missing, an agreement comes in by itself.
    const graph = JSON.parse(text)
    const alone = {
      ...graph,
      '@graph': graph['@graph'].filter((one: object) => '@type' in one && one['@type'] === 'Agreement'),
    }
    expect(await takeIn(JSON.stringify(alone))).toMatchObject({ newCount: 3, agreementCount: 0 })
  })

  it.each([
    ['', 'not-odrl'],
    ['no json', 'not-odrl'],
    ['{"nothing": true}', 'not-odrl'],
    ['{"@graph": [{"uid": "urn:x"}, 7]}', 'not-odrl'],
    ['{"@graph": [{"permission": [', 'not-odrl'],
    [`{"permission": ${'['.repeat(20_000)}${']'.repeat(20_000)}}`, 'not-odrl'],
    [JSON.stringify({ uid: 'x'.repeat(1_100_000), permission: [{}] }), 'too-large'],
  ])('are refused when there is none to read (%#)', async (text, code) => {
    await expect(takeIn(text)).rejects.toMatchObject({ code })
    expect(fs.readdirSync(path.join(world().dir, 'incoming'))).toEqual([])
  })

  it('are taken as far as they can be read, and the rest is told', async () => {
    const graph = { '@graph': [{ uid: 'urn:x' }, { uid: 'urn:y', prohibition: [{ action: 'use' }] }] }
    expect(await takeIn(JSON.stringify(graph))).toMatchObject({
      newCount: 1,
      unreadCount: 1,
      firstProblem: expect.stringContaining('permits, forbids and asks for nothing'),
    })
  })
})

describe('the desk', () => {
  it('tells of changed terms, of a plan near its end and of a withdrawn sound, and lets each be put away and brought back', async () => {
    for (const title of ['Servo number 1', 'Ice crack', 'Far owl']) await download(title)
    world().standins.skerryview.control.edition = 2
    const soon = new Date(Date.now() + 5 * 86_400_000).toISOString().slice(0, 10)
    world().heron.control.planUntil = soon
    world().barn.control.withdrawn.push('b1')
    await mirrorAll(world(), ['heron-slate', 'tin-barn', 'skerryview'])
    const { notices } = await loadDesk(world().app, TODAY)
    const titles = notices.map(({ title }) => title)
    expect(titles).toEqual(
      expect.arrayContaining([
        `Studio plan at Heron & Slate ends on ${dayWords(soon)}`,
        expect.stringContaining('Skerryview Free Collection changed'),
        'Tin Barn Commons no longer offers “Ice crack”',
      ]),
    )
    const key = notices[0]?.key ?? ''
    await markSeen(world().app, key, true)
    const after = await loadDesk(world().app, TODAY)
    expect(after.notices.map((one) => one.key)).not.toContain(key)
    expect(after.seen.map((one) => one.key)).toEqual([key])
    await markSeen(world().app, key, false)
    expect((await loadDesk(world().app, TODAY)).notices.map((one) => one.key)).toContain(key)
  })

  it.each([
    ['Studio plan', '2031-12-31', 'clear'],
    ['Studio plan', '2030-06-30', 'not-allowed'],
    // Another plan of the same dates does not lengthen what was acquired before.
    ['Other plan', '2031-12-31', 'not-allowed'],
    ['Other plan', '2030-06-30', 'not-allowed'],
  ] as const)(
    'and of papers under a plan that is now “%s” until %s, on 1 March 2031: %s',
    async (plan, until, verdict) => {
      const id = await download('Servo number 2')
      const period = { plan_from: '2030-01-01', plan_until: '2030-12-31' }
      await world().app.db.updateTable('grants').set(period).where('sound_id', '=', id).execute()
      const seen = { source_id: 'heron-slate', plan, plan_from: '2030-01-01', plan_until: until }
      await world()
        .app.db.insertInto('plan_periods')
        .values({ ...seen, seen_at: '2030-06-01T08:00:00.000Z' })
        .execute()
      const answer = await mayI(world().app, id, {
        uses: { ...USES, publishOn: '2031-03-01' },
        videoId: null,
        asOf: todayIso(),
      })
      expect(answer.verdict).toBe(verdict)
    },
  )

  it('and the papers follow a plan that ended early', async () => {
    const id = await download('Servo number 1')
    world().heron.control.planUntil = new Date(Date.now() + 5 * 86_400_000).toISOString().slice(0, 10)
    await mirrorAll(world(), ['heron-slate'])
    const late = { ...USES, publishOn: new Date(Date.now() + 30 * 86_400_000).toISOString().slice(0, 10) }
    const answer = await mayI(world().app, id, { uses: late, videoId: null, asOf: todayIso() })
    expect(answer).toMatchObject({ onFile: true, verdict: 'not-allowed' })
    expect(answer.settlements[0]).toContain('Renew the plan')
    expect((await mayI(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })).verdict).toBe('clear')
  })
})

it('everything that happened stands in a ledger that holds', async () => {
  await download('Ice crack')
  await buy('Crate lands', 'web', 300, await video('For the crate'))
  expect(await listLedgerEntries(world().app.db, 0)).not.toEqual([])
  expect((await verifyLedger(world().app.db)).broken).toBeNull()
  expect(fs.readdirSync(path.join(world().dir, 'incoming'))).toEqual([])
})
