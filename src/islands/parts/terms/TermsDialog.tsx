import { useQuery } from '@tanstack/react-query'
import { TermsText } from '../../../contract'
import { messages } from '../../../messages'
import { ask } from '../../api/client'
import { dayWords } from '../../format/words'
import { DialogActions, DialogTitle, ModalDialog } from '../shared/ModalDialog'
import { Failed, Loading } from '../shared/States'

/** The whole text of one version of terms, as it was served. */
export function TermsDialog({ id, onClose }: { id: number; onClose: () => void }) {
  const query = useQuery({
    queryKey: ['terms', id],
    queryFn: ({ signal }) => ask(`/api/terms/${id}`, TermsText, { signal }),
  })
  return (
    <ModalDialog className="max-w-3xl" isClosedBeside onClose={onClose}>
      <div className="flex max-h-[calc(85vh-3rem)] flex-col">
        <DialogTitle className="">
          {query.data ? messages.terms.version(query.data.title, query.data.version) : messages.common.terms}
        </DialogTitle>
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
        <DialogActions leaveBy="close" onLeave={onClose} />
      </div>
    </ModalDialog>
  )
}
