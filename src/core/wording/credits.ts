/** What the core says of credits. */
export const credits = {
  soundEffects: 'Sound effects',
}
