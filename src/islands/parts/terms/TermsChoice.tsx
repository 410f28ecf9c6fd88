import type { DeclarationInput, TermsSummary } from '../../../contract'
import { KNOWN_LICENCES } from '../../../core/rights'
import { messages } from '../../../messages'
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
      <legend className="small-label mb-1">{messages.terms.underWhichTerms}</legend>
      <div className="flex flex-wrap gap-x-5 gap-y-1">
        <Choice
          on={value.kind === 'unknown'}
          label={messages.terms.iDoNotKnow}
          onPick={() => onChange({ kind: 'unknown' })}
        />
        <Choice
          on={value.kind === 'own'}
          label={messages.terms.iMadeItMyself}
          onPick={() => onChange({ kind: 'own' })}
        />
        <Choice
          on={value.kind === 'known'}
          label={messages.terms.aKnownLicence}
          onPick={() => onChange({ kind: 'known', spdxId: first })}
        />
        {filed && filed.length > 0 && (
          <Choice
            on={value.kind === 'filed'}
            label={messages.terms.termsOnFile}
            onPick={() => onChange({ kind: 'filed', termsId: filed[0]?.id ?? 0 })}
          />
        )}
        <Choice
          on={value.kind === 'text'}
          label={messages.terms.aText}
          onPick={() => onChange({ kind: 'text', title: '', text: '', confirmed: [], setAside: [] })}
        />
      </div>
      {value.kind === 'unknown' && <p className="quiet mt-2 text-sm">{messages.terms.thenItHasNoPapers}</p>}
      {value.kind === 'own' && <p className="quiet mt-2 text-sm">{messages.terms.thenEveryUseIsAllowed}</p>}
      {value.kind === 'known' && (
        <select
          aria-label={messages.terms.licence}
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
          aria-label={messages.terms.termsOnFile}
          className="select mt-2 w-full"
          value={value.termsId}
          onChange={(event) => onChange({ kind: 'filed', termsId: Number(event.target.value) })}
        >
          {filed.map(({ id, title, version }) => (
            <option key={id} value={id}>
              {messages.terms.version(title, version)}
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
        aria-label={messages.terms.nameOfTheTerms}
        placeholder={messages.terms.whatTheseTermsAreCalled}
        value={value.title}
        onChange={(event) => onChange({ ...value, title: event.target.value })}
      />
      <textarea
        className="textarea h-36 w-full"
        aria-label={messages.terms.textOfTheTerms}
        placeholder={messages.terms.theWholeTextAnAddress}
        value={value.text}
        onChange={(event) => onChange({ ...value, text: event.target.value, confirmed: [], setAside: [] })}
      />
      <button
        type="button"
        className="btn btn-sm"
        disabled={read.isPending || value.text.trim() === ''}
        onClick={() => read.mutate(value.text)}
      >
        {messages.terms.readIt}
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
