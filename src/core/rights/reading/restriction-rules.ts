import type { ClauseKey, Limit } from '../terms'
import type { ProposedClause } from './proposed-clause'

/** A phrase that restricts what else is allowed. */
interface RestrictionRule {
  readonly key: ClauseKey
  readonly pattern: RegExp
  readonly answer: ProposedClause['answer']
  readonly limitOf?: (match: RegExpExecArray) => Limit | null
}

const WORKS = '(?:videos?|projects?|productions?|films?|end products?)'
const NUMBERS: Readonly<Record<string, number>> = {
  one: 1,
  a: 1,
  single: 1,
  'a single': 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  ten: 10,
}
/** A number in words or digits. */
const COUNT = '(one|a single|single|two|three|four|five|ten|\\d{1,5})'
const WORKERS = '(?:seats?|users?|persons?|employees|editors?|team members?|workstations?|computers?|devices?)'
const UNITS_S: Readonly<Record<string, number>> = { s: 1, m: 60, h: 3600 }

const SIZES: Readonly<Record<string, number>> = { k: 1e3, thousand: 1e3, m: 1e6, million: 1e6 }

const RULES: readonly RestrictionRule[] = [
  {
    key: 'projects',
    pattern: new RegExp(
      `\\b(?:in|for|to|up to|limited to|covers|per)\\s+(?:only\\s+|exactly\\s+)?(?:a\\s+)?(one|single|two|three|four|five|ten|\\d{1,4})\\s+(?:single\\s+|finished\\s+|different\\s+)?${WORKS}\\b`,
      'i',
    ),
    answer: 'duty',
    limitOf: ([, number = '']) => limitTo('videos', countOf(number)),
  },
  {
    // "A separate licence for each film", "one licence per production".
    key: 'projects',
    pattern: new RegExp(
      `\\b(?:(?:another|separate|new|own|one) licen[cs]e (?:is (?:needed|required) )?(?:for (?:each|every)|per)|per|each licen[cs]e covers (?:one|a single)) ${WORKS}\\b`,
      'i',
    ),
    answer: 'duty',
    limitOf: () => limitTo('videos', 1),
  },
  {
    key: 'audience',
    pattern:
      /\b(?:up to|fewer than|less than|no more than|not more than|a maximum of|maximum|at most|below|under)\s+(\d[\d.,]*)(?:\s*(k|m|thousand|million))?\s+(?:\w+\s)?(?:viewers?|views|impressions|people|listeners|copies|subscribers|followers|downloads|plays|streams)\b/i,
    answer: 'duty',
    limitOf: ([, number = '', size = '']) =>
      limitTo('people', Number(number.replace(/[.,](?=\d{3})/g, '')) * (SIZES[size.toLowerCase()] ?? 1)),
  },
  {
    key: 'platforms',
    pattern: /\b(?:only|solely|exclusively) on ([A-Z]\w+(?:(?:,| and| or) [A-Z]\w+)*)/,
    answer: 'duty',
    limitOf: ([, names = '']) => ({ kind: 'platforms', names: names.split(/,| and | or /).map((name) => name.trim()) }),
  },
  {
    key: 'seats',
    pattern: new RegExp(
      `\\b(?:(?:up to|no more than|not more than|at most|a maximum of|maximum|limited to|for|by|on|covers|only)\\s+(?:only\\s+)?${COUNT}\\s+(?:single\\s+|named\\s+|registered\\s+)?${WORKERS}|${COUNT}[- ](?:users?|seats?) licen[cs]es?)\\b`,
      'i',
    ),
    answer: 'duty',
    limitOf: ([, number, other]) => limitTo('seats', countOf(number ?? other ?? '')),
  },
  {
    // "Per seat", "for each user", "each editor needs a licence of their own".
    key: 'seats',
    pattern:
      /^(?=.*\b(?:licen[cs]e[sd]?|paid|pay|costs?|priced?)\b).*\b(?:per|for each|for every|each|every) (?:seat|user|employee|editor|team member|workstation|computer|device)\b/is,
    answer: 'duty',
    limitOf: () => limitTo('seats', 1),
  },
  {
    key: 'video-length',
    pattern:
      /\b(?:videos?|films?|clips?|productions?|projects?|spots?|episodes?)\b[^.;]{0,40}\b(?:up to|no longer than|not longer than|shorter than|at most|a maximum(?: length)? of|maximum|under|less than|longer than)\s+(one|two|three|four|five|ten|\d{1,4}(?:\.\d)?)[- ]?(s|m|h)(?:ec(?:onds?)?|in(?:utes?)?|ours?)?\b/i,
    answer: 'duty',
    limitOf: ([, number = '', unit = '']) => lengthOf(countOf(number) * (UNITS_S[unit.toLowerCase()] ?? 0)),
  },
  {
    key: 'registration',
    pattern:
      /\b(?:must|have to|has to|need to|are required to|shall)\b[^.;]{0,40}\b(?:register(?:ed)?|notify|inform us|report(?:ed)?)\b/i,
    answer: 'duty',
  },
  {
    key: 'proof',
    pattern: /\b(?:keep|retain|present|provide|show)\b[^.;]{0,40}\b(?:receipts?|proof|invoices?|certificates?)\b/i,
    answer: 'duty',
  },
  {
    key: 'standalone',
    pattern:
      /\b(?:not|never|no)\b[^.;]{0,40}\b(?:resell|re-sell|sell|sub-?licen[cs]e\w*|redistribut\w+|pass(?:ed)? on|offer\w*|upload\w*)\b[^.;]{0,60}\b(?:as (?:a )?sounds?|by (?:itself|themselves)|stand-?alone|on (?:its|their) own|sound (?:files?|library|libraries|packs?|effects?)|as is)\b/i,
    answer: 'no',
  },
]

const PLAIN = 0.8
const MEASURE_MISSING = 0.5

/** What a sentence restricts. A restriction whose measure cannot be made out is proposed without one, and bars. */
export function restrictionsIn(sentence: string): ProposedClause[] {
  const found = new Map<ClauseKey, ProposedClause>()
  for (const { key, pattern, answer, limitOf } of RULES) {
    const match = pattern.exec(sentence)
    if (!match || found.has(key)) continue
    const limit = limitOf?.(match) ?? null
    const confidence = limitOf && !limit ? MEASURE_MISSING : PLAIN
    found.set(key, { key, answer, quote: sentence, confidence, ...(limit ? { limit } : {}) })
  }
  return [...found.values()]
}

function countOf(number: string): number {
  return NUMBERS[number.toLowerCase()] ?? Number(number)
}

function lengthOf(maxS: number): Limit | null {
  return Number.isFinite(maxS) && maxS > 0 ? { kind: 'length', maxS } : null
}

function limitTo(kind: 'videos' | 'people' | 'seats', max: number): Limit | null {
  return Number.isInteger(max) && max > 0 ? { kind, max } : null
}
