import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type BroadcastWaveOptions, broadcastWaveHeader, pcm24 } from './broadcast-wave'
import { riffChunks } from './riff'
import { readWav } from './wav'
import { wavTags } from './wav-tags'

const OPTIONS: BroadcastWaveOptions = {
  sampleRateHz: 48_000,
  channelCount: 2,
  lengthFrames: 3,
  description: 'Ridge “wind”, mix',
  originationDate: '2026-11-28',
  originationTime: '21:58:04',
  timeReferenceFrames: 172_800_000,
  integratedLufs: -14.256,
  truePeakDbtp: null,
  ixml: '<BWFXML><PROJECT>Ridge</PROJECT></BWFXML>',
}

function file(options: BroadcastWaveOptions, channels: readonly Float32Array[]): Uint8Array {
  const [head, data] = [broadcastWaveHeader(options), pcm24(channels)]
  const all = new Uint8Array(head.length + data.length + (data.length & 1))
  all.set(head)
  all.set(data, head.length)
  return all
}

describe('a Broadcast Wave file', () => {
  const channels = [new Float32Array([0, 0.5, -1]), new Float32Array([0.25, 2, -3])]

  it('is read back to the sample, clipped at full scale, with what stands in its head', () => {
    const bytes = file(OPTIONS, channels)
    const audio = readWav(bytes)
    expect(audio.sampleRateHz).toBe(48_000)
    expect([...(audio.channels[0] as Float32Array)]).toEqual([0, 0.5, -1])
    expect([...(audio.channels[1] as Float32Array)]).toEqual([0.25, expect.closeTo(1, 6), -1])
    const { bext } = wavTags(bytes)
    expect(bext).toMatchObject({ description: 'Ridge ?wind?, mix', originationDate: '2026-11-28' })
    const chunk = riffChunks(bytes).find(({ id }) => id === 'bext')
    const view = new DataView(bytes.buffer, chunk?.start)
    expect([view.getBigUint64(338, true), view.getUint16(346, true)]).toEqual([172_800_000n, 2])
    expect([view.getInt16(412, true), view.getInt16(416, true)]).toEqual([-1426, 0x7fff])
    expect(new DataView(bytes.buffer).getUint32(4, true)).toBe(bytes.length - 8)
  })

  it('says its sizes with 64 bits where 32 are too few, at the same length of head', () => {
    const lengthFrames = 4 * 3600 * 48_000 * 2
    const head = broadcastWaveHeader({ ...OPTIONS, lengthFrames })
    const view = new DataView(head.buffer)
    expect(new TextDecoder().decode(head.subarray(0, 16))).toMatch(/^RF64....WAVEds64$/s)
    expect(view.getBigUint64(28, true)).toBe(BigInt(lengthFrames * 6))
    expect(view.getBigUint64(36, true)).toBe(BigInt(lengthFrames))
    expect(view.getUint32(head.length - 4, true)).toBe(2 ** 32 - 1)
    expect(head).toHaveLength(broadcastWaveHeader(OPTIONS).length)
  })

  it('keeps every chunk on an even place, whatever stands in it', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 40 }), fc.nat(5), (ixml, frames) => {
        const samples = new Float32Array(frames).fill(0.1)
        const bytes = file({ ...OPTIONS, ixml, channelCount: 1, lengthFrames: frames }, [samples])
        const all = riffChunks(bytes)
        expect(all.map(({ id }) => id)).toEqual(['JUNK', 'bext', 'iXML', 'fmt ', 'data'])
        expect(all.every(({ start }) => start % 2 === 0)).toBe(true)
        expect(readWav(bytes).channels[0]).toHaveLength(frames)
      }),
    )
  })
})
