import { stemmer } from 'stemmer'

/** More letters than this in one word are cut off: no word of a language is longer, and no code needs to be matched whole. */
const MAX_WORD_LENGTH = 40

/**
 * The words of a text as they are looked up: small letters without accents, split at everything that is neither letter nor digit.
 */
export function wordsOf(text: string): string[] {
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/ß/g, 'ss')
  const words = plain.match(/[\p{L}\p{N}]+/gu) ?? []
  return words.map((word) => word.slice(0, MAX_WORD_LENGTH))
}

/** The stem of an English word after Porter, with numbers left alone. Source: M. F. Porter, An algorithm for suffix stripping, 1980. */
export function stemOf(word: string): string {
  return word.length < 3 || /\d/.test(word) ? word : stemmer(word)
}
