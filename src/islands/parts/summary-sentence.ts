import type { FindingWire } from '../../contract'
import { counted } from '../state/words'

/** What a check comes to, in a sentence. */
export function summarySentence(findings: readonly Pick<FindingWire, 'verdict'>[], listenedFor: number): string {
  if (listenedFor === 0) return 'Nothing was listened for: connect a library, then check again.'
  const open = findings.filter(({ verdict }) => verdict === 'no-papers' || verdict === 'not-allowed').length
  const credits = findings.filter(({ verdict }) => verdict === 'owes-credit').length
  if (findings.length === 0) return 'No sound of your libraries is heard.'
  if (open > 0) return `Not ready: ${counted(open, 'sound')} ${open === 1 ? 'is' : 'are'} not cleared.`
  if (credits > 0) return `All that was heard is cleared, with ${counted(credits, 'credit')} owed.`
  return 'All that was heard is cleared.'
}

/** What a check says nothing about. */
export function notExaminedWords(notExamined: number, addedSince: number): string {
  return [
    ...(notExamined > 0 ? [counted(notExamined, 'listed sound')] : []),
    ...(addedSince > 0 ? [`${counted(addedSince, 'sound')} added since`] : []),
    'sounds from elsewhere',
  ].join(', ')
}
