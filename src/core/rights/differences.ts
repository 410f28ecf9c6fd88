import { diffWordsWithSpace } from 'diff'

/** A stretch of a text that stayed, went, or came. */
export interface TextPart {
  readonly kind: 'same' | 'gone' | 'new'
  readonly text: string
}

/** A stretch that stayed and is longer than this is shown by its ends, letters. */
const SAME_SHOWN = 160

/**
 * What differs between two texts, word by word, in reading order; joined, what is not "gone" gives the later text.
 *
 * Source: E. W. Myers, "An O(ND) difference algorithm and its variations", 1986.
 */
export function textDifferences(before: string, after: string): TextPart[] {
  const parts = diffWordsWithSpace(before, after).map(
    ({ added, removed, value }): TextPart => ({ kind: added ? 'new' : removed ? 'gone' : 'same', text: value }),
  )
  return gathered(parts)
}

/** A stretch between two changes that is no longer than this, letters, is told as part of the change. */
const BETWEEN_MAX = 6

/** Changes that follow each other closely as one: all that went, then all that came. */
function gathered(parts: readonly TextPart[]): TextPart[] {
  const out: TextPart[] = []
  let gone = ''
  let came = ''
  const close = (): void => {
    if (gone !== '') out.push({ kind: 'gone', text: gone })
    if (came !== '') out.push({ kind: 'new', text: came })
    gone = ''
    came = ''
  }
  parts.forEach(({ kind, text }, index) => {
    const inside = kind === 'same' && gone + came !== '' && index < parts.length - 1 && text.length <= BETWEEN_MAX
    if (kind === 'gone' || inside) gone += text
    if (kind === 'new' || inside) came += text
    if (kind !== 'same' || inside) return
    close()
    out.push({ kind, text })
  })
  close()
  return out
}

/** The same with long stretches that stayed cut down to what stands next to a change. */
export function shortened(parts: readonly TextPart[]): TextPart[] {
  return parts.map((part, index) => {
    if (part.kind !== 'same' || part.text.length <= SAME_SHOWN) return part
    const half = SAME_SHOWN / 2
    const head = index === 0 ? '' : part.text.slice(0, half)
    const tail = index === parts.length - 1 ? '' : part.text.slice(-half)
    return { kind: 'same', text: `${head} … ${tail}` }
  })
}
