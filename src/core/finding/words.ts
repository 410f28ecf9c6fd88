import { stemmer } from 'stemmer'

/** More letters than this in one word are cut off: no word of a language is longer, and no code needs to be matched whole. */
const MAX_WORD_LENGTH = 40

/**
 * The words of a text as they are looked up: small letters without accents, split at everything that is neither letter nor digit.
 */
export function wordsOf(text: string): string[] {
  // Most texts are plain, and millions are read.
  if (PLAIN.test(text)) return plainWords(text)
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/ß/g, 'ss')
  const words = plain.match(/[\p{L}\p{N}]+/gu) ?? []
  return words.map((word) => word.slice(0, MAX_WORD_LENGTH))
}

const PLAIN = /^[\x20-\x7e]*$/

function plainWords(text: string): string[] {
  const small = text.toLowerCase()
  const words: string[] = []
  let start = -1
  for (let at = 0; at <= small.length; at++) {
    const code = at < small.length ? small.charCodeAt(at) : 0
    const inWord = (code >= 97 && code <= 122) || (code >= 48 && code <= 57)
    if (inWord && start < 0) start = at
    else if (!inWord && start >= 0) {
      words.push(small.slice(start, Math.min(at, start + MAX_WORD_LENGTH)))
      start = -1
    }
  }
  return words
}

/** An expression by the stems of its words, as it is looked up in lists of expressions. */
export function stemsOf(expression: string): string {
  return wordsOf(expression).map(stemOf).join(' ')
}

/** The stem of an English word after Porter, with numbers left alone. Source: M. F. Porter, An algorithm for suffix stripping, 1980. */
export function stemOf(word: string): string {
  return word.length < 3 || /\d/.test(word) ? word : stemmer(word)
}
