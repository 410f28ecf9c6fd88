import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Listening, LiveFound, type SoundSections, type SoundSummary, type SourceWire } from '../../contract'
import { parsedQuery } from '../../core/finding'
import { type FindState, questionOf } from '../state/find-state'
import { ask, send } from './client'
import { useSources } from './queries'

/** Libraries that are searched are asked once one has not typed for so long, ms. */
const PAUSE_MS = 300
/** What is being listened to is looked at again so often, ms. */
const LISTENING_MS = 1200
/** Of the rows that are shown, so many are listened to at a time. */
const MAX_WANTED = 40

/** How the search of one library stands. */
export interface LiveState {
  readonly source: SourceWire
  readonly state: 'searching' | 'found' | 'failed'
  /** Sounds that came so far. */
  readonly count: number
  /** Sounds that it has, where it tells. */
  readonly total: number | null
  readonly error: Error | null
  /** Asks for more; null where there is no more, or it is on its way. */
  readonly more: (() => void) | null
  readonly retry: () => void
}

/** Searches the libraries that are not mirrored, each by itself: none waits for another. */
export function useLiveSearch(state: FindState): {
  readonly states: readonly LiveState[]
  readonly sections: SoundSections['sections']
} {
  const client = useQueryClient()
  const sources = (useSources().data?.sources ?? []).filter(
    ({ live, connected, paused }) => live && connected && !paused,
  )
  const asked = useSettled(isSearchable(state) ? questionOf(state) : '', PAUSE_MS)
  const isAsked = asked !== ''
  const [cursors, setCursors] = useState<{ readonly asked: string; readonly of: Record<string, readonly string[]> }>({
    asked,
    of: {},
  })
  const of = cursors.asked === asked ? cursors.of : {}
  const pages = isAsked
    ? sources.flatMap((source) => [null, ...(of[source.id] ?? [])].map((after) => ({ source, after })))
    : []
  const results = useQueries({
    queries: pages.map(({ source, after }) => ({
      queryKey: ['live', source.id, asked, after],
      queryFn: ({ signal }: { signal: AbortSignal }) => {
        const params = new URLSearchParams({ source: source.id, q: asked, ...(after === null ? {} : { after }) })
        return ask(`/api/sounds/live?${params}`, LiveFound, { signal })
      },
      staleTime: 60_000,
      retry: false,
    })),
  })
  // What came is in the index by now: the list is made anew, with it at its place.
  const arrived = results.reduce((sum, { dataUpdatedAt }) => sum + dataUpdatedAt, 0)
  useEffect(() => {
    if (arrived === 0) return
    void client.invalidateQueries({ queryKey: ['sounds'] })
    void client.invalidateQueries({ queryKey: ['counts'] })
  }, [arrived, client])
  const bySource = sources.map((source) => ({
    source,
    own: results.filter((_, index) => pages[index]?.source.id === source.id),
  }))
  const stamps = results.map(({ dataUpdatedAt }) => dataUpdatedAt).join()
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same answers give the same list, however often this is drawn
  const sections = useMemo(
    () =>
      bySource.flatMap(({ source: { id: sourceId, name }, own }) => {
        const sounds = own.flatMap(({ data }) => data?.sounds ?? [])
        return sounds.length > 0 ? [{ heading: { kind: 'live' as const, sourceId, name }, sounds }] : []
      }),
    [asked, stamps],
  )
  const askMore = (id: string, next: string): void =>
    setCursors({ asked, of: { ...of, [id]: [...(of[id] ?? []), next] } })
  return {
    states: isAsked
      ? bySource.map(({ source, own }): LiveState => {
          const last = own[own.length - 1]
          const next = last?.data?.next ?? null
          const failed = own.find(({ isError, isFetching }) => isError && !isFetching)
          return {
            source,
            state: failed ? 'failed' : own.some(isAwaited) ? 'searching' : 'found',
            count: own.reduce((sum, { data }) => sum + (data?.ids.length ?? 0), 0),
            total: own[0]?.data?.total ?? null,
            error: failed?.error ?? null,
            more: next === null || last?.isFetching ? null : () => askMore(source.id, next),
            retry: () => void failed?.refetch(),
          }
        })
      : [],
    sections,
  }
}

/** Whether an answer is on its way where there is none; one that is only asked for anew does not show as searching. */
function isAwaited({ isPending, isError, isFetching }: { isPending: boolean; isError: boolean; isFetching: boolean }) {
  return isPending || (isError && isFetching)
}

/** A library can be asked for words, not for likeness. */
function isSearchable(state: FindState): boolean {
  return state.like === null && parsedQuery(questionOf(state)).parts.some(({ not }) => !not)
}

/** A value once it has stayed the same for a while. */
function useSettled(value: string, ms: number): string {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms)
    return () => clearTimeout(timer)
  }, [value, ms])
  return settled
}

/** Has what is shown listened to, where it is of a library that is not mirrored: print, loudness and likeness fill in as they come. */
export function useFillIn(shown: readonly SoundSummary[]): void {
  const client = useQueryClient()
  const live = new Set((useSources().data?.sources ?? []).filter((one) => one.live).map(({ id }) => id))
  const ids = shown
    .filter(({ source, audioSha256, withdrawn }) => live.has(source.id) && audioSha256 === null && !withdrawn)
    .map(({ id }) => id)
    .slice(0, MAX_WANTED)
  const { data } = useQuery({
    queryKey: ['listening', ids.join()],
    queryFn: () => send('POST', '/api/sounds/listen', Listening, { ids }),
    enabled: ids.length > 0,
    refetchInterval: ({ state }) => ((state.data?.waiting ?? 0) > 0 ? LISTENING_MS : false),
    gcTime: 0,
  })
  const waiting = data?.waiting
  useEffect(() => {
    if (waiting === undefined || ids.length === 0 || waiting === ids.length) return
    void client.invalidateQueries({ queryKey: ['sounds'] })
    void client.invalidateQueries({ queryKey: ['live'] })
    void client.invalidateQueries({ queryKey: ['sound'] })
  }, [waiting, ids.length, client])
}
