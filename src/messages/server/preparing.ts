/** What the server says while an empty data folder is being filled. */
export const preparing = {
  startAsBefore: 'It goes on when the application is started as it was at first.',
  stepOf: (step: number, of: number, words: string) => `Step ${step} of ${of}: ${words}`,
  stepFailed: (words: string) =>
    `It stopped at: ${words}. The log says why. Start the application again, and it goes on there.`,
  everythingIsHere: 'Everything is here now.',
}
