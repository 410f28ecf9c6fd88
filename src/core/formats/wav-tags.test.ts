import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { chunkBytes, contentsOf, RiffError, riffChunks, text, withChunks } from './riff'
import { readWav, writeWav } from './wav'
import { wavTags, withWavRights } from './wav-tags'

const RIGHTS = {
  title: 'Ice — “crack”',
  maker: 'Zoë Weiß',
  source: 'Tin Barn Commons',
  copyright: '© Zoë Weiß, CC BY 4.0',
  comment: 'Credit: owed.',
  licenceUrl: 'https://creativecommons.org/licenses/by/4.0/',
  creditLine: '“Ice” by Zoë <Weiß> & Co',
  acquisitionId: 'GT-0123456789ab',
  acquiredOn: '2026-06-15',
}

function wav(frames = 1001, bits: 16 | 24 = 24): Uint8Array {
  return writeWav({ sampleRateHz: 48000, channels: [noise(frames, 4, 0.9)] }, { bits })
}

/** A RIFF file from parts, with its size right. */
function riff(...chunks: Uint8Array[]): Uint8Array {
  const size = 12 + chunks.reduce((sum, chunk) => sum + chunk.length + (chunk.length & 1), 0)
  const out = new Uint8Array(size)
  out.set(new TextEncoder().encode('RIFF'))
  new DataView(out.buffer).setUint32(4, size - 8, true)
  out.set(new TextEncoder().encode('WAVE'), 8)
  let at = 12
  for (const chunk of chunks) {
    out.set(chunk, at)
    at += chunk.length + (chunk.length & 1)
  }
  return out
}

function dataOf(bytes: Uint8Array): Uint8Array {
  const chunk = riffChunks(bytes).find(({ id }) => id === 'data')
  if (!chunk) throw new Error('no data')
  return contentsOf(bytes, chunk)
}

describe('rights in a WAVE file', () => {
  it.each([1, 1000, 1001])('leave the samples bit for bit, with %i frames', (frames) => {
    const before = wav(frames)
    const after = withWavRights(before, RIGHTS)
    expect(dataOf(after)).toEqual(dataOf(before))
    expect(readWav(after)).toEqual(readWav(before))
    expect(new DataView(after.buffer).getUint32(4, true)).toBe(after.length - 8)
  })

  it('are read back, in ASCII where the format has no more', () => {
    const { info, bext, ixml } = wavTags(withWavRights(wav(), RIGHTS))
    expect(info.get('INAM')).toBe('Ice - "crack"')
    expect(info.get('IART')).toBe('Zoe Wei?')
    expect(info.get('ICOP')).toContain('(c)')
    expect(bext).toMatchObject({ originatorReference: 'GT-0123456789ab', originationDate: '2026-06-15' })
    expect(ixml).toContain('Credit: “Ice” by Zoë &lt;Weiß&gt; &amp; Co')
    expect(ixml).toContain('https://creativecommons.org/licenses/by/4.0/')
  })

  it('are written anew over what was written before', () => {
    const twice = withWavRights(withWavRights(wav(), RIGHTS), { ...RIGHTS, title: 'Other' })
    expect(riffChunks(twice).filter(({ id }) => id === 'LIST')).toHaveLength(1)
    expect(riffChunks(twice).filter(({ id }) => id === 'bext')).toHaveLength(1)
    expect(wavTags(twice).info.get('INAM')).toBe('Other')
  })

  it('keep what a recorder wrote: its time reference, its iXML, and entries of others', () => {
    const bext = new Uint8Array(610)
    bext.set(new TextEncoder().encode('Scene 4'))
    bext.set([1, 2, 3, 4], 338)
    const list = new Uint8Array([
      ...new TextEncoder().encode('INFO'),
      ...chunkBytes('IENG', new TextEncoder().encode('Ivo\0')),
    ])
    const plain = wav()
    const file = riff(
      chunkBytes('bext', bext),
      ...riffChunks(plain).map((chunk) => chunkBytes(chunk.id, contentsOf(plain, chunk))),
      chunkBytes('iXML', new TextEncoder().encode('<BWFXML><SCENE>4</SCENE></BWFXML>')),
      chunkBytes('LIST', list),
    )
    const after = withWavRights(file, RIGHTS)
    const kept = riffChunks(after).find(({ id }) => id === 'bext')
    expect([...contentsOf(after, kept as NonNullable<typeof kept>).subarray(338, 342)]).toEqual([1, 2, 3, 4])
    expect(wavTags(after).bext?.description).toBe('Scene 4')
    expect(wavTags(after).ixml).toBe('<BWFXML><SCENE>4</SCENE></BWFXML>')
    expect(wavTags(after).info.get('IENG')).toBe('Ivo')
    expect(wavTags(after).info.get('INAM')).toBe('Ice - "crack"')
  })

  it('go into RF64 files too, whose sizes stand elsewhere', () => {
    const plain = wav(100)
    const data = dataOf(plain)
    const ds64 = new Uint8Array(28)
    new DataView(ds64.buffer).setBigUint64(8, BigInt(data.length), true)
    const fmt = riffChunks(plain).find(({ id }) => id === 'fmt ')
    const file = riff(
      chunkBytes('ds64', ds64),
      chunkBytes('fmt ', contentsOf(plain, fmt as NonNullable<typeof fmt>)),
      chunkBytes('data', data),
    )
    file.set(new TextEncoder().encode('RF64'))
    new DataView(file.buffer).setUint32(4, 0xffffffff, true)
    const at = riffChunks(file).find(({ id }) => id === 'data')?.start ?? 0
    new DataView(file.buffer).setUint32(at - 4, 0xffffffff, true)
    const after = withWavRights(file, RIGHTS)
    expect(text(after, 0, 4)).toBe('RF64')
    expect(dataOf(after)).toEqual(data)
    expect(new DataView(after.buffer).getBigUint64(20, true)).toBe(BigInt(after.length - 8))
    expect(wavTags(after).info.get('INAM')).toBe('Ice - "crack"')
  })
})

describe('chunks', () => {
  it('that reach past the end are cut there', () => {
    const cut = wav(1000).subarray(0, 500)
    expect(riffChunks(cut).map(({ id, size }) => [id, size])).toEqual([
      ['fmt ', 16],
      ['data', 456],
    ])
  })

  it.each([[new Uint8Array()], [new Uint8Array(40)], [new TextEncoder().encode('RIFF....AVI LIST')]])(
    'are not looked for in what is no WAVE file',
    (bytes) => expect(() => riffChunks(bytes)).toThrow(RiffError),
  )

  it('of odd length are padded', () => {
    const out = withChunks(wav(10), () => false, [
      { id: 'odd ', contents: new Uint8Array([1, 2, 3]) },
      { id: 'next', contents: new Uint8Array([4]) },
    ])
    expect(
      riffChunks(out)
        .map(({ id, size }) => [id, size])
        .slice(-2),
    ).toEqual([
      ['odd ', 3],
      ['next', 1],
    ])
  })
})
