import type { MayBeBehind } from '../ports/finder-messages'

/** How far what was made of several answers is behind: as far as the one that is most; null when all know everything. */
export function mostBehindMs(answers: readonly (MayBeBehind | null)[]): number | null {
  const behind = answers.flatMap((answer) => answer?.behindMs ?? [])
  return behind.length > 0 ? Math.max(...behind) : null
}
