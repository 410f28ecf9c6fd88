/** What the server says of clearance. */
export const clearance = {
  newestFileNotCheckedYet: 'The newest file is not checked yet. Wait for the check, then answer.',
  thisPointNotAsWas: 'This point is not as it was when the page was loaded. Look again.',
  thisPointCannotBeSettled: 'This point cannot be settled in that way.',
  thisCopy: 'This copy',
  thisSound: 'This sound',
  thisAnswer: 'This answer',
  thisCheck: 'This check',
  sound: (soundId: number) => `Sound ${soundId}`,
}
