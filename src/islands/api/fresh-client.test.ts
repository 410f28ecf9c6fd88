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
  it('while it is asked for the first time is asked for again, and the old answer does not stay', async () => {
    const server = slowServer('an order is under way')
    const { observer, stop } = shown(['sound', 1], server.ask)
    server.now = 'a copy is here'
    let isOver = false
    const ended = client.invalidateQueries({ queryKey: ['sound'] }).then(() => {
      isOver = true
    })
    await turns()
    // What is under way is not given up for it.
    expect(server.under).toHaveLength(1)
    expect(server.under[0]?.signal.aborted).toBe(false)
    server.under[0]?.send()
    await turns()
    expect(server.under.map(({ read }) => read)).toEqual(['an order is under way', 'a copy is here'])
    expect(isOver).toBe(false)
    server.under[1]?.send()
    await ended
    await turns()
    expect(observer.getCurrentResult()).toMatchObject({ data: 'a copy is here', status: 'success', isFetching: false })
    stop()
  })

  it('over and over meanwhile is shown as soon as it is answered, and asked for once more', async () => {
    const server = slowServer('0')
    const { observer, seen, stop } = shown(['desk'], server.ask)
    for (const now of ['1', '2', '3']) {
      server.now = now
      void client.invalidateQueries()
      await turns()
    }
    server.under[0]?.send()
    await turns()
    expect(seen).toContain('0')
    expect(server.under.map(({ read }) => read)).toEqual(['0', '3'])
    server.under[1]?.send()
    await turns()
    expect(observer.getCurrentResult()).toMatchObject({ data: '3', isFetching: false })
    // From now on there is an answer, and each change asks anew.
    server.now = '4'
    void client.invalidateQueries()
    await turns()
    server.under[2]?.send()
    await turns()
    expect(observer.getCurrentResult().data).toBe('4')
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

  it('and fails at first is asked for again all the same; and fails then says so', async () => {
    let asked = 0
    const fail: ((error: Error) => void)[] = []
    const { observer, stop } = shown(['sound', 2], () => {
      asked++
      return new Promise((_, reject) => fail.push(reject))
    })
    const ended = client.invalidateQueries({ queryKey: ['sound'] })
    fail[0]?.(new Error('it broke off'))
    await turns()
    expect(asked).toBe(2)
    fail[1]?.(new Error('the application does not answer'))
    await ended
    await turns()
    expect(observer.getCurrentResult()).toMatchObject({ status: 'error', isFetching: false })
    expect(observer.getCurrentResult().error?.message).toBe('the application does not answer')
    stop()
  })

  it('and is not looked at any more is not asked for again', async () => {
    const server = slowServer('first')
    const { stop } = shown(['papers', 7], server.ask)
    void client.invalidateQueries({ queryKey: ['papers'] })
    stop()
    server.under[0]?.send()
    await turns()
    expect(server.under).toHaveLength(1)
  })
})
