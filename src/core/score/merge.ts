import { type ScoreEdit, scoreWithEdit } from './edits'
import type { Score } from './score'
import { ScoreError } from './score-error'

/** Changes made on one score, done on another. */
export interface Rebased {
  readonly document: Score
  /** Those that could be done. */
  readonly edits: readonly ScoreEdit[]
  /** How many could not be done any more, since what they change is gone. */
  readonly leftOut: number
}

/** Does changes on a score that others have changed meanwhile. What cannot be done there is left out and counted. */
export function rebased(theirs: Score, edits: readonly ScoreEdit[]): Rebased {
  let document = theirs
  const done: ScoreEdit[] = []
  for (const edit of edits) {
    try {
      document = scoreWithEdit(document, edit).document
      done.push(edit)
    } catch (error) {
      if (!(error instanceof ScoreError)) throw error
    }
  }
  return { document, edits: done, leftOut: edits.length - done.length }
}

/** How many placements another one has added, changed and removed. */
export function scoreChanges(
  from: Score,
  to: Score,
): { readonly added: number; readonly changed: number; readonly removed: number } {
  const before = new Map(from.placements.map((one) => [one.id, JSON.stringify(one)]))
  const after = new Set(to.placements.map(({ id }) => id))
  return {
    added: to.placements.filter(({ id }) => !before.has(id)).length,
    changed: to.placements.filter((one) => before.has(one.id) && before.get(one.id) !== JSON.stringify(one)).length,
    removed: from.placements.filter(({ id }) => !after.has(id)).length,
  }
}
