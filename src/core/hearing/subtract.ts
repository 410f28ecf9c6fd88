import { Fft } from '../audio/fft'
import { BAND_STARTS, CELL_BANDS, FIRST_BIN } from './cells'
import { HEARING_RATE_HZ } from './constants'
import type { Detection } from './detections'
import type { PreparedSound } from './prepare'
import { energyOf } from './products'
import { turnedOver } from './side'
import { spedSound } from './speed'
import { compand, compandSide, Track } from './track'

/** Windows of the subtraction: square-root Hann, so that cutting and laying together multiply to a whole. */
const SIZE = 1024
const HOP = 512
/** Frames over which one level a band is fitted (0.16 s): a codec and a fade change it along a sound. */
const STRETCH_FRAMES = 5
/** A band is taken away at this many times the level of the whole at most, or chance would be taken away with it. */
const BAND_GAIN_MAX = 1.6

/** A find is exact to a frame; how much further a sound lies is told from the phases, to this many frames and in steps of so much. */
const SHIFT_MAX_FRAMES = 0.6
const SHIFT_STEP_FRAMES = 0.05

/**
 * A track without the sounds that were heard in it: each is taken away with its part and speed, every band at the level that
 * fits it best. Sounds whose pitch was kept at another speed stay: their grains cannot be laid exactly.
 *
 * @param soundOf The sound of a detection. @param into Array of as many frames to lay the rest in, for instance in shared memory.
 * @returns A track of its own, without side; the first one is not changed.
 */
export function subtracted(
  track: Track,
  detections: readonly Detection[],
  soundOf: (detection: Detection) => PreparedSound | null,
  into: Int16Array = new Int16Array(track.frames),
): Track {
  into.set(track.mid.subarray(0, track.frames))
  const rest = new Track(into, null, track.frames)
  const transform = new WindowTransform()
  for (const { part, at, gain } of playedParts(detections, soundOf)) {
    const heard = rest.midSamples(at - SIZE, at + part.length + SIZE)
    transform.subtract(heard, part, SIZE, gain)
    const { inside, first } = insideTrack(heard, at - SIZE, rest)
    compand(inside, rest.mid, first)
  }
  return rest
}

/**
 * Takes sounds that were heard in the side out of it, whichever way up they lie there.
 *
 * @param track Its side is modified. @param soundOf The sound of a detection.
 */
export function takeOutOfSide(
  track: Track,
  detections: readonly Detection[],
  soundOf: (detection: Detection) => PreparedSound | null,
): void {
  if (!track.side) return
  const transform = new WindowTransform()
  for (const { part, at, gain } of playedParts(detections, soundOf)) {
    const [asItIs, turned] = [part, turnedOver(part)].map((each) => {
      const left = track.sideSamples(at - SIZE, at + part.length + SIZE)
      transform.subtract(left, each, SIZE, gain)
      return left
    }) as [Float32Array, Float32Array]
    const { inside, first } = insideTrack(energyOf(turned) < energyOf(asItIs) ? turned : asItIs, at - SIZE, track)
    compandSide(inside, track.side, first)
  }
}

/** What is taken away, the surest first: the part that is heard, at its speed, with the frame of the track it begins at and its level. */
function* playedParts(
  detections: readonly Detection[],
  soundOf: (detection: Detection) => PreparedSound | null,
): Generator<{ readonly part: Float32Array; readonly at: number; readonly gain: number }> {
  for (const find of [...detections].sort((a, b) => b.score - a.score)) {
    const sound = soundOf(find)
    if (!sound || find.treatment === 'speed-pitch-kept') continue
    const played = find.treatment === 'speed' ? spedSound(sound.samples, find.speed) : sound.samples
    const from = Math.max(0, Math.round((find.fromS / find.speed) * HEARING_RATE_HZ))
    const to = Math.min(played.length, Math.round((find.toS / find.speed) * HEARING_RATE_HZ))
    const at = Math.round(find.startS * HEARING_RATE_HZ)
    if (to > from && at >= 0) yield { part: played.subarray(from, to), at, gain: 10 ** (find.gainDb / 20) }
  }
}

/** What of some samples that begin at frame `from` lies inside the track, and at which frame that begins. */
function insideTrack(samples: Float32Array, from: number, { frames }: Track): { inside: Float32Array; first: number } {
  const first = Math.max(0, from)
  return { inside: samples.subarray(first - from, Math.min(samples.length, frames - from)), first }
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
    const shift = fractionalShift(spectra)
    delay(
      spectra.map(({ part: own }) => own),
      shift,
    )
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

/**
 * How much later than its frame a sound lies in what is heard, frames: where the phases of their frequencies agree most, each weighing as much as it is
 * coherent.
 */
function fractionalShift(spectra: readonly { readonly heard: Spectrum; readonly part: Spectrum }[]): number {
  const bins = SIZE / 2
  const re = new Float64Array(bins)
  const im = new Float64Array(bins)
  const powers = [new Float64Array(bins), new Float64Array(bins)] as const
  for (const { heard, part } of spectra) {
    for (let k = 1; k < bins; k++) {
      const [hr, hi] = [heard.re[k] as number, heard.im[k] as number]
      const [pr, pi] = [part.re[k] as number, part.im[k] as number]
      re[k] = (re[k] as number) + hr * pr + hi * pi
      im[k] = (im[k] as number) + hi * pr - hr * pi
      powers[0][k] = (powers[0][k] as number) + hr * hr + hi * hi
      powers[1][k] = (powers[1][k] as number) + pr * pr + pi * pi
    }
  }
  for (let k = 1; k < bins; k++) {
    const weight =
      Math.hypot(re[k] as number, im[k] as number) / ((powers[0][k] as number) * (powers[1][k] as number) + 1e-30)
    re[k] = weight * (re[k] as number)
    im[k] = weight * (im[k] as number)
  }
  let best = { shift: 0, agreement: Number.NEGATIVE_INFINITY }
  const steps = Math.round(SHIFT_MAX_FRAMES / SHIFT_STEP_FRAMES)
  for (let step = -steps; step <= steps; step++) {
    const shift = step * SHIFT_STEP_FRAMES
    let agreement = 0
    for (let k = 1; k < bins; k++) {
      const angle = (2 * Math.PI * k * shift) / SIZE
      agreement += (re[k] as number) * Math.cos(angle) - (im[k] as number) * Math.sin(angle)
    }
    if (agreement > best.agreement) best = { shift, agreement }
  }
  return best.shift
}

/** Moves what spectra are of by a part of a frame, in place. */
function delay(spectra: readonly Spectrum[], frames: number): void {
  if (frames === 0) return
  for (let k = 1; k < SIZE / 2; k++) {
    const angle = (-2 * Math.PI * k * frames) / SIZE
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    for (const { re, im } of spectra) {
      const [r, i] = [re[k] as number, im[k] as number]
      re[k] = r * cos - i * sin
      im[k] = r * sin + i * cos
    }
  }
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
