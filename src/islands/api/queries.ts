import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import {
  CheckDetail,
  Job,
  JobStarted,
  type ShellChange,
  ShellState,
  SoundDetail,
  SourceList,
  UploadDone,
  Video,
  type VideoInput,
  VideoList,
  VideoOverviews,
} from '../../contract'
import { ask, rememberVideoInHand, send } from './client'

export function useShell() {
  return useQuery({
    queryKey: ['state'],
    queryFn: async ({ signal }) => {
      const state = await ask('/api/state', ShellState, { signal })
      rememberVideoInHand(state.videoInHandId)
      return state
    },
  })
}

export function useChangeShell() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: ShellChange) => {
      if (change.videoInHandId !== undefined) rememberVideoInHand(change.videoInHandId)
      return send('PATCH', '/api/state', ShellState, change)
    },
    onSuccess: (state) => {
      client.setQueryData(['state'], state)
      // Fits and verdicts are in the light of the video in hand.
      void client.invalidateQueries({ queryKey: ['sounds'] })
      void client.invalidateQueries({ queryKey: ['sound'] })
      void client.invalidateQueries({ queryKey: ['live'] })
      void client.invalidateQueries({ queryKey: ['counts'] })
      void client.invalidateQueries({ queryKey: ['shelf'] })
      // Whose the voices are is part of the states.
      for (const key of ['check', 'videos', 'desk']) void client.invalidateQueries({ queryKey: [key] })
    },
  })
}

export function useVideos() {
  return useQuery({ queryKey: ['videos'], queryFn: ({ signal }) => ask('/api/videos', VideoList, { signal }) })
}

/** How far all videos are, with their lengths and pictures. */
export function useVideoOverviews() {
  return useQuery({
    queryKey: ['videos', 'overview'],
    queryFn: ({ signal }) => ask('/api/videos/overview', VideoOverviews, { signal }),
  })
}

export function useSaveVideo(id: number | null) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (input: VideoInput) =>
      id === null ? send('POST', '/api/videos', Video, input) : send('PUT', `/api/videos/${id}`, Video, input),
    onSuccess: (video) => {
      // What is made is taken in hand.
      if (id === null) rememberVideoInHand(video.id)
      return client.invalidateQueries()
    },
  })
}

export function useSound(id: number | null) {
  return useQuery({
    queryKey: ['sound', id],
    queryFn: ({ signal }) => ask(`/api/sounds/${id}`, SoundDetail, { signal }),
    enabled: id !== null,
    placeholderData: keepPreviousData,
  })
}

export function useDownload() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, format = null }: { id: number; format?: string | null }) =>
      send('POST', `/api/sounds/${id}/download`, JobStarted, { format }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

const RUNNING_REFETCH_MS = 3000

export function useCheck(id: number | null) {
  return useQuery({
    queryKey: ['check', id],
    queryFn: ({ signal }) => ask(`/api/checks/${id}`, CheckDetail, { signal }),
    enabled: id !== null,
    // What is heard shows while the rest is still listened for.
    refetchInterval: ({ state }) =>
      state.data?.state === 'running' || state.data?.state === 'waiting' ? RUNNING_REFETCH_MS : false,
  })
}

export function useCheckAgain(videoId: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => send('POST', `/api/videos/${videoId}/check`, UploadDone),
    onSuccess: () => client.invalidateQueries({ queryKey: ['videos'] }),
  })
}

export function useSources() {
  return useQuery({ queryKey: ['sources'], queryFn: ({ signal }) => ask('/api/sources', SourceList, { signal }) })
}

export function useSync() {
  return useMutation({ mutationFn: (sourceId: string) => send('POST', `/api/sources/${sourceId}/sync`, JobStarted) })
}

export function useCancelJob() {
  return useMutation({ mutationFn: (jobId: number) => send('DELETE', `/api/jobs/${jobId}`, Job) })
}
