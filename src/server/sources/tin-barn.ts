import { z } from 'zod'
import { KNOWN_LICENCES } from '../../core/rights'
import { type CatalogueSound, type Connector, type Order, PLAIN_SOUND } from '../ports/connector'
import { type HttpPolicy, SourceHttp } from './source-http'

const PAGE_SIZE = 40

const Page = z.object({
  total: z.number().int().nonnegative(),
  offset: z.number().int().nonnegative(),
  results: z.array(
    z.object({
      id: z.string().min(1).max(64),
      name: z.string().max(500),
      author: z.object({ handle: z.string().max(200) }).nullable(),
      license: z.string().max(40),
      duration_sec: z.number().nonnegative(),
      description: z.string().max(5000).default(''),
      tags: z.array(z.string().max(60)).max(60).default([]),
      category: z.string().max(60).default(''),
      format: z.string().max(8),
      permalink: z.url().nullable().default(null),
      fetched: z.number().int().nonnegative().nullable().default(null),
    }),
  ),
})

const Changed = z.object({ revision: z.number().int().nonnegative(), removed: z.array(z.string().max(64)) })

const Licence = z.object({
  spdx: z.string().max(40),
  title: z.string().max(200),
  url: z.url(),
  body: z.string().min(20),
})

/** Tin Barn Commons: sounds that their makers put under open licences, each its own. Offset paging, key in a header. */
export function tinBarn(options: {
  readonly baseUrl: string
  readonly apiKey: string
  readonly httpPolicy?: HttpPolicy
}): Connector {
  const name = 'Tin Barn Commons'
  const http = new SourceHttp(name, options.baseUrl, options.httpPolicy)
  const headers = { 'X-Barn-Key': options.apiKey }
  return {
    id: 'tin-barn',
    name,
    about: 'Openly licensed sounds by many makers; every sound has its own licence.',
    account: async () => ({ plan: 'Free membership', planFrom: null, planUntil: null }),
    async page(after, signal) {
      const offset = Number(after ?? 0)
      const page = await http.json(`/v2/sounds?offset=${offset}&limit=${PAGE_SIZE}`, Page, { headers, signal })
      const end = offset + page.results.length
      const done = page.results.length === 0 || end >= page.total
      return { sounds: page.results.map(catalogueSound), next: done ? null : String(end), total: page.total }
    },
    changesTell: 'removals',
    async changes(mark, signal) {
      const { revision, removed } = await http.json(`/v2/changes?since=${Number(mark ?? 0)}`, Changed, {
        headers,
        signal,
      })
      return { changed: [], goneIds: mark === null ? [] : removed, mark: String(revision) }
    },
    async terms(key, signal) {
      const served = await http.json(`/v2/licences/${encodeURIComponent(key)}`, Licence, { headers, signal })
      const known = KNOWN_LICENCES.get(served.spdx)
      return {
        key,
        version: known?.version ?? '1',
        title: known?.title ?? served.title,
        shortTitle: known?.shortTitle ?? served.spdx,
        spdxId: served.spdx,
        url: served.url,
        text: served.body,
        // A licence that is not known is stored whole and read as saying nothing.
        duration: known?.duration ?? 'not-stated',
        readings: known?.readings ?? [],
      }
    },
    preview: (ref, signal) => http.file(`/v2/sounds/${encodeURIComponent(ref)}/preview`, { headers, signal }),
    async order(externalId, { key }) {
      const address = `/v2/sounds/${encodeURIComponent(externalId)}/original`
      const file: Order['file'] = (asked) => http.ordered(address, { headers, signal: asked })
      return { ref: key, title: 'Open licence', file, originalName: null, paid: null, receipt: null }
    },
  }
}

function catalogueSound(raw: z.infer<typeof Page>['results'][number]): CatalogueSound {
  return {
    externalId: raw.id,
    title: raw.name.trim() || 'Untitled sound',
    maker: raw.author?.handle ?? '',
    description: raw.description,
    tags: raw.tags,
    category: raw.category,
    durationS: raw.duration_sec,
    formats: [raw.format],
    cost: 'free',
    pageUrl: raw.permalink,
    previewRef: raw.id,
    termsKey: raw.license,
    ...PLAIN_SOUND,
    popularity: raw.fetched,
  }
}
