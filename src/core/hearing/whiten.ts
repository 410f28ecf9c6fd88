import { Fft } from '../audio/fft'
import { windowedInto } from '../audio/windowed'
import { WHITEN_HOP, WHITEN_SIZE } from './constants'

/** Cells of a sound this far under its strongest cell fade out, dB: they are noise floor, not sound. */
const SOUND_FLOOR_DB = 60
/** Exponent of the sound's own whitening: a quarter of the level contrast is retained, so that its strong cells weigh more. */
const SOUND_EXPONENT = -0.75
/** Cells of the track under this magnitude (about -110 dB full scale) are silence and stay so. */
const TRACK_SILENCE = 1e-3

/**
 * Keeps only the phase of a track, so that speech and music weigh no more than anything else.
 *
 * @param samples Mono at the hearing rate. Not modified.
 * @returns As many samples; about unit variance wherever there is sound.
 */
export function whitenedTrack(samples: Float32Array): Float32Array {
  return reshaped(samples, (power) => (power > TRACK_SILENCE ** 2 ? 1 / Math.sqrt(power) : 1 / TRACK_SILENCE))
}

/**
 * Flattens the spectrum of a sound without raising its noise floor.
 *
 * @param samples Mono at the hearing rate. Not modified.
 */
export function whitenedSound(samples: Float32Array): Float32Array {
  let strongest = 0
  eachSpectrum(samples, ({ re, im }) =>
    scaleBoth(re, im, (power) => {
      if (power > strongest) strongest = power
      return 0
    }),
  )
  if (strongest <= 0) return new Float32Array(samples.length)
  const floor = strongest * 10 ** (-SOUND_FLOOR_DB / 10)
  return reshaped(samples, (power) => (power + floor * 1e-3) ** (SOUND_EXPONENT / 2) * (power / (power + floor)))
}

/** Overlap-add with square-root Hann windows; two real frames ride in one complex transform. */
function reshaped(samples: Float32Array, scaleOfPower: (power: number) => number): Float32Array {
  const out = new Float32Array(samples.length)
  eachSpectrum(samples, ({ fft, window, re, im, first }) => {
    scaleBoth(re, im, scaleOfPower)
    fft.inverse(re, im)
    addFrame(out, re, window, first, 1 / WHITEN_SIZE)
    addFrame(out, im, window, first + WHITEN_HOP, 1 / WHITEN_SIZE)
  })
  return out
}

interface SpectrumOfTwo {
  readonly fft: Fft
  readonly window: Float32Array
  /** The transform of two frames, one in each part; may be written over. */
  readonly re: Float32Array
  readonly im: Float32Array
  /** Where the first of them begins; the second begins a hop later. */
  readonly first: number
}

/** Goes through a sound by the transforms of its windowed frames. */
function eachSpectrum(samples: Float32Array, visit: (spectrum: SpectrumOfTwo) => void): void {
  const size = WHITEN_SIZE
  const half = size / 2
  const fft = new Fft(size)
  const window = Float32Array.from({ length: size }, (_, n) => Math.sin((Math.PI * (n + 0.5)) / size))
  const re = new Float32Array(size)
  const im = new Float32Array(size)
  const frames = Math.ceil((samples.length + half) / WHITEN_HOP)
  for (let frame = 0; frame < frames; frame += 2) {
    const first = frame * WHITEN_HOP - half
    windowedInto(re, samples, first, window)
    windowedInto(im, samples, first + WHITEN_HOP, window)
    fft.forward(re, im)
    visit({ fft, window, re, im, first })
  }
}

function scaleBoth(re: Float32Array, im: Float32Array, scaleOfPower: (power: number) => number): void {
  const size = re.length
  re[0] = 0
  im[0] = 0
  re[size / 2] = 0
  im[size / 2] = 0
  for (let k = 1; k < size / 2; k++) {
    const m = size - k
    const zr = re[k] as number
    const zi = im[k] as number
    const yr = re[m] as number
    const yi = im[m] as number
    let ar = (zr + yr) / 2
    let ai = (zi - yi) / 2
    let br = (zi + yi) / 2
    let bi = (yr - zr) / 2
    const a = scaleOfPower(ar * ar + ai * ai)
    const b = scaleOfPower(br * br + bi * bi)
    ar *= a
    ai *= a
    br *= b
    bi *= b
    re[k] = ar - bi
    im[k] = ai + br
    re[m] = ar + bi
    im[m] = br - ai
  }
}

function addFrame(out: Float32Array, frame: Float32Array, window: Float32Array, start: number, gain: number): void {
  const from = Math.max(0, -start)
  const to = Math.min(frame.length, out.length - start)
  for (let n = from; n < to; n++)
    out[start + n] = (out[start + n] as number) + (frame[n] as number) * (window[n] as number) * gain
}
