import { CLAUSE_WORDS, type ClauseKey } from '../rights'
import type { Json, LedgerEntry } from './chain'

/** An entry for people: one sentence, and what stands under it. */
export interface EntryInWords {
  readonly sentence: string
  readonly lines: readonly string[]
}

type Body = Readonly<Record<string, Json | undefined>>

const VERDICTS: Readonly<Record<string, string>> = {
  clear: 'Clear',
  'owes-credit': 'Owes credit',
  'no-papers': 'No papers',
  'not-allowed': 'Not allowed',
}

/** What an entry says. Contents that are not as expected are shown as they stand. */
export function entryInWords({ kind, body }: Pick<LedgerEntry, 'kind' | 'body'>): EntryInWords {
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    return { sentence: `An entry that cannot be read: ${JSON.stringify(body)}`, lines: [] }
  return WORDS[kind](body as Body)
}

const WORDS: Readonly<Record<LedgerEntry['kind'], (body: Body) => EntryInWords>> = {
  'terms-seen': (body) =>
    only(
      `${body.source} served “${body.title}”, version ${body.version}${body.misfitLabel ? ', under a label that does not fit its text' : ''}.`,
    ),
  'terms-read-again': (body) => ({
    sentence: `“${body.title}” was read again from its text: ${count(body.changes)} points came out otherwise.`,
    lines: listOf(body.changes).map((one) => `${clauseWords(one.key)}: ${one.from} became ${one.to}`),
  }),
  'plan-period': (body) =>
    only(`${body.source}: the plan “${body.plan}” runs from ${body.planFrom} to ${body.planUntil}.`),
  acquired: (body) => ({
    sentence: `“${body.title}” was acquired from ${body.source} under “${body.grant}”.`,
    lines: [`Papers ${body.grantId} · copy ${short(body.copySha256)} · terms ${short(body.termsSha256)}`],
  }),
  paid: (body) => only(`${body.source} was paid ${body.sum} for “${body.title}”, ${body.tier}: order ${body.order}.`),
  receipt: (body) => only(`“${body.fileName}” was filed as evidence of papers ${body.grantId}.`),
  declared: declaredInWords,
  corrected: (body) =>
    typeof body.takenBack === 'boolean'
      ? only(
          `Papers ${body.grantId}, “${body.grant}”, ${body.takenBack ? 'were taken back' : 'were put into force again'}.`,
        )
      : only(
          `“${body.title}”: papers ${body.grantId} under “${body.terms}” took the place of papers ${body.replaces}.`,
        ),
  settled: (body) =>
    only(`“${body.grant}”: the condition on “${clauseWords(body.point)}” was met for “${body.video}”.`),
  checked: checkedInWords,
  answered: (body) =>
    body.scope === 'channel'
      ? only(`${body.by} said that the voices in all videos are the channel’s own.`)
      : body.again === true
        ? only(`Answer ${body.answerId} (${body.point}) was brought back.`)
        : only(
            `${body.by} answered “${body.answer}” to a point (${body.point}) of “${body.video}”${body.reason ? `: ${body.reason}` : '.'}`,
          ),
  'answer-undone': (body) =>
    only(
      body.scope === 'channel'
        ? 'The voices in all videos are not said to be the channel’s own any more.'
        : `Answer ${body.answerId} (${body.point}) was undone.`,
    ),
  'cleared-away': (body) =>
    only(
      `${count(body.videos)} videos and ${count(body.checks)} checks that had been removed for a month were cleared away.`,
    ),
}

function declaredInWords(body: Body): EntryInWords {
  if (body.videoId !== undefined)
    return only(`Papers ${body.grantId}, “${body.grant}”, were named for “${body.video}”.`)
  if (body.terms === null) return only(`“${body.title}”: it is on record that nobody knows where it is from.`)
  const from = [body.who, body.from, body.when].filter((one) => typeof one === 'string' && one !== '').join(', ')
  return only(`“${body.title}” was declared to be under “${body.terms}”${from ? ` (${from})` : ''}.`)
}

function checkedInWords(body: Body): EntryInWords {
  const heard = `${body.soundsListenedFor} sounds listened for, ${body.placesHeard} places heard`
  if (body.verdicts === undefined) return only(`Check ${body.checkId}: ${heard}.`)
  return {
    sentence: `“${body.video}” was checked: ${heard}. On ${body.asOf} it came to “${body.state}” for ${body.uses}.`,
    lines: listOf(body.verdicts).map((one) =>
      [
        `${VERDICTS[String(one.verdict)] ?? one.verdict}: “${one.title}”`,
        one.papersId === null ? '' : ` on papers ${one.papersId}, terms ${short(one.termsSha256)}`,
        one.onTheWordOf ? `, on the word of ${one.onTheWordOf}` : '',
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
