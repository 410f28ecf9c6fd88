import { Upload } from 'lucide-react'
import { useRef } from 'react'
import { Link, useLocation } from 'wouter'
import type { PoliciesTaken } from '../../contract'
import { useImportTerms, useTermsList } from '../api/papers-queries'
import { counted } from '../format/words'
import { PapersNav } from '../parts/papers/PapersNav'
import { Empty, Failed, Loading } from '../parts/shared/States'

/** All terms that were ever served or given, the newest version of each. */
export function TermsList() {
  const query = useTermsList()
  return (
    <div className="relative h-full overflow-y-auto">
      <PapersNav>
        <Import />
      </PapersNav>
      <div className="mx-auto max-w-5xl px-8 pb-8">
        {query.isPending && <Loading what="Gathering the terms" />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data?.terms.length === 0 && (
          <Empty
            title="No terms yet"
            action={
              <Link href="/sources" className="btn btn-primary">
                Connect a library
              </Link>
            }
          >
            Terms come with the libraries that you connect, each version whole, as it was served.
          </Empty>
        )}
        <ul>
          {query.data?.terms.map((terms) => (
            <li key={terms.id} className="border-t ruled">
              <Link
                href={`/papers/terms/${terms.id}`}
                className="grid grid-cols-[1fr_auto] items-baseline gap-6 px-2 py-3 hover:bg-base-200"
              >
                <span>
                  <span className="text-lg font-semibold">{terms.title}</span>{' '}
                  <span className="quiet">
                    · {terms.sourceName} · version {terms.version}
                    {terms.versionCount > 1 ? `, ${terms.versionCount} versions` : ''}
                    {terms.isUnconfirmed ? ' · to be confirmed' : ''}
                  </span>
                </span>
                <span className="quiet text-sm">
                  {counted(terms.offeredCount, 'sound')} offered, {counted(terms.copyCount, 'copy', 'copies')} here
                </span>
              </Link>
            </li>
          ))}
        </ul>
      </div>
    </div>
  )
}

/** Brings ODRL policies in as terms: one leads to its page, of many it is said what came of them. */
function Import() {
  const bring = useImportTerms()
  const [, navigate] = useLocation()
  const inputRef = useRef<HTMLInputElement>(null)
  return (
    <div className="ml-auto flex items-center gap-3">
      {bring.data && bring.data.termsIds.length !== 1 && <p role="status">{takenWords(bring.data)}</p>}
      {bring.error && (
        <p role="alert" className="text-error">
          {bring.error.message}
        </p>
      )}
      <input
        ref={inputRef}
        type="file"
        accept=".json,.jsonld,application/json,application/ld+json"
        aria-label="ODRL file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0]
          event.target.value = ''
          if (file) bring.mutate(file, { onSuccess: (taken) => toOnlyTerms(taken, navigate) })
        }}
      />
      <button type="button" className="btn btn-sm" disabled={bring.isPending} onClick={() => inputRef.current?.click()}>
        <Upload size={15} aria-hidden="true" /> Import an ODRL file
      </button>
    </div>
  )
}

function toOnlyTerms({ termsIds }: PoliciesTaken, navigate: (to: string) => void): void {
  const [only, ...more] = termsIds
  if (only !== undefined && more.length === 0) navigate(`/papers/terms/${only}`)
}

function takenWords({ newCount, onFileCount, agreementCount, unreadCount, firstProblem }: PoliciesTaken): string {
  const parts = [
    `${counted(newCount, 'version')} of terms to be confirmed`,
    onFileCount > 0 ? `${onFileCount} on file already` : '',
    agreementCount > 0 ? `${counted(agreementCount, 'agreement')} under them` : '',
    unreadCount > 0 ? `${unreadCount} could not be read (${firstProblem ?? ''})` : '',
  ]
  return `${parts.filter(Boolean).join(', ')}.`
}
