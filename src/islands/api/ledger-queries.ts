import { useInfiniteQuery, useMutation } from '@tanstack/react-query'
import { JobStarted, type KeptHead, KeptHeadAnswer, LedgerPage } from '../../contract'
import { ask, send } from './client'

/** Entries of the ledger, the newest first, as far back as was scrolled. */
export function useLedger() {
  return useInfiniteQuery({
    queryKey: ['ledger'],
    queryFn: ({ pageParam, signal }) =>
      ask(`/api/ledger${pageParam === null ? '' : `?before=${pageParam}`}`, LedgerPage, { signal }),
    initialPageParam: null as number | null,
    getNextPageParam: ({ entries }: LedgerPage) => {
      const last = entries.at(-1)
      return last && last.number > 1 ? last.number : undefined
    },
  })
}

export function useVerifyLedger() {
  return useMutation({ mutationFn: () => send('POST', '/api/ledger/verify', JobStarted) })
}

export function useCompareHead() {
  return useMutation({ mutationFn: (head: KeptHead) => send('POST', '/api/ledger/head', KeptHeadAnswer, head) })
}
