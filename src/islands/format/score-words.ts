import type { FadeCurve, TreatmentKind } from '../../core/score'

export const CURVE_WORDS: Readonly<Record<FadeCurve, string>> = {
  straight: 'straight',
  'equal-power': 'equal power',
  s: 'S',
}

export const TREATMENT_WORDS: Readonly<Record<TreatmentKind, string>> = {
  wall: 'through a wall',
  'small-speaker': 'from a small speaker',
  telephone: 'over the telephone',
  'far-off': 'far off',
  'large-room': 'in a large room',
}

/** "-14.2 LUFS", or a dash. */
export function lufsWords(lufs: number | null): string {
  return lufs === null ? '–' : `${lufs.toFixed(1)} LUFS`
}

/** "-1.0 dBTP", or a dash. */
export function dbtpWords(dbtp: number | null): string {
  return dbtp === null ? '–' : `${dbtp.toFixed(1)} dBTP`
}
