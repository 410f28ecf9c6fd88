import { Search } from 'lucide-react'
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'wouter'
import type { SoundSummary } from '../../contract'
import { SoundPanel } from '../parts/SoundPanel'
import { SoundTable } from '../parts/SoundTable'
import { Empty, Failed, Loading } from '../parts/States'
import { isTyping } from '../state/keys'
import { usePlayer } from '../state/player'
import { useDownload, useShell, useSounds } from '../state/queries'
import { counted } from '../state/words'
import { FirstRun } from './FirstRun'

/** Rows on each side of the selection whose audio is fetched ahead. */
const AHEAD = 2

/** Find: one search line over all libraries, results to hear, the selected sound at the side. */
export function Find() {
  const shell = useShell()
  const [text, setText] = useState(() => new URLSearchParams(location.search).get('q') ?? '')
  const q = useDeferredValue(text.trim())
  const query = useSounds(q)
  const sounds = useMemo(() => query.data?.pages.flatMap((page) => page.sounds) ?? [], [query.data])
  const [selectedId, setSelectedId] = useState<number | null>(null)
  const [wanted, setWanted] = useState(false)
  const player = usePlayer()
  const download = useDownload()
  const searchRef = useRef<HTMLInputElement>(null)
  const tableRef = useRef<HTMLDivElement>(null)
  const selectedIndex = sounds.findIndex(({ id }) => id === selectedId)

  const hear = useCallback(
    (index: number, fromS = 0) => {
      const sound = sounds[index]
      if (!sound) return
      setSelectedId(sound.id)
      player.play(sound, fromS)
      player.prefetch(neighbours(sounds, index))
    },
    [sounds, player],
  )
  // The key may come before the results do: it is done as soon as there is something to hear.
  useEffect(() => {
    if (!wanted || sounds.length === 0 || query.isPlaceholderData) return
    setWanted(false)
    tableRef.current?.focus()
    hear(Math.max(0, selectedIndex))
  }, [wanted, sounds.length, query.isPlaceholderData, hear, selectedIndex])
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== '/' || isTyping(event)) return
      event.preventDefault()
      searchRef.current?.focus()
      searchRef.current?.select()
    }
    document.addEventListener('keydown', onKey)
    return () => document.removeEventListener('keydown', onKey)
  }, [])
  const first = query.data?.pages[0]
  if (shell.data && shell.data.soundCount === 0) return <FirstRun />
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_20.500rem] max-lg:grid-cols-1">
      <h1 className="sr-only">Find</h1>
      <section aria-label="Results" className="flex min-h-0 min-w-0 flex-col">
        <div className="flex items-center gap-4 px-4 pt-4 pb-3">
          <label className="input input-lg w-full max-w-2xl border-base-content/40">
            <Search size={20} aria-hidden="true" />
            <span className="sr-only">Search all libraries</span>
            <input
              ref={searchRef}
              type="search"
              placeholder="thud, ice crack, swell …"
              value={text}
              onChange={(event) => setText(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== 'ArrowDown') return
                event.preventDefault()
                setWanted(true)
              }}
            />
          </label>
          <p role="status" className="quiet whitespace-nowrap text-sm" data-testid="result-count">
            {first
              ? q
                ? `${counted(first.total, 'sound')} of ${first.catalogueTotal}`
                : counted(first.total, 'sound')
              : ''}
          </p>
        </div>
        {query.isPending && <Loading what="Looking through the libraries" />}
        {query.isError && <Failed error={query.error} onRetry={() => void query.refetch()} />}
        {first && sounds.length === 0 && (
          <Empty
            title={`Nothing is called “${q}”`}
            action={
              <button type="button" className="btn" onClick={() => setText('')}>
                Show all {first.catalogueTotal} sounds
              </button>
            }
          >
            Every word has to be in the title, tags, category or maker. Try fewer or shorter words.
          </Empty>
        )}
        {sounds.length > 0 && (
          <SoundTable
            ref={tableRef}
            sounds={sounds}
            selectedIndex={selectedIndex}
            onHear={hear}
            onToggle={player.toggle}
            onDownload={(sound) => download.mutate(sound.id)}
            onLeave={() => searchRef.current?.focus()}
            onEnd={() => {
              if (query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage()
            }}
          />
        )}
      </section>
      <aside
        aria-label="Selected sound"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard must reach it
        tabIndex={0}
        className="relative min-h-0 overflow-y-auto border-l ruled bg-base-200 max-lg:hidden"
      >
        {selectedId === null ? (
          <div className="p-6">
            <h2 className="mb-2 text-xl font-semibold">Listen first</h2>
            <p className="quiet">
              Press the down arrow and move through the list: each sound plays at once. What its terms allow shows here.
            </p>
            {shell.data?.videoInHandId === null && (
              <p className="quiet mt-3">
                Make a video above, and every sound shows whether it may be used in it.{' '}
                <Link href="/videos" className="underline">
                  Videos
                </Link>
              </p>
            )}
          </div>
        ) : (
          <SoundPanel key={selectedId} id={selectedId} />
        )}
      </aside>
    </div>
  )
}

function neighbours(sounds: readonly SoundSummary[], index: number): number[] {
  return sounds.slice(Math.max(0, index - 1), index + AHEAD + 1).map(({ id }) => id)
}
