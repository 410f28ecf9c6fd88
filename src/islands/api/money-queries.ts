import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { type BasketChange, type BasketInput, BasketWire, JobStarted, JournalWire } from '../../contract'
import { ask, send } from './client'

const BASKET = ['basket']

export function useBasket() {
  return useQuery({ queryKey: BASKET, queryFn: ({ signal }) => ask('/api/basket', BasketWire, { signal }) })
}

/** A change of the basket gives the basket as it is then. */
function useBasketChange<T>(change: (input: T) => Promise<BasketWire>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: change,
    onSuccess: (basket) => {
      client.setQueryData(BASKET, basket)
      void client.invalidateQueries({ queryKey: ['state'] })
    },
  })
}

export function usePutIntoBasket() {
  return useBasketChange((input: z.infer<typeof BasketInput>) => send('POST', '/api/basket', BasketWire, input))
}

export function useChangeLine() {
  return useBasketChange(({ id, ...change }: z.infer<typeof BasketChange> & { id: number }) =>
    send('PATCH', `/api/basket/${id}`, BasketWire, change),
  )
}

export function useTakeOut() {
  return useBasketChange((id: number) => send('DELETE', `/api/basket/${id}`, BasketWire))
}

export function useSetLimit() {
  return useBasketChange((input: { currency: string; minor: number | null }) =>
    send('PUT', '/api/basket/limit', BasketWire, input),
  )
}

export function usePay() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (lines: readonly { id: number; priceMinor: number; currency: string }[]) =>
      send('POST', '/api/basket/pay', z.object({ orderCount: z.number() }), { lines }),
    onSettled: () => client.invalidateQueries(),
  })
}

export function useJournal() {
  return useQuery({
    queryKey: ['papers', 'orders'],
    queryFn: ({ signal }) => ask('/api/orders', JournalWire, { signal }),
  })
}

export function useFinishOrder() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => send('POST', `/api/orders/${id}/finish`, JobStarted),
    onSettled: () => client.invalidateQueries(),
  })
}

/** Has a copy that was lost fetched again, by its order. */
export function useFetchAgain(soundId: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => send('POST', `/api/sounds/${soundId}/fetch-again`, JobStarted),
    onSettled: () => client.invalidateQueries(),
  })
}
