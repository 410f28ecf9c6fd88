import { describe, expect, it } from 'vitest'
import { baseName, soundTable } from './sound-table'

describe('the table of a pack', () => {
  it('is read by the names of its columns, whatever their order and spelling', () => {
    const table = soundTable([
      ['Keywords', 'Category', 'File Name', 'FXName', 'SubCategory', 'Designer', 'LICENSE', 'Shelf'],
      ['iron, Gate ;creak', 'DOORS', 'Gates/GATE_01.WAV', ' Old gate ', 'Gate', 'Hedda Marl', 'CC0', 'x'],
    ])
    expect([...table]).toEqual([
      [
        'gate_01.wav',
        {
          title: 'Old gate',
          maker: 'Hedda Marl',
          description: '',
          category: 'DOORS',
          words: ['iron', 'gate', 'creak'],
          rights: 'CC0',
        },
      ],
    ])
  })

  it('says nothing where no column names files, and of lines that name none', () => {
    expect(soundTable([])).toEqual(new Map())
    expect(soundTable([['Title'], ['A gate']])).toEqual(new Map())
    expect(soundTable([['filename', 'title'], ['', 'A gate'], ['   ', 'B'], []])).toEqual(new Map())
  })

  it('takes the first line of a file, and bounds what it takes', () => {
    const long = 'x'.repeat(10_000)
    const many = Array.from({ length: 500 }, (_, index) => `w${index}`).join(',')
    const table = soundTable([
      ['filename', 'title', 'keywords'],
      ['a.wav', long, many],
      ['A.wav', 'second', ''],
    ])
    expect(table.size).toBe(1)
    expect(table.get('a.wav')?.title).toHaveLength(4000)
    expect(table.get('a.wav')?.words).toHaveLength(60)
  })

  it.each([
    ['a.wav', 'a.wav'],
    ['x\\y\\A.WAV', 'a.wav'],
    ['../../etc/passwd', 'passwd'],
    ['x/', ''],
  ])('knows %s as %s', (path, name) => {
    expect(baseName(path)).toBe(name)
  })
})
