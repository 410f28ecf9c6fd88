import { z } from 'zod'
import type { LibrarySecrets } from '../../contract/library-account'
import type { LibraryDescription } from '../../contract/library-description'
import { KNOWN_LICENCES } from '../../core/rights'
import { described as messages } from '../../messages/server/described'
import {
  type Account,
  type CataloguePage,
  type Connector,
  type LiveQuery,
  notUnderstood,
  type Order,
  type OrderRequest,
  type ServedFile,
  type ServedTerms,
  SourceError,
} from '../ports/connector'
import { requireAgreed } from '../sources/agreed-price'
import { DEFAULT_HTTP_POLICY, type HttpPolicy, SourceHttp } from '../sources/source-http'
import { describedSounds } from './described-sound'
import { type Asked, filledAddress, filledRequest, filledText, type Values } from './fill'
import { nextLink } from './next-link'
import { Picker } from './pick'
import { DescribedSignIn, type SignedIn } from './sign-in'

/** What a description needs beside itself. */
export interface DescribedOptions {
  readonly secrets: LibrarySecrets
  readonly nowMs: () => number
  readonly httpPolicy?: HttpPolicy
  /** For a try: what is not as described is told, field by field, and the rest is read. Otherwise the first of it ends the reading. */
  readonly onProblem?: (problem: DescribedProblem) => void
}

/** What is not as described in an answer. */
export interface DescribedProblem {
  readonly field: string
  /** Names the expression, and shows a piece of the answer. */
  readonly message: string
}

/** A library that is connected by a description alone. */
export function describedLibrary(description: LibraryDescription, options: DescribedOptions): Connector {
  const library = new DescribedLibrary(description, options)
  const { id, name, about, terms, order, search } = description
  return {
    id,
    name,
    about,
    readings: terms.readings,
    account: (signal) => library.account(signal),
    page: (after, signal) => library.page(after, signal),
    ...(search ? { search: (query, after, signal) => library.search(query, after, signal) } : {}),
    terms: (key, signal) => library.terms(key, signal),
    preview: (ref, signal) => library.preview(ref, signal),
    order: (externalId, request, signal) => library.order(externalId, request, signal),
    ...(order.find ? { findOrder: (key, signal) => library.findOrder(key, signal) } : {}),
  }
}

/** A list of sounds, a page at a time. */
type Listing = NonNullable<LibraryDescription['catalogue']>

/** Whether a file is there already, or may be made only when it is ordered. */
type Fetched = 'file' | 'ordered'

class DescribedLibrary {
  private readonly http: SourceHttp
  private readonly pick: Picker
  private readonly signIn: DescribedSignIn

  constructor(
    private readonly description: LibraryDescription,
    { secrets, nowMs, httpPolicy = DEFAULT_HTTP_POLICY, onProblem }: DescribedOptions,
  ) {
    const { name, address, requestsPerS, downloadHosts, signIn } = description
    const policy = { ...httpPolicy, requestsPerS: Math.min(httpPolicy.requestsPerS, requestsPerS) }
    this.http = new SourceHttp(name, address, policy, downloadHosts)
    this.pick = new Picker(name, onProblem)
    this.signIn = new DescribedSignIn(name, signIn, secrets, { nowMs, http: this.http, pick: this.pick })
  }

  async account(signal: AbortSignal): Promise<Account> {
    const { account } = this.description
    if (!('path' in account)) return { plan: account.plan, planFrom: null, planUntil: null }
    const { value } = await this.json(account, {}, signal)
    const day = (expression: string | undefined, field: string): string | null => {
      const text = this.pick.text(expression, value, field, 40).slice(0, 10)
      if (text === '') return null
      if (!z.iso.date().safeParse(text).success)
        throw this.nonsense(`“${expression}” (${field}) gives “${text}” where a date such as 2026-01-31 was expected`)
      return text
    }
    return {
      plan: this.pick.required(account.plan, value, 'plan', 120),
      planFrom: day(account.from, 'from'),
      planUntil: day(account.until, 'until'),
    }
  }

  page(after: string | null, signal: AbortSignal): Promise<CataloguePage> {
    const { catalogue, search } = this.description
    if (catalogue) return this.pageOf(catalogue, { after }, signal)
    return this.search({ words: search?.example ?? '' }, after, signal)
  }

  search({ words, ...wanted }: LiveQuery, after: string | null, signal: AbortSignal): Promise<CataloguePage> {
    const { search, name } = this.description
    if (!search) throw this.nonsense(messages.descriptionDoesNotSayHow)
    const conditions = Object.entries(search.filters).map(([filter, template]) => {
      const value = wanted[filter as keyof typeof wanted]
      return value === undefined || template === undefined
        ? ''
        : filledAddress(template, { value: String(value) }, name)
    })
    return this.pageOf({ ...search, path: `${search.path}${conditions.join('')}` }, { after, words }, signal)
  }

  private async pageOf(
    list: Listing,
    { after, words }: { readonly after: string | null; readonly words?: string },
    signal: AbortSignal,
  ): Promise<CataloguePage> {
    const { paging } = list
    const first = paging.kind === 'offset' ? '0' : paging.kind === 'page' ? String(paging.first) : ''
    // A page that a header leads to has its whole address.
    const request = paging.kind === 'link' && after !== null ? { ...list, path: '{after}' } : list
    const asked = { after: after ?? first, ...(words === undefined ? {} : { words }) }
    const { value, headers } = await this.json(request, asked, signal)
    const rows = this.pick.list(list.sounds, value, 'sounds')
    const total = this.pick.number(list.total, value, 'total')
    return {
      sounds: rows.flatMap((row) => describedSounds(this.description.sound, row, this.pick)),
      next: this.nextPage(paging, { after: after ?? first, count: rows.length, total, value, headers }),
      total,
    }
  }

  /** What the page after one is asked for with; null after the last. */
  private nextPage(
    paging: Listing['paging'],
    page: {
      readonly after: string
      readonly count: number
      readonly total: number | null
      readonly value: unknown
      readonly headers: Headers
    },
  ): string | null {
    const { after, count, total, value, headers } = page
    switch (paging.kind) {
      case 'none':
        return null
      case 'offset': {
        const end = Number(after) + count
        return count === 0 || (total !== null && end >= total) ? null : String(end)
      }
      case 'page': {
        const pages = this.pick.number(paging.pages, value, 'pages')
        const isLast = pages === null ? count === 0 : Number(after) - paging.first + 1 >= pages
        return isLast ? null : String(Number(after) + 1)
      }
      case 'cursor':
        return this.pick.text(paging.next, value, 'next', 2000) || null
      case 'link':
        return nextLink(headers.get('link') ?? '')
    }
  }

  async terms(key: string, signal: AbortSignal): Promise<ServedTerms> {
    const { terms } = this.description
    const { value } = await this.json(terms, { key }, signal)
    const spdxId = this.pick.text(terms.spdx, value, 'spdx', 60) || null
    const known = spdxId === null ? undefined : KNOWN_LICENCES.get(spdxId)
    const title = this.pick.required(terms.title, value, 'title', 200)
    const shortTitle = typeof terms.shortTitle === 'string' ? terms.shortTitle : terms.shortTitle?.[key]
    return {
      key,
      version: known?.version ?? (this.pick.text(terms.version, value, 'version', 40) || '1'),
      title: known?.title ?? title,
      shortTitle: known?.shortTitle ?? shortTitle ?? spdxId ?? title.slice(0, 60),
      spdxId,
      url: this.pick.text(terms.url, value, 'url', 2000) || null,
      text: this.pick.required(terms.text, value, 'text', MAX_TERMS_LENGTH),
      duration: known?.duration ?? terms.duration,
      readings: known?.readings ?? terms.readings,
    }
  }

  async preview(ref: string, signal: AbortSignal): Promise<ServedFile> {
    const { preview } = this.description
    if (preview.address === undefined) return this.file(preview, { preview: ref }, signal)
    const { value } = await this.json(preview, { preview: ref }, signal)
    return this.fileAt(this.pick.required(preview.address, value, 'address', 2000), signal)
  }

  async order(externalId: string, { key, tier, format }: OrderRequest, signal: AbortSignal): Promise<Order> {
    const { order, sound, name } = this.description
    if (sound.tiers.length > 0 && tier === null) throw new SourceError('refused', messages.sellsBySoundChooseTier(name))
    let values: Values = { key, id: externalId, tier: tier?.key ?? '', format: format ?? '' }
    for (const step of order.steps) {
      const { value } = await this.json(step, values, signal)
      if (step.agreed && tier) {
        const priceMinor = this.pick.number(step.agreed.price, value, 'price') ?? Number.NaN
        const currency = this.pick.required(step.agreed.currency, value, 'currency', 3)
        requireAgreed(name, tier, { priceMinor, currency })
      }
      values = { ...values, ...this.kept(step.keep, value) }
    }
    return this.orderOf(values)
  }

  async findOrder(key: string, signal: AbortSignal): Promise<Order | null> {
    const { order } = this.description
    if (!order.find) return null
    const { value } = await this.json(order.find, { key }, signal)
    const found = this.pick.part(order.find.order, value)
    if (found === null) return null
    return this.orderOf({ key, ...this.kept(order.steps.at(-1)?.keep ?? {}, found) })
  }

  private kept(keep: Readonly<Record<string, string>>, value: unknown): Values {
    return Object.fromEntries(
      Object.entries(keep).map(([name, expression]) => [name, this.pick.required(expression, value, name, 2000)]),
    )
  }

  private orderOf(values: Values): Order {
    const { order, name } = this.description
    const text = (template: string): string => filledText(template, values, name)
    const { receipt, paid } = order
    return {
      ref: text(order.ref),
      title: text(order.title),
      file: (signal) => this.fileAt(filledAddress(order.file, values, name), signal, 'ordered'),
      originalName: order.fileName === undefined ? null : text(order.fileName),
      paid: paid ? { minor: this.amount(text(paid.price)), currency: text(paid.currency) } : null,
      receipt: receipt === undefined ? null : (signal) => this.fileAt(filledAddress(receipt, values, name), signal),
    }
  }

  private amount(text: string): number {
    if (!/^\d{1,12}$/.test(text)) throw this.nonsense(messages.noAmountInSmallestUnit(text))
    return Number(text)
  }

  private json(asked: Asked, values: Values, signal: AbortSignal) {
    return this.signIn.asSignedIn(signal, (signed) => {
      const { path, init } = this.request(asked, values, signed)
      return this.http.jsonWithHeaders(path, z.unknown(), { ...init, signal })
    })
  }

  private file(asked: Asked, values: Values, signal: AbortSignal, how: Fetched = 'file'): Promise<ServedFile> {
    return this.signIn.asSignedIn(signal, (signed) => {
      const { path, init } = this.request(asked, values, signed)
      return this.http[how](path, { ...init, signal })
    })
  }

  /** A file at an address that an answer named; who we are is told to the library's own host alone. */
  private fileAt(path: string, signal: AbortSignal, how: Fetched = 'file'): Promise<ServedFile> {
    if (!this.http.isOwn(path)) return this.http[how](path, { signal })
    return this.file({ path: '{address}' }, { address: path }, signal, how)
  }

  private request(asked: Asked, values: Values, signed: SignedIn): { path: string; init: RequestInit } {
    const { path, init } = filledRequest(asked, values, this.description.name)
    return {
      path: withQuery(path, signed.query),
      init: { ...init, headers: { ...init.headers, ...signed.headers } },
    }
  }

  private nonsense(what: string): SourceError {
    return notUnderstood(this.description.name, what)
  }
}

/** More of one text of terms is cut off by nobody: the mirror refuses it. */
const MAX_TERMS_LENGTH = 4_000_000

function withQuery(path: string, query: Readonly<Record<string, string>>): string {
  const more = new URLSearchParams(query).toString()
  return more === '' ? path : `${path}${path.includes('?') ? '&' : '?'}${more}`
}
