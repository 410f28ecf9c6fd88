import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { makeCatalogue, ZipfWords } from '../bench/find/catalogue'
import { makeChannel } from '../bench/states/channel'
import { openDatabase } from '../src/server/database/open'

let dir: string

beforeEach(() => {
  dir = fs.mkdtempSync(path.join(os.tmpdir(), 'bench-'))
})

afterEach(() => fs.rmSync(dir, { recursive: true, force: true }))

async function counted(tables: readonly ('sounds' | 'analyses' | 'terms' | 'videos' | 'detections')[]) {
  const db = await openDatabase(dir)
  try {
    const counts = await Promise.all(
      tables.map((table) =>
        db
          .selectFrom(table)
          .select(({ fn }) => fn.countAll<number>().as('count'))
          .executeTakeFirstOrThrow(),
      ),
    )
    return counts.map(({ count }) => count)
  } finally {
    await db.destroy()
  }
}

describe('what is measured on', () => {
  it('is a catalogue that the database of today takes', async () => {
    await makeCatalogue(dir, 40, new ZipfWords(['door', 'kettle']))
    expect(await counted(['sounds', 'analyses', 'terms'])).toEqual([40, 40, 16])
  })

  it('is a channel that the database of today takes', async () => {
    await makeChannel(dir, { videos: 3, heardPerVideo: 4, papers: 5 })
    expect(await counted(['sounds', 'videos', 'detections'])).toEqual([5, 3, 12])
  })
})
