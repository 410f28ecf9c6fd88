import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { OwnWordsInput, WordProposalWire } from '../../contract'
import type { TimeRange } from '../../core/time-range'
import { useOfferUndo } from '../state/undo'
import { ask, send } from './client'

/** Words for a sound by what it sounds like. */
export function useProposedWords(id: number) {
  return useQuery({
    queryKey: ['sound', id, 'words'],
    queryFn: ({ signal }) => ask(`/api/sounds/${id}/words`, WordProposalWire, { signal }),
  })
}

/** What a part of the finished file of a video sounds like, in words. It is asked for once for each file: a file does not change. */
export function usePartWords(
  { videoId, exportId }: { videoId: number; exportId: number },
  { startS, endS }: TimeRange,
) {
  const params = new URLSearchParams({ fromS: String(startS), toS: String(endS) })
  return useQuery({
    queryKey: ['part-words', exportId, startS, endS],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/event-words?${params}`, WordProposalWire, { signal }),
    staleTime: Number.POSITIVE_INFINITY,
  })
}

/** Gives a sound of one's own words and a category, and offers to take that back. */
export function useSetWords(id: number, before: OwnWordsInput) {
  const client = useQueryClient()
  const offerUndo = useOfferUndo()
  const save = async (said: OwnWordsInput): Promise<void> => {
    await send('PUT', `/api/sounds/${id}/words`, OwnWordsInput, said)
    for (const key of ['sound', 'sounds', 'counts']) void client.invalidateQueries({ queryKey: [key] })
  }
  return useMutation({
    mutationFn: ({ said }: { said: OwnWordsInput; words: string }) => save(said),
    onSuccess: (_, { words }) => offerUndo(words, () => void save(before)),
  })
}
