import { trimmedEnd } from '../../trimmed-end'
import type { ClauseKey } from '../terms'
import {
  ADVERBS,
  AND,
  ANY_LICENCE,
  ARE_FREE,
  ARTICLES,
  AS_YOU_LIKE,
  DETERMINERS,
  EARN_VERBS,
  EARNED,
  EDIT_VERBS,
  EDITED,
  GIVE,
  GRANTORS,
  HAND_OVER,
  HANDED_OVER,
  HOLDS,
  IS_ALLOWED,
  IS_GRANTED,
  LICENCE_WORDS,
  LICENCES,
  MAY,
  MAY_BE,
  OF,
  ONLINE,
  PLACES,
  PREPOSITIONS,
  PUBLISH_VERBS,
  PUBLISHED,
  QUALIFIERS,
  RIGHT,
  RIGHT_NOUN,
  TAILS,
  TO,
  TO_CLIENTS,
  USERS,
  USES_NOUN,
  WAYS,
  WITH_WORK,
  WORK_ADJECTIVES,
  WORKS,
  YOUR_VIDEOS,
} from './grant-phrases'
import { Cursor } from './phrase-cursor'

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
  const plain = trimmedEnd(sentence.toLowerCase(), '.!')
    .replace(/&/g, ' and ')
    .replace(/([a-z])\/([a-z])/g, '$1 or $2')
    .replace(/,/g, ' , ')
    .replace(/\b(world|royalty|for)-(wide|free|ever)\b/g, (_, one: string, two: string) =>
      one === 'royalty' ? 'royalty-free' : one + two,
    )
  if (!/^[a-z0-9',\s-]+$/.test(plain)) return null
  return plain.split(/\s+/).filter((word) => word !== '')
}

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
