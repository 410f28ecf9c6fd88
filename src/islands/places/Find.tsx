import { Search, X } from 'lucide-react'
import { type DragEvent, useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useLocation, useSearch } from 'wouter'
import type { SoundPage, SoundSummary } from '../../contract'
import { SORTS } from '../../core/finding'
import { useCounts, useProbeFile, useSounds } from '../api/find-queries'
import { useDownload, useShell } from '../api/queries'
import { usePlayer } from '../audio/player'
import { counted } from '../format/words'
import { CategoryRail } from '../parts/find/CategoryRail'
import { FilterChips } from '../parts/find/FilterChips'
import { FilterMenus } from '../parts/find/FilterMenus'
import { Corrections, NothingFound, Unread } from '../parts/find/FoundNotes'
import { SearchMenu } from '../parts/find/SearchMenu'
import { SoundTable } from '../parts/find/SoundTable'
import { BatchBar } from '../parts/shared/BatchBar'
import { Failed, Loading } from '../parts/shared/States'
import { SoundPanel } from '../parts/sound/SoundPanel'
import { useCompare } from '../state/compare'
import { addressOf, type FindState, filtered, fromAddress, SORT_WORDS, toggled, typed } from '../state/find-state'
import { isTyping } from '../state/keys'
import { FirstRun } from './FirstRun'

/** Rows around the selection whose audio is fetched ahead. */
const AHEAD = 4
const BEHIND = 2
/** Rows that are told as what comes next. */
const UPCOMING = 30

/** Find: one search line over everything, results to hear, the selected sound at the side. */
export function Find() {
  const shell = useShell()
  const [state, setState] = useFindState()
  const asked = useDeferredValue(state)
  const query = useSounds(asked)
  const sounds = useMemo(() => query.data?.pages.flatMap((page) => page.sounds) ?? [], [query.data])
  const first = query.data?.pages[0]
  const counts = useCounts(asked, ['category', 'source'], first !== undefined && !query.isPlaceholderData)
  const [selectedId, setSelectedId] = useState<number | null>(null)
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set())
  const [fitEach, setFitEach] = useState(false)
  const [wanted, setWanted] = useState(false)
  const player = usePlayer()
  const download = useDownload()
  const drop = useDroppedSound((id) => setState({ ...state, like: `probe:${id}` }))
  const searchRef = useSearchKey()
  const tableRef = useRef<HTMLDivElement>(null)
  const playingId = player.sound?.id ?? null
  const followed = playingId !== null && player.playing && sounds.some(({ id }) => id === playingId)
  const selectedIndex = sounds.findIndex(({ id }) => id === (followed ? playingId : selectedId))

  const hear = useCallback(
    (index: number, fromS = 0) => {
      const sound = sounds[index]
      if (!sound) return
      setSelectedId(sound.id)
      player.play(sound, fromS)
      player.setUpcoming(sounds.slice(index + 1, index + 1 + UPCOMING))
      player.prefetch(neighbours(sounds, index))
    },
    [sounds, player],
  )
  // The first sounds can be heard at once.
  useEffect(() => player.prefetch(sounds.slice(0, AHEAD)), [sounds, player.prefetch])
  // The key may come before the results do: it is done as soon as there is something to hear.
  useEffect(() => {
    if (!wanted || sounds.length === 0 || query.isPlaceholderData) return
    setWanted(false)
    tableRef.current?.focus()
    hear(Math.max(0, selectedIndex))
  }, [wanted, sounds.length, query.isPlaceholderData, hear, selectedIndex])
  if (shell.data && shell.data.soundCount === 0) return <FirstRun />
  const chosenCategories = state.filters.find((one) => one.kind === 'category')?.names ?? []
  const panelId = followed ? playingId : selectedId
  return (
    <div
      className="grid h-full grid-cols-[10.500rem_minmax(0,1fr)_18.500rem] max-xl:grid-cols-[minmax(0,1fr)_18.500rem] max-lg:grid-cols-1"
      {...drop.handlers}
    >
      <h1 className="sr-only">Find</h1>
      <CategoryRail
        counts={counts.data?.category}
        chosen={chosenCategories}
        onChoose={(names) =>
          setState(filtered(state, 'category', names.length === 0 ? null : { kind: 'category', names }))
        }
      />
      <section aria-label="Results" className="flex min-h-0 min-w-0 flex-col">
        <div className="space-y-1.5 px-4 pt-3 pb-2">
          <div className="flex items-center gap-3">
            <label className="input w-full border-base-content/40 text-base">
              <Search size={18} aria-hidden="true" />
              <span className="sr-only">Search everything</span>
              <input
                ref={searchRef}
                type="search"
                placeholder="thud, “ice crack”, -door, [under 2 s] …"
                value={state.text}
                onChange={(event) => setState(typed(state, event.target.value))}
                onKeyDown={(event) => {
                  if (event.key !== 'ArrowDown') return
                  event.preventDefault()
                  setWanted(true)
                }}
              />
            </label>
            <SearchMenu state={state} onOpen={setState} />
            <label className="shrink-0">
              <span className="sr-only">Order</span>
              <select
                className="select select-sm w-36"
                value={state.sort}
                onChange={({ target }) =>
                  setState({ ...state, sort: SORTS.find((one) => one === target.value) ?? 'best' })
                }
              >
                {SORTS.map((sort) => (
                  <option key={sort} value={sort}>
                    {SORT_WORDS[sort]}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <div className="flex items-center gap-2">
            <FilterMenus
              state={state}
              onChange={setState}
              hasVideo={shell.data?.videoInHandId != null}
              categories={counts.data?.category}
            />
            <p
              role="status"
              className="quiet min-w-0 flex-1 whitespace-nowrap text-right text-sm"
              data-testid="result-count"
            >
              {first ? countWords(first, state) : ''}
            </p>
          </div>
          <FilterChips state={state} likeTitle={first?.likeTitle ?? null} onChange={setState} />
          {first && first.corrections.length > 0 && <Corrections corrections={first.corrections} />}
          <Unread text={asked.text} />
          {drop.problem && (
            <p role="alert" className="text-error">
              {drop.problem}
            </p>
          )}
          {drop.working && <p role="status">Listening to the file …</p>}
        </div>
        {query.isPending && <Loading what="Looking through everything" />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {first && sounds.length === 0 && !query.isError && (
          <NothingFound first={first} state={state} onChange={setState} />
        )}
        {sounds.length > 0 && (
          <SoundTable
            ref={tableRef}
            sounds={sounds}
            total={first?.total ?? sounds.length}
            selectedIndex={selectedIndex}
            picked={picked}
            fitEach={fitEach}
            onFitEach={setFitEach}
            onHear={hear}
            onPickUp={(index) => {
              const id = sounds[index]?.id
              if (id !== undefined) setPicked(new Set(toggled([...picked], id) ?? []))
            }}
            onDownload={(sound) => download.mutate({ id: sound.id })}
            onLeave={() => searchRef.current?.focus()}
            onEnd={() => {
              if (query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage()
            }}
          />
        )}
        {picked.size > 0 && <BatchBar soundIds={[...picked]} onClose={() => setPicked(new Set())} />}
        <CompareStrip />
      </section>
      <aside
        aria-label="Selected sound"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
        tabIndex={0}
        className="relative min-h-0 overflow-y-auto border-l ruled bg-base-200 max-lg:hidden"
      >
        {panelId === null ? (
          <ListenFirst hasVideo={shell.data?.videoInHandId !== null} />
        ) : (
          <SoundPanel key={panelId} id={panelId} onFind={setState} />
        )}
      </aside>
    </div>
  )
}

/** What is asked, which the address follows; going back asks it again. */
function useFindState(): [FindState, (state: FindState) => void] {
  const search = useSearch()
  const [, navigate] = useLocation()
  const [state, setState] = useState(() => fromAddress(search))
  const shown = useRef(addressOf(state))
  useEffect(() => {
    const asked = fromAddress(search)
    if (addressOf(asked) === shown.current) return
    shown.current = addressOf(asked)
    setState(asked)
  }, [search])
  const change = useCallback(
    (next: FindState) => {
      setState(next)
      const address = addressOf(next)
      if (address === shown.current) return
      shown.current = address
      navigate(address, { replace: true })
    },
    [navigate],
  )
  return [state, change]
}

/** The search line; "/" goes to it from anywhere. */
function useSearchKey() {
  const ref = useRef<HTMLInputElement>(null)
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== '/' || isTyping(event)) return
      event.preventDefault()
      ref.current?.focus()
      ref.current?.select()
    }
    document.addEventListener('keydown', onKey)
    return () => document.removeEventListener('keydown', onKey)
  }, [])
  return ref
}

/** A file that is dropped anywhere on Find: sounds like it are looked for. */
function useDroppedSound(onProbe: (probeId: number) => void) {
  const probe = useProbeFile()
  return {
    working: probe.isPending,
    problem: probe.error?.message ?? null,
    handlers: {
      onDragOver: (event: DragEvent) => {
        if (event.dataTransfer.types.includes('Files')) event.preventDefault()
      },
      onDrop: (event: DragEvent) => {
        const [file] = event.dataTransfer.files
        if (!file) return
        event.preventDefault()
        probe.mutate(file, { onSuccess: ({ id }) => onProbe(id) })
      },
    },
  }
}

function countWords({ total, catalogueTotal }: SoundPage, { text, filters, like }: FindState): string {
  const all = text.trim() === '' && filters.length === 0 && like === null
  return all ? counted(total, 'sound') : `${counted(total, 'sound')} of ${catalogueTotal.toLocaleString('en-GB')}`
}

function ListenFirst({ hasVideo }: { hasVideo: boolean }) {
  return (
    <div className="p-6">
      <h2 className="mb-2 text-xl font-semibold">Listen first</h2>
      <p className="quiet">
        Press the down arrow and move through the list: each sound plays at once. What its terms allow shows here.
      </p>
      <p className="quiet mt-3">Drop a sound file on this page to find sounds like it.</p>
      {!hasVideo && (
        <p className="quiet mt-3">
          Make a video above, and every sound shows whether it may be used in it.{' '}
          <Link href="/videos" className="underline">
            Videos
          </Link>
        </p>
      )}
    </div>
  )
}

/** Pinned sounds at the foot of the results, with the way to hear them against each other. */
function CompareStrip() {
  const { sounds, toggle, clear } = useCompare()
  if (sounds.length === 0) return null
  return (
    <div className="flex items-center gap-2 border-t ruled bg-base-200 px-4 py-1.5 text-sm">
      <ol aria-label="To compare" className="flex min-w-0 flex-1 gap-2 overflow-hidden">
        {sounds.map((sound, index) => (
          <li key={sound.id} className="flex min-w-0 items-center gap-1">
            <span className="font-semibold">{index + 1}</span>
            <span className="truncate">{sound.title}</span>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Let go of ${sound.title}`}
              onClick={() => toggle(sound)}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ol>
      <button type="button" className="btn btn-ghost btn-sm" onClick={clear}>
        Clear
      </button>
      <Link href="/find/compare" className="btn btn-sm btn-neutral">
        Compare {sounds.length}
      </Link>
    </div>
  )
}

function neighbours(sounds: readonly SoundSummary[], index: number): readonly SoundSummary[] {
  return sounds.slice(Math.max(0, index - BEHIND), index + AHEAD + 1)
}
