import { Fft } from './fft'

/**
 * Goes through the power spectra of frames of a sound, one after another. Two are transformed at once.
 *
 * @param window As long as the frames: a power of two, at least 4. @param startOf First sample of a frame; it may begin before the sound and end behind it.
 * @param visit Gets |X[k]|^2 for k <= size / 2, in an array that is written over afterwards, and the number of the frame.
 */
export function eachPowerSpectrum(
  samples: Float32Array,
  {
    window,
    count,
    startOf,
  }: { readonly window: Float32Array; readonly count: number; readonly startOf: (frame: number) => number },
  visit: (powers: Float32Array, frame: number) => void,
): void {
  const size = window.length
  const fft = new Fft(size)
  const [one, other] = [new Float32Array(size / 2 + 1), new Float32Array(size / 2 + 1)]
  for (let frame = 0; frame < count; frame += 2) {
    const second = frame + 1 < count ? startOf(frame + 1) : null
    fft.framePowers(one, other, samples, { first: startOf(frame), second, window })
    visit(one, frame)
    if (second !== null) visit(other, frame + 1)
  }
}
