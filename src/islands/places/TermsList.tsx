import { Upload } from 'lucide-react'
import { useRef } from 'react'
import { Link, useLocation } from 'wouter'
import type { PoliciesTaken } from '../../contract'
import { messages } from '../../messages'
import { useImportTerms, useTermsList } from '../api/papers-queries'
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
        {query.isPending && <Loading what={messages.terms.gatheringTheTerms} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data?.terms.length === 0 && (
          <Empty
            title={messages.terms.noTermsYet}
            action={
              <Link href="/sources" className="btn btn-primary">
                {messages.common.connectALibrary}
              </Link>
            }
          >
            {messages.terms.termsComeWithTheLibraries}
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
                    {messages.terms.versionOfSource(terms.sourceName, terms.version)}
                    {terms.versionCount > 1 ? messages.terms.versions(terms.versionCount) : ''}
                    {terms.isUnconfirmed ? messages.terms.toBeConfirmed : ''}
                  </span>
                </span>
                <span className="quiet text-sm">
                  {messages.terms.offeredHere(
                    messages.counts.sounds(terms.offeredCount),
                    messages.counts.copies(terms.copyCount),
                  )}
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
        aria-label={messages.terms.odrlFile}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0]
          event.target.value = ''
          if (file) bring.mutate(file, { onSuccess: (taken) => toOnlyTerms(taken, navigate) })
        }}
      />
      <button type="button" className="btn btn-sm" disabled={bring.isPending} onClick={() => inputRef.current?.click()}>
        <Upload size={15} aria-hidden="true" /> {messages.terms.importAnOdrlFile}
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
    messages.terms.ofTermsToBeConfirmed(messages.counts.versions(newCount)),
    onFileCount > 0 ? messages.terms.onFileAlready(onFileCount) : '',
    agreementCount > 0 ? messages.terms.underThem(messages.counts.agreements(agreementCount)) : '',
    unreadCount > 0 ? messages.terms.couldNotBeRead(unreadCount, firstProblem ?? '') : '',
  ]
  return `${parts.filter(Boolean).join(', ')}.`
}
