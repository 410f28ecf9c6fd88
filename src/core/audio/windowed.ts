/**
 * Takes a part of a sound under a window.
 *
 * @param into As long as the window; it is filled. What lies outside of the sound is 0.
 * @param start Frame of the sound that the part begins at; may be negative, or reach beyond the end.
 */
export function windowedInto(into: Float32Array, samples: Float32Array, start: number, window: Float32Array): void {
  const from = Math.max(0, Math.min(into.length, -start))
  const to = Math.max(from, Math.min(into.length, samples.length - start))
  if (from > 0 || to < into.length) into.fill(0)
  for (let n = from; n < to; n++) into[n] = (samples[start + n] as number) * (window[n] as number)
}
