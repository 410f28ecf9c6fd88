import type { SoundSummary, VerdictWire } from '../../contract'

/** "0.4 s", "12 s", "1:05 min". */
export function lengthWords(seconds: number): string {
  if (seconds < 10) return `${seconds.toFixed(1)} s`
  if (seconds < 60) return `${Math.round(seconds)} s`
  const whole = Math.round(seconds)
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')} min`
}

/** "1:04.3". */
export function clock(seconds: number): string {
  const tenths = Math.round(seconds * 10)
  const minutes = Math.floor(tenths / 600)
  return `${minutes}:${((tenths - minutes * 600) / 10).toFixed(1).padStart(4, '0')}`
}

export function dayWords(iso: string): string {
  return new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' })
}

export function momentWords(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
}

export const FIT_WORDS: Readonly<Record<NonNullable<SoundSummary['fit']>, string>> = {
  fits: 'May be used',
  'fits-with-credit': 'With a credit',
  'does-not-fit': 'Not allowed',
  'not-stated': 'Not stated',
}

export const VERDICT_WORDS: Readonly<Record<VerdictWire, string>> = {
  clear: 'clear',
  'owes-credit': 'owes credit',
  'no-papers': 'no papers',
  'not-allowed': 'not allowed',
}

/** "1 sound", "3 sounds". */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString('en-GB')} ${count === 1 ? one : many}`
}

/** How sure a find is, in words. */
export function sureWords(confidence: number): string {
  if (confidence >= 0.98) return 'certain'
  return confidence >= 0.8 ? 'very likely' : 'possible'
}
