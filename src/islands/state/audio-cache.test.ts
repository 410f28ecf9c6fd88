import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { AudioCache } from './audio-cache'

const asked: string[] = []
let answer: () => Response

beforeEach(() => {
  asked.length = 0
  answer = () => new Response('sound')
  vi.stubGlobal('fetch', (address: string) => {
    asked.push(address)
    return Promise.resolve().then(answer)
  })
})
afterEach(() => {
  vi.unstubAllGlobals()
})

describe('audio that is fetched ahead', () => {
  const cache = () => new AudioCache((id) => id === 1)

  it('is fetched once, also when it is asked for again on its way', async () => {
    const audio = cache()
    expect(audio.addressOf(7)).toBe('/api/sounds/7/audio')
    expect(await Promise.all([audio.fetch(7), audio.fetch(7)])).toEqual([true, true])
    expect(await audio.fetch(7)).toBe(true)
    expect(asked).toEqual(['/api/sounds/7/audio'])
    expect(audio.addressOf(7)).toMatch(/^blob:/)
  })

  it.each<[string, () => Response]>([
    ['is not there', () => new Response(null, { status: 404 })],
    ['is long', () => new Response('x', { headers: { 'content-length': String(13 * 1024 * 1024) } })],
    [
      'breaks off',
      () => {
        throw new TypeError('broken')
      },
    ],
  ])('is streamed when it %s', async (_, made) => {
    const audio = cache()
    answer = made
    expect(await audio.fetch(7)).toBe(false)
    expect(audio.addressOf(7)).toBe('/api/sounds/7/audio')
  })

  it('makes room for the next, but not where an element holds it', async () => {
    const audio = cache()
    for (let id = 1; id <= 33; id++) await audio.fetch(id)
    expect(audio.addressOf(1)).toMatch(/^blob:/)
    expect(audio.addressOf(2)).toBe('/api/sounds/2/audio')
    expect(audio.addressOf(3)).toMatch(/^blob:/)
  })
})
