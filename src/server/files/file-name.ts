import { trimmedEnd } from '../../core/trimmed-end'
import { visibleText } from '../../core/visible-text'

const MAX_NAME_LENGTH = 80
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)$/i

/** How copies are named while the creator has not said otherwise. */
export const NAME_PATTERN = '{title} - {maker} - {source}'

/**
 * A file name that every system takes: by default title, maker, source; at most 80 characters with the ending.
 *
 * @param ending Without the dot: "wav". @param pattern Text with {title}, {maker}, {source}; what is empty is left out with its dash.
 */
export function copyFileName(
  parts: { title: string; maker: string; source: string; ending: string },
  pattern: string = NAME_PATTERN,
): string {
  const ending = parts.ending.replace(/[^a-z0-9]/gi, '').slice(0, 8) || 'bin'
  const stem = pattern
    .split(' - ')
    .map((piece) => namePart(piece.replace(/\{(title|maker|source)\}/g, (_, name: keyof typeof parts) => parts[name])))
    .filter(Boolean)
    .join(' - ')
  const cut = trimmedEnd(stem.slice(0, MAX_NAME_LENGTH - ending.length - 1), '. ')
  return `${RESERVED.test(cut) || cut === '' ? `sound ${cut}`.trim() : cut}.${ending}`
}

/** The last part of a name from outside, without anything that could be read as a path. */
export function plainFileName(name: string): string {
  const last = name.split(/[\\/]/).pop() ?? ''
  return namePart(last).slice(0, 120) || 'file'
}

/** A text as a part of a name that every system takes, and that leads into no other folder. */
export function namePart(text: string): string {
  return (
    visibleText(text)
      .replace(/\ufffd/g, '_')
      .normalize('NFC')
      // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is removed here
      .replace(/[\u0000-\u001f\u007f<>:"/\\|?*\u2028\u2029]/g, ' ')
      .replace(/\s+/g, ' ')
      .replace(/^[.\s]+/, '')
      .trim()
  )
}
