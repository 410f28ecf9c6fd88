const MAX_NAME_LENGTH = 80
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)$/i

/**
 * A file name that every system takes: title, maker, source; at most 80 characters with the ending.
 *
 * @param ending Without the dot: "wav".
 */
export function copyFileName(parts: { title: string; maker: string; source: string; ending: string }): string {
  const ending = parts.ending.replace(/[^a-z0-9]/gi, '').slice(0, 8) || 'bin'
  const stem = [parts.title, parts.maker, parts.source].map(safePart).filter(Boolean).join(' - ')
  const cut = stem.slice(0, MAX_NAME_LENGTH - ending.length - 1).replace(/[\s.]+$/, '')
  return `${RESERVED.test(cut) || cut === '' ? `sound ${cut}`.trim() : cut}.${ending}`
}

/** The last part of a name from outside, without anything that could be read as a path. */
export function plainFileName(name: string): string {
  const last = name.split(/[\\/]/).pop() ?? ''
  return safePart(last).slice(0, 120) || 'file'
}

function safePart(text: string): string {
  return (
    text
      .normalize('NFC')
      // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is removed here
      .replace(/[\u0000-\u001f\u007f<>:"/\\|?*\u2028\u2029]/g, ' ')
      .replace(/\s+/g, ' ')
      .replace(/^[.\s]+/, '')
      .trim()
  )
}
