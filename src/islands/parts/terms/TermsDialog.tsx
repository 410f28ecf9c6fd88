import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { TermsText } from '../../../contract'
import { messages } from '../../../messages'
import { ask } from '../../api/client'
import { dayWords } from '../../format/words'
import { Failed, Loading } from '../shared/States'

/** The whole text of one version of terms, as it was served. */
export function TermsDialog({ id, onClose }: { id: number; onClose: () => void }) {
  const dialogRef = useRef<HTMLDialogElement>(null)
  useEffect(() => dialogRef.current?.showModal(), [])
  const query = useQuery({
    queryKey: ['terms', id],
    queryFn: ({ signal }) => ask(`/api/terms/${id}`, TermsText, { signal }),
  })
  return (
    <dialog ref={dialogRef} className="modal" aria-labelledby="terms-title" onClose={onClose}>
      <div className="modal-box flex max-h-[85vh] max-w-3xl flex-col border ruled">
        <h2 id="terms-title" className="text-2xl font-semibold">
          {query.data ? messages.terms.version(query.data.title, query.data.version) : messages.common.terms}
        </h2>
        {query.isPending && <Loading what={messages.terms.fetchingTheText} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && (
          <>
            <p className="quiet mb-3 break-all text-sm">
              {messages.terms.asServedOnSha256(dayWords(query.data.seenAt), query.data.sha256)}
            </p>
            <pre
              // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
              tabIndex={0}
              className="min-h-0 flex-1 overflow-y-auto whitespace-pre-wrap rounded border ruled bg-base-200 p-4 font-sans text-sm"
            >
              {query.data.text}
            </pre>
          </>
        )}
        <div className="modal-action">
          <button type="button" className="btn" onClick={() => dialogRef.current?.close()}>
            {messages.common.close}
          </button>
        </div>
      </div>
    </dialog>
  )
}
