import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { readWav, WavError, writeWav } from './wav'

describe('WAV', () => {
  it.each([16, 24] as const)('comes back from %i bits within half a step', (bits) => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 2 }),
        fc.integer({ min: 0, max: 99 }),
        fc.constantFrom(8000, 44100, 48000, 96000),
        fc.integer({ min: 1, max: 1e6 }),
        (channelCount, length, sampleRateHz, seed) => {
          const channels = Array.from({ length: channelCount }, (_, k) => noise(length, seed + k, 0.99))
          const back = readWav(writeWav({ sampleRateHz, channels }, { bits }))
          expect(back.sampleRateHz).toBe(sampleRateHz)
          expect(back.channels.length).toBe(channelCount)
          for (const [k, channel] of back.channels.entries()) {
            expect(channel.length).toBe(length)
            for (const [i, value] of channel.entries())
              expect(Math.abs(value - ((channels[k] as Float32Array)[i] as number))).toBeLessThanOrEqual(
                0.51 / 2 ** (bits - 1),
              )
          }
        },
      ),
      { numRuns: 60 },
    )
  })

  it('clips what is beyond full scale', () => {
    const [channel] = readWav(writeWav({ sampleRateHz: 8000, channels: [Float32Array.of(2, -2)] })).channels
    expect(channel?.[0]).toBeCloseTo(1, 3)
    expect(channel?.[1]).toBe(-1)
  })

  it('reads 32-bit float and passes over other chunks', () => {
    const bytes = new Uint8Array(12 + 10 + 24 + 8 + 8)
    const view = new DataView(bytes.buffer)
    const put = (at: number, text: string): void => {
      for (let i = 0; i < text.length; i++) bytes[at + i] = text.charCodeAt(i)
    }
    put(0, 'RIFF')
    put(8, 'WAVE')
    // A chunk of odd length is padded to an even one.
    put(12, 'note')
    view.setUint32(16, 1, true)
    put(22, 'fmt ')
    view.setUint32(26, 16, true)
    view.setUint16(30, 3, true)
    view.setUint16(32, 1, true)
    view.setUint32(34, 22050, true)
    view.setUint16(44, 32, true)
    put(46, 'data')
    view.setUint32(50, 8, true)
    view.setFloat32(54, 0.25, true)
    view.setFloat32(58, -0.5, true)
    const { channels, sampleRateHz } = readWav(bytes)
    expect(sampleRateHz).toBe(22050)
    expect([...(channels[0] as Float32Array)]).toEqual([0.25, -0.5])
  })

  it('gives the frames that are there when the data is cut off', () => {
    const whole = writeWav({ sampleRateHz: 8000, channels: [noise(100, 1)] })
    expect(readWav(whole.subarray(0, 44 + 60)).channels[0]?.length).toBe(30)
  })

  it.each([
    ['nothing', new Uint8Array(0), 'not-wav'],
    ['text', new TextEncoder().encode('this is a text and not a sound at all'), 'not-wav'],
    ['a file with no data', writeWav({ sampleRateHz: 8000, channels: [noise(4, 1)] }).subarray(0, 36), 'not-wav'],
  ])('refuses %s', (_what, bytes, code) => {
    expect(() => readWav(bytes)).toThrow(expect.objectContaining({ code }))
  })

  it('refuses compressed kinds', () => {
    const bytes = writeWav({ sampleRateHz: 8000, channels: [noise(4, 1)] })
    bytes[20] = 2
    expect(() => readWav(bytes)).toThrow(WavError)
  })

  it('never reads outside of what it was given', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 120 }), fc.integer({ min: 0, max: 60 }), (junk, cut) => {
        const bytes = writeWav({ sampleRateHz: 8000, channels: [noise(20, 1)] })
        bytes.set(junk.subarray(0, Math.min(junk.length, bytes.length - cut)), cut)
        try {
          for (const channel of readWav(bytes).channels) expect(channel.every(Number.isFinite)).toBe(true)
        } catch (error) {
          expect(error).toBeInstanceOf(WavError)
        }
      }),
    )
  })
})
