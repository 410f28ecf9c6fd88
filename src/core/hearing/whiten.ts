import { Fft } from '../audio/fft'
import { eachPowerSpectrum } from '../audio/power-spectra'
import { WHITEN_HOP, WHITEN_SIZE } from './constants'

/** Cells of a sound this far under its strongest cell fade out, dB: they are noise floor, not sound. */
const SOUND_FLOOR_DB = 60
/** Cells of the track under this magnitude (about -110 dB full scale) are silence and stay so. */
const TRACK_SILENCE = 1e-3

/**
 * Keeps only the phase of a track, so that speech and music weigh no more than anything else.
 *
 * @param samples Mono at the hearing rate. Not modified.
 * @returns As many samples; about unit variance wherever there is sound.
 */
export function whitenedTrack(samples: Float32Array): Float32Array {
  return reshaped(samples, null)
}

/**
 * Flattens the spectrum of a sound without raising its noise floor.
 *
 * @param samples Mono at the hearing rate. Not modified.
 */
export function whitenedSound(samples: Float32Array): Float32Array {
  const strongest = strongestPower(samples)
  if (strongest <= 0) return new Float32Array(samples.length)
  return reshaped(samples, strongest * 10 ** (-SOUND_FLOOR_DB / 10))
}

/** By how much a cell of this power is multiplied. @param floor Power under which cells of a sound fade out; null for a track. */
function scaleOf(power: number, floor: number | null): number {
  if (floor === null) return power > TRACK_SILENCE ** 2 ? 1 / Math.sqrt(power) : 1 / TRACK_SILENCE
  // The magnitude to -0.75: a quarter of the level contrast is retained, so that strong cells weigh more. By roots, which take a tenth of the time.
  const root = Math.sqrt(Math.sqrt(power + floor * 1e-3))
  return power / (power + floor) / (root * Math.sqrt(root))
}

function strongestPower(samples: Float32Array): number {
  let strongest = 0
  const frames = { window: WINDOW, count: frameCount(samples), startOf: frameStart }
  eachPowerSpectrum(samples, frames, (powers) => {
    for (let k = 1; k < WHITEN_SIZE / 2; k++) strongest = Math.max(strongest, powers[k] as number)
  })
  return strongest
}

/** Overlap-add with square-root Hann windows. */
function reshaped(samples: Float32Array, floor: number | null): Float32Array {
  const fft = new Fft(WHITEN_SIZE)
  const [re, im] = [new Float32Array(WHITEN_SIZE), new Float32Array(WHITEN_SIZE)]
  const out = new Float32Array(samples.length)
  for (let frame = 0; frame < frameCount(samples); frame += 2) {
    const [first, second] = [frameStart(frame), frameStart(frame + 1)]
    fft.forwardFrames(re, im, samples, { first, second, window: WINDOW })
    scaleBoth(re, im, floor)
    fft.inverse(re, im)
    addFrame(out, re, WINDOW, first, 1 / WHITEN_SIZE)
    addFrame(out, im, WINDOW, second, 1 / WHITEN_SIZE)
  }
  return out
}

const WINDOW = Float32Array.from({ length: WHITEN_SIZE }, (_, n) => Math.sin((Math.PI * (n + 0.5)) / WHITEN_SIZE))

/** Number of frames, overlapping by half, that a sound is covered by. */
function frameCount(samples: Float32Array): number {
  return Math.ceil((samples.length + WHITEN_SIZE / 2) / WHITEN_HOP)
}

function frameStart(frame: number): number {
  return frame * WHITEN_HOP - WHITEN_SIZE / 2
}

function scaleBoth(re: Float32Array, im: Float32Array, floor: number | null): void {
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
    const a = scaleOf(ar * ar + ai * ai, floor)
    const b = scaleOf(br * br + bi * bi, floor)
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
