import type { DeclarationInput, ReadingWire, TermsSummary } from '../../../contract'
import { CLAUSE_WORDS, KNOWN_LICENCES, limitWords, RESTRICTIONS } from '../../../core/rights'
import { useReadText } from '../../api/papers-queries'
import { Quote } from './Reasons'

export type TermsSaid = DeclarationInput['terms']

const ANSWER_WORDS = { yes: 'yes', no: 'no', duty: 'with a duty' } as const

/** Under which terms: not known, a licence that is built in, or a text that is read together. */
export function TermsChoice(props: {
  value: TermsSaid
  onChange: (terms: TermsSaid) => void
  /** Terms that are here already and may be chosen. */
  filed?: readonly TermsSummary[]
}) {
  const { value, onChange, filed } = props
  const first = [...KNOWN_LICENCES.keys()][0] as string
  return (
    <fieldset>
      <legend className="small-label mb-1">Under which terms</legend>
      <div className="flex flex-wrap gap-x-5 gap-y-1">
        <Choice on={value.kind === 'unknown'} label="I do not know" onPick={() => onChange({ kind: 'unknown' })} />
        <Choice on={value.kind === 'own'} label="I made it myself" onPick={() => onChange({ kind: 'own' })} />
        <Choice
          on={value.kind === 'known'}
          label="A known licence"
          onPick={() => onChange({ kind: 'known', spdxId: first })}
        />
        {filed && filed.length > 0 && (
          <Choice
            on={value.kind === 'filed'}
            label="Terms on file"
            onPick={() => onChange({ kind: 'filed', termsId: filed[0]?.id ?? 0 })}
          />
        )}
        <Choice
          on={value.kind === 'text'}
          label="A text"
          onPick={() => onChange({ kind: 'text', title: '', text: '', confirmed: [] })}
        />
      </div>
      {value.kind === 'unknown' && (
        <p className="quiet mt-2 text-sm">Then it has no papers, and shows as such wherever it is heard.</p>
      )}
      {value.kind === 'own' && (
        <p className="quiet mt-2 text-sm">Then every use is allowed, by your word that all rights in it are yours.</p>
      )}
      {value.kind === 'known' && (
        <select
          aria-label="Licence"
          className="select mt-2 w-full"
          value={value.spdxId}
          onChange={(event) => onChange({ kind: 'known', spdxId: event.target.value })}
        >
          {[...KNOWN_LICENCES.values()].map(({ spdxId, title }) => (
            <option key={spdxId} value={spdxId}>
              {title}
            </option>
          ))}
        </select>
      )}
      {value.kind === 'filed' && filed && (
        <select
          aria-label="Terms on file"
          className="select mt-2 w-full"
          value={value.termsId}
          onChange={(event) => onChange({ kind: 'filed', termsId: Number(event.target.value) })}
        >
          {filed.map(({ id, title, version }) => (
            <option key={id} value={id}>
              {title}, version {version}
            </option>
          ))}
        </select>
      )}
      {value.kind === 'text' && <TextTerms value={value} onChange={onChange} />}
    </fieldset>
  )
}

function Choice({ on, label, onPick }: { on: boolean; label: string; onPick: () => void }) {
  return (
    <label className="flex items-center gap-2">
      <input type="radio" name="terms-kind" className="radio radio-sm" checked={on} onChange={onPick} />
      {label}
    </label>
  )
}

function TextTerms(props: { value: Extract<TermsSaid, { kind: 'text' }>; onChange: (terms: TermsSaid) => void }) {
  const { value, onChange } = props
  const read = useReadText()
  return (
    <div className="mt-2 space-y-2">
      <input
        className="input w-full"
        aria-label="Name of the terms"
        placeholder="what these terms are called"
        value={value.title}
        onChange={(event) => onChange({ ...value, title: event.target.value })}
      />
      <textarea
        className="textarea h-36 w-full"
        aria-label="Text of the terms"
        placeholder="the whole text, an address, or a licence tag"
        value={value.text}
        onChange={(event) => onChange({ ...value, text: event.target.value, confirmed: [] })}
      />
      <button
        type="button"
        className="btn btn-sm"
        disabled={read.isPending || value.text.trim() === ''}
        onClick={() => read.mutate(value.text)}
      >
        Read it
      </button>
      {read.error && (
        <p role="alert" className="text-error">
          {read.error.message}
        </p>
      )}
      {read.data && <Reading reading={read.data} value={value} onChange={onChange} />}
    </div>
  )
}

/** What the text was understood to say. Nothing of it counts until it is confirmed. */
export function Reading(props: {
  reading: ReadingWire
  value: Extract<TermsSaid, { kind: 'text' }>
  onChange: (terms: TermsSaid) => void
}) {
  const { reading, value, onChange } = props
  const { licences } = reading
  return (
    <div className="rounded border ruled bg-base-200 p-3">
      {licences.map(({ spdxId, title, by, quote }) => (
        <p key={spdxId} className="mb-2">
          It {by === 'text' ? 'is' : 'names'} <strong>{title}</strong>{' '}
          <button type="button" className="btn btn-xs" onClick={() => onChange({ kind: 'known', spdxId })}>
            Take this licence
          </button>
          {by !== 'text' && <Quote text={quote} />}
        </p>
      ))}
      {reading.clauses.length === 0 && licences.length === 0 && (
        <p>It says nothing that could be made out. Without a confirmed point it allows nothing.</p>
      )}
      {reading.clauses.length > 0 && (
        <p className="small-label mb-1">
          Confirm what it says; the rest stays not stated. What it restricts always counts.
        </p>
      )}
      <ul className="space-y-2">
        {reading.clauses.map(({ key, answer, quote, confidence, limit }) => (
          <li key={key}>
            <label className="flex items-start gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm mt-0.5"
                checked={value.confirmed.includes(key) || RESTRICTIONS.includes(key)}
                disabled={RESTRICTIONS.includes(key)}
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
                {limit ? ` (${limitWords(limit)})` : ''}{' '}
                <span className="quiet text-sm">{confidence < 0.7 ? 'not sure' : 'plainly said'}</span>
              </span>
            </label>
            <Quote text={quote} />
          </li>
        ))}
      </ul>
    </div>
  )
}
