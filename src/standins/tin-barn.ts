import { createRequire } from 'node:module'
import { libraryOf, type Standin, type StandinAnswer, serveStandin, soundFile } from './serve'

const API_KEY = 'small-hours-key'

const LICENCE_URLS: Readonly<Record<string, string>> = {
  'CC0-1.0': 'https://creativecommons.org/publicdomain/zero/1.0/',
  'CC-BY-4.0': 'https://creativecommons.org/licenses/by/4.0/',
  'CC-BY-NC-4.0': 'https://creativecommons.org/licenses/by-nc/4.0/',
  'CC-BY-SA-4.0': 'https://creativecommons.org/licenses/by-sa/4.0/',
  'CC-BY-ND-4.0': 'https://creativecommons.org/licenses/by-nd/4.0/',
}

/** Stand-in for a community of makers: every sound its own open licence; offset paging; key in a header. */
export function serveTinBarn(dir: string, port: number): Promise<Standin> {
  const sounds = libraryOf(dir)
  const licenceTexts = createRequire(import.meta.url)
  return serveStandin(port, { fault: 'none', planUntil: null }, ({ method, url, headers }): StandinAnswer => {
    if (headers['x-barn-key'] !== API_KEY) return { status: 401, json: { error: 'unknown key' } }
    if (method !== 'GET') return { status: 405, json: { error: 'read only' } }
    const [, version, kind, id = '', part] = url.pathname.split('/').map(decodeURIComponent)
    if (version !== 'v2') return { status: 404, json: { error: 'no such version' } }
    if (kind === 'licences') {
      const licenceUrl = LICENCE_URLS[id]
      if (!licenceUrl) return { status: 404, json: { error: 'no such licence' } }
      const { name, licenseText } = licenceTexts(`spdx-license-list/licenses/${id}.json`) as {
        name: string
        licenseText: string
      }
      return { json: { spdx: id, title: name, url: licenceUrl, body: licenseText } }
    }
    if (kind !== 'sounds') return { status: 404, json: { error: 'nothing here' } }
    if (id === '') {
      const offset = Math.max(0, Number(url.searchParams.get('offset')) || 0)
      const limit = Math.min(50, Math.max(1, Number(url.searchParams.get('limit')) || 20))
      const results = sounds.slice(offset, offset + limit).map((sound) => ({
        id: sound.id,
        name: sound.title,
        author: { handle: sound.maker },
        license: sound.licence,
        duration_sec: Math.round(sound.durationS * 1000) / 1000,
        description: `${sound.title}. Recorded for the commons.`,
        tags: sound.tags.split(' '),
        category: sound.category,
        format: sound.format,
        permalink: `https://tin-barn.example/s/${sound.id}`,
      }))
      return { json: { total: sounds.length, offset, results } }
    }
    const sound = sounds.find((one) => one.id === id)
    if (!sound) return { status: 404, json: { error: 'no such sound' } }
    return soundFile(dir, sound, part === 'original' ? 'original' : 'preview')
  })
}
