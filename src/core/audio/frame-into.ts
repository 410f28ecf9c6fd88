/**
 * Takes a part of a sound.
 *
 * @param into It is filled. What lies outside of the sound is 0. @param start Frame of the sound that the part begins at; may be negative, or reach beyond
 *   the end.
 */
export function frameInto(into: Float32Array, samples: Float32Array, start: number): void {
  const from = Math.max(0, Math.min(into.length, -start))
  const to = Math.max(from, Math.min(into.length, samples.length - start))
  if (from > 0 || to < into.length) into.fill(0)
  if (to > from) into.set(samples.subarray(start + from, start + to), from)
}
