import { z } from 'zod'
import type { Reading } from '../../core/rights'
import {
  type CatalogueSound,
  type Connector,
  type Order,
  PLAIN_SOUND,
  SourceError,
  withChoices,
} from '../ports/connector'
import { type HttpPolicy, SourceHttp } from './source-http'

const Token = z.object({ access_token: z.string().min(8), expires_in: z.number().positive() })
const Member = z.object({ plan: z.object({ name: z.string().max(80), from: z.iso.date(), until: z.iso.date() }) })
const Shelf = z.object({
  data: z.object({
    items: z.array(
      z.object({
        uid: z.string().min(1).max(64),
        title: z.string().max(500),
        artist: z.string().max(200).default(''),
        len_ms: z.number().int().nonnegative(),
        keywords: z.string().max(3000).default(''),
        group: z.string().max(60).default(''),
        blurb: z.string().max(5000).default(''),
        files: z.array(z.string().max(8)).min(1),
        type: z.enum(['effect', 'bed']).default('effect'),
        bpm: z.number().positive().max(400).optional(),
        feel: z.string().max(60).optional(),
        sung: z.boolean().optional(),
        takes: z
          .array(
            z.object({
              uid: z.string().min(1).max(64),
              is: z.enum(['stem', 'piece', 'edit']),
              called: z.string().min(1).max(120),
              len_ms: z.number().int().nonnegative(),
              files: z.array(z.string().max(8)).min(1),
            }),
          )
          .max(100)
          .default([]),
      }),
    ),
    next: z.string().max(200).nullable(),
  }),
})
const Licence = z.object({ edition: z.string().max(40), heading: z.string().max(200), text: z.string().min(20) })
const Ticket = z.object({ order_no: z.string().min(1).max(80), href: z.string().max(500) })

/** A token is renewed this long before it expires, ms. */
const RENEW_BEFORE_MS = 5_000

/** How the plan's licence is read; each answer rests on the phrase and falls when the text no longer has it. */
const READINGS: readonly Reading[] = [
  { key: 'online', answer: 'yes', phrase: 'You may use the sounds in films and videos that are published online' },
  { key: 'earning', answer: 'yes', phrase: 'including channels that earn from adverts, sponsors or members' },
  {
    key: 'audio-only',
    answer: 'yes',
    phrase: 'Podcasts and radio plays that are published online are covered in the same way',
  },
  { key: 'internal', answer: 'yes', phrase: 'Teaching and use inside your own organisation are covered' },
  {
    key: 'client-work',
    answer: 'yes',
    phrase: 'You may make films for clients; the finished film passes to the client',
  },
  { key: 'paid-advertising', answer: 'no', phrase: 'Paid advertising is not covered by this plan' },
  { key: 'broadcast', answer: 'no', phrase: 'Broadcast on television or radio is not covered by this plan' },
  { key: 'modification', answer: 'yes', phrase: 'You may cut, layer, pitch and mix the sounds' },
  {
    key: 'credit',
    answer: 'yes',
    phrase: 'No credit has to be given',
    limit: { kind: 'credit', owed: false, where: 'anywhere', template: null },
  },
  { key: 'share-alike', answer: 'yes', phrase: 'Your film stays yours, under whatever licence you choose' },
  { key: 'territory', answer: 'yes', phrase: 'in all countries' },
  { key: 'transfer', answer: 'yes', phrase: 'the finished film passes to the client' },
  { key: 'standalone', answer: 'no', phrase: 'The sounds may not be passed on by themselves' },
  { key: 'client-work', answer: 'duty', phrase: "A film that is made for a client needs a plan of the client's own" },
  {
    key: 'duration',
    answer: 'yes',
    phrase: 'A film first published while your plan is active stays cleared for as long as it exists',
  },
]

/** Heron & Slate: one licence for all sounds while a plan runs. Cursor paging, a token that expires, signed downloads. */
export function heronSlate(options: {
  readonly baseUrl: string
  readonly client: string
  readonly secret: string
  readonly nowMs: () => number
  readonly httpPolicy?: HttpPolicy
}): Connector {
  const name = 'Heron & Slate'
  const http = new SourceHttp(name, options.baseUrl, options.httpPolicy)
  let token: { value: string; untilMs: number } | null = null

  const signedIn = async (signal: AbortSignal): Promise<{ Authorization: string }> => {
    if (!token || token.untilMs - RENEW_BEFORE_MS < options.nowMs()) {
      const body = JSON.stringify({ client: options.client, secret: options.secret })
      const headers = { 'Content-Type': 'application/json' }
      const fresh = await http.json('/session', Token, { method: 'POST', body, headers, signal })
      token = { value: fresh.access_token, untilMs: options.nowMs() + fresh.expires_in * 1000 }
    }
    return { Authorization: `Bearer ${token.value}` }
  }

  /** Once more with a fresh token when the library no longer takes the one at hand. */
  const withToken = async <T>(
    signal: AbortSignal,
    ask: (headers: { Authorization: string }) => Promise<T>,
  ): Promise<T> => {
    try {
      return await ask(await signedIn(signal))
    } catch (error) {
      if (!(error instanceof SourceError) || error.code !== 'refused' || !token) throw error
      token = null
      return ask(await signedIn(signal))
    }
  }

  const member = (signal: AbortSignal): Promise<z.infer<typeof Member>> =>
    withToken(signal, (headers) => http.json('/member', Member, { headers, signal }))

  return {
    id: 'heron-slate',
    name,
    about: 'A subscription library; one licence for all its sounds while the plan runs.',
    readings: READINGS,
    async account(signal) {
      const { plan } = await member(signal)
      return { plan: plan.name, planFrom: plan.from, planUntil: plan.until }
    },
    async page(after, signal) {
      const path = `/shelf?after=${encodeURIComponent(after ?? '')}`
      const { data } = await withToken(signal, (headers) => http.json(path, Shelf, { headers, signal }))
      return { sounds: data.items.flatMap(catalogueSounds), next: data.next, total: null }
    },
    async terms(key, signal) {
      const served = await withToken(signal, (headers) => http.json('/licence', Licence, { headers, signal }))
      return {
        key,
        version: served.edition,
        title: served.heading,
        shortTitle: 'Plan licence',
        spdxId: null,
        url: null,
        text: served.text,
        duration: 'published-while-active',
        readings: READINGS,
      }
    },
    preview: (ref, signal) =>
      withToken(signal, (headers) => http.file(`/listen/${encodeURIComponent(ref)}`, { headers, signal })),
    async order(externalId, { key, format }, signal) {
      const { plan } = await member(signal)
      const ticket = await withToken(signal, (headers) =>
        http.json(
          `/fetch/${encodeURIComponent(externalId)}${format ? `?file=${encodeURIComponent(format)}` : ''}`,
          Ticket,
          {
            method: 'POST',
            headers: { ...headers, 'Idempotency-Key': key },
            signal,
          },
        ),
      )
      const file: Order['file'] = (asked) => http.ordered(ticket.href, { signal: asked })
      return { ref: ticket.order_no, title: plan.name, file, originalName: null, paid: null, receipt: null }
    },
  }
}

const ROLES = { stem: 'stem', piece: 'part', edit: 'version' } as const

/** One item of the shelf and what it can be had in beside the whole. */
function catalogueSounds(raw: z.infer<typeof Shelf>['data']['items'][number]): CatalogueSound[] {
  const entry: CatalogueSound = {
    externalId: raw.uid,
    title: raw.title.trim() || 'Untitled sound',
    maker: raw.artist,
    description: raw.blurb,
    tags: raw.keywords
      .split(',')
      .map((word) => word.trim())
      .filter(Boolean),
    category: raw.group,
    durationS: raw.len_ms / 1000,
    formats: raw.files,
    cost: 'in your plan',
    pageUrl: null,
    previewRef: raw.uid,
    termsKey: 'plan',
    ...PLAIN_SOUND,
    kind: raw.type === 'bed' ? 'music' : 'effect',
    tempoBpm: raw.bpm ?? null,
    mood: raw.feel ?? null,
    vocals: raw.sung ?? null,
  }
  return withChoices(
    entry,
    raw.takes.map(({ uid, is, called, len_ms, files }) => ({
      externalId: uid,
      role: ROLES[is],
      name: called,
      durationS: len_ms / 1000,
      previewRef: uid,
      formats: files,
    })),
  )
}
