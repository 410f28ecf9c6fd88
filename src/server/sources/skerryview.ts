import { z } from 'zod'
import type { Reading } from '../../core/rights'
import type { CatalogueSound, Connector, Order } from '../ports/connector'
import { type HttpPolicy, SourceHttp } from './source-http'

const Track = z.object({
  trackId: z.string().min(1).max(64),
  displayName: z.string().max(500),
  uploader: z.string().max(200),
  /** Seconds, written as text. */
  seconds: z.string().regex(/^\d{1,6}(\.\d{1,6})?$/),
  genre: z.string().max(60),
  keywords: z.array(z.string().max(60)).max(60),
  type: z.enum(['effect', 'ambience', 'music']),
  attributionRequired: z.boolean(),
  tempo: z
    .string()
    .regex(/^\d{1,3} bpm$/)
    .optional(),
  mood: z.string().max(60).optional(),
  hasVocals: z.boolean().optional(),
  timesUsed: z
    .string()
    .regex(/^\d{1,9}$/)
    .optional(),
})
const Collection = z.object({ tracks: z.array(Track), nextPageToken: z.string().max(200).optional() })
const Linked = z.object({ audioUrl: z.string().max(500), fullUrl: z.string().max(500), fileName: z.string().max(500) })
const Terms = z.object({ updated: z.iso.date(), heading: z.string().max(200), content: z.string().min(20) })

const READINGS: readonly Reading[] = [
  {
    key: 'online',
    answer: 'yes',
    phrase: 'may be used in videos that are published online, on Skerryview and elsewhere',
  },
  { key: 'earning', answer: 'yes', phrase: 'The video may earn from adverts, sponsors and members' },
  { key: 'earning', answer: 'duty', phrase: 'A video that earns needs a partner contract with Skerryview' },
  { key: 'territory', answer: 'yes', phrase: 'in every country' },
  { key: 'modification', answer: 'yes', phrase: 'They may be cut and mixed' },
  { key: 'share-alike', answer: 'yes', phrase: 'Your video remains yours, whatever licence you give it' },
  { key: 'credit', answer: 'yes', phrase: 'You need not name the sound' },
  {
    key: 'credit',
    answer: 'duty',
    phrase: 'Name the sound in the description of the video, in this form',
    limit: {
      kind: 'credit',
      owed: true,
      where: 'in the description',
      template: 'Sound: {title} by {maker}, Skerryview Free Collection',
    },
  },
  { key: 'standalone', answer: 'no', phrase: 'The sounds may not be offered as sounds, alone or in a pack' },
  { key: 'duration', answer: 'yes', phrase: 'What has been published under these terms may stay published' },
  { key: 'paid-advertising', answer: 'no', phrase: 'Paid advertising is not covered' },
]

/** Skerryview Free Collection: free for online videos, some sounds with a credit. Page tokens, links that expire. */
export function skerryview(options: {
  readonly baseUrl: string
  readonly key: string
  readonly httpPolicy?: HttpPolicy
}): Connector {
  const name = 'Skerryview Free Collection'
  const http = new SourceHttp(name, options.baseUrl, options.httpPolicy)
  const key = `key=${encodeURIComponent(options.key)}`
  const linked = (id: string, signal: AbortSignal): Promise<z.infer<typeof Linked>> =>
    http.json(`/collection/${encodeURIComponent(id)}?${key}`, Linked, { signal })

  return {
    id: 'skerryview',
    name,
    about: 'The free collection of a video host, for videos that are published online; some sounds want a credit.',
    readings: READINGS,
    account: async () => ({ plan: 'Free account', planFrom: null, planUntil: null }),
    async page(after, signal) {
      const path = `/collection?${key}&pageToken=${encodeURIComponent(after ?? '')}`
      const { tracks, nextPageToken } = await http.json(path, Collection, { signal })
      return { sounds: tracks.map(catalogueSound), next: nextPageToken ?? null, total: null }
    },
    async terms(termsKey, signal) {
      const served = await http.json(`/terms/${encodeURIComponent(termsKey)}?${key}`, Terms, { signal })
      return {
        key: termsKey,
        version: served.updated,
        title: `Skerryview ${served.heading}`,
        shortTitle: termsKey === 'named' ? 'Free, credit' : 'Free',
        spdxId: null,
        url: null,
        text: served.content,
        duration: 'for-ever',
        readings: READINGS,
      }
    },
    async preview(ref, signal) {
      return http.file((await linked(ref, signal)).audioUrl, { signal })
    },
    async order(externalId, order, signal) {
      const { fullUrl, fileName } = await linked(externalId, signal)
      const file: Order['file'] = (asked) => http.ordered(fullUrl, { signal: asked })
      return { ref: order.key, title: 'Free Collection', file, originalName: fileName, paid: null, receipt: null }
    },
  }
}

function catalogueSound(raw: z.infer<typeof Track>): CatalogueSound {
  return {
    externalId: raw.trackId,
    title: raw.displayName.trim() || 'Untitled sound',
    maker: raw.uploader,
    description: '',
    tags: raw.keywords,
    category: raw.genre === '' ? '' : (raw.genre[0] as string).toUpperCase() + raw.genre.slice(1),
    durationS: Number(raw.seconds),
    formats: [],
    cost: 'free',
    pageUrl: null,
    previewRef: raw.trackId,
    termsKey: raw.attributionRequired ? 'named' : 'open',
    tiers: [],
    kind: raw.type,
    tempoBpm: raw.tempo ? Number.parseInt(raw.tempo, 10) : null,
    mood: raw.mood ?? null,
    vocals: raw.hasVocals ?? null,
    popularity: raw.timesUsed === undefined ? null : Number(raw.timesUsed),
  }
}
