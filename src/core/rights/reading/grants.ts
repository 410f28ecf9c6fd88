import type { ClauseKey } from '../terms'

/** A grant that was understood to its last word: the points it allows, none where it allows what is no point. */
export interface Grant {
  readonly keys: readonly ClauseKey[]
}

/** Sentences longer than this are not read as grants, words. */
const WORDS_MAX = 60

/**
 * Reads a whole sentence as a grant: somebody or something, a verb of granting, and what is granted, each in a form that is known.
 *
 * One word that is not expected there (a negation, a condition, an exception, an "only") and nothing is read: the sentence is then one
 * that was not understood.
 *
 * @returns Null when the sentence is no grant in a known form.
 */
export function readGrant(sentence: string): Grant | null {
  const words = wordsOfGrant(sentence)
  if (words === null || words.length === 0 || words.length > WORDS_MAX) return null
  for (const form of FORMS) {
    const keys = new Set<ClauseKey>()
    if (form(words, keys)) return { keys: [...keys] }
  }
  return null
}

/** Lower-case words and commas; null where the sentence holds signs that a plain grant does not. */
function wordsOfGrant(sentence: string): string[] | null {
  const plain = sentence
    .toLowerCase()
    .replace(/[’‘`´]/g, "'")
    .replace(/[.!]+$/, '')
    .replace(/\s*&\s*/g, ' and ')
    .replace(/([a-z])\/([a-z])/g, '$1 or $2')
    .replace(/,/g, ' , ')
    .replace(/\b(world|royalty|for)-(wide|free|ever)\b/g, (_, one: string, two: string) =>
      one === 'royalty' ? 'royalty-free' : one + two,
    )
  if (!/^[a-z0-9',\s-]+$/.test(plain)) return null
  return plain.split(/\s+/).filter((word) => word !== '')
}

/** A place in the words, and the points that were granted on the way. */
class Cursor {
  at = 0
  constructor(
    readonly words: readonly string[],
    readonly keys: Set<ClauseKey>,
  ) {}

  get isAtEnd(): boolean {
    return this.at === this.words.length
  }

  /** Goes over the longest of some phrases that stands here. */
  take(phrases: PhraseTable): boolean {
    const phrase = longestAt(this.words, this.at, phrases)
    if (!phrase) return false
    this.at += phrase.length
    for (const key of phrase.keys) this.keys.add(key)
    return true
  }

  /** Goes over as many of some phrases as stand here. */
  takeAll(phrases: PhraseTable): true {
    while (this.take(phrases));
    return true
  }

  /** Goes over one of some phrases where one stands here. */
  maybe(phrases: PhraseTable): true {
    this.take(phrases)
    return true
  }

  /** Does what is tried, or goes back to where it began. */
  attempt(run: () => boolean): boolean {
    const [at, keys] = [this.at, [...this.keys]]
    if (run()) return true
    this.at = at
    this.keys.clear()
    for (const key of keys) this.keys.add(key)
    return false
  }
}

interface Phrase {
  readonly words: readonly string[]
  readonly length: number
  readonly keys: readonly ClauseKey[]
}
type PhraseTable = ReadonlyMap<string, readonly Phrase[]>

function longestAt(words: readonly string[], at: number, table: PhraseTable): Phrase | null {
  const found = (table.get(words[at] ?? '') ?? []).filter((phrase) =>
    phrase.words.every((word, index) => words[at + index] === word),
  )
  return found.reduce<Phrase | null>((best, next) => (!best || next.length > best.length ? next : best), null)
}

/** Phrases by their first word. "a|b c" are two phrases. */
function table(...rows: readonly (readonly [string, ...ClauseKey[]])[]): PhraseTable {
  const out = new Map<string, Phrase[]>()
  for (const [phrases, ...keys] of rows)
    for (const phrase of phrases.split('|')) {
      const words = phrase.split(' ')
      const first = words[0] as string
      out.set(first, [...(out.get(first) ?? []), { words, length: words.length, keys }])
    }
  return out
}

const USERS = table([
  'you|anyone|anybody|everyone|everybody|users|the user|licensees|the licensee|the buyer|buyers|the customer|customers',
])
const GRANTORS = table([
  'we|i|the licensor|the author|the authors|the maker|the makers|the owner|this licence|this license',
])
const ADVERBS = table(['freely|also|always|hereby|of course|royalty-free|free of charge|at no cost|all|both'])
const MAY = table([
  'may|can|are free to|are allowed to|are permitted to|are welcome to|are entitled to|are authorised to|are authorized to|have permission to|have the right to|have the permission to|is free to|is allowed to|is permitted to|has the right to',
])
const MAY_BE = table([
  'may be|can be|are free to be|are allowed to be|are licensed to be|are cleared to be|may all be|can all be',
])
const ARE_FREE = table([
  'are free to use|are free for use|are licensed for use|are cleared for use|are free|are cleared|are licensed|is free to use|is free for use|is licensed for use|is cleared for use|is licensed|is cleared',
])
const GIVE = table(['grant|give|allow|permit|grants|gives|allows|permits|hereby grant|hereby grants'])
const RIGHT = table(['right to|rights to|licence to|license to|permission to'])
const RIGHT_NOUN = table(['right|licence|license|permission'])
const ARTICLES = table(['a|an|the|full'])
const LICENCE_WORDS = table(
  ['worldwide', 'territory'],
  ['perpetual|permanent|everlasting', 'duration'],
  ['irrevocable|royalty-free|unlimited|full|free|transferable'],
)
const IS_GRANTED = table(['are granted|are given|is granted|is given|get|receive|gets|receives'])

const DETERMINERS = table(['all|any|each|each of|all of|any of|every|the|these|this|our|my|those|of'])
const WORK_ADJECTIVES = table(['free|royalty-free|downloaded|audio|sound'])
const WORKS = table([
  'it|them|sound|sounds|effect|effects|sound effect|sound effects|file|files|recording|recordings|sample|samples|audio|material|content|work|works|library|collection|pack|item|items|clips|clip',
])

const EDIT_VERBS = table(
  ['use|include|incorporate|place|put'],
  [
    'edit|modify|adapt|alter|change|cut|mix|remix|loop|trim|layer|process|transform|shorten|cut up|edit and mix',
    'modification',
  ],
)
const EDITED = table(
  ['used|included|incorporated|placed|put'],
  [
    'edited|modified|adapted|altered|changed|cut|mixed|remixed|looped|trimmed|layered|processed|transformed|shortened',
    'modification',
  ],
)
const AND = table([', and|, or|and|or|,|as well as|and also'])
const PREPOSITIONS = table(['in|on|for|within|as part of|inside'])
const QUALIFIERS = table(
  [
    'any|all|your|your own|both|own|the|finished|new|kinds of|all kinds of|any kind of|types of|personal and|private and',
  ],
  ['any number of|unlimited|as many|an unlimited number of', 'projects'],
  ['commercial', 'earning'],
  [
    'commercial and non-commercial|non-commercial and commercial|commercial or non-commercial|non-commercial or commercial|personal and commercial|personal or commercial|private and commercial|commercial and private|commercial and personal|commercial or personal',
    'earning',
  ],
  ['monetised|monetized', 'earning'],
)
const AS_YOU_LIKE = table(['as you like|as you want|as you wish|as they like'])
const PLACES = table(
  ['video|videos|film|films|production|productions|project|projects|movies|medium|media|videos and films'],
  ['purpose|purposes|use|uses'],
  [
    'online videos|online video|web videos|videos online|films online|videos on the internet|videos on the web|films on the internet|the internet|the web|websites|web sites|social media|online publication|videos published online|videos that are published online|films published online|videos shown online|online use',
    'online',
  ],
  [
    'advertising|paid advertising|paid advertisements|advertisements|adverts|commercials|advertising campaigns',
    'paid-advertising',
  ],
  [
    'client work|work for clients|videos for clients|films for clients|client projects|commissioned work|commissioned videos|client videos',
    'client-work',
  ],
  [
    'broadcast|broadcasts|broadcasting|television|tv|radio|television and radio|television programmes|radio programmes',
    'broadcast',
  ],
  [
    'cinema|cinemas|film festivals|festivals|festival films|films shown at festivals|films shown in cinemas|theatrical films',
    'cinema',
  ],
  ['games|video games|computer games|apps|software|games and apps|games or apps', 'game'],
  ['online', 'online'],
  ['podcasts|audio books|audiobooks|audio plays', 'audio-only'],
  [
    'teaching|education|classrooms|training|internal presentations|presentations|internal use|internal training',
    'internal',
  ],
)
const TAILS = table(
  [
    'worldwide|anywhere in the world|in all countries|in every country|throughout the world|all over the world|in all territories|around the world|anywhere',
    'territory',
  ],
  [
    'for ever|forever|in perpetuity|perpetually|without limit of time|without limit in time|for an unlimited time|permanently',
    'duration',
  ],
  [
    'free of charge|at no cost|for free|royalty-free|without payment|without further payment|without paying a fee|without further fees|without asking|without asking us',
  ],
  ['without a credit|without credit|without attribution|without giving credit|without any credit', 'credit'],
  ['and|,|, and'],
)
const PUBLISH_VERBS = table(['publish|distribute|release|share|upload|post|show|license|put out'])
const EARN_VERBS = table(['monetise|monetize|earn money with|make money with|sell', 'earning'])
const YOUR_VIDEOS = table([
  'your video|your videos|your film|your films|your finished videos|your finished video|the finished video|the finished videos|the video|the videos|your productions|your own videos|videos that use them|your work',
])
const WITH_WORK = table(['with|containing|that contain|that use|which contain|made with'])
const ANY_LICENCE = table([
  'under any licence|under any license|under any terms|under any licence you like|under any license you like|under any licence you choose|under any license you choose|under a licence of your choice|under a license of your choice|under the licence of your choice|under the license of your choice|under whatever licence you like|under whatever license you like',
  'share-alike',
])
const HAND_OVER = table(['hand over|give|deliver|hand|pass on', 'transfer'])
const TO_CLIENTS = table([
  'to clients|to your clients|to your client|to a client|over to clients|over to your clients|to customers|to your customers',
])
const USES_NOUN = table(
  ['use|usage|publication|publishing'],
  ['commercial use|commercial usage', 'earning'],
  ['online use|use online|online publication|publication online|publishing online', 'online'],
  ['broadcast use|broadcasting|use in broadcasts', 'broadcast'],
  ['editing|modification|modifications|adaptation|cutting|mixing|remixing|looping|processing|trimming', 'modification'],
  ['monetisation|monetization', 'earning'],
)
const IS_ALLOWED = table([
  'is allowed|is permitted|is fine|is ok|is okay|is included|is free|is covered|are allowed|are permitted|are fine|are ok|are okay|are included|are covered|is explicitly allowed|is explicitly permitted',
])
const LICENCES = table([
  'this licence|this license|the licence|the license|the right|this right|this permission|the permission|your licence|your license|it|these rights|the rights',
])
const HOLDS = table([
  'is|are|holds|hold|lasts|last|is valid|applies|apply|is given|is granted|are granted|stays valid|remains valid',
])

/** Sentences that free from a credit, as a whole. */
const CREDIT_FREED = [
  /^no (?:credit|attribution|acknowledge?ment) (?:is )?(?:required|needed|necessary|owed|asked for)$/,
  /^(?:credit|attribution|a credit|acknowledge?ment|crediting|crediting us|crediting the maker) is not (?:required|needed|necessary|owed|obligatory|mandatory)$/,
  /^(?:credit|attribution|a credit) is (?:optional|voluntary)$/,
  /^(?:credit|attribution|a credit) is (?:appreciated|welcome) (?:, )?but (?:is )?not (?:required|needed|necessary|obligatory|mandatory)$/,
  /^you (?:do not|don't) (?:have|need) to (?:credit|attribute|name|give credit to|acknowledge) (?:us|me|the maker|the author|anyone|anybody)$/,
  /^you (?:need not|needn't) (?:credit|attribute|name|give credit to|acknowledge) (?:us|me|the maker|the author|anyone|anybody)$/,
  /^you (?:do not|don't) (?:have|need) to give (?:a )?(?:credit|attribution)$/,
  /^there is no need to (?:credit|attribute|name) (?:us|me|the maker|the author|anyone)$/,
]

const ONLINE = table(['online', 'online'])
const WAYS = table(['online', 'online'], ['commercially', 'earning'])
const TO = table(['to'])
const OF = table(['of'])
const EARNED = table(['monetised|monetized|sold', 'earning'])
const HANDED_OVER = table(['handed over|given|delivered', 'transfer'])
const PUBLISHED = table(['published|released|distributed|shown|uploaded|shared|licensed'])

type Form = (words: readonly string[], keys: Set<ClauseKey>) => boolean

const FORMS: readonly Form[] = [
  creditFreed,
  (words, keys) => whole(words, keys, userMay),
  (words, keys) => whole(words, keys, grantorGives),
  (words, keys) => whole(words, keys, workMayBe),
  (words, keys) => whole(words, keys, videosMayBe),
  (words, keys) => whole(words, keys, useIsAllowed),
  (words, keys) => whole(words, keys, licenceHolds),
  (words, keys) => whole(words, keys, rightIsGranted),
]

function whole(words: readonly string[], keys: Set<ClauseKey>, form: (cursor: Cursor) => boolean): boolean {
  const cursor = new Cursor(words, keys)
  if (!form(cursor)) return false
  tails(cursor)
  return cursor.isAtEnd
}

/** What may follow a grant without taking anything from it. */
function tails(cursor: Cursor): void {
  cursor.takeAll(TAILS)
}

function creditFreed(words: readonly string[], keys: Set<ClauseKey>): boolean {
  const sentence = words.join(' ')
  if (!CREDIT_FREED.some((pattern) => pattern.test(sentence))) return false
  keys.add('credit')
  return true
}

/** "You may use and edit the sounds in videos online, worldwide and for ever". */
function userMay(cursor: Cursor): boolean {
  if (!cursor.take(USERS)) return false
  cursor.takeAll(ADVERBS)
  if (!cursor.take(MAY)) return false
  return actions(cursor)
}

/** "We grant you a worldwide right to …", "This licence allows you to …". */
function grantorGives(cursor: Cursor): boolean {
  if (!cursor.take(GRANTORS) || !cursor.take(GIVE)) return false
  if (!cursor.take(USERS)) return false
  cursor.takeAll(ARTICLES)
  licenceWords(cursor)
  if (!cursor.take(RIGHT) && !cursor.take(TO)) return false
  return actions(cursor)
}

/** "You are granted a worldwide, perpetual licence to use …", with or without what it is a licence to. */
function rightIsGranted(cursor: Cursor): boolean {
  if (!cursor.take(USERS) || !cursor.take(IS_GRANTED)) return false
  cursor.takeAll(ARTICLES)
  licenceWords(cursor)
  return cursor.attempt(() => cursor.take(RIGHT) && actions(cursor)) || cursor.take(RIGHT_NOUN)
}

function licenceWords(cursor: Cursor): void {
  while (cursor.take(LICENCE_WORDS)) cursor.take(AND)
}

function actions(cursor: Cursor): boolean {
  cursor.takeAll(ADVERBS)
  if (!action(cursor)) return false
  while (cursor.attempt(() => cursor.take(AND) && nextAction(cursor)));
  return true
}

function nextAction(cursor: Cursor): boolean {
  cursor.take(MAY)
  cursor.takeAll(ADVERBS)
  return action(cursor)
}

function action(cursor: Cursor): boolean {
  return (
    cursor.attempt(() => cursor.take(EARN_VERBS) && cursor.take(YOUR_VIDEOS) && withWork(cursor)) ||
    cursor.attempt(() => cursor.take(HAND_OVER) && cursor.take(YOUR_VIDEOS) && cursor.take(TO_CLIENTS)) ||
    cursor.attempt(() => cursor.take(PUBLISH_VERBS) && publishedVideos(cursor)) ||
    cursor.attempt(() => usedWork(cursor))
  )
}

function usedWork(cursor: Cursor): boolean {
  if (!cursor.take(EDIT_VERBS)) return false
  while (cursor.attempt(() => cursor.take(AND) && cursor.take(EDIT_VERBS)));
  if (!work(cursor)) return false
  cursor.maybe(WAYS)
  cursor.attempt(() => places(cursor))
  tails(cursor)
  return true
}

function publishedVideos(cursor: Cursor): boolean {
  if (!cursor.take(YOUR_VIDEOS)) return false
  withWork(cursor)
  if (cursor.take(ANY_LICENCE)) return true
  return cursor.attempt(() => places(cursor)) || cursor.take(ONLINE) || cursor.take(TAILS)
}

function withWork(cursor: Cursor): boolean {
  cursor.attempt(() => cursor.take(WITH_WORK) && work(cursor))
  return true
}

function work(cursor: Cursor): boolean {
  cursor.takeAll(DETERMINERS)
  return cursor.attempt(() => cursor.takeAll(WORK_ADJECTIVES) && cursor.take(WORKS)) || cursor.take(WORKS)
}

/** "in videos, games and on television". */
function places(cursor: Cursor): boolean {
  if (!cursor.take(PREPOSITIONS) || !place(cursor)) return false
  while (cursor.attempt(() => cursor.take(AND) && cursor.maybe(PREPOSITIONS) && place(cursor)));
  return true
}

function place(cursor: Cursor): boolean {
  if (!cursor.take(PLACES) && !(cursor.takeAll(QUALIFIERS) && cursor.take(PLACES))) return false
  cursor.take(AS_YOU_LIKE)
  cursor.take(ONLINE)
  return true
}

/** "The sounds may be used, edited and mixed in films", "The files are free for use in games". */
function workMayBe(cursor: Cursor): boolean {
  if (!work(cursor)) return false
  cursor.takeAll(ADVERBS)
  if (cursor.take(MAY_BE)) {
    cursor.takeAll(ADVERBS)
    if (!cursor.take(EDITED)) return false
    while (cursor.attempt(() => cursor.take(AND) && cursor.takeAll(ADVERBS) && cursor.take(EDITED)));
  } else if (!cursor.take(ARE_FREE)) return false
  cursor.take(ADVERBS)
  cursor.attempt(() => places(cursor))
  cursor.take(WAYS)
  return true
}

/** "Your videos may be published online, under any licence". */
function videosMayBe(cursor: Cursor): boolean {
  if (!cursor.take(YOUR_VIDEOS)) return false
  withWork(cursor)
  if (!cursor.take(MAY_BE)) return false
  if (cursor.take(EARNED)) return true
  if (cursor.take(HANDED_OVER)) return cursor.take(TO_CLIENTS)
  if (!cursor.take(PUBLISHED)) return false
  if (cursor.take(ANY_LICENCE)) return true
  return cursor.attempt(() => places(cursor)) || cursor.take(ONLINE) || cursor.take(TAILS)
}

/** "Commercial use is allowed", "Use in games and films is permitted", "Editing and mixing are fine". */
function useIsAllowed(cursor: Cursor): boolean {
  cursor.takeAll(ARTICLES)
  if (!cursor.take(USES_NOUN)) return false
  while (cursor.attempt(() => cursor.take(AND) && cursor.take(USES_NOUN)));
  cursor.attempt(() => cursor.take(OF) && work(cursor))
  cursor.attempt(() => places(cursor))
  return cursor.take(IS_ALLOWED)
}

/** "This licence is worldwide and perpetual", "It lasts for ever". */
function licenceHolds(cursor: Cursor): boolean {
  if (!cursor.take(LICENCES) || !cursor.take(HOLDS)) return false
  const before = cursor.at
  for (;;) {
    if (cursor.take(LICENCE_WORDS) || cursor.take(TAILS) || cursor.take(HOLDS)) continue
    return cursor.at > before
  }
}
