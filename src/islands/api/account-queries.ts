import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import {
  ConnectedLibrary,
  DescriptionRead,
  type LibraryInput,
  LibraryKindList,
  type LibrarySecrets,
  LibraryTried,
  PausedInput,
  SignInWith,
} from '../../contract/library-account'
import { ask, send } from './client'

export function useLibraryKinds() {
  return useQuery({
    queryKey: ['library-kinds'],
    queryFn: ({ signal }) => ask('/api/library-kinds', LibraryKindList, { signal }),
  })
}

export function useReadDescription() {
  return useMutation({
    mutationFn: (text: string) => send('POST', '/api/library-description', DescriptionRead, { text }),
  })
}

export function useTryLibrary() {
  return useMutation({ mutationFn: (input: LibraryInput) => send('POST', '/api/sources/try', LibraryTried, input) })
}

export function useConnectLibrary() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (input: LibraryInput) => send('POST', '/api/sources', ConnectedLibrary, input),
    onSuccess: () => client.invalidateQueries(),
  })
}

export function usePause() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, paused }: { id: string; paused: boolean }) =>
      send('PUT', `/api/sources/${encodeURIComponent(id)}/paused`, PausedInput, { paused }),
    onSuccess: () => client.invalidateQueries(),
  })
}

/** What a connected library asks for to let one in. */
export function useKeyOf(id: string) {
  return useQuery({
    queryKey: ['sources', id, 'key'],
    queryFn: ({ signal }) =>
      ask(`/api/sources/${encodeURIComponent(id)}/key`, z.object({ signInWith: SignInWith }), { signal }),
  })
}

export function useChangeKey(id: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (secrets: LibrarySecrets) =>
      send('PUT', `/api/sources/${encodeURIComponent(id)}/key`, z.object({ changed: z.boolean() }), { secrets }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['sources'] }),
  })
}
