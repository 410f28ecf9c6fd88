import { useState } from 'react'
import type { SourceWire } from '../../../contract'
import type { LibrarySecrets } from '../../../contract/library-account'
import { messages } from '../../../messages'
import { useChangeKey, useKeyOf } from '../../api/account-queries'
import { DialogActions, DialogProblem, DialogTitle, ModalDialog } from '../shared/ModalDialog'
import { Failed, Loading } from '../shared/States'
import { KeyFields } from './KeyFields'

/** Takes another key for a library. It is tried first, and never shown again. */
export function KeyDialog({ source, onClose }: { source: SourceWire; onClose: () => void }) {
  const query = useKeyOf(source.id)
  const change = useChangeKey(source.id)
  const [secrets, setSecrets] = useState<LibrarySecrets>({})
  const submit = (event: React.FormEvent): void => {
    event.preventDefault()
    change.mutate(secrets, { onSuccess: onClose })
  }
  return (
    <ModalDialog className="max-w-lg" onClose={onClose}>
      <form onSubmit={submit}>
        <DialogTitle>{messages.sources.keyFor(source.name)}</DialogTitle>
        {query.isPending && <Loading what={messages.sources.lookingAtTheLibrary} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && <KeyFields signInWith={query.data.signInWith} secrets={secrets} onChange={setSecrets} />}
        <p className="quiet mt-3 text-sm">{messages.sources.theLibraryIsAskedWith}</p>
        <DialogProblem error={change.error} />
        <DialogActions leaveBy="cancel" onLeave={onClose}>
          <button
            type="submit"
            className="btn btn-primary"
            disabled={change.isPending || query.data === undefined || query.data.signInWith === 'nothing'}
          >
            {change.isPending ? messages.sources.tryingIt : messages.common.save}
          </button>
        </DialogActions>
      </form>
    </ModalDialog>
  )
}
