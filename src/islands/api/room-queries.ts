import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { JobStarted, RemovalInput, Room, VideoFiles } from '../../contract'
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

/** Removes a video, a finished file or a check, and offers to bring it back. */
export function useRemove(what: 'videos' | 'exports' | 'checks') {
  const client = useQueryClient()
  const offerUndo = useOfferUndo()
  const set = (id: number, removed: boolean) =>
    send('PUT', `/api/${what}/${id}/removal`, RemovalInput, { removed }).then(() => client.invalidateQueries())
  return useMutation({
    mutationFn: ({ id }: { id: number; words: string }) => set(id, true),
    onSuccess: (_, { id, words }) => offerUndo(words, () => void set(id, false)),
  })
}
