import { useVirtualizer } from '@tanstack/react-virtual'
import { Download, ShieldCheck } from 'lucide-react'
import { useEffect, useRef } from 'react'
import type { LedgerPage, LedgerReport } from '../../contract'
import { messages } from '../../messages'
import { isUnderWay } from '../api/job-list'
import { useJobOf } from '../api/jobs'
import { useLedger, useVerifyLedger } from '../api/ledger-queries'
import { momentWords } from '../format/words'
import { KeptHeadForm } from '../parts/papers/KeptHeadForm'
import { PapersNav } from '../parts/papers/PapersNav'
import { Empty, Failed, Loading } from '../parts/shared/States'

type Entry = LedgerPage['entries'][number]

/** The ledger: everything that happened, whether it still holds, and its head to be kept elsewhere. */
export function LedgerPlace() {
  const query = useLedger()
  const first = query.data?.pages[0]
  const entries = query.data?.pages.flatMap((page) => page.entries) ?? []
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_20.500rem] max-lg:grid-cols-1">
      <section aria-label={messages.papers.entriesOfTheLedger} className="flex min-h-0 min-w-0 flex-col">
        <PapersNav />
        {query.isPending && <Loading what={messages.papers.openingTheLedger} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {first && entries.length === 0 && (
          <Empty title={messages.papers.nothingHasHappenedYet} action={null}>
            {messages.papers.everyDownloadPurchaseDeclarationCheck}
          </Empty>
        )}
        {entries.length > 0 && (
          <Entries
            entries={entries}
            onEnd={() => {
              if (query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage()
            }}
          />
        )}
      </section>
      <aside
        aria-label={messages.papers.whetherTheLedgerHolds}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
        tabIndex={0}
        className="min-h-0 space-y-7 overflow-y-auto border-l ruled bg-base-200 p-6 max-lg:border-t"
      >
        {first && (
          <>
            <Holds report={first.report} headNumber={first.head.number} />
            <Head head={first.head} />
            <KeptHeadForm />
          </>
        )}
      </aside>
    </div>
  )
}

function Entries({ entries, onEnd }: { entries: readonly Entry[]; onEnd: () => void }) {
  const scrollRef = useRef<HTMLElement>(null)
  const virtual = useVirtualizer({
    count: entries.length,
    getScrollElement: () => scrollRef.current,
    estimateSize: () => 56,
    overscan: 12,
    getItemKey: (index) => entries[index]?.number ?? index,
  })
  const items = virtual.getVirtualItems()
  const lastShown = items.at(-1)?.index ?? 0
  useEffect(() => {
    if (lastShown >= entries.length - 20) onEnd()
  })
  return (
    <section
      ref={scrollRef}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
      tabIndex={0}
      aria-label={messages.papers.entriesTheNewestFirst}
      className="min-h-0 flex-1 overflow-y-auto border-t ruled"
    >
      <ol className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const entry = entries[item.index]
          return entry ? (
            <li
              key={item.key}
              ref={virtual.measureElement}
              data-index={item.index}
              className="absolute inset-x-0 grid grid-cols-[4rem_minmax(0,1fr)] gap-x-3 border-b ruled px-4 py-2"
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <EntryLine entry={entry} />
            </li>
          ) : null
        })}
      </ol>
    </section>
  )
}

function EntryLine({ entry }: { entry: Entry }) {
  const { number, at, hash, sentence, lines } = entry
  return (
    <>
      <span className="quiet text-right tabular-nums">{number}</span>
      <div className="min-w-0 [overflow-wrap:anywhere]">
        <p className="leading-snug">{sentence}</p>
        {lines.length > 0 && (
          <details className="mt-0.5 text-sm">
            <summary className="cursor-pointer">{messages.papers.more(messages.counts.lines(lines.length))}</summary>
            <ul className="mt-1 space-y-0.5 pl-4">
              {lines.map((line, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: lines of an entry never change
                <li key={index}>{line}</li>
              ))}
            </ul>
          </details>
        )}
        <p className="quiet text-sm">
          {momentWords(at)} · <code title={hash}>{hash.slice(0, 12)}</code>
        </p>
      </div>
    </>
  )
}

/** What the last verification came to, and a new one. */
function Holds({ report, headNumber }: { report: LedgerReport | null; headNumber: number }) {
  const verify = useVerifyLedger()
  const job = useJobOf('verify', 'all')
  const running = isUnderWay(job)
  return (
    <section aria-labelledby="ledger-holds">
      <h2 id="ledger-holds" className="mb-2 text-xl font-semibold">
        {messages.papers.doesItHold}
      </h2>
      {report ? (
        <Report report={report} headNumber={headNumber} />
      ) : (
        <p className="quiet">{messages.papers.notVerifiedYet}</p>
      )}
      {verify.error && (
        <p role="alert" className="mt-2 text-error">
          {verify.error.message}
        </p>
      )}
      <button
        type="button"
        className="btn btn-primary btn-sm mt-3"
        disabled={verify.isPending || running}
        onClick={() => verify.mutate()}
      >
        <ShieldCheck size={15} aria-hidden="true" />
        {running ? messages.papers.verifying(Math.round(job.progressFraction * 100)) : messages.papers.verifyNow}
      </button>
    </section>
  )
}

function Report({ report, headNumber }: { report: LedgerReport; headNumber: number }) {
  const { at, entries, broken, mismatches, mismatchCount } = report
  const isWhole = broken === null && mismatchCount === 0
  const since = headNumber - entries
  return (
    <div>
      <p role="status" className={isWhole ? 'font-semibold' : 'font-semibold text-error'}>
        {broken ??
          (isWhole
            ? messages.papers.andEverythingOnFileWere(messages.counts.entries(entries))
            : messages.papers.notAsTheLedgerSays(messages.counts.thingsAre(mismatchCount)))}
      </p>
      <p className="quiet text-sm">
        {momentWords(at)}
        {since > 0 ? messages.papers.since(messages.counts.entries(since)) : ''}
      </p>
      {mismatches.length > 0 && (
        <ul className="mt-2 max-h-72 space-y-1 overflow-y-auto border-l-2 border-error pl-3 text-sm">
          {mismatches.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
      )}
    </div>
  )
}

function Head({ head }: { head: LedgerPage['head'] }) {
  const line = `${head.number}:${head.hash}`
  return (
    <section aria-labelledby="ledger-head">
      <h2 id="ledger-head" className="mb-2 text-xl font-semibold">
        {messages.papers.theLastEntry}
      </h2>
      <p className="mb-2">{messages.papers.keepThisLineSomewhereElse}</p>
      <code className="block select-all break-all rounded border ruled bg-base-100 p-2 text-sm">{line}</code>
      <a
        className="btn btn-sm btn-outline mt-3 border-base-content/40"
        href={`data:text/plain;charset=utf-8,${encodeURIComponent(`${line}\n`)}`}
        download={messages.papers.ledgerTxt(head.number)}
      >
        <Download size={15} aria-hidden="true" /> {messages.papers.saveTheLine}
      </a>
    </section>
  )
}
