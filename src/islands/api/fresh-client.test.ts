import { QueryObserver } from '@tanstack/react-query'
import { afterEach, describe, expect, it } from 'vitest'
import { FreshClient } from './fresh-client'

const client = new FreshClient({ defaultOptions: { queries: { retry: false, staleTime: 60_000 } } })
afterEach(() => client.clear())

/** A server whose answers are read when they are asked for, and sent when the test says so. */
function slowServer(first: string) {
  const under: { readonly read: string; readonly send: () => void; readonly signal: AbortSignal }[] = []
  const server = {
    now: first,
    under,
    ask: ({ signal }: { signal: AbortSignal }) =>
      new Promise<string>((resolve) => {
        const read = server.now
        under.push({ read, signal, send: () => resolve(read) })
      }),
  }
  return server
}

/** Follows what is shown under a key, and waits until it is a given one. */
function shown(key: readonly unknown[], queryFn: (context: { signal: AbortSignal }) => Promise<string>) {
  const observer = new QueryObserver<string>(client, { queryKey: key, queryFn })
  const seen: (string | undefined)[] = []
  const stop = observer.subscribe(({ data }) => seen.push(data))
  return { observer, seen, stop }
}

const turns = () => new Promise((resolve) => setTimeout(resolve, 5))

describe('what becomes stale', () => {
  it('while it is asked for the first time is asked for again, and the old answer is never shown', async () => {
    const server = slowServer('an order is under way')
    const { observer, seen, stop } = shown(['sound', 1], server.ask)
    server.now = 'a copy is here'
    const ended = client.invalidateQueries({ queryKey: ['sound'] })
    expect(server.under[0]?.signal.aborted).toBe(true)
    server.under[0]?.send()
    await turns()
    expect(server.under.map(({ read }) => read)).toEqual(['an order is under way', 'a copy is here'])
    expect(observer.getCurrentResult().data).toBeUndefined()
    server.under[1]?.send()
    await ended
    await turns()
    expect(observer.getCurrentResult()).toMatchObject({ data: 'a copy is here', status: 'success', isFetching: false })
    expect(seen).not.toContain('an order is under way')
    stop()
  })

  it('again and again is answered by what was read last', async () => {
    const server = slowServer('0')
    const { observer, stop } = shown(['desk'], server.ask)
    for (const now of ['1', '2', '3']) {
      server.now = now
      void client.invalidateQueries()
      await turns()
    }
    for (const { send } of server.under) send()
    await turns()
    expect(observer.getCurrentResult()).toMatchObject({ data: '3', isFetching: false })
    stop()
  })

  it('elsewhere leaves what is asked for alone', async () => {
    const server = slowServer('first')
    const { observer, stop } = shown(['papers'], server.ask)
    server.now = 'second'
    await client.invalidateQueries({ queryKey: ['sound'] })
    await client.invalidateQueries({ queryKey: ['papers'], refetchType: 'none' })
    expect(server.under).toHaveLength(1)
    server.under[0]?.send()
    await turns()
    expect(observer.getCurrentResult().data).toBe('first')
    stop()
  })

  it('after its first answer is asked for as ever', async () => {
    const server = slowServer('first')
    const { observer, stop } = shown(['papers'], server.ask)
    server.under[0]?.send()
    await turns()
    server.now = 'second'
    const ended = client.invalidateQueries({ queryKey: ['papers'] })
    await turns()
    expect(observer.getCurrentResult().data).toBe('first')
    server.under[1]?.send()
    await ended
    await turns()
    expect(observer.getCurrentResult().data).toBe('second')
    stop()
  })

  it('and fails when it is asked for again says so', async () => {
    let asked = 0
    const { observer, stop } = shown(['sound', 2], async ({ signal }) => {
      asked++
      if (asked > 1) throw new Error('the application does not answer')
      return new Promise((_, reject) => signal.addEventListener('abort', () => reject(new Error('given up'))))
    })
    await client.invalidateQueries({ queryKey: ['sound'] })
    await turns()
    expect(observer.getCurrentResult()).toMatchObject({ status: 'error', isFetching: false })
    expect(observer.getCurrentResult().error?.message).toBe('the application does not answer')
    stop()
  })
})
