import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { AudioCache, audioAddress } from './audio-cache'

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
  const cache = () => new AudioCache((address) => address === '/1')

  it('is fetched once, also when it is asked for again on its way', async () => {
    const audio = cache()
    expect(audio.urlOf('/7')).toBe('/7')
    expect(await Promise.all([audio.fetch('/7'), audio.fetch('/7')])).toEqual([true, true])
    expect(await audio.fetch('/7')).toBe(true)
    expect(asked).toEqual(['/7'])
    expect(audio.urlOf('/7')).toMatch(/^blob:/)
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
    expect(await audio.fetch('/7')).toBe(false)
    expect(audio.urlOf('/7')).toBe('/7')
  })

  it('makes room for the next, but not where an element holds it', async () => {
    const audio = cache()
    for (let id = 1; id <= 33; id++) await audio.fetch(`/${id}`)
    expect(audio.urlOf('/1')).toMatch(/^blob:/)
    expect(audio.urlOf('/2')).toBe('/2')
    expect(audio.urlOf('/3')).toMatch(/^blob:/)
  })

  it('has another address when the sound became another one: the preview is not heard after the download', async () => {
    const [preview, file] = ['a', 'b'].map((letter) => audioAddress({ id: 7, audioSha256: letter.repeat(64) }))
    const audio = cache()
    await audio.fetch(preview as string)
    expect(file).not.toBe(preview)
    expect(audio.urlOf(file as string)).toBe(file)
    expect(audioAddress({ id: 7, audioSha256: null })).toBe('/api/sounds/7/audio')
  })
})
