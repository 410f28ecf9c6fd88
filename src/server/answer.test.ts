import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { idParam, jsonBody, rangeParam } from './answer'

describe('an address', () => {
  it.each(['0', '00', '-1', '1.5', '', '1e3', '9'.repeat(16)])('%j names nothing', (id) => {
    expect(() => idParam({ id })).toThrow('names nothing')
  })
  it('1 names something', () => {
    expect(idParam({ id: '1' })).toBe(1)
  })
  it.each(['?fromS=1', '?toS=2', '?toS=2&x=1'])('with half a part (%s) does not ask for all', (query) => {
    expect(() => rangeParam(new URL(`http://x/${query}`))).toThrow('where the part begins and where it ends')
  })
  it('with both ends asks for the part, and with none for all', () => {
    expect(rangeParam(new URL('http://x/?fromS=1&toS=2'))).toEqual({ startS: 1, endS: 2 })
    expect(rangeParam(new URL('http://x/'))).toBeNull()
  })
})

describe('a JSON body', () => {
  const request = (pieces: readonly string[]): Request => {
    const body = new ReadableStream({
      pull(controller) {
        const [next, ...more] = pieces
        pieces = more
        if (next === undefined) controller.close()
        else controller.enqueue(new TextEncoder().encode(next))
      },
    })
    return new Request('http://localhost/x', { method: 'POST', body, duplex: 'half' } as RequestInit)
  }

  it('is read whole, however it comes', async () => {
    expect(await jsonBody(request(['{"a', '":', '"é"}']), z.object({ a: z.string() }))).toEqual({ a: 'é' })
  })

  it('without a stated length is read no further than is allowed', async () => {
    let given = 0
    const endless = new ReadableStream({
      pull(controller) {
        given++
        controller.enqueue(new Uint8Array(64 * 1024).fill(32))
      },
    })
    const asked = new Request('http://localhost/x', { method: 'POST', body: endless, duplex: 'half' } as RequestInit)
    await expect(jsonBody(asked, z.unknown())).rejects.toMatchObject({ code: 'too-large' })
    expect(given).toBeLessThan(20)
  })

  it.each([[[]], [['']], [['{']], [['nothing']]])('that is none is refused: %j', async (pieces) => {
    await expect(jsonBody(request(pieces), z.unknown())).rejects.toMatchObject({ code: 'bad-json' })
  })
})
