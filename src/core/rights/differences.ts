import { diffArrays, diffWordsWithSpace } from 'diff'

/** A stretch of a text that stayed, went, or came. */
export interface TextPart {
  readonly kind: 'same' | 'gone' | 'new'
  readonly text: string
}

/** A stretch that stayed and is longer than this is shown by its ends, letters. */
const SAME_SHOWN = 160

/** Two texts that differ in more paragraphs than this are shown as one that went and one that came. */
const PARAGRAPH_EDITS_MAX = 1000
/** Two paragraphs that differ in more words than this are not compared word by word. */
const WORD_EDITS_MAX = 400

/**
 * What differs between two texts, in reading order: by paragraphs first, and word by word where one changed. Joined, what is not
 * "gone" gives the later text. What differs too much to be shown word by word went and came as a whole.
 *
 * Source: E. W. Myers, "An O(ND) difference algorithm and its variations", 1986; D is bounded.
 */
export function textDifferences(before: string, after: string): TextPart[] {
  const changes = diffArrays(paragraphsOf(before), paragraphsOf(after), { maxEditLength: PARAGRAPH_EDITS_MAX })
  if (!changes) return gathered([...part('gone', before), ...part('new', after)])
  const parts: TextPart[] = []
  changes.forEach((change, index) => {
    const text = change.value.join('')
    const next = changes[index + 1]
    const previous = changes[index - 1]
    if (change.removed && next?.added) parts.push(...wordDifferences(text, next.value.join('')))
    else if (change.added && previous?.removed) return
    else parts.push(...part(change.removed ? 'gone' : change.added ? 'new' : 'same', text))
  })
  return gathered(parts)
}

function wordDifferences(before: string, after: string): TextPart[] {
  const changes = diffWordsWithSpace(before, after, { maxEditLength: WORD_EDITS_MAX })
  if (!changes) return [...part('gone', before), ...part('new', after)]
  return changes.map(({ added, removed, value }) => ({ kind: added ? 'new' : removed ? 'gone' : 'same', text: value }))
}

/** Paragraphs with the empty lines behind them: joined they are the text. */
function paragraphsOf(text: string): string[] {
  const out: string[] = []
  let from = 0
  for (let at = text.indexOf('\n\n'); at >= 0; at = text.indexOf('\n\n', from)) {
    let end = at + 2
    while (text[end] === '\n') end++
    out.push(text.slice(from, end))
    from = end
  }
  if (from < text.length) out.push(text.slice(from))
  return out
}

function part(kind: TextPart['kind'], text: string): TextPart[] {
  return text === '' ? [] : [{ kind, text }]
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
    // No word is cut in two, unless it is longer than all that is shown.
    const head = index === 0 ? '' : part.text.slice(0, half).replace(/\s\S*$/, '')
    const tail = index === parts.length - 1 ? '' : part.text.slice(-half).replace(/^\S*\s/, '')
    return { kind: 'same', text: `${head} … ${tail}` }
  })
}
