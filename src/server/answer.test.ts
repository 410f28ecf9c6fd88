import { describe, expect, it } from 'vitest'
import { idParam, rangeParam } from './answer'

describe('an address', () => {
  it.each(['0', '00', '-1', '1.5', '', '1e3', '9'.repeat(16)])('%j names nothing', (id) => {
    expect(() => idParam({ id })).toThrow('names nothing')
  })
  it('1 names something', () => {
    expect(idParam({ id: '1' })).toBe(1)
  })
  it.each(['?fromS=1', '?toS=2', '?toS=2&x=1'])('with half a part (%s) does not ask for all', (query) => {
    expect(() => rangeParam(new URL(`http://x/${query}`))).toThrow('where the part begins and where it ends')
  })
  it('with both ends asks for the part, and with none for all', () => {
    expect(rangeParam(new URL('http://x/?fromS=1&toS=2'))).toEqual({ startS: 1, endS: 2 })
    expect(rangeParam(new URL('http://x/'))).toBeNull()
  })
})
