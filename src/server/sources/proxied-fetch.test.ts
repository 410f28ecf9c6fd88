import http from 'node:http'
import net, { type AddressInfo } from 'node:net'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { proxiedFetch } from './proxied-fetch'

/** `fetch` through what an environment names. */
function through(env: NodeJS.ProcessEnv): typeof fetch {
  const made = proxiedFetch(env)
  if (!made) throw new Error('no proxy was taken')
  return made
}

/** A proxy that leads every host to one library. */
let proxy: http.Server
let library: http.Server
const passed: string[] = []
const urlOf = (server: http.Server): string => `http://127.0.0.1:${(server.address() as AddressInfo).port}`

beforeAll(async () => {
  library = http.createServer((_, response) => response.end('from the library'))
  proxy = http.createServer((request, response) => {
    passed.push(request.url ?? '')
    response.end('from the library')
  })
  proxy.on('connect', (request: http.IncomingMessage, socket: net.Socket) => {
    passed.push(request.url ?? '')
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
  passed.length = 0
})
afterAll(() => {
  for (const server of [library, proxy]) {
    server.closeAllConnections()
    server.close()
  }
})

describe('fetch by the environment', () => {
  it('is none of its own where no proxy is named', () => {
    expect(proxiedFetch({})).toBeNull()
    expect(proxiedFetch({ HTTP_PROXY: '', NO_PROXY: '*' })).toBeNull()
  })

  it.each(['HTTP_PROXY', 'http_proxy'])('asks through the proxy of %s', async (name) => {
    const answer = await through({ [name]: urlOf(proxy) })('http://library.example/sounds')
    expect(await answer.text()).toBe('from the library')
    expect(passed).toHaveLength(1)
    expect(passed[0]).toContain('library.example')
  })

  it('asks this machine directly, and the hosts of NO_PROXY', async () => {
    const asked = through({ HTTP_PROXY: urlOf(proxy), NO_PROXY: 'inside.example' })
    expect(await (await asked(urlOf(library))).text()).toBe('from the library')
    await expect(asked('http://inside.example:1/')).rejects.toThrow()
    expect(passed).toEqual([])
  })

  it('of a proxy for encrypted addresses leaves the others alone', async () => {
    const asked = through({ HTTPS_PROXY: urlOf(proxy) })
    await expect(asked('https://library.example/')).rejects.toThrow()
    expect(passed).toEqual(['library.example:443'])
    passed.length = 0
    await expect(asked('http://library.example:1/')).rejects.toThrow()
    expect(passed).toEqual([])
  })
})
