/** What the server says of finding. */
export const finding = {
  searchStoppedInMiddleSearch: 'The search stopped in the middle. Search again.',
  wordsTakeMoreThan200: 'The words take more than 200 KB. Leave some out.',
  theAudioOfThisSound: 'The audio of this sound',
  finishedFileThisVideo: 'The finished file of this video',
  thereOnlySilenceInNothing: 'There is only silence in it: nothing sounds like that.',
  thisSoundHasNotBeen: 'This sound has not been listened to yet. Sync its source.',
}
