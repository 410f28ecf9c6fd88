import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import {
  CutBrought,
  type MomentsChange,
  MomentsChanged,
  ReactionSchema,
  SuggestionList,
  VideoMoments,
  VideoStepFacts,
} from '../../contract'
import type { Reaction } from '../../core/moments'
import { messages } from '../../messages'
import { ask, send } from './client'

export function useVideoMoments(videoId: number, isWanted = true) {
  return useQuery({
    enabled: isWanted,
    queryKey: ['moments', videoId],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/moments`, VideoMoments, { signal }),
  })
}

export function useStepFacts(videoId: number) {
  return useQuery({
    queryKey: ['steps', videoId],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/steps`, VideoStepFacts, { signal }),
  })
}

/** Saves edits; rejects when they cannot be done or the application does not answer. */
export function sendMomentsChange(videoId: number, change: MomentsChange): Promise<MomentsChanged> {
  return send('POST', `/api/videos/${videoId}/moments`, MomentsChanged, change)
}

/** @param revision Of the moments: what is noted is not suggested any more. */
export function useSuggestions(videoId: number, revision: number) {
  return useQuery({
    queryKey: ['suggestions', videoId, revision],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/suggestions`, SuggestionList, { signal }),
    placeholderData: (before) => before,
  })
}

export function useReadCutAgain(videoId: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (cutId: number) => send('POST', `/api/cuts/${cutId}`, CutBrought),
    onSuccess: () => client.invalidateQueries({ queryKey: ['moments', videoId] }),
  })
}

export function useReaction() {
  return useQuery({
    queryKey: ['reaction'],
    queryFn: ({ signal }) => ask('/api/moments/reaction', ReactionSchema, { signal }),
  })
}

export function useSaveReaction() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (reaction: Reaction) => send('PUT', '/api/moments/reaction', ReactionSchema, reaction),
    onSuccess: (reaction) => client.setQueryData(['reaction'], reaction),
  })
}

/** Bytes of a file of a cut. @throws Error when they cannot be had. */
export async function fetchBytes(path: string): Promise<ArrayBuffer> {
  const response = await fetch(path)
  if (!response.ok) throw new Error(messages.shared.itCouldNotBeFetched)
  return response.arrayBuffer()
}
