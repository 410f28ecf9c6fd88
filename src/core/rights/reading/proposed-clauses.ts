import { type ClauseKey, RESTRICTIONS } from '../terms'
import { readGrant } from './grants'
import { isEnglish, isEnglishText } from './language'
import type { ClauseReading, OpenSentence, ProposedClause } from './proposed-clause'
import { restrictionsIn } from './restriction-rules'
import { type Sentence, sentencesOf } from './sentences'

/** What a sentence has to speak of to touch a point. Wide: what is touched and not understood is not allowed. */
const SUBJECTS: readonly (readonly [ClauseKey, RegExp])[] = [
  [
    'online',
    /\b(?:online|internet|the web|web ?sites?|web ?videos?|web|stream\w*|platforms?|social media|channels?|upload\w*|post(?:ed|ing)?)\b/i,
  ],
  ['paid-advertising', /\b(?:ads?|adverts?|advertis\w+|promot\w+|commercials|campaigns?|sponsor\w*|marketing)\b/i],
  [
    'client-work',
    /\b(?:clients?|customers?|commission\w*|third[- ]part(?:y|ies)|on behalf of|for others|agenc(?:y|ies))\b/i,
  ],
  ['broadcast', /\b(?:broadcast\w*|television|tv|radio|cable|satellite)\b/i],
  ['cinema', /\b(?:cinemas?|theatrical\w*|festivals?|theat(?:re|er)s?|screenings?)\b/i],
  ['game', /\b(?:(?:video ?)?games?|gaming|apps?|applications?|software)\b/i],
  ['audio-only', /\b(?:podcasts?|audio ?books?|albums?|music releases?|audio[- ]only|soundtracks?)\b/i],
  ['internal', /\b(?:internal\w*|teach\w*|educat\w+|classrooms?|schools?|training|presentations?)\b/i],
  [
    'earning',
    /\b(?:commercial\w*|non-?commercial\w*|moneti[sz]\w+|profits?|earn\w*|revenue|income|business(?:es)?|sell|sold|sale)\b/i,
  ],
  [
    'modification',
    /\b(?:modif\w+|adapt\w*|edit(?:ed|s|ing)?|alter\w*|chang(?:e|ed|ing) (?:it|them|the)|remix\w*|derivative\w*|synchroni[sz]\w+|cut|mix(?:ed|ing)?|unaltered|unmodified|as is)\b/i,
  ],
  ['credit', /\b(?:credit\w*|attribut\w+|acknowledg\w+|name (?:us|me|the (?:maker|author)))\b/i],
  [
    'share-alike',
    /\b(?:share[- ]?alike|copyleft|(?:same|identical|similar|compatible|open) (?:licen[cs]e|terms)|under any licen[cs]e)\b/i,
  ],
  [
    'territory',
    /\b(?:world-?wide|countr(?:y|ies)|territor\w+|throughout the (?:world|universe)|in the (?:world|eu|us|uk)|only in|outside (?:of )?the)\b/i,
  ],
  [
    'duration',
    /\b(?:perpetu\w+|for ?ever|irrevocab\w+|for life|lifetime|years?|months?|days?|expir\w*|terminat\w*|revo[ck]\w*|until|ends?)\b/i,
  ],
  ['transfer', /\b(?:hand(?:ed)? over|transfer\w*|assign\w*|sub-?licen[cs]\w*)\b/i],
]

/** Ways to forbid. */
const PROHIBITS =
  /\b(?:(?:may|can|must|shall|should|do|does|did|is|are|will|would|could|be) (?:never|not)|cannot|(?:ca|wo|do|does|is|are|must|should|would|could|did|was|were|have|has|need)n't|not (?:be )?(?:use\w*|allow\w*|permit\w*|licen[cs]\w*|includ\w*|cover\w*|for|in|on|to|without|even)|never|none of|nobody|no one|neither|nor|under no circumstances|in no (?:case|event|way)|prohibit\w*|forbid\w*|forbidden|banned|disallow\w*|unlawful|illegal|violat\w+|refrain\w*|exclud\w+|excepted|no|without (?:prior |written |our )*(?:permission|consent)|off[- ]limits)\b/i
/** Where a sentence turns from what is allowed to what is not. */
const TURNS = [
  ', but not ',
  ' but not ',
  ' except ',
  ' excluding ',
  ' with the exception of ',
  ' other than ',
  ' apart from ',
  ' save for ',
  ' but may not ',
  ' but never ',
]
/** Words that take something away, set a condition or speak of something later or of somebody else: what holds them is no plain grant. */
const RESTRICTS =
  /\b(?:not|no|never|none|nobody|neither|nor|without|cannot|\w+n't|non-\w+|only|solely|exclusiv\w*|merely|limited?|limits?|restrict\w*|at most|up to|more than|less than|fewer than|maximum|except\w*|exclud\w*|other than|apart from|save for|but|however|although|though|whereas|unless|if|when|provided|providing|as long as|so long as|subject to|on condition|conditions?|require[sd]?|requirements?|requires?|need(?:s|ed)?|must|shall|should|please|have to|has to|separate(?:ly)?|on request|ask(?:ing)?|contact|permission|consent|approv\w*|prior|until|once|before|after|during|expire\w*|terminat\w*|revok\w*|revoc\w*|withdraw\w*|cancel\w*|subscri\w+|members?|memberships?|plans?|tiers?|premium|pro|upgrade\w*|paid|fees?|pay(?:s|ing|ment)?|buy|purchas\w*|reserve[sd]?|rights holder|forbid\w*|forbidden|prohibit\w*|banned|void\w*|illegal|unlawful|trial|personal|private|individuals?|costs?|euros?|dollars?|prices?|free trial|disregard|ignore|draft|companies|employees|seats?|users?|devices?|per|same|reserves?|changes? at any time|may change|formerly|previously|old|instead|contrary)\b/i
/** Other works than sounds: what is said next to them may not be said of the sounds. */
const OTHER_WORKS =
  /\b(?:music|songs?|tracks?|images?|photos?|pictures|fonts?|templates?|footage|graphics|logos?|software|plugins?|trademarks?|voices?|names?|websites?|texts?)\b/i
/** A sentence with one of these is on sounds, or on the right to use them. */
const SOUND_WORDS =
  /\b(?:sounds?|effects?|recordings?|recorded|samples?|audio|files?|library|licen[cs]es?|permission|rights?)\b/i
const PRONOUNS = /\b(?:it|them|they|this|these|those)\b/i

const CREDIT_OWED =
  /\b(?:must|shall|have to|need to|required? to|please|should|provided (?:that )?you|kindly)\b.*\b(?:credit|attribut\w+|acknowledg\w+)\b|\b(?:credit|attribution)\b.*\b(?:required|mandatory|necessary|owed|appreciated)\b|^(?:give )?credit\b/i

const TITLE_WORDS_MAX = 3
const GREETING = /^(?:hello|hi|welcome|thanks?|thank you|enjoy|have fun|happy)\b[\w ,'-]{0,60}[.!]?$/i
const PROVENANCE =
  /^[\w ,'-]{1,60} (?:was|were) (?:made|recorded|created|captured|synthesi[sz]ed)\b[\w ,'-]{0,80}[.!]?$/i

const PLAIN = 0.8
/** A sentence that speaks of several things says less plainly what is forbidden. */
const LESS_PLAIN = 0.5
const MANY_SUBJECTS = 3
/** A sentence longer than this is not read, letters. */
const SENTENCE_MAX = 1000
const QUOTE_SHOWN = 300
/** Nobody reads more sentences than this one by one. */
const OPEN_MAX = 500
/** Stands for the open sentences beyond those that are given. It cannot be set aside. */
export const TOO_MANY_OPEN = 'More sentences than can be read one by one were not understood.'

/**
 * What the sentences of a text say, each read by itself and only where it is understood.
 *
 * "Yes" comes from a whole sentence in a known form of granting, and from nothing else. What forbids is read widely. A sentence that
 * was not understood is given as open, on the points it touches, or on all where it names none; only greetings, titles and how
 * something was recorded are passed over.
 *
 * @param isKnown Sentences that are understood already, as they stand in the text.
 */
export function proposedClauses(text: string, isKnown: (sentence: string) => boolean = () => false): ClauseReading {
  const sentences = sentencesOf(text)
  if (!isEnglishText(sentences.map(({ quote }) => quote).join(' ')))
    return { clauses: [], open: [{ quote: shown(text.replace(/\s+/g, ' ').trim()), keys: [] }] }
  const said: ProposedClause[] = []
  const open: OpenSentence[] = []
  let isOfSounds = true
  sentences.forEach((sentence, index) => {
    if (isKnown(sentence.quote)) return
    const read = readSentence(sentence, { before: sentences[index - 1]?.quote ?? '', isOfSounds })
    if (SOUND_WORDS.test(sentence.text)) isOfSounds = true
    else if (read.open.length > 0) isOfSounds = false
    said.push(...read.clauses)
    open.push(...read.open)
  })
  const shownOpen = open.length > OPEN_MAX ? [...open.slice(0, OPEN_MAX), { quote: TOO_MANY_OPEN, keys: [] }] : open
  return { clauses: strictest(said), open: shownOpen }
}

/** Open sentences that keep a point from being allowed. */
export function openSentencesOn(key: ClauseKey, open: readonly OpenSentence[]): OpenSentence[] {
  return open.filter(({ keys }) => keys.length === 0 || keys.includes(key))
}

/** What a pronoun may stand for: the sentence before, and whether sounds were the last that was spoken of. */
interface Topic {
  readonly before: string
  readonly isOfSounds: boolean
}

function readSentence({ quote, text }: Sentence, { before, isOfSounds }: Topic): ClauseReading {
  if (text.length > SENTENCE_MAX) return { clauses: [], open: [{ quote: shown(quote), keys: [] }] }
  const clause = (key: ClauseKey, answer: ProposedClause['answer'], confidence = PLAIN): ProposedClause => ({
    key,
    answer,
    quote,
    confidence,
  })
  const grant = readGrant(text)
  if (grant) {
    // "It" may be something else that was spoken of.
    const isOther = (PRONOUNS.test(text) && OTHER_WORKS.test(before)) || (!isOfSounds && /\b(?:it|them)\b/i.test(text))
    if (isOther) return { clauses: [], open: [{ quote, keys: grant.keys }] }
    return { clauses: grant.keys.map((key) => clause(key, 'yes')), open: [] }
  }
  const clauses = restrictionsIn(text).map((one) => ({ ...one, quote }))
  const touched = touchedBy(text)
  if (touched.includes('credit') && CREDIT_OWED.test(text)) clauses.push(clause('credit', 'duty'))
  const isShareAlike = touched.includes('share-alike') && !PROHIBITS.test(text)
  if (isShareAlike) clauses.push(clause('share-alike', 'duty'))
  const left = touched.filter((key) => !clauses.some((one) => one.key === key))
  const forbidden = left.length > 0 && PROHIBITS.test(text) ? forbiddenIn(text, left) : []
  for (const key of forbidden) clauses.push(clause(key, 'no', left.length >= MANY_SUBJECTS ? LESS_PLAIN : PLAIN))
  const unread = left.filter((key) => !forbidden.includes(key))
  // How long and where something holds bears on every point.
  if (unread.length > 0) return { clauses, open: [{ quote, keys: unread.some(bearsOnAll) ? [] : unread }] }
  return { clauses, open: clauses.length > 0 || isHarmless(text) ? [] : [{ quote, keys: [] }] }
}

function bearsOnAll(key: ClauseKey): boolean {
  return key === 'duration' || key === 'territory'
}

/** A greeting, a title, or where and how something was recorded: it takes nothing away. */
function isHarmless(text: string): boolean {
  if (RESTRICTS.test(text) || !isEnglish(text)) return false
  const isTitle = !/[.!?:]$/.test(text) && text.split(' ').length <= TITLE_WORDS_MAX
  return isTitle || GREETING.test(text) || PROVENANCE.test(text)
}

function touchedBy(text: string): ClauseKey[] {
  return SUBJECTS.filter(([, subject]) => subject.test(text)).map(([key]) => key)
}

/** Of points that a forbidding sentence touches, those that it forbids: what stands behind its turn, where it has one. */
function forbiddenIn(text: string, keys: readonly ClauseKey[]): ClauseKey[] {
  const lower = ` ${text.toLowerCase()}`
  const turns = TURNS.map((turn) => lower.indexOf(turn)).filter((at) => at > 0)
  if (turns.length === 0) return [...keys]
  const behind = touchedBy(lower.slice(Math.min(...turns)))
  return keys.filter((key) => behind.includes(key))
}

const STRICTNESS: Readonly<Record<ProposedClause['answer'], number>> = { yes: 0, duty: 1, no: 2 }

/** One clause for each point. Where a text says several things on one, the strictest holds and another is quoted against it. */
function strictest(said: readonly ProposedClause[]): ProposedClause[] {
  const byKey = new Map<ClauseKey, ProposedClause[]>()
  for (const clause of said) {
    const known = byKey.get(clause.key)
    if (known) known.push(clause)
    else byKey.set(clause.key, [clause])
  }
  return [...byKey.values()].map((clauses) => {
    const [first] = clauses as [ProposedClause]
    const held = clauses.reduce((strict, next) => (isStricter(next, strict) ? next : strict), first)
    const other = clauses.find(({ answer }) => answer !== held.answer)
    return other && !RESTRICTIONS.includes(held.key) ? { ...held, against: other.quote } : held
  })
}

function isStricter(one: ProposedClause, than: ProposedClause): boolean {
  if (one.answer !== than.answer) return STRICTNESS[one.answer] > STRICTNESS[than.answer]
  const [a, b] = [one.limit, than.limit]
  if (!a || !b) return !a && b !== undefined
  return (a.kind === 'videos' || a.kind === 'people') && a.kind === b.kind && a.max < b.max
}

function shown(text: string): string {
  return text.length > QUOTE_SHOWN ? `${text.slice(0, QUOTE_SHOWN)} …` : text
}
