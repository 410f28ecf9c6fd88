import type { DeclarationInput, TermsSummary } from '../../../contract'
import { KNOWN_LICENCES } from '../../../core/rights'
import { useReadText } from '../../api/papers-queries'
import { Reading } from './Reading'

export type TermsSaid = DeclarationInput['terms']

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
          onPick={() => onChange({ kind: 'text', title: '', text: '', confirmed: [], setAside: [] })}
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
        onChange={(event) => onChange({ ...value, text: event.target.value, confirmed: [], setAside: [] })}
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
