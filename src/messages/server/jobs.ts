/** What the server says of jobs. */
export const jobs = {
  givenUpAfterBrokeOff: (attempts: number) => `Given up after it broke off ${attempts} times.`,
  takenUpAgainAfterBreak: 'Taken up again after a break',
  cancelled: 'Cancelled',
  starting: 'Starting',
  waitingForTheNextStart: 'Waiting for the next start',
  waiting: 'Waiting',
}
