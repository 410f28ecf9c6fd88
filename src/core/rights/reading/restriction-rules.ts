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
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  ten: 10,
}
const SIZES: Readonly<Record<string, number>> = { k: 1e3, thousand: 1e3, m: 1e6, million: 1e6 }

const RULES: readonly RestrictionRule[] = [
  {
    key: 'projects',
    pattern: new RegExp(
      `\\b(?:in|for|to|up to|limited to|covers|per)\\s+(?:only\\s+|exactly\\s+)?(?:a\\s+)?(one|single|two|three|four|five|ten|\\d{1,4})\\s+(?:single\\s+|finished\\s+|different\\s+)?${WORKS}\\b`,
      'i',
    ),
    answer: 'duty',
    limitOf: ([, number = '']) => limitTo('videos', NUMBERS[number.toLowerCase()] ?? Number(number)),
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
      /\b(?:up to|fewer than|less than|no more than|not more than|a maximum of|maximum|at most|below|under)\s+(\d[\d.,]*)\s*(k|m|thousand|million)?\s+(?:\w+\s)?(?:viewers?|views|impressions|people|listeners|copies|subscribers|followers|downloads|plays|streams)\b/i,
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

function limitTo(kind: 'videos' | 'people', max: number): Limit | null {
  return Number.isInteger(max) && max > 0 ? { kind, max } : null
}
