import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { Redirect } from 'wouter'
import type { SectionHeading, SoundPage, SoundSections, SoundSummary } from '../../contract'
import { parsedQuery } from '../../core/finding'
import { messages } from '../../messages'
import { useCounts, useNearby, useSounds, useStart } from '../api/find-queries'
import { useFillIn, useLiveSearch } from '../api/live-queries'
import { useDownload, useShell } from '../api/queries'
import { useToggleKept } from '../api/shelf-queries'
import { usePlayer } from '../audio/player'
import { useMomentTarget } from '../moments/use-moment-target'
import { CategoryRail } from '../parts/find/CategoryRail'
import { CompareStrip } from '../parts/find/CompareStrip'
import { NothingFound } from '../parts/find/FoundNotes'
import { ListenFirst } from '../parts/find/ListenFirst'
import { LiveLine } from '../parts/find/LiveLine'
import { SearchHead, useDownKey, useDroppedSound, useSearchKey } from '../parts/find/SearchHead'
import { SoundTable } from '../parts/find/SoundTable'
import { hasSounds } from '../parts/first/first-steps'
import { BatchBar } from '../parts/shared/BatchBar'
import { Failed, Loading } from '../parts/shared/States'
import { SoundPanel } from '../parts/sound/SoundPanel'
import { useCompare } from '../state/compare'
import { EVERYTHING, filtered, isNothingAsked, toggled } from '../state/find-state'
import { isTyping } from '../state/keys'
import { usePageActions } from '../state/page-actions'
import { useDocumentKeys } from '../state/use-document-keys'
import { useFindState } from '../state/use-find-state'

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
  const first = query.data?.pages[0]
  const isStart = isNothingAsked(state)
  const start = useStart(isStart)
  const hidden = first?.total === 0 && first.hides.some((one) => one.hidden > 0)
  const nearby = useNearby(asked, query.isPlaceholderData || hidden ? undefined : first?.total)
  const live = useLiveSearch(state)
  const { sounds, headings } = useMemo(
    () =>
      isStart
        ? withSections([], start.data?.sections ?? [])
        : withSections(query.data?.pages.flatMap((page) => page.sounds) ?? [], [
            ...live.sections,
            ...(nearby.data?.sections ?? []),
          ]),
    [isStart, start.data, query.data, nearby.data, live.sections],
  )
  const shown = isStart ? start : query
  // What is listed answers what stands in the search line, and not what stood there before.
  const isAnswered = shown.data !== undefined && (isStart || (asked === state && !query.isPlaceholderData))
  const counts = useCounts(asked, ['category', 'source'], first !== undefined && !query.isPlaceholderData)
  const [selectedId, setSelectedId] = useState<number | null>(null)
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set())
  const [fitEach, setFitEach] = useState(false)
  const [wanted, setWanted] = useState(false)
  const [rows, setRows] = useState<readonly [number, number]>([0, 0])
  useFillIn(sounds.slice(...rows))
  const player = usePlayer()
  const download = useDownload()
  const target = useMomentTarget(state.forMoment)
  const drop = useDroppedSound((id) => setState({ ...state, like: `probe:${id}` }))
  const searchRef = useSearchKey()
  useDownKey(() => setWanted(true))
  const listAll = (): void => setState(EVERYTHING)
  useDocumentKeys((event) => {
    if (event.key === 'e' && isStart && !isTyping(event)) listAll()
  })
  const tableRef = useRef<HTMLDivElement>(null)
  const playingId = player.sound?.id ?? null
  const followed = playingId !== null && player.playing && sounds.some(({ id }) => id === playingId)
  const selectedIndex = sounds.findIndex(({ id }) => id === (followed ? playingId : selectedId))

  const selected = sounds[selectedIndex]
  const toggleKept = useToggleKept()
  const compare = useCompare()
  usePageActions([
    { title: messages.find.goToTheSearchLine, keys: '/', run: () => searchRef.current?.focus() },
    { title: messages.find.listAllSounds, keys: isStart ? 'E' : null, run: listAll },
    ...(selected
      ? [
          {
            title: selected.kept ? messages.find.doNotKeepTheSound : messages.find.keepTheSound,
            keys: 'S',
            run: () => toggleKept(selected),
          },
          { title: messages.find.pinTheSoundToCompare, keys: 'C', run: () => compare.toggle(selected) },
        ]
      : []),
    ...(selected && !selected.copySha256
      ? [{ title: messages.find.downloadTheSound, keys: 'D', run: () => download.mutate({ id: selected.id }) }]
      : []),
  ])

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
  // The key may come before the results do: it is done as soon as there is something to hear of what was asked.
  useEffect(() => {
    if (!wanted || !isAnswered || sounds.length === 0) return
    setWanted(false)
    tableRef.current?.focus()
    hear(Math.max(0, selectedIndex))
  }, [wanted, isAnswered, sounds.length, hear, selectedIndex])
  if (shell.data && !hasSounds(shell.data)) return <Redirect to="/first-steps" replace />
  const chosenCategories = state.filters.find((one) => one.kind === 'category')?.names ?? []
  const panelId = followed ? playingId : selectedId
  return (
    <div
      className="grid h-full grid-cols-[10.500rem_minmax(0,1fr)_18.500rem] max-xl:grid-cols-[minmax(0,1fr)_18.500rem] max-lg:grid-cols-1"
      {...drop.handlers}
    >
      <h1 className="sr-only">{messages.find.find}</h1>
      <CategoryRail
        counts={counts.data?.category}
        chosen={chosenCategories}
        onChoose={(names) =>
          setState(filtered(state, 'category', names.length === 0 ? null : { kind: 'category', names }))
        }
      />
      <section aria-label={messages.find.results} className="sound-list flex min-h-0 min-w-0 flex-col">
        <SearchHead
          state={state}
          onChange={setState}
          first={first}
          corrections={correctionsThatCount(first, headings)}
          searchRef={searchRef}
          drop={drop}
          categories={counts.data?.category}
          onDown={() => setWanted(true)}
          target={target}
        />
        <LiveLine states={live.states} />
        {(shown.isPending || (sounds.length === 0 && nearby.isFetching)) && (
          <Loading what={messages.find.lookingThroughEverything} />
        )}
        {shown.isError && <Failed error={shown.error} onRetry={() => void shown.refetch()} />}
        {first && sounds.length === 0 && !isStart && !query.isError && !nearby.isFetching && (
          <NothingFound first={first} state={state} onChange={setState} />
        )}
        {first?.total === 0 && headings.size > 0 && !isStart && (
          <p role="status" className="px-4 pb-2 text-sm" data-testid="no-full-match">
            {messages.find.noSoundMatchesAllOf(wordsOf(asked.text))}
          </p>
        )}
        {sounds.length > 0 && (
          <SoundTable
            ref={tableRef}
            sounds={sounds}
            headings={headings}
            total={isStart ? sounds.length : Math.max(first?.total ?? 0, sounds.length)}
            selectedIndex={selectedIndex}
            picked={picked}
            target={target}
            fitEach={fitEach}
            onFitEach={setFitEach}
            onHear={hear}
            onPickUp={(index) => {
              const id = sounds[index]?.id
              if (id !== undefined) setPicked(new Set(toggled([...picked], id) ?? []))
            }}
            onDownload={(sound) => download.mutate({ id: sound.id })}
            onLeave={() => searchRef.current?.focus()}
            onShown={setRows}
            onEnd={() => {
              if (!isStart && query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage()
            }}
          />
        )}
        {picked.size > 0 && <BatchBar soundIds={[...picked]} onClose={() => setPicked(new Set())} />}
        <CompareStrip />
      </section>
      <aside
        aria-label={messages.find.selectedSound}
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

/** The words that are looked for, without conditions. */
function wordsOf(text: string): string {
  const { parts } = parsedQuery(text)
  return parts.flatMap(({ words, not }) => (not ? [] : words)).join(' ')
}

/** What was taken for another word is told only where something is shown for it. */
function correctionsThatCount(
  first: SoundPage | undefined,
  headings: ReadonlyMap<number, SectionHeading>,
): SoundPage['corrections'] {
  if (!first || first.total > 0) return first?.corrections ?? []
  const met = new Set([...headings.values()].flatMap((one) => (one.kind === 'words' ? one.met : [])))
  return first.corrections.filter(({ shown }) => met.has(shown))
}

/** A list with what stands above its parts. @param sections What comes after the list. */
function withSections(list: readonly SoundSummary[], sections: SoundSections['sections']) {
  const sounds = [...list]
  const headings = new Map<number, SectionHeading>()
  const ids = new Set(list.map(({ id }) => id))
  for (const { heading, sounds: own } of sections) {
    const fresh = own.filter(({ id }) => !ids.has(id))
    if (fresh.length === 0) continue
    for (const { id } of fresh) ids.add(id)
    headings.set(sounds.length, heading)
    sounds.push(...fresh)
  }
  return { sounds, headings }
}

function neighbours(sounds: readonly SoundSummary[], index: number): readonly SoundSummary[] {
  return sounds.slice(Math.max(0, index - BEHIND), index + AHEAD + 1)
}
