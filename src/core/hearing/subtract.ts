import { Fft } from '../audio/fft'
import { BAND_STARTS, CELL_BANDS, FIRST_BIN } from './cells'
import { HEARING_RATE_HZ } from './constants'
import type { Detection } from './detections'
import type { PreparedSound } from './prepare'
import { spedSound } from './speed'
import { compand, Track } from './track'

/** Windows of the subtraction: square-root Hann, so that cutting and laying together multiply to a whole. */
const SIZE = 1024
const HOP = 512
/** Frames over which one level a band is fitted (0.16 s): a codec and a fade change it along a sound. */
const STRETCH_FRAMES = 5
/** A band is taken away at this many times the level of the whole at most, or chance would be taken away with it. */
const BAND_GAIN_MAX = 1.6

/**
 * A track without the sounds that were heard in it: each is taken away with its part and speed, every band at the level that
 * fits it best. Sounds whose pitch was kept at another speed stay: their grains cannot be laid exactly.
 *
 * @param soundOf The sound of a detection.
 * @returns A track of its own, without side; the first one is not changed.
 */
export function subtracted(
  track: Track,
  detections: readonly Detection[],
  soundOf: (detection: Detection) => PreparedSound | null,
): Track {
  const rest = new Track(track.mid.slice(0, track.frames), null, track.frames)
  const transform = new WindowTransform()
  for (const find of [...detections].sort((a, b) => b.score - a.score)) {
    const sound = soundOf(find)
    if (!sound || find.treatment === 'speed-pitch-kept') continue
    const played = find.treatment === 'speed' ? spedSound(sound.samples, find.speed) : sound.samples
    const from = Math.max(0, Math.round((find.fromS / find.speed) * HEARING_RATE_HZ))
    const to = Math.min(played.length, Math.round((find.toS / find.speed) * HEARING_RATE_HZ))
    const at = Math.round(find.startS * HEARING_RATE_HZ)
    if (to <= from || at < 0) continue
    const part = played.subarray(from, to)
    const heard = rest.midSamples(at - SIZE, at + part.length + SIZE)
    transform.subtract(heard, part, SIZE, 10 ** (find.gainDb / 20))
    const first = Math.max(0, at - SIZE)
    compand(heard.subarray(first - (at - SIZE), Math.min(heard.length, rest.frames - (at - SIZE))), rest.mid, first)
  }
  return rest
}

class WindowTransform {
  private readonly fft = new Fft(SIZE)
  private readonly window = Float32Array.from({ length: SIZE }, (_, n) => Math.sin((Math.PI * (n + 0.5)) / SIZE))

  /** Takes `part`, which begins at `offset`, out of `heard`, in place. */
  subtract(heard: Float32Array, part: Float32Array, offset: number, gain: number): void {
    const padded = new Float32Array(heard.length)
    padded.set(part, offset)
    const frames = Math.floor((heard.length - SIZE) / HOP) + 1
    const spectra = Array.from({ length: frames }, (_, frame) => this.both(heard, padded, frame * HOP))
    for (let from = 0; from < frames; from += STRETCH_FRAMES) {
      const stretch = spectra.slice(from, from + STRETCH_FRAMES)
      const gains = Array.from({ length: CELL_BANDS }, (_, band) => bandGain(stretch, band, gain))
      stretch.forEach((spectrum, k) => {
        this.take(heard, spectrum.part, gains, (from + k) * HOP)
      })
    }
  }

  private both(heard: Float32Array, part: Float32Array, at: number) {
    return { heard: this.spectrum(heard, at), part: this.spectrum(part, at) }
  }

  private spectrum(samples: Float32Array, at: number): Spectrum {
    const { window } = this
    const re = new Float32Array(SIZE)
    const im = new Float32Array(SIZE)
    for (let n = 0; n < SIZE; n++) re[n] = (window[n] as number) * (samples[at + n] as number)
    this.fft.forward(re, im)
    return { re, im }
  }

  private take(heard: Float32Array, { re, im }: Spectrum, gains: readonly number[], at: number): void {
    for (let k = 0; k <= SIZE / 2; k++) {
      const gain = gains[bandOf(k)] as number
      re[k] = (re[k] as number) * gain
      im[k] = (im[k] as number) * gain
      if (k === 0 || k === SIZE / 2) continue
      re[SIZE - k] = re[k] as number
      im[SIZE - k] = -(im[k] as number)
    }
    this.fft.inverse(re, im)
    for (let n = 0; n < SIZE; n++)
      heard[at + n] = (heard[at + n] as number) - ((re[n] as number) * (this.window[n] as number)) / SIZE
  }
}

interface Spectrum {
  readonly re: Float32Array
  readonly im: Float32Array
}

/** Least squares over a stretch, between nothing and somewhat more than the level of the whole. */
function bandGain(
  stretch: readonly { readonly heard: Spectrum; readonly part: Spectrum }[],
  band: number,
  gain: number,
): number {
  let cross = 0
  let energy = 1e-12
  for (const { heard, part } of stretch) {
    for (let k = FIRST_BIN + (BAND_STARTS[band] as number); k < FIRST_BIN + (BAND_STARTS[band + 1] as number); k++) {
      const pr = part.re[k] as number
      const pi = part.im[k] as number
      cross += pr * (heard.re[k] as number) + pi * (heard.im[k] as number)
      energy += pr * pr + pi * pi
    }
  }
  return Math.max(0, Math.min(BAND_GAIN_MAX * gain, cross / energy))
}

const BAND_OF = Uint8Array.from({ length: SIZE / 2 + 1 }, (_, k) => {
  const band = BAND_STARTS.findIndex((start) => k < FIRST_BIN + start) - 1
  return band === -2 ? CELL_BANDS - 1 : Math.max(0, band)
})

function bandOf(bin: number): number {
  return BAND_OF[bin] as number
}
