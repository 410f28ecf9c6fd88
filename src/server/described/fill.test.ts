import { describe, expect, it } from 'vitest'
import { filledAddress, filledJson, filledText } from './fill'
import { nextLink } from './next-link'

const VALUES = { id: 'a/../b?c', key: 'k', empty: '', href: 'https://x.example/f.wav?sig=a%2Fb' }

describe('an address', () => {
  it.each([
    ['/sounds/{id}/file', '/sounds/a%2F..%2Fb%3Fc/file'],
    ['{href}', 'https://x.example/f.wav?sig=a%2Fb'],
    ['/f?at={href}', '/f?at=https%3A%2F%2Fx.example%2Ff.wav%3Fsig%3Da%252Fb'],
    // What has no value is left out, wherever it stands.
    ['/list?after={empty}', '/list'],
    ['/list?after={empty}&limit=40', '/list?limit=40'],
    ['/list?limit=40&after={empty}', '/list?limit=40'],
    ['/list?a={empty}&b={empty}&c={key}', '/list?c=k'],
    ['/list?q=x{empty}', '/list?q=x'],
    ['/plain', '/plain'],
  ])('%s', (template, address) => {
    expect(filledAddress(template, VALUES, 'Any')).toBe(address)
  })

  it.each(['/x/{toString}', '/x?y={constructor}', '{other}'])('%s asks for what is not known', (template) => {
    expect(() => filledAddress(template, VALUES, 'Any')).toThrow(/The description of Any asks for \{/)
  })
})

it('a body is filled wherever a text stands, and numbers stay numbers', () => {
  expect(filledJson({ a: ['{key}', 2, null], b: { c: 'x{key}' } }, VALUES, 'Any')).toEqual({
    a: ['k', 2, null],
    b: { c: 'xk' },
  })
  expect(filledText('Bearer {key}', VALUES, 'Any')).toBe('Bearer k')
})

describe('the header Link', () => {
  it.each([
    ['<https://a.example/2>; rel="next"', 'https://a.example/2'],
    ['<https://a.example/1>; rel="prev", <https://a.example/3>; rel="next"', 'https://a.example/3'],
    ['<https://a.example/?a=1,2>; rel=next; title="x"', 'https://a.example/?a=1,2'],
    ['<https://a.example/1>; rel="prev"', null],
    ['<https://a.example/1>; rel="nextish"', null],
    ['<https://a.example/1', null],
    ['', null],
  ])('%s', (header, address) => {
    expect(nextLink(header)).toBe(address)
  })
})
