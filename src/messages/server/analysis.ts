/** What the server says of analysis. */
export const analysis = {
  comparingSounds: 'Comparing sounds',
  comparingSoundOf: (at: number, count: number) => `Comparing sound ${at} of ${count}`,
  soundsCanBeCompared: (count: number) => `${count} sounds can be compared`,
  listeningToOfNewSounds: (done: number, count: number) => `Listening to ${done} of ${count} new sounds`,
  previewFarTooLarge: 'Its preview is far too large.',
  fileDamagedReadingComesNo: 'The file is damaged: reading it comes to no end, and nothing in it could be decoded.',
  fileDamagedReadingComesNoEnd: 'The file is damaged: reading it comes to no end.',
  soundsOfYours: 'sounds of yours',
  soundsOfTheLibraries: 'sounds of the libraries',
  listeningFor: (count: number, what: string) => `Listening for ${count} ${what}`,
  decodingTheSoundTrack: 'Decoding the sound track',
  takingStockOfTheTrack: 'Taking stock of the track',
  listeningForInSide: 'Listening where left and right cancel each other out',
  listeningUnderWhatWasHeard: 'Listening under what was heard',
}
