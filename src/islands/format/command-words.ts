import { messages } from '../../messages'
/** What a key of a step does, in the words of the list of commands. */
export type KeyTitles = readonly (readonly [key: string, shown: string, title: string])[]

const PLAYING: KeyTitles = [
  [' ', 'Space', messages.words.playOrStop],
  ['i', 'I', messages.words.beginThePartHere],
  ['o', 'O', messages.words.endThePartHere],
  ['r', 'R', messages.words.loopThePart],
  ['x', 'X', messages.words.clearThePart],
]
const HISTORY: KeyTitles = [
  ['undo', 'Ctrl Z', messages.common.undo],
  ['redo', 'Ctrl Shift Z', messages.words.redo],
]

export const MOMENT_TITLES: KeyTitles = [
  ['n', 'N', messages.words.noteAMoment],
  ['f', 'F', messages.words.findSoundsForTheChosen],
  ['delete', 'Delete', messages.words.removeTheChosenMoments],
  ...PLAYING,
  ...HISTORY,
]

export const PLACE_TITLES: KeyTitles = [
  ['[', '[', messages.words.beginTheSoundAtThe],
  [']', ']', messages.words.endTheSoundAtThe],
  ['(', '(', messages.words.fadeInUpToThe],
  [')', ')', messages.words.fadeOutFromThePlayhead],
  ['p', 'P', messages.words.addAPointToThe],
  ['v', 'V', messages.words.splitTheSoundAtThe],
  ['u', 'U', messages.words.duplicateTheSound],
  ['h', 'H', messages.words.lineItsHitUpWith],
  ['m', 'M', messages.words.muteTheSoundOrHear],
  ['*', '*', messages.words.chooseAllSounds],
  ['delete', 'Delete', messages.words.removeTheChosenSounds],
  ...PLAYING,
  ...HISTORY,
]
