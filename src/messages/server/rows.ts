/** What the server says of rows. */
export const rows = {
  theFactsOfThisCheck: 'The facts of this check',
  thisVideo: 'This video',
  thisSound: 'This sound',
  thisSoundDescribedByLibrary: 'This sound is described by its library. Give words to sounds of your own.',
  fromElsewhere: 'From elsewhere',
  filesThatCameBySome: 'Files that came by some other way, each with what you said of it.',
  thisFile: 'This file',
  thisCut: 'This cut',
  theAudioOfThisSound: 'The audio of this sound',
  thisCopy: 'This copy',
}
