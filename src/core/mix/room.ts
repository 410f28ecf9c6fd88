import { Fft } from '../audio'

/** Frames that are worked on at once. */
export const CHUNK_FRAMES = 4096

/** What a room answers to one click. */
export interface RoomShape {
  /** Until it is 60 dB down, s. */
  readonly decayS: number
  /** Before the first of it is heard, s. */
  readonly delayS: number
  /** Above this it dies sooner, Hz. */
  readonly brightHz: number
}

/** Decay of the amplitude over one decay time: 60 dB. */
const DECAY = Math.log(1000)

/**
 * An impulse response of noise that dies away, different on the two sides. Always the same for the same side; its energy is 1.
 *
 * Source: J. A. Moorer, About this reverberation business, Computer Music Journal 3(2), 1979 (noise with an exponential decay).
 */
export function roomResponse({ decayS, delayS, brightHz }: RoomShape, side: 0 | 1, sampleRateHz: number): Float32Array {
  const delay = Math.round(delayS * sampleRateHz)
  const out = new Float32Array(delay + Math.ceil(decayS * sampleRateHz))
  let state = 0x9e3779b9 ^ (side * 0x85ebca6b)
  let smooth = 0
  let energy = 0
  for (let n = delay; n < out.length; n++) {
    // Xorshift, after G. Marsaglia, Journal of Statistical Software 8(14), 2003.
    state ^= state << 13
    state ^= state >>> 17
    state ^= state << 5
    const noise = state / 2 ** 31
    const fraction = (n - delay) / (out.length - delay)
    // The longer it has been on its way, the duller it is.
    const cornerHz = brightHz * (1 - 0.8 * fraction)
    smooth += (1 - Math.exp((-2 * Math.PI * cornerHz) / sampleRateHz)) * (noise - smooth)
    const value = smooth * Math.exp(-DECAY * fraction)
    out[n] = value
    energy += value * value
  }
  const scale = 1 / Math.sqrt(energy)
  return out.map((value) => value * scale)
}

interface Spectrum {
  readonly re: Float32Array
  readonly im: Float32Array
}

/** An impulse response in parts of {@link CHUNK_FRAMES}, transformed. */
export type ResponseSpectra = readonly Spectrum[]

function emptySpectrum(): Spectrum {
  return { re: new Float32Array(2 * CHUNK_FRAMES), im: new Float32Array(2 * CHUNK_FRAMES) }
}

function spectraOf(response: Float32Array): ResponseSpectra {
  const fft = new Fft(2 * CHUNK_FRAMES)
  return Array.from({ length: Math.max(1, Math.ceil(response.length / CHUNK_FRAMES)) }, (_, at) => {
    const part = emptySpectrum()
    part.re.set(response.subarray(at * CHUNK_FRAMES, (at + 1) * CHUNK_FRAMES))
    fft.forward(part.re, part.im)
    return part
  })
}

const madeRooms = new Map<string, ResponseSpectra>()

/** What a room answers, transformed; made once for all sounds in it. */
export function roomSpectra(shape: RoomShape, side: 0 | 1, sampleRateHz: number): ResponseSpectra {
  const key = [shape.decayS, shape.delayS, shape.brightHz, side, sampleRateHz].join(' ')
  const known = madeRooms.get(key)
  if (known) return known
  const made = spectraOf(roomResponse(shape, side, sampleRateHz))
  madeRooms.set(key, made)
  return made
}

/**
 * Convolves a channel with an impulse response, a chunk at a time, without delay.
 *
 * Uniformly partitioned overlap-save. Source: W. G. Gardner, Efficient convolution without input-output delay, JAES 43(3), 1995.
 */
export class Convolver {
  private readonly fft = new Fft(2 * CHUNK_FRAMES)
  private readonly parts: readonly Spectrum[]
  private readonly past: readonly Spectrum[]
  private readonly sumRe = new Float32Array(2 * CHUNK_FRAMES)
  private readonly sumIm = new Float32Array(2 * CHUNK_FRAMES)
  private readonly before = new Float32Array(CHUNK_FRAMES)
  private turn = 0

  /** @param response As samples, or as spectra that were made of them. */
  constructor(response: Float32Array | ResponseSpectra) {
    this.parts = response instanceof Float32Array ? spectraOf(response) : response
    this.past = this.parts.map(emptySpectrum)
  }

  /** @param input A chunk; not modified. @param out Takes what is heard of it and of those before. */
  process(input: Float32Array, out: Float32Array): void {
    const { fft, parts, past, before } = this
    this.turn = (this.turn + past.length - 1) % past.length
    const now = past[this.turn] as Spectrum
    now.re.set(before)
    now.re.set(input, CHUNK_FRAMES)
    now.im.fill(0)
    fft.forward(now.re, now.im)
    before.set(input)
    const { sumRe, sumIm } = this
    sumRe.fill(0)
    sumIm.fill(0)
    // All is real, so that one half of the spectrum tells the other.
    for (let at = 0; at < parts.length; at++) {
      const { re: partRe, im: partIm } = parts[at] as Spectrum
      const { re, im } = past[(this.turn + at) % past.length] as Spectrum
      for (let k = 0; k <= CHUNK_FRAMES; k++) {
        const ar = re[k] as number
        const ai = im[k] as number
        const br = partRe[k] as number
        const bi = partIm[k] as number
        sumRe[k] = (sumRe[k] as number) + ar * br - ai * bi
        sumIm[k] = (sumIm[k] as number) + ar * bi + ai * br
      }
    }
    for (let k = 1; k < CHUNK_FRAMES; k++) {
      sumRe[2 * CHUNK_FRAMES - k] = sumRe[k] as number
      sumIm[2 * CHUNK_FRAMES - k] = -(sumIm[k] as number)
    }
    fft.inverse(sumRe, sumIm)
    const scale = 1 / (2 * CHUNK_FRAMES)
    for (let n = 0; n < CHUNK_FRAMES; n++) out[n] = (sumRe[CHUNK_FRAMES + n] as number) * scale
  }
}
