import { createHash } from 'node:crypto'
import { expect, it } from 'vitest'
import { groundedClauses, USE_PLACES } from '../../src/core/rights'
import { type CatalogueSound, type Connector, cataloguePages, SourceError } from '../../src/server/ports/connector'

/** What the suite needs to know of the library that a connector is tried against. */
export interface Subject {
  readonly connector: () => Connector
  /** Most sounds that are read: a real library is not read to its end by a test. */
  readonly soundsMax: number
  /** Whether orders may be placed: they may cost money at a real library. */
  readonly mayOrder: boolean
}

const SIGNAL_MS = 60_000

/** What any connector has to keep to. Call it inside a `describe`; `npm run test:connector -- NAME` does so for one. */
export function conformance({ connector, soundsMax, mayOrder }: Subject): void {
  const signal = (): AbortSignal => AbortSignal.timeout(SIGNAL_MS)

  it('has an id that is safe in addresses, a name, and a sentence about itself', () => {
    const { id, name, about } = connector()
    expect(id).toMatch(/^[a-z0-9][a-z0-9-]{1,40}$/)
    expect(name.trim()).not.toBe('')
    expect(about).toMatch(/\.$/)
  })

  it('tells the plan, with a period that begins before it ends', async () => {
    const { plan, planFrom, planUntil } = await connector().account(signal())
    expect(plan).not.toBe('')
    expect(planFrom === null).toBe(planUntil === null)
    if (planFrom !== null && planUntil !== null) {
      expect(planFrom).toMatch(/^\d{4}-\d\d-\d\d$/)
      expect(planFrom <= planUntil).toBe(true)
    }
  })

  it('lists sounds in our units, each once, over pages that come to an end', async () => {
    const sounds = await loadSomeSounds(connector(), soundsMax, signal())
    expect(sounds.length).toBeGreaterThan(0)
    expect(new Set(sounds.map(({ externalId }) => externalId)).size).toBe(sounds.length)
    for (const sound of sounds) {
      expect(sound.externalId, sound.title).not.toBe('')
      expect(sound.title, sound.externalId).toBe(sound.title.trim())
      expect(sound.title, sound.externalId).not.toBe('')
      expect(sound.durationS, sound.title).toBeGreaterThanOrEqual(0)
      // Milliseconds taken for seconds would show here.
      expect(sound.durationS, sound.title).toBeLessThan(4 * 3600)
      expect(
        sound.tags.every((tag) => tag !== ''),
        sound.title,
      ).toBe(true)
      expect(sound.cost, sound.title).not.toBe('')
      for (const tier of sound.tiers) expect(tier.currency, sound.title).toMatch(/^[A-Z]{3}$/)
      const prices = sound.tiers.map(({ priceMinor }) => priceMinor)
      expect(
        [...prices].sort((a, b) => a - b),
        sound.title,
      ).toEqual(prices)
    }
  })

  it('gives the same first page twice', async () => {
    expect(await connector().page(null, signal())).toEqual(await connector().page(null, signal()))
  })

  it('serves whole terms for every sound, and each reading that it claims stands in the text of some version', async () => {
    const sounds = await loadSomeSounds(connector(), soundsMax, signal())
    const keys = new Set(sounds.flatMap(({ termsKey, tiers }) => [termsKey, ...tiers.map((tier) => tier.termsKey)]))
    for (const key of keys) {
      const served = await connector().terms(key, signal())
      expect(served.key).toBe(key)
      expect(served.version, key).not.toBe('')
      expect(served.text.length, key).toBeGreaterThan(20)
      const clauses = groundedClauses(served.text, served.readings)
      const stated = clauses.filter(({ answer }) => answer !== 'not-stated')
      // A text of which nothing is read would never allow anything: then the readings are wrong, or there are none on purpose.
      if (served.readings.length > 0) expect(stated.length, key).toBeGreaterThan(USE_PLACES.length / 2)
      for (const clause of stated) expect(clause.quote, `${key}: ${clause.key}`).not.toBeNull()
    }
  })

  it('hands out a preview that is a sound', async () => {
    const [first] = await loadSomeSounds(connector(), 1, signal())
    const preview = await connector().preview((first as CatalogueSound).previewRef, signal())
    expect(preview.mime).toMatch(/^audio\//)
    expect((await bytesOf(preview.body)).length).toBeGreaterThan(500)
  })

  it('says that a sound is gone, and fails with nothing but a source error', async () => {
    const asked = connector().preview('there-is-no-such-sound/../x', signal())
    await expect(asked).rejects.toBeInstanceOf(SourceError)
    await expect(connector().preview('there-is-no-such-sound', signal())).rejects.toMatchObject({ code: 'gone' })
  })

  it('stops when it is told to', async () => {
    await expect(connector().page(null, AbortSignal.abort())).rejects.toThrow()
    await expect(connector().terms('any', AbortSignal.abort())).rejects.toThrow()
  })

  it.runIf(mayOrder)(
    'gives the same order and the same file for the same key, and another order for another key',
    async () => {
      const [sound] = await loadSomeSounds(connector(), 1, signal())
      const { externalId, tiers } = sound as CatalogueSound
      const [lowest] = tiers
      const tier = lowest ? { key: lowest.key, priceMinor: lowest.priceMinor, currency: lowest.currency } : null
      const order = async (key: string): Promise<{ ref: string; hash: string }> => {
        const { ref, file: open, receipt } = await connector().order(externalId, { key, tier }, signal())
        const file = await open(signal())
        expect(file.ending).toMatch(/^[a-z0-9]{2,5}$/)
        const hash = createHash('sha256')
          .update(await bytesOf(file.body))
          .digest('hex')
        if (lowest)
          expect(
            (await bytesOf((await (receipt as NonNullable<typeof receipt>)(signal())).body)).length,
          ).toBeGreaterThan(100)
        return { ref, hash }
      }
      const first = await order('conformance-1')
      expect(await order('conformance-1')).toEqual(first)
      expect((await order('conformance-2')).ref).not.toBe(first.ref)
    },
  )

  it('tells changes since a mark, if it can tell any', async () => {
    const { changes } = connector()
    const marked = changes ? await changes(null, signal()) : null
    if (!changes || !marked) return expect(changes).toBeUndefined()
    expect(marked.goneIds).toEqual([])
    expect((await changes(marked.mark, signal())).mark).toBe(marked.mark)
  })
}

async function loadSomeSounds(connector: Connector, most: number, signal: AbortSignal): Promise<CatalogueSound[]> {
  const sounds: CatalogueSound[] = []
  for await (const page of cataloguePages(connector, signal)) {
    sounds.push(...page.sounds)
    if (sounds.length >= most) break
  }
  return sounds.slice(0, most)
}

async function bytesOf(body: AsyncIterable<Buffer>): Promise<Buffer> {
  const chunks: Buffer[] = []
  for await (const chunk of body) chunks.push(chunk)
  return Buffer.concat(chunks)
}
