import { defaultFilter } from 'cmdk'

/** A line of the list of commands. */
export interface Command {
  readonly id: string
  readonly title: string
  /** More about it, which is looked through too. */
  readonly note: string
  /** The key that does the same, as it is shown; null where there is none. */
  readonly keys: string | null
  readonly run: () => void
}

export interface CommandGroup {
  readonly heading: string
  readonly commands: readonly Command[]
}

/** Lines of one group that are shown. */
const SHOWN_EACH = 8
/** A title that holds the letters only far apart is none that was meant. */
const SCORE_MIN = 0.02

/**
 * The lines that answer to what was typed, letters left out allowed ("ppr" for "Papers"); groups and lines with the best first.
 *
 * @param text Empty for all of them, in their order.
 */
export function matchingGroups(groups: readonly CommandGroup[], text: string): CommandGroup[] {
  const wanted = text.trim()
  if (wanted === '')
    return groups.flatMap(({ heading, commands }) =>
      commands.length > 0 ? [{ heading, commands: commands.slice(0, SHOWN_EACH) }] : [],
    )
  return groups
    .flatMap(({ heading, commands }) => {
      const scored = commands
        .map((command) => ({ command, score: scoreOf(command, wanted) }))
        .filter(({ score }) => score >= SCORE_MIN)
        .toSorted((a, b) => b.score - a.score)
        .slice(0, SHOWN_EACH)
      const best = scored[0]?.score ?? 0
      return best > 0 ? [{ heading, commands: scored.map(({ command }) => command), best }] : []
    })
    .toSorted((a, b) => b.best - a.best)
    .map(({ heading, commands }) => ({ heading, commands }))
}

function scoreOf({ title, note }: Command, text: string): number {
  return Math.max(defaultFilter(title, text), defaultFilter(`${title} ${note}`, text) * NOTE_SHARE)
}

/** What is found in the note counts less. */
const NOTE_SHARE = 0.6
