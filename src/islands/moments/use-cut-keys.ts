import type { RefObject } from 'react'
import { MOMENT_TITLES } from '../format/command-words'
import { MANY_FRAMES, transportKeys } from './transport-keys'
import type { CutActions, CutDesk } from './use-cut-desk'
import { useStepKeys } from './use-step-keys'

/** The keys of the page of a cut. @param hearables What the number keys hear, from 1. */
export function useCutKeys(
  cutDesk: CutDesk,
  { nudge, note, toNeighbour, goToFind, remove }: CutActions,
  hearables: RefObject<readonly (() => void)[]>,
): void {
  const { desk, chosenIds } = cutDesk
  const hearing = [1, 2, 3, 4, 5, 6].map((number) => [String(number), () => hearables.current[number - 1]?.()] as const)
  useStepKeys(
    {
      ...transportKeys(cutDesk),
      arrowup: () => toNeighbour(-1),
      arrowdown: () => toNeighbour(1),
      n: note,
      ',': () => nudge(-1),
      '.': () => nudge(1),
      '<': () => nudge(-MANY_FRAMES),
      '>': () => nudge(MANY_FRAMES),
      f: goToFind,
      delete: () => remove(chosenIds),
      undo: () => desk.store.undo(),
      redo: () => desk.store.redo(),
      ...Object.fromEntries(hearing),
    },
    MOMENT_TITLES,
  )
}
