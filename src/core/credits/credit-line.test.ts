import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { creditLine, creditsText } from './credit-line'

const CREDIT = {
  title: 'Ice crack',
  maker: 'fernlight',
  sourceName: 'Tin Barn Commons',
  pageUrl: 'https://tin-barn.example/s/1',
  licenceTitle: 'Creative Commons BY 4.0',
  licenceUrl: 'https://creativecommons.org/licenses/by/4.0/',
  changes: 'cut and mixed',
}

describe('creditLine', () => {
  it('names title, maker, source, licence and changes', () => {
    expect(creditLine(CREDIT)).toBe(
      '“Ice crack” by fernlight (Tin Barn Commons, https://tin-barn.example/s/1), Creative Commons BY 4.0 (https://creativecommons.org/licenses/by/4.0/) — cut and mixed',
    )
  })

  it('leaves out what is not known', () => {
    expect(creditLine({ ...CREDIT, maker: '', pageUrl: null, licenceUrl: null, changes: '' })).toBe(
      '“Ice crack” (Tin Barn Commons), Creative Commons BY 4.0',
    )
  })

  it('stays one line whatever the source sends', { tags: 'long' }, () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (title, maker) => {
        // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must not be there
        expect(creditLine({ ...CREDIT, title, maker })).not.toMatch(/[\u0000-\u001f\u2028\u2029]/)
      }),
    )
  })
})

describe('creditsText', () => {
  it('lists each line once, in order, under a heading', () => {
    expect(creditsText(['b', 'a', 'b'])).toBe('Sound effects\n• b\n• a')
  })

  it('is empty when nothing is owed', () => {
    expect(creditsText([])).toBe('')
  })
})
