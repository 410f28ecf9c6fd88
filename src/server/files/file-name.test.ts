import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { copyFileName, plainFileName } from './file-name'

describe('copyFileName', () => {
  it('is title, maker and source', () => {
    expect(copyFileName({ title: 'Ice crack', maker: 'fernlight', source: 'Tin Barn', ending: 'wav' })).toBe(
      'Ice crack - fernlight - Tin Barn.wav',
    )
  })

  it.each([
    [{ title: 'a/b\\c:d', maker: '', source: 'S', ending: 'ogg' }, 'a b c d - S.ogg'],
    [{ title: '../../etc/passwd', maker: '', source: '', ending: 'wav' }, 'etc passwd.wav'],
    [{ title: 'CON', maker: '', source: '', ending: 'wav' }, 'sound CON.wav'],
    [{ title: '', maker: '', source: '', ending: '' }, 'sound.bin'],
    [{ title: 'x', maker: '', source: '', ending: '../sh' }, 'x.sh'],
  ])('%j', (parts, name) => {
    expect(copyFileName(parts)).toBe(name)
  })

  it('is safe and at most 80 characters for any input', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 200 }),
        fc.string({ maxLength: 50 }),
        fc.string({ maxLength: 12 }),
        (title, maker, ending) => {
          const name = copyFileName({ title, maker, source: 'S', ending })
          expect(name.length).toBeLessThanOrEqual(80)
          expect(name).toMatch(/^[^<>:"/\\|?*]+\.[a-z0-9]+$/i)
          expect(name.startsWith('.')).toBe(false)
        },
      ),
    )
  })
})

describe('plainFileName', () => {
  it.each([
    ['/home/a/final.mp4', 'final.mp4'],
    ['C:\\videos\\final.mp4', 'final.mp4'],
    ['..', 'file'],
    ['', 'file'],
    ['a<b>.mp4', 'a b .mp4'],
  ])('%s', (given, name) => {
    expect(plainFileName(given)).toBe(name)
  })
})
