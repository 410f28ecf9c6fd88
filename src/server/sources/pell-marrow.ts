import { z } from 'zod'
import type { Reading } from '../../core/rights'
import { money } from '../money'
import { type CatalogueSound, type Connector, type Order, SourceError, type Tier } from '../ports/connector'
import { requireAgreed } from './agreed-price'
import { type HttpPolicy, SourceHttp } from './source-http'

const Prices = z.object({
  web: z.number().int().nonnegative(),
  promo: z.number().int().nonnegative(),
  all: z.number().int().nonnegative(),
})
const List = z.object({
  Page: z.number().int().positive(),
  Pages: z.number().int().positive(),
  Items: z.array(
    z.object({
      Ref: z.string().min(1).max(64),
      Label: z.string().max(500),
      By: z.string().max(200).nullable(),
      Ms: z.number().int().nonnegative(),
      Words: z.string().max(3000),
      Dept: z.string().max(60).nullable(),
      Kind: z.enum(['fx', 'amb', 'bed']),
      Bpm: z.number().positive().max(400).optional(),
      Mood: z.string().max(60).optional(),
      Sung: z.enum(['Y', 'N']).optional(),
      Prices,
      Cur: z.string().regex(/^[A-Z]{3}$/),
      Ext: z.string().max(8),
    }),
  ),
})
const Wording = z.object({ Issue: z.number().int(), Name: z.string().max(200), Wording: z.string().min(20) })
const Basket = z.object({
  Basket: z.string().min(1).max(64),
  Total: z.number().int(),
  Cur: z.string().regex(/^[A-Z]{3}$/),
})
const Placed = z.object({
  Order: z.string().min(1).max(80),
  Total: z.number().int(),
  Cur: z.string().regex(/^[A-Z]{3}$/),
  Receipt: z.string().max(500),
  Download: z.string().max(500),
  FileName: z.string().max(500),
  Tier: z.string().max(40),
})
const Found = z.object({ Orders: z.array(Placed).max(1) })

const TIER_TITLES: Readonly<Record<keyof z.infer<typeof Prices>, string>> = {
  web: 'Single, online',
  promo: 'Online and advertising',
  all: 'Everything',
}
const KINDS = { fx: 'effect', amb: 'ambience', bed: 'music' } as const

const ALL_PLACES =
  'Broadcast on television and radio, cinema and festivals, games and apps, and publishing as sound alone are included'
const HIGHER = 'Paid advertising, broadcast, cinema, games and apps need a higher tier'

/** How the three wordings are read; the first reading of a point whose phrase stands in the text counts. */
const READINGS: readonly Reading[] = [
  { key: 'online', answer: 'yes', phrase: 'It may be published online' },
  { key: 'earning', answer: 'yes', phrase: 'also where it earns from adverts, sponsors or members' },
  { key: 'internal', answer: 'yes', phrase: 'shown for teaching and inside your organisation' },
  { key: 'client-work', answer: 'yes', phrase: 'It may be made for a client' },
  { key: 'transfer', answer: 'yes', phrase: 'the finished video may be handed over to the client' },
  {
    key: 'audience',
    answer: 'duty',
    phrase: 'for adverts that reach up to 500,000 people',
    limit: { kind: 'people', max: 500_000 },
  },
  { key: 'paid-advertising', answer: 'yes', phrase: 'Paid advertising online is included' },
  { key: 'paid-advertising', answer: 'no', phrase: HIGHER },
  ...(['broadcast', 'cinema', 'game'] as const).flatMap((key): Reading[] => [
    { key, answer: 'yes', phrase: ALL_PLACES },
    { key, answer: 'no', phrase: HIGHER },
  ]),
  { key: 'audio-only', answer: 'yes', phrase: ALL_PLACES },
  { key: 'projects', answer: 'yes', phrase: 'in any number of videos' },
  { key: 'projects', answer: 'duty', phrase: 'You may use the sound in one video', limit: { kind: 'videos', max: 1 } },
  { key: 'modification', answer: 'yes', phrase: 'You may cut, layer, pitch and mix it' },
  { key: 'share-alike', answer: 'yes', phrase: 'Your production stays yours, under whatever licence you choose' },
  { key: 'standalone', answer: 'no', phrase: 'The sound may not be passed on by itself' },
  { key: 'territory', answer: 'yes', phrase: 'The right holds in all countries and for ever' },
  { key: 'duration', answer: 'yes', phrase: 'The right holds in all countries and for ever' },
  { key: 'credit', answer: 'yes', phrase: 'No credit is owed' },
  { key: 'proof', answer: 'duty', phrase: 'Keep the receipt: we may ask for it' },
]

/** Pell & Marrow: each sound is bought, in one of three tiers. Page numbers, name and password, basket and order. */
export function pellMarrow(options: {
  readonly baseUrl: string
  readonly user: string
  readonly password: string
  readonly httpPolicy?: HttpPolicy
}): Connector {
  const name = 'Pell & Marrow'
  const http = new SourceHttp(name, options.baseUrl, options.httpPolicy)
  const credentials = Buffer.from(`${options.user}:${options.password}`).toString('base64')
  const headers = { Authorization: `Basic ${credentials}`, 'Content-Type': 'application/json' }

  return {
    id: 'pell-marrow',
    name,
    about: 'A shop; each sound is bought once, in one of three tiers.',
    readings: READINGS,
    async account(signal) {
      const { Holder } = await http.json('/account', z.object({ Holder: z.string().max(200) }), { headers, signal })
      return { plan: `Account of ${Holder}`, planFrom: null, planUntil: null }
    },
    async page(after, signal) {
      const { Page, Pages, Items } = await http.json(`/list?page=${Number(after ?? 1)}`, List, { headers, signal })
      return { sounds: Items.map(catalogueSound), next: Page < Pages ? String(Page + 1) : null, total: null }
    },
    async terms(key, signal) {
      const served = await http.json(`/tiers/${encodeURIComponent(key)}`, Wording, { headers, signal })
      return {
        key,
        version: String(served.Issue),
        title: `${name}, ${served.Name}`,
        shortTitle: served.Name,
        spdxId: null,
        url: null,
        text: served.Wording,
        duration: 'for-ever',
        readings: READINGS,
      }
    },
    preview: (ref, signal) => http.file(`/hear/${encodeURIComponent(ref)}`, { headers, signal }),
    async order(externalId, { key, tier }, signal) {
      if (tier === null) throw new SourceError('refused', `${name} sells by the sound: choose a tier first.`)
      const body = JSON.stringify({ Ref: externalId, Tier: tier.key })
      const basket = await http.json('/basket', Basket, { method: 'POST', body, headers, signal })
      requireAgreed(name, tier, { priceMinor: basket.Total, currency: basket.Cur })
      const placed = await http.json(`/basket/${encodeURIComponent(basket.Basket)}/order`, Placed, {
        method: 'POST',
        headers: { ...headers, 'Idempotency-Key': key },
        signal,
      })
      return orderOf(placed)
    },
    async findOrder(key, signal) {
      const { Orders } = await http.json(`/orders?key=${encodeURIComponent(key)}`, Found, { headers, signal })
      return Orders[0] ? orderOf(Orders[0]) : null
    },
  }

  function orderOf(placed: z.infer<typeof Placed>): Order {
    return {
      ref: placed.Order,
      title: `${TIER_TITLES[placed.Tier as keyof typeof TIER_TITLES] ?? placed.Tier}, order ${placed.Order}`,
      file: (signal) => http.ordered(placed.Download, { headers, signal }),
      originalName: placed.FileName,
      paid: { minor: placed.Total, currency: placed.Cur },
      receipt: (signal) => http.file(placed.Receipt, { headers, signal }),
    }
  }
}

function catalogueSound(raw: z.infer<typeof List>['Items'][number]): CatalogueSound {
  const tiers = (['web', 'promo', 'all'] as const).map(
    (key): Tier => ({
      key,
      title: TIER_TITLES[key],
      priceMinor: raw.Prices[key],
      currency: raw.Cur,
      termsKey: key,
    }),
  )
  return {
    externalId: raw.Ref,
    title: raw.Label.trim() || 'Untitled sound',
    maker: raw.By ?? '',
    description: '',
    tags: raw.Words.split(';').filter(Boolean),
    category: raw.Dept ?? '',
    durationS: raw.Ms / 1000,
    formats: [raw.Ext.replace('.', '').toLowerCase()],
    cost: `from ${money(raw.Prices.web, raw.Cur)}`,
    pageUrl: null,
    previewRef: raw.Ref,
    termsKey: 'web',
    tiers,
    kind: KINDS[raw.Kind],
    popularity: null,
    tempoBpm: raw.Bpm ?? null,
    mood: raw.Mood ?? null,
    vocals: raw.Sung === undefined ? null : raw.Sung === 'Y',
  }
}
