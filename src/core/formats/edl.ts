import { formats as messages } from '../wording/formats'

/** What an edit decision list (CMX 3600) is read by. */

/**
 * An event: number, reel, channel, kind of edit, and four times: where it begins and ends in its file, where in the whole.
 */
export const EDL_EVENT =
  /^(\d{1,6})\s+(\S+)\s+(\S+)\s+(\S+)\s+(?:\d{1,4}\s+)?(\d\d[:;.]\d\d[:;.]\d\d[:;.]\d\d)\s+(\S+)\s+(\S+)\s+(\S+)$/

const HOUR_S = 3600

/** The lines of a list; null for what is none. */
export function edlLines(text: string): string[] | null {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n?|\n/)
  return lines.some((line) => EDL_EVENT.test(line.trim())) ? lines : null
}

/** Whole hours that a list begins after, as lists often do; 0 where it names something in the first. */
export function hoursBefore(startsS: readonly number[]): number {
  return startsS.length === 0 ? 0 : Math.max(0, Math.floor(Math.min(...startsS) / HOUR_S))
}

/** What is said of hours that were taken off. */
export function hoursWords(hours: number): string {
  return messages.listBeginsAt0000(hours)
}

export function hoursInS(hours: number): number {
  return hours * HOUR_S
}
