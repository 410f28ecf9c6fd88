import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { z } from 'zod'
import {
  type DeclarationInput,
  DeskWire,
  ElsewhereTaken,
  FolderAdded,
  type FolderInput,
  JobStarted,
  MayIAnswer,
  PapersList,
  PoliciesTaken,
  type ProposalAnswer,
  ProposalList,
  ReadingWire,
  TermsPage,
  TermsSummaryList,
  type UsesWire,
} from '../../contract'
import type { ClauseKey } from '../../core/rights'
import { ask, send, sendFile } from './client'

const Done = z.object({})

/** Everything that papers show in: it changes together. */
function usePapersChange<T, R>(change: (input: T) => Promise<R>) {
  const client = useQueryClient()
  return useMutation({ mutationFn: change, onSuccess: () => client.invalidateQueries() })
}

export function usePapers() {
  return useQuery({ queryKey: ['papers'], queryFn: ({ signal }) => ask('/api/papers', PapersList, { signal }) })
}

export function useTermsList() {
  return useQuery({
    queryKey: ['papers', 'terms'],
    queryFn: ({ signal }) => ask('/api/terms', TermsSummaryList, { signal }),
  })
}

/** Takes in a file of ODRL policies. */
export function useImportTerms() {
  return usePapersChange((file: File) =>
    sendFile(`/api/terms/import?name=${encodeURIComponent(file.name)}`, file, PoliciesTaken, {
      onProgress: () => {},
      signal: new AbortController().signal,
    }),
  )
}

export function useConfirmPolicy(id: number) {
  return usePapersChange((confirmed: readonly ClauseKey[]) =>
    send('POST', `/api/terms/${id}/confirm`, z.object({ termsId: z.number() }), { confirmed }),
  )
}

export function useTermsPage(id: number) {
  return useQuery({
    queryKey: ['papers', 'terms', id],
    queryFn: ({ signal }) => ask(`/api/terms/${id}`, TermsPage, { signal }),
  })
}

export function useMayI(soundId: number | null, uses: UsesWire, videoId: number | null) {
  return useQuery({
    queryKey: ['papers', 'may-i', soundId, uses, videoId],
    queryFn: () => send('POST', '/api/papers/may-i', MayIAnswer, { soundId, uses, videoId }),
    enabled: soundId !== null && uses.places.length > 0,
  })
}

export function useDesk() {
  return useQuery({ queryKey: ['desk'], queryFn: ({ signal }) => ask('/api/desk', DeskWire, { signal }) })
}

export function useMarkSeen() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (input: { key: string; seen: boolean }) => send('PATCH', '/api/desk', DeskWire, input),
    onSuccess: (desk) => client.setQueryData(['desk'], desk),
  })
}

export function useDeclare(soundId: number) {
  return usePapersChange((input: DeclarationInput) => send('POST', `/api/sounds/${soundId}/declare`, Done, input))
}

/** Takes in what the creator recorded, and puts on record who, when and where. Done twice it is the same sound. */
export function useKeepRecording() {
  return usePapersChange(async ({ file, said }: { file: File; said: DeclarationInput }) => {
    const taken = await sendFile(`/api/elsewhere?${new URLSearchParams({ name: file.name })}`, file, ElsewhereTaken, {
      onProgress: () => {},
      signal: new AbortController().signal,
    })
    await send('POST', `/api/sounds/${taken.soundId}/declare`, Done, said)
    return taken
  })
}

export function useTakeBack() {
  return usePapersChange(({ grantId, takenBack }: { grantId: number; takenBack: boolean }) =>
    send('PATCH', `/api/papers/${grantId}`, Done, { takenBack }),
  )
}

export function useRecord() {
  return usePapersChange(({ grantId, ...input }: { grantId: number; videoId: number; key: string; note: string }) =>
    send('POST', `/api/papers/${grantId}/record`, Done, input),
  )
}

export function useAttach() {
  return usePapersChange(({ grantId, file }: { grantId: number; file: File }) =>
    sendFile(`/api/papers/${grantId}/evidence?name=${encodeURIComponent(file.name)}`, file, Done, {
      onProgress: () => {},
      signal: new AbortController().signal,
    }),
  )
}

export function useReadText() {
  return useMutation({ mutationFn: (text: string) => send('POST', '/api/papers/read', ReadingWire, { text }) })
}

export function useAddFolder() {
  return usePapersChange((input: FolderInput) => send('POST', '/api/folders', FolderAdded, input))
}

/** Brings a pack of sounds. @param id Of the pack that it is a newer version of; null for a new one. */
export function useBringPack(id: string | null) {
  const [sent, setSent] = useState(0)
  const bring = usePapersChange((file: File) =>
    sendFile(
      `/api/packs${id === null ? '' : `/${encodeURIComponent(id)}`}?${new URLSearchParams({ name: file.name })}`,
      file,
      FolderAdded,
      { onProgress: setSent, signal: new AbortController().signal },
    ),
  )
  return { ...bring, sent }
}

export function useScan() {
  return useMutation({ mutationFn: (id: string) => send('POST', `/api/folders/${id}/scan`, JobStarted) })
}

export function useProposals() {
  return useQuery({ queryKey: ['proposals'], queryFn: ({ signal }) => ask('/api/proposals', ProposalList, { signal }) })
}

export function useAnswerProposal() {
  return usePapersChange(({ id, answer }: { id: number; answer: ProposalAnswer }) =>
    send('POST', `/api/proposals/${id}`, z.object({ soundCount: z.number() }), answer),
  )
}

export function useTakeIn() {
  return usePapersChange(({ file, span }: { file: File; span: readonly [number, number] | null }) => {
    const query = new URLSearchParams({ name: file.name })
    if (span) {
      query.set('fromS', String(span[0]))
      query.set('toS', String(span[1]))
    }
    return sendFile(`/api/elsewhere?${query}`, file, ElsewhereTaken, {
      onProgress: () => {},
      signal: new AbortController().signal,
    })
  })
}
