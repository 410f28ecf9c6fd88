import type { Part } from './answer'
import type { Condition } from './conditions'
import { type Answers, expressionAnswers, partAnswers } from './points'
import type { QueryPart } from './query'
import { FIELDS } from './segment'
import type { Vocabulary } from './vocabulary'

/** What several parts of a query, from one up to but not including another, answer to together. */
export interface Expression {
  readonly from: number
  readonly to: number
  readonly answers: Answers
}

/** Neighbouring words that are one expression of the vocabulary ("build up") answer to what it means too. */
export function expressionsIn(
  { segment, index }: Part,
  parts: readonly QueryPart[],
  vocabulary: Vocabulary,
): Expression[] {
  const words = parts.map((part) => (part.quoted || part.words.length > 1 ? null : (part.words[0] as string)))
  const found: Expression[] = []
  for (let length = 2; length <= Math.min(vocabulary.longest, words.length); length++) {
    for (let from = 0; from + length <= words.length; from++) {
      const run = words.slice(from, from + length)
      if (run.includes(null) || !vocabulary.related(run.join(' '))) continue
      found.push({ from, to: from + length, answers: expressionAnswers(segment, index, vocabulary, run.join(' ')) })
    }
  }
  return found
}

/** Whether every word that is looked for stands in the title, or in the description, of a sound. @param meant Words that are taken for others. */
export function wordsStandIn(
  part: Part,
  parts: readonly QueryPart[],
  how: {
    readonly vocabulary: Vocabulary
    readonly meant: ReadonlyMap<string, string>
    readonly texts: 'titles' | 'descriptions'
  },
): Condition {
  const { vocabulary, meant, texts } = how
  const wanted = parts.filter(({ not }) => !not)
  const together = expressionsIn(part, wanted, vocabulary)
  const each = wanted.map((one, at) => [
    partAnswers(part.segment, part.index, vocabulary, one, meant.get(one.words[0] ?? '') ?? null),
    ...together.flatMap(({ from, to, answers }) => (at >= from && at < to ? [answers] : [])),
  ])
  const fields = FIELDS.map((field) => (texts === 'titles' ? field.startsWith('title') : field === 'description'))
  return (sound) => each.every((answers) => answers.some((one) => one.standIn(sound, fields)))
}
