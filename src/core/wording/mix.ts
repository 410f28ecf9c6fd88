/** What the core says of mix. */
export const mix = {
  alone: 'Alone',
}
