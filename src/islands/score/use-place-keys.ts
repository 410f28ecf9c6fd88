import { PLACE_TITLES } from '../format/command-words'
import { transportKeys } from '../moments/transport-keys'
import { useStepKeys } from '../moments/use-step-keys'
import type { PlaceActions } from './use-place-actions'
import type { PlaceDesk } from './use-score-desk'

/** The keys of the step in which sounds are placed. */
export function usePlaceKeys(placeDesk: PlaceDesk, actions: PlaceActions): void {
  const { desk, setChosenIds } = placeDesk
  const swaps = ['A', 'B', 'C', 'D', 'E', 'F'].map((slot) => [slot.toLowerCase(), () => actions.swap(slot)] as const)
  useStepKeys(
    {
      ...Object.fromEntries(swaps),
      ...transportKeys(placeDesk),
      arrowup: () => actions.toNeighbour(-1),
      arrowdown: () => actions.toNeighbour(1),
      'shift+arrowup': () => actions.alsoNeighbour(-1),
      'shift+arrowdown': () => actions.alsoNeighbour(1),
      '*': actions.chooseAll,
      ',': () => actions.nudgeFrames(-1),
      '.': () => actions.nudgeFrames(1),
      '<': () => actions.nudgeMs(-1),
      '>': () => actions.nudgeMs(1),
      '[': () => actions.trimHere('start'),
      ']': () => actions.trimHere('end'),
      '-': () => actions.louder(-1),
      '=': () => actions.louder(1),
      '(': () => actions.fadeHere('fadeIn'),
      ')': () => actions.fadeHere('fadeOut'),
      p: () => actions.addPoint('gainPoints'),
      v: actions.splitHere,
      u: actions.duplicate,
      h: actions.lineUp,
      m: actions.mute,
      escape: () => setChosenIds(new Set()),
      delete: actions.remove,
      undo: () => desk.store.undo(),
      redo: () => desk.store.redo(),
    },
    PLACE_TITLES,
  )
}
