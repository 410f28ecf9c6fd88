import Database from 'better-sqlite3'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ftsQuery } from './fts-query'

describe('ftsQuery', () => {
  it.each([
    ['thud', '"thud"*'],
    ['Ice  CRACK', '"ice"* "crack"*'],
    ['wind-up', '"wind"* "up"*'],
    ['Türschlag', '"türschlag"*'],
    ['3 pips', '"3"* "pips"*'],
  ])('%s', (text, query) => {
    expect(ftsQuery(text)).toBe(query)
  })

  it.each(['', '   ', '"', '*', '-- ()', '🎬'])('%j lists everything', (text) => {
    expect(ftsQuery(text)).toBeNull()
  })

  it('can never be read as query syntax', () => {
    const db = new Database(':memory:')
    db.exec('CREATE VIRTUAL TABLE words USING fts5(word)')
    const search = db.prepare('SELECT count(*) AS n FROM words WHERE words MATCH ?')
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (text) => {
        const query = ftsQuery(text)
        if (query !== null) expect(search.get(query)).toEqual({ n: 0 })
      }),
    )
    fc.assert(
      fc.property(fc.constantFrom('NEAR(', 'a AND', '"x', 'title:', '^a', 'a OR b)', "';--"), (text) => {
        expect(() => search.get(ftsQuery(text) ?? '"none"')).not.toThrow()
      }),
    )
    db.close()
  })
})
