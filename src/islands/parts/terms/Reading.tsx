import type { DeclarationInput, ProposedClauseWire, ReadingWire } from '../../../contract'
import { CLAUSE_WORDS, limitWords, openSentencesOn, RESTRICTIONS } from '../../../core/rights'
import { messages } from '../../../messages'
import { Quote } from './Reasons'

type TermsSaid = DeclarationInput['terms']
type TextSaid = Extract<TermsSaid, { kind: 'text' }>

const ANSWER_WORDS = { yes: messages.common.yes, no: messages.common.no, duty: messages.terms.withADuty } as const

/** What a text was understood to say. Nothing of it counts until it is confirmed. */
export function Reading(props: { reading: ReadingWire; value: TextSaid; onChange: (terms: TermsSaid) => void }) {
  const { reading, value, onChange } = props
  const { licences, like, clauses, open } = reading
  return (
    <div className="rounded border ruled bg-base-200 p-3">
      {licences.map(({ spdxId, title, by, quote }) => (
        <p key={spdxId} className="mb-2">
          {(by === 'text' ? messages.terms.itIs : messages.terms.itNames)(<strong>{title}</strong>)}{' '}
          <button type="button" className="btn btn-xs" onClick={() => onChange({ kind: 'known', spdxId })}>
            {messages.terms.useThisLicence}
          </button>
          {by !== 'text' && <Quote text={quote} />}
        </p>
      ))}
      {like && <LikeLicence like={like} />}
      {clauses.length === 0 && licences.length === 0 && (
        <p className="mb-2">{messages.terms.itAllowsNothingThatCould}</p>
      )}
      <OpenSentences open={open} value={value} onChange={onChange} />
      {clauses.length > 0 && <p className="small-label mb-1">{messages.terms.confirmWhatItSaysThe}</p>}
      <ul className="space-y-2">
        {clauses.map((clause) => (
          <ClauseLine key={clause.key} clause={clause} open={open} value={value} onChange={onChange} />
        ))}
      </ul>
    </div>
  )
}

/** A text that is nearly a licence: what it has more and what it lacks. */
function LikeLicence({ like }: { like: NonNullable<ReadingWire['like']> }) {
  return (
    <div className="mb-2">
      <p>{messages.terms.itIsLikeButIt(<strong>{like.title}</strong>)}</p>
      <Words label={messages.terms.added} words={like.added} />
      <Words label={messages.terms.missing} words={like.missing} />
    </div>
  )
}

function Words({ label, words }: { label: string; words: readonly string[] }) {
  if (words.length === 0) return null
  return (
    <p className="mt-1 text-sm">
      <span className="small-label">{label}</span>{' '}
      {words.map((place) => (
        <q key={place} className="mr-2">
          {place}
        </q>
      ))}
    </p>
  )
}

/** Sentences that were not understood. Each can be set aside by someone who has read it. */
function OpenSentences(props: { open: ReadingWire['open']; value: TextSaid; onChange: (terms: TermsSaid) => void }) {
  const { open, value, onChange } = props
  if (open.length === 0) return null
  const change = (quote: string, aside: boolean): void =>
    onChange({
      ...value,
      setAside: aside ? [...value.setAside, quote] : value.setAside.filter((one) => one !== quote),
    })
  return (
    <fieldset className="mb-3">
      <legend className="small-label mb-1">{messages.terms.notUnderstoodReadEachAnd}</legend>
      <ul className="max-h-60 space-y-1 overflow-y-auto">
        {open.map(({ quote, keys }) => (
          <li key={quote}>
            <label className="flex items-start gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm mt-0.5"
                checked={value.setAside.includes(quote)}
                onChange={(event) => change(quote, event.target.checked)}
              />
              <span>
                “{quote}”{' '}
                <span className="quiet text-sm">
                  {keys.length === 0
                    ? messages.terms.mayBearOnEverything
                    : keys.map((key) => CLAUSE_WORDS[key]).join(', ')}
                </span>
              </span>
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  )
}

function ClauseLine(props: {
  clause: ProposedClauseWire
  open: ReadingWire['open']
  value: TextSaid
  onChange: (terms: TermsSaid) => void
}) {
  const { clause, open, value, onChange } = props
  const { key, answer, quote, confidence, limit, against } = clause
  const isRestriction = RESTRICTIONS.includes(key)
  const unread =
    answer === 'yes' ? openSentencesOn(key, open).filter(({ quote: one }) => !value.setAside.includes(one)).length : 0
  const said =
    unread > 0
      ? messages.terms.notUnderstoodBesideIt(unread)
      : confidence < 0.7
        ? messages.terms.notSure
        : messages.terms.plainlySaid
  return (
    <li>
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm mt-0.5"
          checked={isRestriction || (value.confirmed.includes(key) && unread === 0)}
          disabled={isRestriction || unread > 0}
          onChange={(event) =>
            onChange({
              ...value,
              confirmed: event.target.checked
                ? [...value.confirmed, key]
                : value.confirmed.filter((one) => one !== key),
            })
          }
        />
        <span>
          {CLAUSE_WORDS[key]}: <strong>{ANSWER_WORDS[answer]}</strong>
          {limit ? ` (${limitWords(limit)})` : ''} <span className="quiet text-sm">{said}</span>
        </span>
      </label>
      <Quote text={quote} />
      {against !== undefined && (
        <p className="quiet text-sm">{messages.terms.itAlsoSaysTheStricter(<q>{against}</q>)}</p>
      )}
    </li>
  )
}
