import { describe, expect, it } from 'vitest'
import { dayWords } from './day-words'

describe('a day in words', () => {
  it('is the day that was given, wherever the machine stands', () => {
    expect(dayWords('2026-12-09')).toBe('9 Dec 2026')
    expect(dayWords('2027-01-01')).toBe('1 Jan 2027')
    expect(dayWords('2028-02-29')).toBe('29 Feb 2028')
    expect(dayWords('2026-12-31T23:59:59.999Z')).toBe('31 Dec 2026')
    expect(dayWords('2027-01-01T00:00:00.000Z')).toBe('1 Jan 2027')
  })

  it('is left as it stands where it is none', () => {
    for (const text of ['', 'soon', '2026-13-45', '31 December']) {
      const words = dayWords(text)
      expect(words === text || /^\d{1,2} \w+ \d{4}$/.test(words)).toBe(true)
      expect(words).not.toContain('Invalid')
    }
    expect(dayWords('soon')).toBe('soon')
    expect(dayWords('2026-13-45')).toBe('2026-13-45')
    expect(dayWords('2026-02-30')).toBe('2026-02-30')
    expect(dayWords('2027-02-29')).toBe('2027-02-29')
  })
})
