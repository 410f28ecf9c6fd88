import { plainText } from '../plain-text'

/** A sentence or list item of a text. */
export interface Sentence {
  /** As it stands in the text, white space made plain. */
  readonly quote: string
  /** What is to be understood, with straight apostrophes: for a list item, with the line that opens the list before it. */
  readonly text: string
  /** It stands below a line that opens a list: its own words do not say everything. */
  readonly isItem: boolean
}

/** A line that opens with one of these is an item of a list. */
const BULLET = /^(?:[-*•·–—]|\(?(?:\d{1,3}|[ivxl]{1,5}|[a-z])[.)])\s+/i
/** After these a full stop ends no sentence. */
const ABBREVIATIONS = new Set([
  'e.g.',
  'i.e.',
  'etc.',
  'approx.',
  'incl.',
  'excl.',
  'no.',
  'nos.',
  'vol.',
  'cf.',
  'vs.',
])

/**
 * Sentences and list items of a text, in its order. HTML is made plain first: tags go, those that end a line end one.
 *
 * Time grows with the length of the text, whatever it holds.
 */
export function sentencesOf(text: string): Sentence[] {
  const out: Sentence[] = []
  let opener: string | null = null
  for (const block of blocksOf(plainText(text))) {
    if (block.isItem && opener !== null) {
      for (const quote of splitSentences(block.text))
        out.push({ quote, text: straight(`${opener} ${quote}`), isItem: true })
      continue
    }
    const sentences = splitSentences(block.text)
    for (const quote of sentences) out.push({ quote, text: straight(quote), isItem: false })
    const last = sentences.at(-1) ?? ''
    // A heading, or a line that ends with a colon, opens the list that follows it.
    opener = block.isItem || /[.!?]["')]?$/.test(last) ? null : last
  }
  return out
}

/** Apostrophes of all shapes as one. */
function straight(text: string): string {
  return text.replace(/[’‘`´]/g, "'")
}

interface Block {
  readonly text: string
  readonly isItem: boolean
}

/** Paragraphs and list items. */
function blocksOf(text: string): Block[] {
  const blocks: Block[] = []
  let lines: string[] = []
  let isItem = false
  const close = (): void => {
    const joined = lines.join(' ').replace(/\s+/g, ' ').trim()
    if (joined !== '') blocks.push({ text: joined, isItem })
    lines = []
    isItem = false
  }
  for (const raw of text.split('\n')) {
    const line = raw.trim()
    if (line === '') close()
    else if (BULLET.test(line)) {
      close()
      isItem = true
      lines.push(line.replace(BULLET, ''))
    } else lines.push(line)
  }
  close()
  return blocks
}

function splitSentences(text: string): string[] {
  const words = text.split(' ')
  const out: string[] = []
  let from = 0
  words.forEach((word, index) => {
    const next = words[index + 1]
    const ends = next === undefined || (/[.!?]["'”’)]*$/.test(word) && /^["'“‘(]*[\p{Lu}\d]/u.test(next))
    if (!ends || (next !== undefined && isAbbreviation(word))) return
    out.push(words.slice(from, index + 1).join(' '))
    from = index + 1
  })
  return out.filter((sentence) => sentence !== '')
}

function isAbbreviation(word: string): boolean {
  return ABBREVIATIONS.has(word.toLowerCase()) || /^\(?\p{L}\.$/u.test(word)
}
