/** What a key of a step does, in the words of the list of commands. */
export type KeyTitles = readonly (readonly [key: string, shown: string, title: string])[]

const PLAYING: KeyTitles = [
  [' ', 'Space', 'Play or stop'],
  ['i', 'I', 'Begin the part here'],
  ['o', 'O', 'End the part here'],
  ['r', 'R', 'Loop the part'],
  ['x', 'X', 'Clear the part'],
]
const HISTORY: KeyTitles = [
  ['undo', 'Ctrl Z', 'Undo'],
  ['redo', 'Ctrl Shift Z', 'Redo'],
]

export const MOMENT_TITLES: KeyTitles = [
  ['n', 'N', 'Note a moment'],
  ['f', 'F', 'Find sounds for the chosen moment'],
  ['delete', 'Delete', 'Remove the chosen moments'],
  ...PLAYING,
  ...HISTORY,
]

export const PLACE_TITLES: KeyTitles = [
  ['[', '[', 'Begin the sound at the playhead'],
  [']', ']', 'End the sound at the playhead'],
  ['(', '(', 'Fade in up to the playhead'],
  [')', ')', 'Fade out from the playhead'],
  ['p', 'P', 'Add a point to the level at the playhead'],
  ['v', 'V', 'Split the sound at the playhead'],
  ['u', 'U', 'Duplicate the sound'],
  ['h', 'H', 'Line its hit up with its moment'],
  ['m', 'M', 'Mute the sound, or hear it again'],
  ['*', '*', 'Choose all sounds'],
  ['delete', 'Delete', 'Remove the chosen sounds'],
  ...PLAYING,
  ...HISTORY,
]
