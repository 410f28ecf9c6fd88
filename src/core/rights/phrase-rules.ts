import type { ProposedClause } from './proposed-clause'
import { restrictionsIn } from './restriction-rules'
import { type ClauseKey, RESTRICTIONS } from './terms'

/** What a sentence has to speak of to be about a clause. */
const SUBJECTS: readonly (readonly [ClauseKey, RegExp])[] = [
  ['online', /\b(?:online|internet|web ?sites?|web ?videos?|streaming|video platforms?|social media|podcasts?)\b/i],
  [
    'paid-advertising',
    /\b(?:paid (?:ads?|advertis\w+|promotion)|advertis(?:ing|ements?)|commercials|ad campaigns?)\b/i,
  ],
  ['client-work', /\b(?:clients?|commissioned|third[- ]party projects?|on behalf of (?:others|customers))\b/i],
  ['broadcast', /\b(?:broadcast\w*|television|tv|radio|cable|satellite)\b/i],
  ['cinema', /\b(?:cinemas?|theatrical(?:ly)?|film festivals?|festivals?|theat(?:re|er)s)\b/i],
  ['game', /\b(?:(?:video )?games?|apps?|applications?|software)\b/i],
  ['internal', /\b(?:internal(?:ly)?|teaching|education(?:al)?|classrooms?|training|presentations?)\b/i],
  ['earning', /\b(?:commercial(?:ly)?(?: use| purposes?| projects?)?|monetiz\w+|monetis\w+|profit)\b/i],
  [
    'modification',
    /\b(?:modif\w+|adapt\w*|edit(?:ed|ing)?|alter(?:ed|ing)?|remix\w*|derivative\w*|synchroni[sz]\w+)\b/i,
  ],
  ['credit', /\b(?:credit(?:ed|s)?|attribut\w+|acknowledg\w+)\b/i],
  ['share-alike', /\b(?:share[- ]?alike|under (?:the same|identical) (?:licen[cs]e|terms))\b/i],
  [
    'territory',
    /\b(?:worldwide|world-wide|in all (?:countries|territories)|throughout the (?:world|universe)|territor(?:y|ies))\b/i,
  ],
  ['duration', /\b(?:perpetual(?:ly)?|in perpetuity|for ?ever|irrevocabl[ey]|for life|lifetime)\b/i],
]

/** Ways to forbid. Looked for first: a sentence that both allows and forbids forbids something. */
const FORBIDS =
  /\b(?:may|can|must|shall|do|does|is|are|will)(?: not|n't|not)\b|\bcannot\b|\bnot (?:be )?(?:use\w*|allow\w*|permit\w*|license\w*|include\w*|cover\w*)|\b(?:prohibit\w*|forbid\w*|forbidden|excluded?|excluding|except(?: for)?|with the exception of|but not|not for|without (?:prior )?(?:written )?permission)\b|\bno (?:commercial|derivative|modif|broadcast|adapt)/i
/** Where a sentence turns from what is allowed to what is not. */
const TURN = /,?\s+(?=but (?:may |can )?not\b|except\b|excluding\b|with the exception of\b)/i
/** A condition takes the plainness out of a permission. */
const CONDITIONS =
  /\b(?:if|unless|provided(?: that)?|only (?:if|when|with|where)|as long as|subject to|up to|at least)\b/i
const ALLOWS =
  /\b(?:may|can|free to|allow\w*|permit\w*|grant\w*|you have the right|licen[cs]ed? (?:to|for)|right to|includ\w+|cover\w*|ok(?:ay)?|suitable)\b/i
/** "No credit needed" frees; "credit the maker" binds. */
const CREDIT_FREED =
  /\bno (?:credit|attribution|acknowledg\w+)(?: is)?(?: required| needed| necessary)?\b|\b(?:credit|attribution|acknowledg\w+)[^.;]{0,40}\b(?:not (?:required|necessary|needed|obligatory)|optional|appreciated)\b|\bwithout (?:credit|attribution)\b/i
const CREDIT_OWED =
  /\b(?:must|shall|have to|need to|required? to|please|should|provided (?:that )?you)\b[^.;]{0,60}\b(?:credit|attribut\w+|acknowledg\w+)\b|\b(?:credit|attribution)[^.;]{0,30}\b(?:is |are )?(?:required|mandatory|necessary|owed)\b|^credit\b/i

const PLAIN = 0.8
const CONDITIONAL = 0.5
/** A sentence that speaks of several things says less plainly what is forbidden. */
const MANY_SUBJECTS = 3

/**
 * Clauses that the sentences of an unknown text speak for.
 *
 * A point on which sentences contradict each other is left to the creator: it is not proposed.
 */
export function proposedClauses(text: string): ProposedClause[] {
  const said = new Map<ClauseKey, ProposedClause[]>()
  for (const sentence of sentencesOf(text)) {
    for (const clause of restrictionsIn(sentence)) said.set(clause.key, [...(said.get(clause.key) ?? []), clause])
    for (const part of sentence.split(TURN)) {
      const about = SUBJECTS.filter(([, subject]) => subject.test(part)).map(([key]) => key)
      for (const key of about) {
        const clause = clauseIn(part, key, about.length)
        if (clause) said.set(key, [...(said.get(key) ?? []), { ...clause, quote: sentence }])
      }
    }
  }
  return [...said.values()].flatMap((clauses) => {
    const [first] = clauses as [ProposedClause]
    // Of restrictions that differ, the one that binds is told; on all else a text that contradicts itself is left open.
    const binding = clauses.find(({ key, answer }) => RESTRICTIONS.includes(key) && answer !== 'yes')
    if (binding) return [binding]
    if (clauses.some(({ answer }) => answer !== first.answer)) return []
    return [clauses.reduce((best, next) => (next.confidence > best.confidence ? next : best))]
  })
}

/** What part of a sentence says on a point. @param subjects How many points it speaks of. */
function clauseIn(sentence: string, key: ClauseKey, subjects: number): Omit<ProposedClause, 'quote'> | null {
  const propose = (answer: ProposedClause['answer'], confidence: number) => ({ key, answer, confidence })
  if (key === 'credit') {
    if (CREDIT_FREED.test(sentence)) return propose('yes', PLAIN)
    return CREDIT_OWED.test(sentence) ? propose('duty', PLAIN) : null
  }
  if (key === 'share-alike') return FORBIDS.test(sentence) ? null : propose('duty', PLAIN)
  if (key === 'territory' || key === 'duration')
    return FORBIDS.test(sentence) || CONDITIONS.test(sentence) ? null : propose('yes', PLAIN)
  if (FORBIDS.test(sentence)) return propose('no', subjects >= MANY_SUBJECTS ? CONDITIONAL : PLAIN)
  if (!ALLOWS.test(sentence)) return null
  return CONDITIONS.test(sentence) ? propose('duty', CONDITIONAL) : propose('yes', PLAIN)
}

/** Sentences and list items, white space made plain. */
function sentencesOf(text: string): string[] {
  return text
    .split(/(?<=[.!?;])\s+(?=["'(\p{Lu}])|\n\s*\n|\n\s*(?:[-*•]|\d+[.)])\s+/u)
    .map((sentence) =>
      sentence
        .replace(/\s+/g, ' ')
        .replace(/^ ?(?:[-*•]|\d+[.)]) /, '')
        .trim(),
    )
    .filter((sentence) => sentence.length > 0 && sentence.length < 1000)
}
