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

/**
 * Reads a caption file, SubRip or WebVTT.
 *
 * @param text Whole file. @returns Cues by time without their markup, or null for what is neither.
 */
export function captionCues(text: string): Cue[] | null {
  const plain = text.replace(/^\uFEFF/, '').replace(/\r\n?/g, '\n')
  if (!/\d{1,2}:\d{2}[.,:]\d/.test(plain) || !plain.includes('-->')) return null
  let entries: ReturnType<typeof parse>['entries']
  try {
    entries = parse(plain).entries
  } catch {
    return null
  }
  const cues = entries.slice(0, CUES_MAX).map(({ from, to, text: words }) => ({
    startS: from / 1000,
    endS: Math.max(from, to) / 1000,
    text: words
      .replace(/<[^>]*>|\{[^}]*\}/g, '')
      .replace(/\s+/g, ' ')
      .trim()
      .slice(0, CUE_TEXT_MAX),
  }))
  const spoken = cues
    .filter((cue) => cue.text !== '' && Number.isFinite(cue.startS))
    .sort((a, b) => a.startS - b.startS)
  return spoken.length === 0 ? null : spoken
}
