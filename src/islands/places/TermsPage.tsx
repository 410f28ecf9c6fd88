import { Download } from 'lucide-react'
import { Link } from 'wouter'
import type { TermsPage as Page } from '../../contract'
import { CLAUSE_WORDS, limitWords } from '../../core/rights'
import { messages } from '../../messages'
import { useTermsPage } from '../api/papers-queries'
import { dayWords } from '../format/words'
import { PapersNav } from '../parts/papers/PapersNav'
import { Failed, Loading } from '../parts/shared/States'
import { ShapeMark } from '../parts/shared/VerdictMark'
import { ConfirmPolicy } from '../parts/terms/ConfirmPolicy'
import { Quote } from '../parts/terms/Reasons'

/** One version of terms: plain words, every clause with its quote, what changed, who uses it, and the whole text. */
export function TermsPage({ id }: { id: number }) {
  const query = useTermsPage(id)
  return (
    <div className="relative h-full overflow-y-auto">
      <PapersNav />
      {query.isPending && <Loading what={messages.terms.readingTheTerms} />}
      {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
      {query.data && <Terms page={query.data} />}
    </div>
  )
}

function Terms({ page }: { page: Page }) {
  return (
    <article className="mx-auto max-w-6xl px-8 pb-10">
      <header className="mb-5 flex flex-wrap items-end justify-between gap-4">
        <div>
          <h2 className="text-3xl font-semibold">{page.title}</h2>
          <p className="quiet">
            {messages.terms.versionFirstSeenOn(page.sourceName, page.version, dayWords(page.seenAt))}
            {page.spdxId ? ` · ${page.spdxId}` : ''}
          </p>
          <p className="quiet break-all text-sm">{messages.terms.sha256OfTheText(<code>{page.sha256}</code>)}</p>
        </div>
        <a className="btn btn-sm" href={`/api/terms/${page.id}/odrl`} download>
          <Download size={15} aria-hidden="true" /> {messages.terms.odrl}
        </a>
      </header>
      {page.versions.length > 1 && <Versions page={page} />}
      {page.toConfirm && <ConfirmPolicy page={page} keys={page.toConfirm} />}
      <PlainWords page={page} />
      <div className="grid gap-x-10 gap-y-8 lg:grid-cols-2">
        <Clauses page={page} />
        <div className="space-y-8">
          {page.differences && <Differences page={page} />}
          <Users page={page} />
          <section>
            <h3 className="mb-2 border-b ruled pb-1 text-lg font-semibold">{messages.terms.theWholeText}</h3>
            <pre
              // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
              tabIndex={0}
              className="max-h-[32rem] overflow-y-auto whitespace-pre-wrap rounded border ruled bg-base-200 p-4 font-sans text-sm"
            >
              {page.text}
            </pre>
          </section>
        </div>
      </div>
    </article>
  )
}

function Versions({ page }: { page: Page }) {
  return (
    <nav aria-label={messages.terms.versionsHeading} className="mb-5 flex flex-wrap gap-2">
      {page.versions.map(({ id, version, seenAt }) => (
        <Link
          key={id}
          href={`/papers/terms/${id}`}
          aria-current={id === page.id ? 'page' : undefined}
          className={`btn btn-sm ${id === page.id ? 'btn-neutral' : 'btn-outline border-base-content/40'}`}
        >
          {messages.terms.versionOfDay(version, dayWords(seenAt))}
        </Link>
      ))}
    </nav>
  )
}

function PlainWords({ page }: { page: Page }) {
  const { may, mayNot, owed, silent } = page.plain
  const parts = [
    { name: messages.terms.youMay, words: may, shape: 'disc' },
    { name: messages.terms.youMayNot, words: mayNot, shape: 'barred' },
    { name: messages.terms.youOwe, words: owed, shape: 'half' },
    { name: messages.terms.notStatedSoNotAllowed, words: silent, shape: 'dotted' },
  ] as const
  return (
    <section
      aria-label={messages.terms.inPlainWords}
      className="mb-8 grid gap-6 border-y ruled py-5 sm:grid-cols-2 lg:grid-cols-4"
    >
      {parts.map(({ name, words, shape }) => (
        <div key={name}>
          <h3 className="mb-1.5 flex items-center gap-2 font-semibold">
            <ShapeMark shape={shape} /> {name}
          </h3>
          {words.length === 0 ? (
            <p className="quiet">{messages.terms.nothing}</p>
          ) : (
            <ul className="space-y-0.5 leading-snug">
              {words.map((word) => (
                <li key={word}>{word}</li>
              ))}
            </ul>
          )}
        </div>
      ))}
    </section>
  )
}

const ANSWERS = {
  yes: { shape: 'disc', word: messages.common.yes },
  no: { shape: 'barred', word: messages.common.no },
  duty: { shape: 'half', word: messages.terms.withADuty },
  'not-stated': { shape: 'dotted', word: messages.terms.notStated },
} as const

function Clauses({ page }: { page: Page }) {
  return (
    <section>
      <h3 className="mb-2 border-b ruled pb-1 text-lg font-semibold">{messages.terms.clauseByClause}</h3>
      <ul className="space-y-3">
        {page.clauses.map(({ key, answer, quote, limit }) => (
          <li key={key} className="grid grid-cols-[1rem_1fr] gap-2">
            <span className="pt-1">
              <ShapeMark shape={ANSWERS[answer].shape} sizePx={12} />
            </span>
            <div>
              <strong>{CLAUSE_WORDS[key]}: </strong>
              {ANSWERS[answer].word}
              {limit ? ` (${limitWords(limit)})` : ''}
              {quote && <Quote text={quote} />}
            </div>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Differences({ page }: { page: Page }) {
  const isWhole = page.differences?.every(({ kind }) => kind !== 'same')
  return (
    <section>
      <h3 className="mb-2 border-b ruled pb-1 text-lg font-semibold">{messages.terms.whatChangedSinceTheVersion}</h3>
      {isWhole && <p className="mb-2 text-sm">{messages.terms.theTwoVersionsAreToo}</p>}
      <p className="whitespace-pre-wrap text-sm leading-relaxed">
        {page.differences?.map((part, index) => {
          const key = `${index} ${part.kind}`
          if (part.kind === 'gone')
            return (
              <del key={key} className="bg-error/15 decoration-error decoration-2">
                <span className="sr-only">{messages.terms.gone} </span>
                {part.text}
              </del>
            )
          if (part.kind === 'new')
            return (
              <ins key={key} className="bg-success/20 decoration-success decoration-2 underline-offset-2">
                <span className="sr-only">{messages.terms.new} </span>
                {part.text}
              </ins>
            )
          return <span key={key}>{part.text}</span>
        })}
      </p>
    </section>
  )
}

function Users({ page }: { page: Page }) {
  return (
    <section>
      <h3 className="mb-2 border-b ruled pb-1 text-lg font-semibold">{messages.terms.whoUsesIt}</h3>
      <p>
        {messages.terms.offeredUnderThisVersionHere(
          messages.counts.sounds(page.offeredCount),
          messages.counts.copies(page.copyCount),
        )}
      </p>
      {page.videos.length > 0 && (
        <p className="mt-1">
          {messages.terms.heardIn}{' '}
          {page.videos.map(({ id, title }, index) => (
            <span key={id}>
              {index > 0 ? ', ' : ''}
              <Link href={`/videos/${id}`} className="underline underline-offset-2">
                {title}
              </Link>
            </span>
          ))}
          .
        </p>
      )}
      {page.copies.length > 0 && (
        <ul className="quiet mt-1 columns-2 text-sm">
          {page.copies.map(({ soundId, title, acquiredAt }) => (
            <li key={`${soundId} ${acquiredAt}`} className="truncate">
              {title}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
