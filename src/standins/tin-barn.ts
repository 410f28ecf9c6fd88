import { createRequire } from 'node:module'
import {
  type LibraryFiles,
  libraryOf,
  type Standin,
  type StandinAnswer,
  serveStandin,
  soundFile,
  wellBehaved,
} from './serve'

const API_KEY = 'small-hours-key'

/** Address of an open licence by its identifier. */
function licenceUrl(spdxId: string): string | null {
  if (spdxId === 'CC0-1.0') return 'https://creativecommons.org/publicdomain/zero/1.0/'
  const parts = /^CC-(BY(?:-NC)?(?:-SA|-ND)?)-([34]\.0)$/.exec(spdxId)
  return parts ? `https://creativecommons.org/licenses/${parts[1]?.toLowerCase()}/${parts[2]}/` : null
}

/** Stand-in for a community of makers: every sound its own open licence; offset paging; key in a header. */
export function serveTinBarn(files: LibraryFiles, port: number): Promise<Standin> {
  const all = libraryOf(files)
  const control = wellBehaved(1)
  const licenceTexts = createRequire(import.meta.url)
  return serveStandin(port, control, ({ method, url, headers }): StandinAnswer => {
    const sounds = all.filter(({ id }) => !control.withdrawn.includes(id))
    if (headers['x-barn-key'] !== API_KEY) return { status: 401, json: { error: 'unknown key' } }
    if (method !== 'GET') return { status: 405, json: { error: 'read only' } }
    const [, version, kind, id = '', part] = url.pathname.split('/').map(decodeURIComponent)
    if (version !== 'v2') return { status: 404, json: { error: 'no such version' } }
    if (kind === 'licences') {
      const address = licenceUrl(id)
      if (!address) return { status: 404, json: { error: 'no such licence' } }
      const { name, licenseText } = licenceTexts(`spdx-license-list/licenses/${id}.json`) as {
        name: string
        licenseText: string
      }
      return { json: { spdx: id, title: name, url: address, body: licenseText + control.addendum } }
    }
    if (kind === 'changes') {
      const since = Math.max(0, Number(url.searchParams.get('since')) || 0)
      return { json: { revision: control.withdrawn.length, removed: control.withdrawn.slice(since) } }
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
        tags: sound.tags.split(' ').filter(Boolean),
        category: sound.category,
        format: sound.format,
        ...(sound.taken === undefined ? {} : { fetched: sound.taken }),
        permalink: `https://tin-barn.example/s/${sound.id}`,
      }))
      return { json: { total: sounds.length, offset, results } }
    }
    const sound = sounds.find((one) => one.id === id)
    if (!sound) return { status: 404, json: { error: 'no such sound' } }
    return soundFile(files, sound, part === 'original' ? 'original' : 'preview')
  })
}
