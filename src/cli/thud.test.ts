import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { EXIT } from './exit'
import { main } from './thud'

let printed: string[]
let complained: string[]
beforeEach(() => {
  printed = []
  complained = []
  vi.spyOn(console, 'log').mockImplementation((text) => void printed.push(String(text)))
  vi.spyOn(console, 'error').mockImplementation((text) => void complained.push(String(text)))
})
afterEach(() => vi.restoreAllMocks())

describe('the command line', () => {
  it.each([['--help'], ['-h'], ['help'], ['check', '--help'], ['mix', '-h'], ['restore', '/nowhere', '--help']])(
    'says how it is used when it is asked for, and does nothing else: %s %s %s',
    async (...args) => {
      expect(await main(args.filter((arg) => arg !== undefined))).toBe(EXIT.done)
      expect(printed).toHaveLength(1)
      expect(printed[0]).toMatch(/^Usage:\n {2}thud check FILE/)
      expect(complained).toEqual([])
    },
  )

  it('takes a name that looks like the question for one, where it is told to', async () => {
    expect(await main(['check', '--', '--help'])).not.toBe(EXIT.done)
    expect(printed).toEqual([])
  })

  it.each([
    [[], /^No command/],
    [['chek'], /chek/],
    [['constructor'], /constructor/],
  ] as const)('names what is wrong above the usage: %j', async (args, words) => {
    expect(await main(args)).toBe(EXIT.usage)
    expect(complained[0]).toMatch(words)
    expect(complained[0]).toContain('Usage:')
    expect(printed).toEqual([])
  })
})
