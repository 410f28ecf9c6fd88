import { Download, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link } from 'wouter'
import type { PapersRow } from '../../contract'
import { usePapers } from '../api/papers-queries'
import { counted, VERDICT_WORDS } from '../format/words'
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
      <section aria-label="Copies and their papers" className="flex min-h-0 min-w-0 flex-col">
        <PapersNav>
          <div className="ml-auto flex gap-1">
            {(['csv', 'json', 'odrl'] as const).map((format) => (
              <a key={format} className="btn btn-ghost btn-sm" href={`/api/papers/export?format=${format}`} download>
                <Download size={15} aria-hidden="true" /> {format.toUpperCase()}
              </a>
            ))}
          </div>
        </PapersNav>
        {query.isPending && <Loading what="Gathering the papers" />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {query.data && rows.length === 0 && (
          <Empty
            title="No copies yet"
            action={
              <Link href="/find" className="btn btn-primary">
                Find a sound
              </Link>
            }
          >
            Every sound that you download, buy or add gets its papers here by itself.
          </Empty>
        )}
        {rows.length > 0 && <Filters filter={filter} onChange={setFilter} shown={shown.length} total={rows.length} />}
        {rows.length > 0 && shown.length === 0 && (
          <Empty
            title="Nothing matches"
            action={
              <button type="button" className="btn" onClick={() => setFilter(NO_FILTER)}>
                Show all {rows.length} copies
              </button>
            }
          >
            The filters above hide {counted(rows.length, 'copy', 'copies')}.
          </Empty>
        )}
        {shown.length > 0 && <PapersGrid rows={shown} selected={selected} onSelect={setSelected} />}
      </section>
      <aside
        aria-label="Papers of the selected sound"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
        tabIndex={0}
        className="relative min-h-0 overflow-y-auto border-l ruled bg-base-200 max-lg:border-t"
      >
        {selected === null ? (
          <div className="p-6">
            <h2 className="mb-2 text-xl font-semibold">What each mark says</h2>
            <ul className="space-y-1.5">
              {(['clear', 'owes-credit', 'not-allowed', 'no-papers'] as const).map((verdict) => (
                <li key={verdict} className="flex items-center gap-2">
                  <VerdictShape verdict={verdict} sizePx={15} /> {VERDICT_WORDS[verdict]}
                </li>
              ))}
            </ul>
            <p className="quiet mt-3">
              Each for a video that is unpaid, worldwide and first published today; the last column for one that earns
              online. Choose a row for its papers.
            </p>
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
        aria-label="Filter the papers"
        placeholder="title, maker, source, terms"
        className="input input-sm w-56 border-base-content/40"
        value={filter.text}
        onChange={(event) => onChange({ ...filter, text: event.target.value })}
      />
      {chip(filter.noPapers, 'No papers', { noPapers: !filter.noPapers })}
      {chip(filter.owesCredit, 'Owes credit', { owesCredit: !filter.owesCredit })}
      <label className="flex items-center gap-2 text-sm">
        Expires within
        <select
          className="select select-sm w-auto border-base-content/40"
          value={filter.expiresWithinDays ?? ''}
          onChange={(event) =>
            onChange({ ...filter, expiresWithinDays: event.target.value === '' ? null : Number(event.target.value) })
          }
        >
          <option value="">any time</option>
          <option value="30">30 days</option>
          <option value="90">90 days</option>
          <option value="365">a year</option>
        </select>
      </label>
      <p role="status" className="quiet ml-auto text-sm">
        {shown === total ? counted(total, 'copy', 'copies') : `${shown} of ${counted(total, 'copy', 'copies')}`}
      </p>
    </div>
  )
}
