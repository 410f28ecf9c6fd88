import { useState } from 'react'
import { messages } from '../../../messages'
import { useAddFolder } from '../../api/papers-queries'
import { DialogActions, DialogProblem, DialogTitle, ModalDialog } from '../shared/ModalDialog'
import { TermsChoice, type TermsSaid } from '../terms/TermsChoice'

/** Adds a folder as a source: its path, a name, and papers for everything in it if the creator has any. */
export function FolderDialog({ onClose }: { onClose: () => void }) {
  const add = useAddFolder()
  const [path, setPath] = useState('')
  const [name, setName] = useState('')
  const [terms, setTerms] = useState<TermsSaid>({ kind: 'unknown' })
  const submit = (event: React.FormEvent): void => {
    event.preventDefault()
    const defaultTerms = terms.kind === 'unknown' || terms.kind === 'filed' ? null : terms
    add.mutate({ path, name, defaultTerms }, { onSuccess: onClose })
  }
  return (
    <ModalDialog onClose={onClose}>
      <form onSubmit={submit}>
        <DialogTitle>{messages.sources.aFolderOfYourOwn}</DialogTitle>
        <label className="mb-4 block">
          <span className="small-label block">{messages.sources.pathOnThisMachine}</span>
          <input
            className="input w-full"
            required
            placeholder={messages.sources.homeYouSounds}
            value={path}
            onChange={(event) => setPath(event.target.value)}
          />
        </label>
        <label className="mb-4 block">
          <span className="small-label block">{messages.sources.nameItsOwnNameWhen}</span>
          <input className="input w-full" value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <TermsChoice value={terms} onChange={setTerms} />
        <p className="quiet mt-2 text-sm">{messages.sources.theTermsStandForEvery}</p>
        <DialogProblem error={add.error} />
        <DialogActions leaveBy="cancel" onLeave={onClose}>
          <button type="submit" className="btn btn-primary" disabled={add.isPending}>
            {messages.sources.addFolder}
          </button>
        </DialogActions>
      </form>
    </ModalDialog>
  )
}
