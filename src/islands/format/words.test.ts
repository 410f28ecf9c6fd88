import { describe, expect, it } from 'vitest'
import type { SoundSummary } from '../../contract'
import { fitCondition } from './words'

type Asked = Parameters<typeof fitCondition>[0]
const OFFERED: Asked = {
  ...{ fit: 'fits', copySha256: null, withdrawn: false, sold: false, cost: 'free' },
  source: { id: 'a', name: 'A library', kind: 'library' },
}

describe('before a sound may be used whose terms allow it', () => {
  it.each<readonly [string, Partial<Asked>]>([
    ['if downloaded', {}],
    ['if bought', { sold: true, cost: 'from 4.00 EUR' }],
    ['in your plan', { cost: 'in your plan' }],
    ['if downloaded', { fit: 'fits-with-credit' }],
    // It cannot be had any more, whatever it cost.
    ['no longer offered', { withdrawn: true }],
    ['no longer offered', { withdrawn: true, sold: true }],
    // A file of one's own is not downloaded.
    ['yours', { source: { id: 'own', name: 'Hill', kind: 'folder' }, cost: 'yours' }],
    ['', { source: { id: 'elsewhere', name: 'Elsewhere', kind: 'elsewhere' }, cost: 'yours' }],
    // Its file is here, also after its library has taken it back.
    ['', { copySha256: 'ab'.repeat(32) }],
    ['', { copySha256: 'ab'.repeat(32), withdrawn: true, sold: true }],
  ])('it says “%s” for %o', (words, values) => {
    expect(fitCondition({ ...OFFERED, ...values })).toBe(words)
  })

  it.each<SoundSummary['fit']>(['does-not-fit', 'not-stated', null])(
    'nothing is said to help where it is %s',
    (fit) => {
      expect(fitCondition({ ...OFFERED, fit })).toBe('')
      expect(fitCondition({ ...OFFERED, fit, sold: true, withdrawn: true })).toBe('')
    },
  )
})
