import { useState } from 'react'
import type { DeclarationInput } from '../../../contract'
import { messages } from '../../../messages'
import { useDeclare, useTermsList } from '../../api/papers-queries'
import { DialogActions, DialogProblem, DialogTitle, ModalDialog } from '../shared/ModalDialog'
import { TermsChoice, type TermsSaid } from './TermsChoice'

/** Asks where a file is from, from whom, when, and under which terms. "I do not know" is an answer. */
export function DeclareDialog(props: { soundId: number; title: string; onClose: () => void }) {
  const { soundId, title, onClose } = props
  const declare = useDeclare(soundId)
  const filed = useTermsList()
  const [said, setSaid] = useState({ from: '', who: '', when: '', note: '' })
  const [terms, setTerms] = useState<TermsSaid>({ kind: 'unknown' })
  const submit = (event: React.FormEvent): void => {
    event.preventDefault()
    const input: DeclarationInput = { ...said, terms }
    declare.mutate(input, { onSuccess: onClose })
  }
  const field = (key: keyof typeof said, label: string, type = 'text') => (
    <label className="block">
      <span className="small-label block">{label}</span>
      <input
        type={type}
        className="input w-full"
        value={said[key]}
        onChange={(event) => setSaid({ ...said, [key]: event.target.value })}
      />
    </label>
  )
  return (
    <ModalDialog onClose={onClose}>
      <form onSubmit={submit}>
        <DialogTitle className="">{messages.terms.whereIsItFrom}</DialogTitle>
        <p className="quiet mb-4">{messages.terms.whatYouSayHereIs(title)}</p>
        <div className="mb-4 grid gap-4 sm:grid-cols-2">
          {field('from', messages.terms.fromWhereAPageA)}
          {field('who', messages.terms.fromWhom)}
          {field('when', messages.terms.when, 'date')}
          {field('note', messages.terms.anythingElse)}
        </div>
        <TermsChoice
          value={terms}
          onChange={setTerms}
          {...(filed.data
            ? { filed: filed.data.terms.filter((one) => one.sourceName === 'From elsewhere' && !one.isUnconfirmed) }
            : {})}
        />
        <p className="quiet mt-3 text-sm">{messages.terms.everyVerdictUnderThesePapers}</p>
        <DialogProblem error={declare.error} />
        <DialogActions leaveBy="cancel" onLeave={onClose}>
          <button type="submit" className="btn btn-primary" disabled={declare.isPending}>
            {messages.common.save}
          </button>
        </DialogActions>
      </form>
    </ModalDialog>
  )
}
