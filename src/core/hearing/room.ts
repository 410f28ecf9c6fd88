import { Fft } from '../audio/fft'
import { energyOf } from './products'
import type { FrameRange } from './sums'
import { whitenedSound, whitenedTrack } from './whiten'

/** Echoes of a room are looked for this long after the sound itself, frames (20 to 160 ms). */
const ECHO_FROM = 320
const ECHO_TO = 2560
/** Only so much of a long sound is looked at, frames (4 s). */
const LOOKED_AT = 65536

/**
 * A room leaves at least this share of a sound's energy beside it (-15 dB). Measured: three and more dB over it in rooms; what a codec leaves of a sound in silence, 11 to 40 dB
 * under it, answers to it as a room does for three of 22.
 */
const LEFT_MIN = 10 ** -1.5

/**
 * How much more a track answers to a sound shortly after its place than shortly before it: a room lets every part of a sound
 * come again, later and never earlier.
 *
 * @param around The track around the place, without the sound itself. @param offset Where frame 0 of the sound falls in it, at least 2 560.
 * @param part Frames of the sound that are heard. @param gain At which level, linear.
 * @returns Ratio of the energies of the correlation; about 1 without a room.
 */
export function echoRatio(
  around: Float32Array,
  offset: number,
  sound: Float32Array,
  part: FrameRange & { readonly gain: number },
): number {
  const left = energyOf(around.subarray(offset + part.from, offset + part.to + ECHO_TO))
  if (left < LEFT_MIN * part.gain ** 2 * energyOf(sound.subarray(part.from, part.to))) return 1
  const to = Math.min(part.to, part.from + LOOKED_AT)
  const template = whitenedSound(sound.subarray(part.from, to))
  const from = offset + part.from - ECHO_TO
  const heard = whitenedTrack(around.subarray(Math.max(0, from), from + template.length + 2 * ECHO_TO))
  const size = 2 ** Math.ceil(Math.log2(heard.length + template.length))
  const fft = new Fft(size)
  const [ar, ai] = spectrumOf(fft, heard)
  const [br, bi] = spectrumOf(fft, template)
  for (let k = 0; k < size; k++) {
    const re = (ar[k] as number) * (br[k] as number) + (ai[k] as number) * (bi[k] as number)
    ai[k] = (ai[k] as number) * (br[k] as number) - (ar[k] as number) * (bi[k] as number)
    ar[k] = re
  }
  fft.inverse(ar, ai)
  let before = 1e-12
  let after = 1e-12
  for (let lag = ECHO_FROM; lag < ECHO_TO; lag++) {
    before += (ar[ECHO_TO - lag] as number) ** 2
    after += (ar[ECHO_TO + lag] as number) ** 2
  }
  return after / before
}

function spectrumOf(fft: Fft, samples: Float32Array): [Float32Array, Float32Array] {
  const re = new Float32Array(fft.size)
  const im = new Float32Array(fft.size)
  re.set(samples)
  fft.forward(re, im)
  return [re, im]
}
