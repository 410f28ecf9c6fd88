import { describe, expect, it } from 'vitest'
import { visibleText, webAddress } from './visible-text'

describe('visibleText', () => {
  it.each([
    ['a text\nin two\tparts – “né”, 日本', 'a text\nin two\tparts – “né”, 日本'],
    ['song\u202egpj.wav', 'song\ufffdgpj.wav'],
    ['\u2066isolated\u2069', '\ufffdisolated\ufffd'],
    ['bell\u0007 and null\u0000', 'bell\ufffd and null\ufffd'],
    ['\ufeffmarked', '\ufffdmarked'],
    ['two\u2028lines', 'two\ufffdlines'],
  ])('of %j is %j', (text, expected) => {
    expect(visibleText(text)).toBe(expected)
  })
})

describe('webAddress', () => {
  it.each([
    ['https://library.example/s/1', 'https://library.example/s/1'],
    ['HTTP://library.example', 'HTTP://library.example'],
    ['javascript:alert(1)', null],
    [' https://library.example', null],
    ['data:text/html,x', null],
    ['//library.example/x', null],
    ['https:///x', null],
    [`https://library.example/${'x'.repeat(2000)}`, null],
    [null, null],
  ])('of %j is %j', (address, expected) => {
    expect(webAddress(address)).toBe(expected)
  })
})
