/** What the server says of sounds. */
export const sounds = {
  whatYouComparedWith: 'What you compared with',
  thisSound: 'This sound',
}
