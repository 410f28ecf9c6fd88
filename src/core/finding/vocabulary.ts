import { stemOf, stemsOf, wordsOf } from './words'

/** Words that mean the same sound, and the groups that mean a kind of it. */
interface Group {
  /** Each an expression of one word or of several in a row. */
  readonly same: readonly string[]
  readonly narrower: readonly string[]
}

/** Expressions that are looked for beside the one that was typed. */
export interface Related {
  readonly same: readonly string[]
  readonly narrower: readonly string[]
  readonly broader: readonly string[]
}

export interface Vocabulary {
  readonly groupCount: number
  /** Every expression, as it is looked up: words with one space between them. */
  readonly expressions: ReadonlySet<string>
  /** Most words that an expression has. */
  readonly longest: number
  /** What goes with an expression, by its stems. Null when it stands in no group. */
  related(expression: string): Related | null
  /** The expression of several words that is written together here ("buildup"); null for any other word. */
  apart(word: string): string | null
}

/** A line that cannot be read. */
export interface VocabularyProblem {
  readonly line: number
  readonly text: string
}

const MAX_LINES = 5000

/**
 * Reads a vocabulary: a line for each group, "whoosh, swoosh, swish > fly-by, whip"; after ">" stand narrower words. "#" starts a
 * remark. A word may stand in several groups.
 */
export function parsedVocabulary(text: string): { vocabulary: Vocabulary; problems: VocabularyProblem[] } {
  const groups: Group[] = []
  const problems: VocabularyProblem[] = []
  for (const [at, raw] of text.split(/\r?\n/).slice(0, MAX_LINES).entries()) {
    const line = raw.split('#', 1).join('').trim()
    if (line === '') continue
    const [same = '', narrower = '', ...more] = line.split('>')
    const group = { same: expressionsOf(same), narrower: expressionsOf(narrower) }
    if (more.length > 0 || group.same.length === 0 || group.same.length + group.narrower.length < 2)
      problems.push({ line: at + 1, text: raw.trim().slice(0, 80) })
    else groups.push(group)
  }
  return { vocabulary: vocabularyOf(groups), problems }
}

function expressionsOf(list: string): string[] {
  return [...new Set(list.split(',').map((one) => wordsOf(one).join(' ')))].filter((one) => one !== '')
}

function vocabularyOf(groups: readonly Group[]): Vocabulary {
  const bySame = indexed(groups, ({ same }) => same)
  const byNarrower = indexed(groups, ({ narrower }) => narrower)
  const expressions = new Set(groups.flatMap(({ same, narrower }) => [...same, ...narrower]))
  const together = new Map(
    [...expressions].filter((one) => one.includes(' ')).map((one) => [stemOf(one.replaceAll(' ', '')), one]),
  )
  return {
    groupCount: groups.length,
    expressions,
    longest: Math.max(1, ...[...expressions].map((one) => one.split(' ').length)),
    related(expression) {
      const key = stemsOf(expression)
      const own = bySame.get(key) ?? []
      const above = byNarrower.get(key) ?? []
      if (own.length + above.length === 0) return null
      const same = new Set(own.flatMap((group) => group.same))
      // A narrower word stands for its own group with it.
      const narrower = new Set(
        own
          .flatMap((group) => group.narrower)
          .flatMap((one) => [one, ...(bySame.get(stemsOf(one)) ?? []).flatMap((g) => g.same)]),
      )
      const broader = new Set(above.flatMap((group) => group.same))
      for (const one of [...same]) if (stemsOf(one) === key) same.delete(one)
      return {
        same: [...same],
        narrower: [...narrower].filter((one) => !same.has(one) && stemsOf(one) !== key),
        broader: [...broader].filter((one) => !same.has(one) && !narrower.has(one) && stemsOf(one) !== key),
      }
    },
    apart: (word) => together.get(stemOf(word)) ?? null,
  }
}

function indexed(groups: readonly Group[], keys: (group: Group) => readonly string[]): Map<string, Group[]> {
  const index = new Map<string, Group[]>()
  for (const group of groups) {
    for (const key of new Set(keys(group).map(stemsOf))) index.set(key, [...(index.get(key) ?? []), group])
  }
  return index
}
