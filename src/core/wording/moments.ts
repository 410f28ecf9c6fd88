/** What the core says of moments. */
export const moments = {
  between1And600Effects: 'Between 1 and 600 effects a minute can be set.',
  changeNestedTooDeeply: 'The change is nested too deeply.',
  theMomentIsThereAlready: (words: string) => `The moment “${words}” is there already.`,
  videoHasAtMostMoments: (moments: number) => `A video has at most ${moments} moments. Remove some first.`,
  tooManySuggestionsArePut: 'Too many suggestions are put aside.',
  oneTheseMomentsNotThere: 'One of these moments is not there any more.',
  momentHasNoProperId: 'The moment has no proper id.',
  momentLiesBetweenStartCut: 'A moment lies between the start of the cut and 24 hours.',
  spanEndsBeforeBeginsSwap: 'A span ends before it begins. Swap its ends.',
  sayInAtMostLetters: (wordsLength: number) => `Say it in at most ${wordsLength} letters; the rest goes into the note.`,
  noteHasAtMostLetters: (noteLength: number) => `A note has at most ${noteLength} letters.`,
  shortListNamesEachSound: 'A short list names each sound once.',
  shortListHasAtMost: (count: number) => `A short list has at most ${count} sounds.`,
  videoHasAtMostMomentsFind: (moments: string, tooMany: string) =>
    `A video has at most ${moments} moments: ${tooMany} find no room.`,
  it: 'It',
  endsBeforeItBegins: (called: string) => `${called} ends before it begins.`,
  tooLong: (length: string, overS: string) => `${length}, ${overS} s too long`,
  tooShort: (length: string, underS: string) => `${length}, ${underS} s too short`,
  noHit: 'no hit',
  hitAfterS: (hitS: string) => `hit after ${hitS} s`,
  crowdedUpEffectsMinuteOver: (clockWords: string, clockWords2: string, most: number, limit: number) =>
    `${clockWords} to ${clockWords2} is crowded: up to ${most} effects a minute, over ${limit}.`,
  nothingHappensFromNoSound: (clockWords: string, clockWords2: string, lengthS: number) =>
    `Nothing happens from ${clockWords} to ${clockWords2}: no sound event and no moment for ${lengthS} s.`,
  comesTimesWithDifferentSounds: (words: string, count: number, count2: number, titles: string) =>
    `“${words}” comes ${count} times with ${count2} different sounds: ${titles}.`,
  shotChange: 'shot change',
  thePictureChangesAtOnce: 'The picture changes at once.',
  pictureFlashesUpAndAs: 'The picture flashes up and is as before.',
  movementStops: 'movement stops',
  somethingMovesAndStandsStill: 'Something moves and stands still at once.',
  titleComes: 'title comes',
  lettersAppearInThePicture: 'Letters appear in the picture.',
  titleGoes: 'title goes',
  lettersGoFromThePicture: 'Letters go from the picture.',
  isSpokenHere: (words: string, said: string) => `“${words}” is spoken here: ${said}`,
  isSpokenHereAndKnown: (words: string, said: string, title: string) =>
    `“${words}” is spoken here: ${said} You take “${title}” for it.`,
  youPutOn: (title: string, words: string, often: string) => `You put “${title}” on “${words}”${often}.`,
  ambience: 'ambience',
  forSecondsThereNoSound: (lengthS: number) =>
    `For ${lengthS} seconds there is no sound event, neither in the cut nor planned.`,
  pauseInTheSpeech: 'pause in the speech',
  nobodySpeaksForSThen: (lengthS: string) =>
    `Nobody speaks for ${lengthS} s, then the speech goes on: there is room for a sound.`,
}
