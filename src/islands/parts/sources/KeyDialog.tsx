import { useEffect, useRef, useState } from 'react'
import type { SourceWire } from '../../../contract'
import type { LibrarySecrets } from '../../../contract/library-account'
import { messages } from '../../../messages'
import { useChangeKey, useKeyOf } from '../../api/account-queries'
import { Failed, Loading } from '../shared/States'
import { KeyFields } from './KeyFields'

/** Takes another key for a library. It is tried first, and never shown again. */
export function KeyDialog({ source, onClose }: { source: SourceWire; onClose: () => void }) {
  const dialogRef = useRef<HTMLDialogElement>(null)
  useEffect(() => dialogRef.current?.showModal(), [])
  const query = useKeyOf(source.id)
  const change = useChangeKey(source.id)
  const [secrets, setSecrets] = useState<LibrarySecrets>({})
  const submit = (event: React.FormEvent): void => {
    event.preventDefault()
    change.mutate(secrets, { onSuccess: () => dialogRef.current?.close() })
  }
  return (
    <dialog ref={dialogRef} className="modal" aria-labelledby="key-title" onClose={onClose}>
      <form className="modal-box border ruled" onSubmit={submit}>
        <h2 id="key-title" className="mb-4 text-2xl font-semibold">
          {messages.sources.keyFor(source.name)}
        </h2>
        {query.isPending && <Loading what={messages.sources.lookingAtTheLibrary} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && <KeyFields signInWith={query.data.signInWith} secrets={secrets} onChange={setSecrets} />}
        <p className="quiet mt-3 text-sm">{messages.sources.theLibraryIsAskedWith}</p>
        {change.error && (
          <p role="alert" className="mt-3 text-error">
            {change.error.message}
          </p>
        )}
        <div className="modal-action">
          <button type="button" className="btn btn-ghost" onClick={() => dialogRef.current?.close()}>
            {messages.common.cancel}
          </button>
          <button
            type="submit"
            className="btn btn-primary"
            disabled={change.isPending || query.data === undefined || query.data.signInWith === 'nothing'}
          >
            {change.isPending ? messages.sources.tryingIt : messages.common.save}
          </button>
        </div>
      </form>
    </dialog>
  )
}
