import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useLocation } from 'wouter'
import {
  Probe,
  SavedSearches,
  type SavedSearchInput,
  SoundCounts,
  SoundPage,
  SoundSections,
  VocabularyWire,
} from '../../contract'
import { type CountKind, FEW_RESULTS, parsedQuery } from '../../core/finding'
import type { TimeRange } from '../../core/time-range'
import { addressOf, type FindState, NOTHING_ASKED, questionOf } from '../state/find-state'
import { ask, send, sendFile } from './client'

/** Rows of the first answer, which is waited for, and of those after it. */
const FIRST_PAGE = 30
const PAGE = 120
/** Answers that are behind are not asked for again sooner. */
const ASK_AGAIN_MIN_MS = 1000

function paramsOf(state: FindState): Record<string, string> {
  return { q: questionOf(state), ...(state.like ? { like: state.like } : {}) }
}

export function useSounds(state: FindState) {
  return useInfiniteQuery({
    queryKey: ['sounds', questionOf(state), state.sort, state.like],
    queryFn: ({ signal, pageParam }) => {
      const limit = String(pageParam === 0 ? FIRST_PAGE : PAGE)
      const params = new URLSearchParams({ ...paramsOf(state), sort: state.sort, limit, offset: String(pageParam) })
      return ask(`/api/sounds?${params}`, SoundPage, { signal })
    },
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const loaded = pages.reduce((sum, page) => sum + page.sounds.length, 0)
      return loaded < last.total && last.sounds.length > 0 ? loaded : undefined
    },
    placeholderData: keepPreviousData,
    refetchInterval: ({ state: { data } }) => askAgainMs(data?.pages ?? []),
  })
}

/** When an answer that does not know the last changes is asked for again, ms; false when none is behind. */
export function askAgainMs(answers: readonly (Pick<SoundPage, 'behindMs'> | undefined)[]): number | false {
  const behindMs = Math.max(0, ...answers.map((answer) => answer?.behindMs ?? 0))
  return behindMs > 0 && Math.max(ASK_AGAIN_MIN_MS, behindMs)
}

/** What is shown while nothing is asked. */
export function useStart(enabled: boolean) {
  return useQuery({
    queryKey: ['sounds', 'start'],
    queryFn: ({ signal }) => ask('/api/sounds/start', SoundSections, { signal }),
    enabled,
    refetchInterval: ({ state: { data } }) => askAgainMs([data]),
  })
}

/** What comes after few results, or in place of none. @param total Results, undefined while they are being asked for. */
export function useNearby(state: FindState, total: number | undefined) {
  const q = questionOf(state)
  const hasWords = parsedQuery(q).parts.some(({ not }) => !not)
  return useQuery({
    queryKey: ['sounds', 'nearby', q],
    queryFn: ({ signal }) => ask(`/api/sounds/nearby?${new URLSearchParams({ q })}`, SoundSections, { signal }),
    enabled: total !== undefined && total < FEW_RESULTS && hasWords && state.like === null,
    refetchInterval: ({ state: { data } }) => askAgainMs([data]),
  })
}

/** Counts for some kinds of conditions. They are asked for after the results, which never wait for them. */
export function useCounts(state: FindState, kinds: readonly CountKind[], enabled: boolean) {
  return useQuery({
    queryKey: ['counts', questionOf(state), state.like, ...kinds],
    queryFn: ({ signal }) =>
      ask(`/api/sounds/counts?${new URLSearchParams({ ...paramsOf(state), kinds: kinds.join() })}`, SoundCounts, {
        signal,
      }),
    enabled,
    placeholderData: keepPreviousData,
    refetchInterval: ({ state: { data } }) => askAgainMs([data]),
  })
}

const SAVED = ['searches']

export function useSavedSearches() {
  return useQuery({ queryKey: SAVED, queryFn: ({ signal }) => ask('/api/searches', SavedSearches, { signal }) })
}

export function useSaveSearch() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (input: SavedSearchInput) => send('POST', '/api/searches', SavedSearches, input),
    onSuccess: (list) => client.setQueryData(SAVED, list),
  })
}

export function useForgetSearch() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => send('DELETE', `/api/searches/${id}`, SavedSearches),
    onSuccess: (list) => client.setQueryData(SAVED, list),
  })
}

/** Describes a dropped file, to look for sounds like it. */
export function useProbeFile() {
  return useMutation({
    mutationFn: (file: File) =>
      sendFile(`/api/probes?${new URLSearchParams({ name: file.name })}`, file, Probe, {
        onProgress: () => {},
        signal: new AbortController().signal,
      }),
  })
}

/** A part of a sound, or of the finished file of a video. */
export type PartToFind = TimeRange & ({ readonly soundId: number } | { readonly videoId: number })

/** Looks for sounds like a part: describes it, then opens the results. @param open Takes what is to be found; by default Find. */
export function useFindLikePart(open?: (state: FindState) => void) {
  const [, navigate] = useLocation()
  const { mutate, isPending, error } = useMutation({
    mutationFn: ({ startS, endS, ...of }: PartToFind) =>
      send('POST', '/api/probes', Probe, { ...of, fromS: startS, toS: endS }),
  })
  const findLike = (part: PartToFind): void =>
    mutate(part, {
      onSuccess: ({ id }) => {
        const state = { ...NOTHING_ASKED, like: `probe:${id}` }
        if (open) open(state)
        else navigate(addressOf(state))
      },
    })
  return { findLike, isPending, error }
}

export function useVocabulary() {
  return useQuery({
    queryKey: ['vocabulary'],
    queryFn: ({ signal }) => ask('/api/vocabulary', VocabularyWire, { signal }),
  })
}

export function useSaveVocabulary() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (own: string) => send('PUT', '/api/vocabulary', VocabularyWire, { own }),
    onSuccess: (facts) => {
      client.setQueryData(['vocabulary'], facts)
      void client.invalidateQueries({ queryKey: ['sounds'] })
      void client.invalidateQueries({ queryKey: ['counts'] })
    },
  })
}
