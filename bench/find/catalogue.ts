import path from 'node:path'
import { Chance } from '../../demo/synthesis/toolkit'
import { openDatabase } from '../../src/server/database/open'
import { Sqlite } from '../../src/server/database/sqlite'

/** Different words in the catalogue; their frequencies follow Zipf's law. */
const WORD_COUNT = 60_000
const SYLLABLES = 'ba ce di fo gu ha je ki lo mu na pe ri so tu va we xi yo zu bra cle dri flo gru stra'.split(' ')
const CATEGORIES =
  'Hits,Swells,Movement,Impacts,Machines,Doors,Switches,Signals,Radio,Kitchen,Paper,Steps,Animals,Weather,Ice,Ambience'.split(
    ',',
  )

/** Draws words so that the n-th is drawn 1/n as often as the first. */
export class ZipfWords {
  readonly words: readonly string[]
  private readonly bounds: Float64Array

  constructor(known: readonly string[]) {
    // Words of the vocabulary are among the frequent ones, mixed with others: those of one group are not all equally frequent.
    const chance = new Chance(9)
    const frequent = [...known, ...Array.from({ length: known.length }, (_, at) => syllables(at))]
      .map((word) => ({ word, at: chance.between(0, 1) }))
      .sort((a, b) => a.at - b.at)
      .map(({ word }) => word)
    const made = new Set(frequent)
    for (let at = 0; made.size < WORD_COUNT; at++) made.add(syllables(at))
    this.words = [...made]
    let sum = 0
    this.bounds = Float64Array.from(this.words, (_, rank) => (sum += 1 / (rank + 1)))
  }

  draw(chance: Chance): string {
    const target = chance.between(0, this.bounds[this.bounds.length - 1] as number)
    let low = 0
    let high = this.bounds.length - 1
    while (low < high) {
      const middle = (low + high) >>> 1
      if ((this.bounds[middle] as number) < target) low = middle + 1
      else high = middle
    }
    return this.words[low] as string
  }
}

function syllables(number: number): string {
  let rest = number
  let word = ''
  do {
    word += SYLLABLES[rest % SYLLABLES.length]
    rest = Math.floor(rest / SYLLABLES.length)
  } while (rest > 0)
  return word + (SYLLABLES[number % 7] ?? '')
}

/** Makes a data folder with a catalogue of so many sounds. */
export async function makeCatalogue(dir: string, count: number, words: ZipfWords): Promise<void> {
  const db = await openDatabase(dir)
  await db.destroy()
  const sqlite = new Sqlite(path.join(dir, 'good-thud.sqlite'))
  sqlite.pragma('synchronous = OFF')
  const chance = new Chance(77)
  const some = (least: number, most: number): string[] =>
    Array.from({ length: Math.floor(chance.between(least, most + 1)) }, () => words.draw(chance))
  sqlite.exec('BEGIN')
  for (let source = 0; source < 8; source++)
    sqlite
      .prepare(`INSERT INTO sources (id, name, about, connected, plan) VALUES (?, ?, '', 1, 'Plan')`)
      .run([`library-${source}`, `Library ${source}`])
  for (let terms = 1; terms <= 16; terms++)
    sqlite
      .prepare(
        `INSERT INTO terms (id, source_id, key, version, title, short_title, text, sha256, duration, clauses_json, seen_at)
         VALUES (?, ?, ?, '1', ?, ?, 'text', ?, 'perpetual', ?, '2026-01-01T00:00:00Z')`,
      )
      .run([terms, `library-${terms % 8}`, `key-${terms}`, `Terms ${terms}`, `T${terms}`, String(terms), CLAUSES])
  const sound = sqlite.prepare(
    `INSERT INTO sounds (id, source_id, external_id, title, maker, description, tags_json, category, duration_s, formats_json, cost,
     preview_ref, terms_id, updated_at, added_at, popularity) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, '["wav"]', ?, '', ?, ?, ?, ?)`,
  )
  const analysis = sqlite.prepare(
    `INSERT INTO analyses (sound_id, audio_sha256, audio_mime, print_column_s, print_levels, loudness_lufs, hit_s, duration_s, feature_version,
     channels, loops) VALUES (?, '${'0'.repeat(64)}', 'audio/wav', 0.02, ?, ?, 0.1, ?, 1, ?, ?)`,
  )
  const print = Buffer.alloc(200, 90)
  for (let id = 1; id <= count; id++) {
    const durationS = 0.2 + 20 * chance.between(0, 1) ** 3
    const day = `2026-${String(1 + (id % 11)).padStart(2, '0')}-0${1 + (id % 9)}T00:00:00.000Z`
    const [title, tags, about] = [some(2, 5).join(' '), some(4, 8), some(5, 12).join(' ')]
    const source = `library-${id % 8}`
    const category = CATEGORIES[Math.floor(chance.between(0, CATEGORIES.length))]
    sound.run([
      id,
      source,
      `s${id}`,
      title,
      `maker ${id % 997}`,
      about,
      JSON.stringify(tags),
      category,
      durationS,
      id % 3 === 0 ? 'free' : 'in your plan',
      1 + (id % 16),
      day,
      day,
      Math.floor(4000 ** chance.between(0, 1)),
    ])
    analysis.run([id, print, -30 + 20 * chance.between(0, 1), durationS, 1 + (id % 2), id % 2])
    if (id % 50_000 === 0) sqlite.exec('COMMIT; BEGIN')
  }
  sqlite.exec('DELETE FROM find_changes; COMMIT')
  sqlite.close()
}

const CLAUSES = JSON.stringify([
  { key: 'online', answer: 'yes', quote: 'text' },
  { key: 'credit', answer: 'duty', quote: 'text' },
])
