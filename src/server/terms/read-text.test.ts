import path from 'node:path'
import Piscina from 'piscina'
import { afterAll, describe, expect, it } from 'vitest'
import { NODE_DIR, ROOT } from '../../../test/world'
import { licenceText } from '../licences/licence-texts'
import { createPool } from '../workers/pool'
import { heldToText } from './held-to-text'
import { knownTerms } from './known-terms'
import { differencesInWorker, readingOrOpen, textReader } from './read-text'

/** What can be read at all is read within it, however busy the machine is. */
const LONG_MS = 100_000
const hanging = new Piscina({ filename: path.join(ROOT, 'test', 'hanging-worker.mjs'), maxThreads: 1 })
const pool = createPool(NODE_DIR, 1)
afterAll(() => Promise.all([hanging.destroy(), pool.destroy()]))

describe('a text that takes for ever to read', () => {
  const readText = textReader(hanging, 400)

  it('ends with a sentence, and the next text is read', async () => {
    await expect(readText('endless')).rejects.toMatchObject({ code: 'unreadable-text' })
    expect(await textReader(hanging, LONG_MS)('short')).toMatchObject({ licences: [] })
  })

  it('stays open beside files until somebody has looked at it', async () => {
    const { open } = await readingOrOpen('endless', readText)
    expect(open[0]?.quote).toContain('could not be read: endless')
  })

  it('is not the licence that its label names', async () => {
    const held = await heldToText({ ...knownTerms('CC0-1.0'), text: 'endless' }, readText)
    expect(held).toMatchObject({ spdxId: null, readings: [], misfitLabel: 'CC0-1.0' })
  })

  it('has no differences that could be told', async () => {
    expect(await differencesInWorker(hanging, { before: 'endless', after: 'short' }, 400)).toBeNull()
  })
})

describe('a text that is read in a thread', () => {
  const readText = textReader(pool, LONG_MS)

  it('is the licence that it is', async () => {
    const held = await heldToText(knownTerms('CC-BY-4.0'), readText)
    expect(held).toMatchObject({ spdxId: 'CC-BY-4.0', misfitLabel: null })
  })

  it('leaves the process free for others while two megabytes are read', { tags: 'long' }, async () => {
    let turns = 0
    const timer = setInterval(() => turns++, 5)
    await readText(licenceText('CC-BY-4.0').repeat(110))
    clearInterval(timer)
    expect(turns).toBeGreaterThan(20)
  })

  it('tells what changed', async () => {
    const parts = await differencesInWorker(pool, { before: 'You may use it.', after: 'You may sell it.' }, LONG_MS)
    expect(parts?.map(({ kind, text }) => [kind, text])).toEqual([
      ['same', 'You may '],
      ['gone', 'use'],
      ['new', 'sell'],
      ['same', ' it.'],
    ])
  })
})
