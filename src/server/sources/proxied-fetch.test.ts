import http from 'node:http'
import net, { type AddressInfo } from 'node:net'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { proxiedFetch } from './proxied-fetch'

/** A proxy that leads every host to one library. */
let proxy: http.Server
let library: http.Server
const through: string[] = []
const urlOf = (server: http.Server): string => `http://127.0.0.1:${(server.address() as AddressInfo).port}`

beforeAll(async () => {
  library = http.createServer((_, response) => response.end('from the library'))
  proxy = http.createServer((request, response) => {
    through.push(request.url ?? '')
    response.end('from the library')
  })
  proxy.on('connect', (request: http.IncomingMessage, socket: net.Socket) => {
    through.push(request.url ?? '')
    const far = net.connect((library.address() as AddressInfo).port, '127.0.0.1', () => {
      socket.write('HTTP/1.1 200 Connection established\r\n\r\n')
      far.pipe(socket).pipe(far)
    })
    far.on('error', () => socket.destroy())
    socket.on('error', () => far.destroy())
  })
  for (const server of [library, proxy])
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()))
})
beforeEach(() => {
  through.length = 0
})
afterAll(() => {
  for (const server of [library, proxy]) {
    server.closeAllConnections()
    server.close()
  }
})

describe('fetch by the environment', () => {
  it('is that of the platform where no proxy is named', () => {
    expect(proxiedFetch({})).toBe(fetch)
    expect(proxiedFetch({ HTTP_PROXY: '', NO_PROXY: '*' })).toBe(fetch)
  })

  it.each(['HTTP_PROXY', 'http_proxy'])('asks through the proxy of %s', async (name) => {
    const answer = await proxiedFetch({ [name]: urlOf(proxy) })('http://library.example/sounds')
    expect(await answer.text()).toBe('from the library')
    expect(through).toHaveLength(1)
    expect(through[0]).toContain('library.example')
  })

  it('asks this machine directly, and the hosts of NO_PROXY', async () => {
    const asked = proxiedFetch({ HTTP_PROXY: urlOf(proxy), NO_PROXY: 'inside.example' })
    expect(await (await asked(urlOf(library))).text()).toBe('from the library')
    await expect(asked('http://inside.example:1/')).rejects.toThrow()
    expect(through).toEqual([])
  })

  it('of a proxy for encrypted addresses leaves the others alone', async () => {
    const asked = proxiedFetch({ HTTPS_PROXY: urlOf(proxy) })
    await expect(asked('https://library.example/')).rejects.toThrow()
    expect(through).toEqual(['library.example:443'])
    through.length = 0
    await expect(asked('http://library.example:1/')).rejects.toThrow()
    expect(through).toEqual([])
  })
})
