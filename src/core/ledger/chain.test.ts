import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  canonicalJson,
  chained,
  type Json,
  LEDGER_KINDS,
  type LedgerEntry,
  LedgerError,
  NO_HASH,
  verifiedChain,
} from '.'

const hashOf = (text: string): string => createHash('sha256').update(text, 'utf8').digest('hex')

function chainOf(bodies: readonly Json[]): LedgerEntry[] {
  const entries: LedgerEntry[] = []
  for (const [index, body] of bodies.entries()) {
    const kind = LEDGER_KINDS[index % LEDGER_KINDS.length] as (typeof LEDGER_KINDS)[number]
    entries.push(
      chained(entries[index - 1] ?? null, { at: `2026-05-0${1 + (index % 9)}T08:00:00Z`, kind, body }, hashOf),
    )
  }
  return entries
}

const anyBodies = fc.array(fc.jsonValue() as fc.Arbitrary<Json>, { minLength: 1, maxLength: 8 })

describe('canonicalJson', () => {
  it('writes the example of RFC 8785 as the standard has it', () => {
    const value = {
      numbers: [Number('333333333.33333329'), 1e30, 4.5, 2e-3, 0.000000000000000000000000001],
      string: '\u20ac$\u000f\nA\'B"\\\\"/',
      literals: [null, true, false],
    }
    expect(canonicalJson(value)).toBe(
      '{"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],"string":"€$\\u000f\\nA\'B\\"\\\\\\\\\\"/"}',
    )
  })

  it('does not depend on the order of keys', () => {
    expect(canonicalJson({ b: 1, a: { d: 2, c: 3 } })).toBe(canonicalJson({ a: { c: 3, d: 2 }, b: 1 }))
  })

  it.each([Number.NaN, Number.POSITIVE_INFINITY, undefined])('refuses %s', (value) => {
    expect(() => canonicalJson(value as never)).toThrow(LedgerError)
  })
})

describe('a chain', () => {
  it('holds as it was made, whatever stands in it', () => {
    fc.assert(
      fc.property(anyBodies, (bodies) => {
        const entries = chainOf(bodies)
        expect(entries[0]?.previous).toBe(NO_HASH)
        expect(verifiedChain(entries, hashOf)).toEqual({
          entries: bodies.length,
          head: entries[entries.length - 1]?.hash,
          broken: null,
        })
      }),
    )
  })

  it('holds after its entries were written as text and read again', () => {
    fc.assert(
      fc.property(anyBodies, (bodies) => {
        const entries = chainOf(bodies).map((entry) => JSON.parse(JSON.stringify(entry)) as LedgerEntry)
        expect(verifiedChain(entries, hashOf).broken).toBeNull()
      }),
    )
  })

  it('breaks at the first entry that was changed', () => {
    fc.assert(
      fc.property(anyBodies, fc.nat(), (bodies, pick) => {
        const entries = chainOf(bodies)
        const at = pick % entries.length
        entries[at] = { ...(entries[at] as LedgerEntry), body: { was: 'something else' } }
        expect(verifiedChain(entries, hashOf).broken).toEqual({ number: at + 1, reason: 'contents-do-not-match' })
      }),
    )
  })

  it('breaks behind an entry that was changed together with its own hash', () => {
    const entries = chainOf([1, 2, 3, 4])
    const [first, second] = entries as [LedgerEntry, LedgerEntry]
    entries[1] = chained(first, { at: second.at, kind: second.kind, body: 'forged' }, hashOf)
    expect(verifiedChain(entries, hashOf).broken).toEqual({ number: 3, reason: 'previous-does-not-match' })
  })

  it('breaks where an entry was taken out or two were exchanged', () => {
    const entries = chainOf(['a', 'b', 'c'])
    const [a, b, c] = entries as [LedgerEntry, LedgerEntry, LedgerEntry]
    expect(verifiedChain([a, c], hashOf).broken).toEqual({ number: 2, reason: 'number-out-of-order' })
    expect(verifiedChain([b, a, c], hashOf).broken).toEqual({ number: 1, reason: 'number-out-of-order' })
    // A missing end is seen by whoever has noted the head.
    expect(verifiedChain([a, b], hashOf).head).not.toBe(c.hash)
  })

  it('is empty and whole before anything happened', () => {
    expect(verifiedChain([], hashOf)).toEqual({ entries: 0, head: NO_HASH, broken: null })
  })
})
