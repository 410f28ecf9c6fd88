import type { DeclarationInput, ProposedClauseWire, ReadingWire } from '../../../contract'
import { CLAUSE_WORDS, limitWords, openSentencesOn, RESTRICTIONS } from '../../../core/rights'
import { Quote } from './Reasons'

type TermsSaid = DeclarationInput['terms']
type TextSaid = Extract<TermsSaid, { kind: 'text' }>

const ANSWER_WORDS = { yes: 'yes', no: 'no', duty: 'with a duty' } as const

/** What a text was understood to say. Nothing of it counts until it is confirmed. */
export function Reading(props: { reading: ReadingWire; value: TextSaid; onChange: (terms: TermsSaid) => void }) {
  const { reading, value, onChange } = props
  const { licences, like, clauses, open } = reading
  return (
    <div className="rounded border ruled bg-base-200 p-3">
      {licences.map(({ spdxId, title, by, quote }) => (
        <p key={spdxId} className="mb-2">
          It {by === 'text' ? 'is' : 'names'} <strong>{title}</strong>{' '}
          <button type="button" className="btn btn-xs" onClick={() => onChange({ kind: 'known', spdxId })}>
            Use this licence
          </button>
          {by !== 'text' && <Quote text={quote} />}
        </p>
      ))}
      {like && <LikeLicence like={like} />}
      {clauses.length === 0 && licences.length === 0 && (
        <p className="mb-2">It allows nothing that could be made out. Without a confirmed point it allows nothing.</p>
      )}
      <OpenSentences open={open} value={value} onChange={onChange} />
      {clauses.length > 0 && (
        <p className="small-label mb-1">
          Confirm what it says; the rest stays not stated. What it restricts always counts.
        </p>
      )}
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
      <p>
        It is like <strong>{like.title}</strong>, but it is not that licence.
      </p>
      <Words label="Added" words={like.added} />
      <Words label="Missing" words={like.missing} />
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
      <legend className="small-label mb-1">
        Not understood: read each, and tick it if it restricts nothing here. Until then it keeps points from being
        allowed.
      </legend>
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
                  {keys.length === 0 ? 'may bear on everything' : keys.map((key) => CLAUSE_WORDS[key]).join(', ')}
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
  const said = unread > 0 ? `${unread} not understood beside it` : confidence < 0.7 ? 'not sure' : 'plainly said'
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
        <p className="quiet text-sm">
          It also says <q>{against}</q>. The stricter holds.
        </p>
      )}
    </li>
  )
}
