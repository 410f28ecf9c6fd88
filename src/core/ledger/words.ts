import { CLAUSE_WORDS, type ClauseKey } from '../rights'
import { ledger as messages } from '../wording/ledger'
import type { Json, LedgerEntry } from './chain'

/** An entry for people: one sentence, and what stands under it. */
export interface EntryInWords {
  readonly sentence: string
  readonly lines: readonly string[]
}

type Body = Readonly<Record<string, Json | undefined>>

const VERDICTS: Readonly<Record<string, string>> = {
  clear: messages.clear,
  'owes-credit': messages.owesCredit,
  'no-papers': messages.noPapers,
  'not-allowed': messages.notAllowed,
}

/** What an entry says. Contents that are not as expected are shown as they stand. */
export function entryInWords({ kind, body }: Pick<LedgerEntry, 'kind' | 'body'>): EntryInWords {
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    return { sentence: messages.entryThatCannotBeRead(JSON.stringify(body)), lines: [] }
  return WORDS[kind](body as Body)
}

const WORDS: Readonly<Record<LedgerEntry['kind'], (body: Body) => EntryInWords>> = {
  'terms-seen': (body) =>
    only((body.misfitLabel ? messages.servedMisfit : messages.servedVersion)(body.source, body.title, body.version)),
  'terms-read-again': (body) => ({
    sentence: messages.wasReadAgainFromText(body.title, count(body.changes)),
    lines: listOf(body.changes).map((one) => `${clauseWords(one.key)}: ${one.from} became ${one.to}`),
  }),
  'plan-period': (body) => only(messages.thePlanRunsFromTo(body.source, body.plan, body.planFrom, body.planUntil)),
  acquired: (body) => ({
    sentence: messages.wasAcquiredFromUnder(body.title, body.source, body.grant),
    lines: [messages.papersCopyTerms(body.grantId, short(body.copySha256), short(body.termsSha256))],
  }),
  paid: (body) => only(messages.wasPaidForOrder(body.source, body.sum, body.title, body.tier, body.order)),
  receipt: (body) => only(messages.wasFiledAsEvidencePapers(body.fileName, body.grantId)),
  declared: declaredInWords,
  corrected: (body) =>
    typeof body.takenBack === 'boolean'
      ? only((body.takenBack ? messages.papersWereTakenBack : messages.papersAreInForceAgain)(body.grantId, body.grant))
      : only(messages.papersUnderTookPlacePapers(body.title, body.grantId, body.terms, body.replaces)),
  settled: (body) => only(messages.conditionOnWasMetFor(body.grant, clauseWords(body.point), body.video)),
  checked: checkedInWords,
  answered: (body) =>
    body.scope === 'channel'
      ? only(messages.saidThatVoicesInAll(body.by))
      : body.again === true
        ? only(`Answer ${body.answerId} (${body.point}) was brought back.`)
        : only(
            `${body.by} answered “${body.answer}” to a point (${body.point}) of “${body.video}”${body.reason ? `: ${body.reason}` : '.'}`,
          ),
  'answer-undone': (body) =>
    only(
      body.scope === 'channel' ? messages.voicesInAllVideosAre : `Answer ${body.answerId} (${body.point}) was undone.`,
    ),
  'cleared-away': (body) => only(messages.videosAndChecksThatHad(count(body.videos), count(body.checks))),
}

function declaredInWords(body: Body): EntryInWords {
  if (body.videoId !== undefined) return only(messages.papersWereNamedFor(body.grantId, body.grant, body.video))
  if (body.terms === null) return only(messages.onRecordThatNobodyKnows(body.title))
  const from = [body.who, body.from, body.when].filter((one) => typeof one === 'string' && one !== '').join(', ')
  return only(
    from ? messages.wasDeclaredBy(body.title, body.terms, from) : messages.wasDeclaredToBeUnder(body.title, body.terms),
  )
}

function checkedInWords(body: Body): EntryInWords {
  const heard = messages.soundsListenedForPlacesHeard(body.soundsListenedFor, body.placesHeard)
  if (body.verdicts === undefined) return only(messages.check(body.checkId, heard))
  return {
    sentence: messages.wasCheckedOnCameFor(body.video, heard, body.asOf, body.state, body.uses),
    lines: listOf(body.verdicts).map((one) =>
      [
        `${VERDICTS[String(one.verdict)] ?? one.verdict}: “${one.title}”`,
        one.papersId === null ? '' : messages.onPapersTerms(one.papersId, short(one.termsSha256)),
        one.onTheWordOf ? messages.onTheWordOf(one.onTheWordOf) : '',
      ].join(''),
    ),
  }
}

function clauseWords(key: Json | undefined): string {
  return CLAUSE_WORDS[key as ClauseKey] ?? String(key)
}

function only(sentence: string): EntryInWords {
  return { sentence, lines: [] }
}

function listOf(value: Json | undefined): readonly Body[] {
  return Array.isArray(value) ? value.filter((one) => typeof one === 'object' && one !== null) : []
}

function count(value: Json | undefined): number {
  return Array.isArray(value) ? value.length : 0
}

function short(sha256: Json | undefined): string {
  return typeof sha256 === 'string' ? sha256.slice(0, 12) : 'unknown'
}
