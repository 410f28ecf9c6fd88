import { parse } from '@plussub/srt-vtt-parser'

/** Words that are spoken at a time. */
export interface Cue {
  readonly startS: number
  readonly endS: number
  readonly text: string
}

/** More cues than this are no captions of a video. */
const CUES_MAX = 20_000
const CUE_TEXT_MAX = 2000
/** With its markup. */
const CUE_RAW_MAX = 20_000

/**
 * Reads a caption file, SubRip or WebVTT.
 *
 * @param text Whole file. @returns Cues by time without their markup, or null for what is neither.
 */
export function captionCues(text: string): Cue[] | null {
  if (!/\d{1,2}:\d{2}[.,:]\d/.test(text)) return null
  const entries = captionEntries(text)
  if (!entries) return null
  const cues = entries.slice(0, CUES_MAX).map(({ from, to, text: words }) => ({
    startS: from / 1000,
    endS: Math.max(from, to) / 1000,
    text: withoutMarkup(words.slice(0, CUE_RAW_MAX)).replace(/\s+/g, ' ').trim().slice(0, CUE_TEXT_MAX),
  }))
  const spoken = cues
    .filter((cue) => cue.text !== '' && Number.isFinite(cue.startS))
    .sort((a, b) => a.startS - b.startS)
  return spoken.length === 0 ? null : spoken
}

/** Entries of a caption file as they stand, in ms; null for what is none. */
export function captionEntries(text: string): ReturnType<typeof parse>['entries'] | null {
  const plain = text
    .replace(/^\uFEFF/, '')
    .replace(/\r\n?/g, '\n')
    .replace(/\n{3,}/g, '\n\n')
  if (!plain.includes('-->')) return null
  try {
    return parse(plain).entries
  } catch {
    return null
  }
}

const CLOSES: Readonly<Record<string, string>> = { '<': '>', '{': '}' }

/** Words without what stands in angle or curly brackets; a bracket that is never closed stays. Takes time with the length alone. */
function withoutMarkup(words: string): string {
  let out = ''
  let at = 0
  const lastClose: Record<string, number> = { '>': words.lastIndexOf('>'), '}': words.lastIndexOf('}') }
  while (at < words.length) {
    const letter = words[at] as string
    const close = CLOSES[letter]
    if (close !== undefined && (lastClose[close] as number) > at) at = words.indexOf(close, at) + 1
    else {
      out += letter
      at++
    }
  }
  return out
}
