import type { ClauseKey } from '../terms'

/** A place in the words, and the points that were granted on the way. */
export class Cursor {
  at = 0
  constructor(
    readonly words: readonly string[],
    readonly keys: Set<ClauseKey>,
  ) {}

  get isAtEnd(): boolean {
    return this.at === this.words.length
  }

  /** Goes over the longest of some phrases that stands here. */
  take(phrases: PhraseTable): boolean {
    const phrase = longestAt(this.words, this.at, phrases)
    if (!phrase) return false
    this.at += phrase.length
    for (const key of phrase.keys) this.keys.add(key)
    return true
  }

  /** Goes over as many of some phrases as stand here. */
  takeAll(phrases: PhraseTable): true {
    while (this.take(phrases));
    return true
  }

  /** Goes over one of some phrases where one stands here. */
  maybe(phrases: PhraseTable): true {
    this.take(phrases)
    return true
  }

  /** Does what is tried, or goes back to where it began. */
  attempt(run: () => boolean): boolean {
    const [at, keys] = [this.at, [...this.keys]]
    if (run()) return true
    this.at = at
    this.keys.clear()
    for (const key of keys) this.keys.add(key)
    return false
  }
}

export interface Phrase {
  readonly words: readonly string[]
  readonly length: number
  readonly keys: readonly ClauseKey[]
}
export type PhraseTable = ReadonlyMap<string, readonly Phrase[]>

function longestAt(words: readonly string[], at: number, table: PhraseTable): Phrase | null {
  const found = (table.get(words[at] ?? '') ?? []).filter((phrase) =>
    phrase.words.every((word, index) => words[at + index] === word),
  )
  return found.reduce<Phrase | null>((best, next) => (!best || next.length > best.length ? next : best), null)
}

/** Phrases by their first word. "a|b c" are two phrases. */
export function table(...rows: readonly (readonly [string, ...ClauseKey[]])[]): PhraseTable {
  const out = new Map<string, Phrase[]>()
  for (const [phrases, ...keys] of rows)
    for (const phrase of phrases.split('|')) {
      const words = phrase.split(' ')
      const first = words[0] as string
      out.set(first, [...(out.get(first) ?? []), { words, length: words.length, keys }])
    }
  return out
}
