import { Download, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link } from 'wouter'
import type { PapersRow } from '../../contract'
import { messages } from '../../messages'
import { usePapers } from '../api/papers-queries'
import { VERDICT_WORDS } from '../format/words'
import { PapersGrid } from '../parts/papers/PapersGrid'
import { PapersNav } from '../parts/papers/PapersNav'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { VerdictShape } from '../parts/shared/VerdictMark'
import { SoundPanel } from '../parts/sound/SoundPanel'
import { filteredPapers, NO_FILTER, type PapersFilter } from '../state/papers-filter'

/** Papers: every copy, what its papers allow in every use, when they expire, what is owed. */
export function Papers() {
  const query = usePapers()
  const [filter, setFilter] = useState<PapersFilter>(() => ({
    ...NO_FILTER,
    text: new URLSearchParams(location.search).get('q') ?? '',
  }))
  const [selected, setSelected] = useState<PapersRow | null>(null)
  const rows = query.data?.rows ?? []
  const shown = useMemo(
    () => (query.data ? filteredPapers(query.data.rows, filter, query.data.today) : []),
    [query.data, filter],
  )
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_20.500rem] max-lg:grid-cols-1">
      <section aria-label={messages.papers.copiesAndTheirPapers} className="flex min-h-0 min-w-0 flex-col">
        <PapersNav>
          <div className="ml-auto flex gap-1">
            {(['csv', 'json', 'odrl'] as const).map((format) => (
              <a key={format} className="btn btn-ghost btn-sm" href={`/api/papers/export?format=${format}`} download>
                <Download size={15} aria-hidden="true" /> {format.toUpperCase()}
              </a>
            ))}
          </div>
        </PapersNav>
        {query.isPending && <Loading what={messages.papers.gatheringThePapers} />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && rows.length === 0 && (
          <Empty
            title={messages.papers.noCopiesYet}
            action={
              <Link href="/find" className="btn btn-primary">
                {messages.common.findASound}
              </Link>
            }
          >
            {messages.papers.everySoundThatYouDownload}
          </Empty>
        )}
        {rows.length > 0 && <Filters filter={filter} onChange={setFilter} shown={shown.length} total={rows.length} />}
        {rows.length > 0 && shown.length === 0 && (
          <Empty
            title={messages.papers.nothingMatches}
            action={
              <button type="button" className="btn" onClick={() => setFilter(NO_FILTER)}>
                {messages.papers.showAllCopies(rows.length)}
              </button>
            }
          >
            {messages.papers.theFiltersAboveHide(messages.counts.copies(rows.length))}
          </Empty>
        )}
        {shown.length > 0 && <PapersGrid rows={shown} selected={selected} onSelect={setSelected} />}
      </section>
      <aside
        aria-label={messages.papers.papersOfTheSelectedSound}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
        tabIndex={0}
        className="relative min-h-0 overflow-y-auto border-l ruled bg-base-200 max-lg:border-t"
      >
        {selected === null ? (
          <div className="p-6">
            <h2 className="mb-2 text-xl font-semibold">{messages.papers.whatEachMarkSays}</h2>
            <ul className="space-y-1.5">
              {(['clear', 'owes-credit', 'not-allowed', 'no-papers'] as const).map((verdict) => (
                <li key={verdict} className="flex items-center gap-2">
                  <VerdictShape verdict={verdict} sizePx={15} /> {VERDICT_WORDS[verdict]}
                </li>
              ))}
            </ul>
            <p className="quiet mt-3">{messages.papers.eachForAVideoThat}</p>
          </div>
        ) : (
          <SoundPanel key={selected.soundId} id={selected.soundId} papersFirst />
        )}
      </aside>
    </div>
  )
}

function Filters(props: {
  filter: PapersFilter
  onChange: (filter: PapersFilter) => void
  shown: number
  total: number
}) {
  const { filter, onChange, shown, total } = props
  const chip = (on: boolean, label: string, next: Partial<PapersFilter>) => (
    <button
      type="button"
      aria-pressed={on}
      className={`btn btn-sm ${on ? 'btn-neutral' : 'btn-outline border-base-content/40'}`}
      onClick={() => onChange({ ...filter, ...next })}
    >
      {label}
      {on && <X size={14} aria-hidden="true" />}
    </button>
  )
  return (
    <div className="flex flex-wrap items-center gap-2 px-4 pb-3">
      <input
        type="search"
        aria-label={messages.papers.filterThePapers}
        placeholder={messages.papers.titleMakerSourceTerms}
        className="input input-sm w-56 border-base-content/40"
        value={filter.text}
        onChange={(event) => onChange({ ...filter, text: event.target.value })}
      />
      {chip(filter.noPapers, messages.papers.noPapersFilter, { noPapers: !filter.noPapers })}
      {chip(filter.owesCredit, messages.papers.owesCredit, { owesCredit: !filter.owesCredit })}
      <label className="flex items-center gap-2 text-sm">
        {messages.papers.expiresWithin}
        <select
          className="select select-sm w-auto border-base-content/40"
          value={filter.expiresWithinDays ?? ''}
          onChange={(event) =>
            onChange({ ...filter, expiresWithinDays: event.target.value === '' ? null : Number(event.target.value) })
          }
        >
          <option value="">{messages.papers.anyTime}</option>
          <option value="30">{messages.papers.n30Days}</option>
          <option value="90">{messages.papers.n90Days}</option>
          <option value="365">{messages.papers.aYear}</option>
        </select>
      </label>
      <p role="status" className="quiet ml-auto text-sm">
        {shown === total ? messages.counts.copies(total) : messages.papers.of(shown, messages.counts.copies(total))}
      </p>
    </div>
  )
}
