/** What the server says of checks. */
export const checks = {
  tooShortBeHeardFor: 'It is too short to be heard for sure.',
  wasListenedByOlderVersion: 'It was listened to by an older version. Sync its library to have it listened to again.',
  itIsAnotherRecordingNow: 'Its library has another recording in its place, which was not fetched yet.',
  itsAudioWasNeverFetched: 'Its audio was never fetched.',
  thisCheck: 'This check',
  listening: 'Listening',
  placesHeardSoundsListenedFor: (count: number, count2: number) =>
    `${count} places heard, ${count2} sounds listened for`,
  partlyExamined: (heard: string) => `Partly examined: ${heard}`,
  trackOf: (index: number, count: number, doing: string) => `Track ${index} of ${count}: ${doing}`,
  lookingForNewSoundsIn: (title: string) => `Looking for new sounds in “${title}”`,
  lookingOnceMoreAt: (title: string) => `Looking once more at “${title}”`,
  lookedAtOnceMore: 'Looked at once more',
  thereNoFinishedCheckCarry: 'There is no finished check to carry on.',
  tracksAreNotStoredIn: 'The tracks are not stored in a form that can be searched. Check the video again.',
  moreSoundsListenedForMore: (count: number, places: number) =>
    `${count} more sounds listened for, ${places} more places heard`,
  notKindFileThatCan: 'is not a kind of file that can be checked. Bring MP4, MOV, MKV, WebM, WAV, MP3, FLAC or OGG.',
  largerThan4GbExport: 'is larger than 4 GB. Export it with a lower bit rate; the sound is what counts.',
  emptyExportVideoAgainAnd: 'is empty. Export the video again and bring that file.',
  thereNoFinishedFileYet: 'There is no finished file yet. Drop one on the page first.',
  checking: (fileName: string) => `Checking ${fileName}`,
}
