import { keepPreviousData, useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import {
  LengthAnswer,
  type LengthRequest,
  LoudnessAnswer,
  MaskingAnswer,
  type MixOptions,
  MixStarted,
  PlannedHeard,
  type ScoreChange,
  ScoreChanged,
  type ScoreImport,
  ScoreImported,
  SoundDetail,
  VideoScore,
  VideoUsed,
} from '../../contract'
import type { Placement } from '../../core/score'
import { ask, send } from './client'

export function useVideoScore(videoId: number, isWanted = true) {
  return useQuery({
    enabled: isWanted,
    queryKey: ['score', videoId],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/score`, VideoScore, { signal }),
  })
}

/** Saves edits; rejects when they cannot be done or the application does not answer. */
export function sendScoreChange(videoId: number, change: ScoreChange): Promise<ScoreChanged> {
  return send('POST', `/api/videos/${videoId}/score`, ScoreChanged, change)
}

export function useWriteMix(videoId: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (options: MixOptions) => send('POST', `/api/videos/${videoId}/mixes`, MixStarted, options),
    onSuccess: () => client.invalidateQueries({ queryKey: ['score', videoId] }),
  })
}

/** All placed sounds, weighed for the video. @param revision That was saved; null while something is not: what was known stays shown. */
export function useUsedSounds(videoId: number, revision: number | null) {
  return useQuery({
    queryKey: ['used-sounds', videoId, revision],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/used-sounds`, VideoUsed, { signal }),
    enabled: revision !== null,
    placeholderData: keepPreviousData,
  })
}

/** What is placed held against what was heard. */
export function usePlannedHeard(videoId: number, revision: number | null) {
  return useQuery({
    queryKey: ['planned-heard', videoId, revision],
    queryFn: ({ signal }) => ask(`/api/videos/${videoId}/planned-heard`, PlannedHeard, { signal }),
    enabled: revision !== null,
    placeholderData: keepPreviousData,
  })
}

/** Reads a list of another program; nothing is changed by it. */
export function useReadScoreList(videoId: number) {
  return useMutation({
    mutationFn: (list: ScoreImport) => send('POST', `/api/videos/${videoId}/score-import`, ScoreImported, list),
  })
}

/** Asks how a placed sound is brought to a length. */
export function useFindLength() {
  return useMutation({
    mutationFn: (request: LengthRequest) => send('POST', '/api/score/length', LengthAnswer, request),
  })
}

/** How loud a placed sound is over the part that is heard. */
export function useMeasurePlaced() {
  return useMutation({
    mutationFn: (placement: Placement) => send('POST', '/api/score/loudness', LoudnessAnswer, { placement }),
  })
}

/** What of the saved score covers the voice, and is covered by it. */
export function useMeasureMasking(videoId: number) {
  return useMutation({
    mutationFn: () => ask(`/api/videos/${videoId}/masking`, MaskingAnswer),
  })
}

/** Sounds by their ids; those that are not here yet, or any more, are left out. */
export function useSoundsById(ids: readonly number[]): ReadonlyMap<number, SoundDetail> {
  return useQueries({ queries: ids.map(soundQuery), combine: byId })
}

/** Gives one sound when it is asked for. */
export function useFetchSound(): (id: number) => Promise<SoundDetail> {
  const client = useQueryClient()
  return (id) => client.fetchQuery(soundQuery(id))
}

function soundQuery(id: number) {
  return {
    queryKey: ['sound', id],
    queryFn: ({ signal }: { signal: AbortSignal }) => ask(`/api/sounds/${id}`, SoundDetail, { signal }),
  }
}

function byId(results: readonly { readonly data: SoundDetail | undefined }[]): ReadonlyMap<number, SoundDetail> {
  return new Map(results.flatMap(({ data }) => (data ? [[data.id, data] as const] : [])))
}
