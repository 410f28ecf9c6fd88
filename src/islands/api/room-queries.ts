import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { JobStarted, RemovalInput, RemovedThings, Room, VideoFiles } from '../../contract'
import { messages } from '../../messages'
import { useOfferUndo } from '../state/undo'
import { ask, send } from './client'

export function useRoom() {
  return useQuery({ queryKey: ['room'], queryFn: ({ signal }) => ask('/api/room', Room, { signal }) })
}

/** Clears what nothing uses. */
export function useSweep() {
  return useMutation({ mutationFn: () => send('POST', '/api/room', JobStarted) })
}

export function useVideoFiles(videoId: number) {
  return useQuery({
    queryKey: ['files', videoId],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/files`, VideoFiles, { signal }),
  })
}

type Removable = RemovedThings['removed'][number]['what']

function setRemoved(what: Removable, id: number | string, removed: boolean) {
  return send('PUT', `/api/${what}/${encodeURIComponent(id)}/removal`, RemovalInput, { removed })
}

interface Removal {
  readonly id: number | string
  /** What was done, for the offer to undo it. */
  readonly words: string
  /** Called before anything is asked for again: what shows the removed thing goes away first. */
  readonly onRemoved?: () => void
}

/** Removes a video, a finished file, a check or a source, and offers to bring it back. */
export function useRemove(what: Removable) {
  const client = useQueryClient()
  const offerUndo = useOfferUndo()
  const bringBack = (id: number | string, words: string): void => {
    setRemoved(what, id, false).then(
      () => client.invalidateQueries(),
      (error: Error) => offerUndo(messages.shared.itCouldNotBeRestored(error.message), () => bringBack(id, words)),
    )
  }
  return useMutation({
    mutationFn: ({ id }: Removal) => setRemoved(what, id, true),
    onSuccess: (_, { id, words, onRemoved }) => {
      onRemoved?.()
      offerUndo(words, () => bringBack(id, words))
      return client.invalidateQueries()
    },
  })
}

/** What was removed in the last month. */
export function useRemoved() {
  return useQuery({ queryKey: ['removed'], queryFn: ({ signal }) => ask('/api/removed', RemovedThings, { signal }) })
}

/** Brings something back that was removed. */
export function useBringBack() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ what, id }: { what: Removable; id: number | string }) => setRemoved(what, id, false),
    onSuccess: () => client.invalidateQueries(),
  })
}
