import type { DetectionWire, SoundSummary, VerdictWire } from '../../contract'
import { messages } from '../../messages'

export { dayWords } from '../../core/day-words'

/** "0.4 s", "12 s", "1:05 min". */
export function lengthWords(seconds: number): string {
  if (seconds < 10) return `${seconds.toFixed(1)} s`
  if (seconds < 60) return `${Math.round(seconds)} s`
  const whole = Math.round(seconds)
  return messages.words.min(Math.floor(whole / 60), String(whole % 60).padStart(2, '0'))
}

/** "1:04.3". */
export function clock(seconds: number): string {
  const tenths = Math.round(seconds * 10)
  const minutes = Math.floor(tenths / 600)
  return `${minutes}:${((tenths - minutes * 600) / 10).toFixed(1).padStart(4, '0')}`
}

export function momentWords(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
}

export const FIT_WORDS: Readonly<Record<NonNullable<SoundSummary['fit']>, string>> = {
  fits: messages.words.mayBeUsed,
  'fits-with-credit': messages.words.withACredit,
  'does-not-fit': messages.words.notAllowed,
  'not-stated': messages.words.notStated,
}

/** What has to be done before a sound may be used whose terms allow it; empty where its file is here, or where nothing would help. */
export function fitCondition({
  fit,
  copySha256,
  withdrawn,
  sold,
  cost,
  source,
}: Pick<SoundSummary, 'fit' | 'copySha256' | 'withdrawn' | 'sold' | 'cost' | 'source'>): string {
  if (copySha256 !== null || (fit !== 'fits' && fit !== 'fits-with-credit')) return ''
  // Nothing of one's own is downloaded or bought.
  if (source.kind !== 'library') return source.kind === 'folder' ? messages.words.yours : ''
  if (withdrawn) return messages.words.noLongerOffered
  if (sold) return messages.words.ifBought
  return cost === IN_PLAN ? IN_PLAN : messages.words.ifDownloaded
}

/** What libraries with a plan say of the cost of a sound. */
const IN_PLAN = messages.words.inYourPlan

export const VERDICT_WORDS: Readonly<Record<VerdictWire, string>> = {
  clear: messages.words.clear,
  'owes-credit': messages.words.owesCredit,
  'no-papers': messages.words.noPapers,
  'not-allowed': messages.words.notAllowedVerdict,
}

/** What was done to a sound where it is heard: "muffled above 1,200 Hz, more on the left, fades in over 0.8 s". Empty when nothing. */
export function treatmentWords(place: DetectionWire): string {
  const percent = Math.round(place.speed * 100)
  return [
    place.treatment === 'muffled' && messages.words.muffledAboveHz((place.cutoffHz ?? 0).toLocaleString('en-GB')),
    place.treatment === 'room' && messages.words.inARoom,
    place.treatment === 'speed' && messages.words.atSpeed(percent),
    place.treatment === 'speed-pitch-kept' && messages.words.atSpeedPitchKept(percent),
    place.inSide && Math.abs(place.balance) <= ONE_SIDE && messages.words.turnedOverOnOneSide,
    Math.abs(place.balance) >= SIDE_MIN &&
      messages.words.onThe(
        sideWords(Math.abs(place.balance)),
        place.balance < 0 ? messages.words.left : messages.words.right,
      ),
    place.fadeInS > 0 && messages.words.fadesInOverS(place.fadeInS.toFixed(1)),
    place.fadeOutS > 0 && messages.words.fadesOutOverS(place.fadeOutS.toFixed(1)),
  ]
    .filter(Boolean)
    .join(', ')
}

/** A balance nearer to the middle than this is not worth a word. */
const SIDE_MIN = 0.15
/** A balance further out than this is one side alone. */
const ONE_SIDE = 0.9

function sideWords(balance: number): string {
  return balance > ONE_SIDE ? messages.words.only : messages.words.more
}

/** Share in whole percent, but never all of it unless it is. */
export function shareWords(share: number): string {
  return share >= 1 ? '100 %' : `${Math.min(99, Math.floor(share * 100))} %`
}

/** "640 KB", "1.4 MB", "12 GB". */
export function sizeWords(bytes: number): string {
  const units = ['B', messages.words.kb, messages.words.mb, messages.words.gb, messages.words.tb]
  const power = Math.min(units.length - 1, Math.floor(Math.log10(Math.max(1, bytes)) / 3))
  const value = bytes / 1000 ** power
  return `${value < 10 && power > 1 ? value.toFixed(1) : Math.round(value)} ${units[power]}`
}

/** The day of a moment where the reader is, YYYY-MM-DD. */
export function dayHere(at: Date): string {
  const two = (value: number): string => String(value).padStart(2, '0')
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`
}
