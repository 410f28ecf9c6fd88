import { type InfiniteData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import {
  BatchPlan,
  BatchStarted,
  type KeepInput,
  Shelf,
  type ShelfEdit,
  type SoundPage,
  SpokenWords,
} from '../../contract'
import { ask, send } from './client'

const Done = z.object({ done: z.literal(true) })
const Made = z.object({ id: z.number() })
const STALE_AFTER_EDIT = ['shelf', 'sounds', 'sound', 'counts', 'spoken']

export function useShelf() {
  return useQuery({ queryKey: ['shelf'], queryFn: ({ signal }) => ask('/api/shelf', Shelf, { signal }) })
}

function useThenStale() {
  const client = useQueryClient()
  return () => {
    for (const key of STALE_AFTER_EDIT) void client.invalidateQueries({ queryKey: [key] })
  }
}

export function useShelfEdit() {
  const stale = useThenStale()
  return useMutation({ mutationFn: (edit: ShelfEdit) => send('PATCH', '/api/shelf', Done, edit), onSuccess: stale })
}

/** After a sound was kept or let go: the results show it, but stay in their order under whoever moves through them. */
function useThenMarked() {
  const client = useQueryClient()
  return (id: number, kept: boolean) => {
    client.setQueriesData<InfiniteData<SoundPage>>(
      { queryKey: ['sounds'] },
      (data) =>
        data && {
          ...data,
          pages: data.pages.map((page) => ({
            ...page,
            sounds: page.sounds.map((sound) => (sound.id === id ? { ...sound, kept } : sound)),
          })),
        },
    )
    for (const key of ['shelf', 'sound', 'counts', 'spoken']) void client.invalidateQueries({ queryKey: [key] })
  }
}

export function useKeep() {
  const marked = useThenMarked()
  return useMutation({
    mutationFn: ({ id, ...input }: KeepInput & { id: number }) => send('PUT', `/api/keeps/${id}`, Done, input),
    onSuccess: (_, { id }) => marked(id, true),
  })
}

export function useUnkeep() {
  const marked = useThenMarked()
  return useMutation({
    mutationFn: (id: number) => send('DELETE', `/api/keeps/${id}`, Done),
    onSuccess: (_, id) => marked(id, false),
  })
}

/** Keeps a sound, or lets it go when it is kept. */
export function useToggleKept(): (sound: { readonly id: number; readonly kept: boolean }) => void {
  const keep = useKeep()
  const unkeep = useUnkeep()
  return ({ id, kept }) => (kept ? unkeep.mutate(id) : keep.mutate({ id }))
}

export function useMakeCollection() {
  const stale = useThenStale()
  return useMutation({
    mutationFn: (name: string) => send('POST', '/api/collections', Made, { name }),
    onSuccess: stale,
  })
}

export function useChangeCollection() {
  const stale = useThenStale()
  return useMutation({
    mutationFn: ({ id, ...change }: { id: number; name?: string; beforeId?: number | null }) =>
      send('PATCH', `/api/collections/${id}`, Done, change),
    onSuccess: stale,
  })
}

export function useEndCollection() {
  const stale = useThenStale()
  return useMutation({ mutationFn: (id: number) => send('DELETE', `/api/collections/${id}`, Done), onSuccess: stale })
}

/** What downloading several sounds would do and cost. */
export function useBatchPlan(soundIds: readonly number[]) {
  return useQuery({
    queryKey: ['batch', ...soundIds],
    queryFn: () => send('POST', '/api/batches/plan', BatchPlan, { soundIds }),
    enabled: soundIds.length > 0,
  })
}

export function useStartBatch() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (items: readonly { soundId: number; priceMinor: number }[]) =>
      send('POST', '/api/batches', BatchStarted, { items }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

export function useSpokenWords(videoId: number) {
  return useQuery({
    queryKey: ['spoken', videoId],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/captions`, SpokenWords, { signal }),
  })
}

/** Whether a dropped file holds captions, and not the finished video. */
export function isCaptionFile(name: string): boolean {
  return /\.(srt|vtt)$/i.test(name)
}

export function useSetCaptions(videoId: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (file: File) =>
      ask(`/api/videos/${videoId}/captions?${new URLSearchParams({ name: file.name })}`, SpokenWords, {
        method: 'PUT',
        headers: { 'Content-Type': 'text/plain' },
        body: file,
      }),
    onSuccess: (words) => client.setQueryData(['spoken', videoId], words),
  })
}

export function useRemoveCaptions(videoId: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => send('DELETE', `/api/videos/${videoId}/captions`, SpokenWords),
    onSuccess: (words) => client.setQueryData(['spoken', videoId], words),
  })
}
