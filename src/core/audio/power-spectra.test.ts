import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { Fft } from './fft'
import { eachPowerSpectrum } from './power-spectra'

const SIZE = 64
const WINDOW = noise(SIZE, 3)
const SOUND = noise(500, 4)

describe('power spectra of frames', () => {
  it.each([0, 1, 2, 5])('are told in order, each as if it were alone (%i of them)', (count) => {
    const startOf = (frame: number): number => 40 * frame - 20
    const told: number[] = []
    eachPowerSpectrum(SOUND, { window: WINDOW, count, startOf }, (powers, frame) => {
      told.push(frame)
      const alone = [new Float32Array(SIZE / 2 + 1), new Float32Array(SIZE / 2 + 1)] as const
      new Fft(SIZE).framePowers(...alone, SOUND, { first: startOf(frame), second: null, window: WINDOW })
      expect(powers).toHaveLength(SIZE / 2 + 1)
      for (const [k, power] of alone[0].entries()) expect(powers[k]).toBeCloseTo(power, 3)
    })
    expect(told).toEqual(Array.from({ length: count }, (_, frame) => frame))
  })
})
