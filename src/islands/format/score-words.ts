import type { FadeCurve, TreatmentKind } from '../../core/score'
import { messages } from '../../messages'

export const CURVE_WORDS: Readonly<Record<FadeCurve, string>> = {
  straight: messages.words.straight,
  'equal-power': messages.words.equalPower,
  s: 'S',
}

export const TREATMENT_WORDS: Readonly<Record<TreatmentKind, string>> = {
  wall: messages.words.throughAWall,
  'small-speaker': messages.words.fromASmallSpeaker,
  telephone: messages.words.overTheTelephone,
  'far-off': messages.words.farOff,
  'large-room': messages.words.inALargeRoom,
}

/** "-14.2 LUFS", or a dash. */
export function lufsWords(lufs: number | null): string {
  return lufs === null ? '–' : messages.words.lufs(lufs.toFixed(1))
}

/** "-1.0 dBTP", or a dash. */
export function dbtpWords(dbtp: number | null): string {
  return dbtp === null ? '–' : messages.words.dbtp(dbtp.toFixed(1))
}
