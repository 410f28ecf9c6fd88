import { z } from 'zod'
import { CLAUSE_KEYS, DURATIONS } from '../core/rights'
import { LimitSchema } from './odrl'

const line = (max: number) => z.string().min(1).max(max)

/** An expression in JMESPath (https://jmespath.org/specification.html) over an answer of the library. */
const Expression = line(1000).describe('A JMESPath expression over the answer, such as author.name')

/** An address below that of the library, or a whole one; {name} stands for a value. */
const Address = line(1000).describe('A path or an address; {name} is filled in')

/** A value of an answer: an expression alone, or with what is done to it. */
const Value = z.union([
  Expression,
  z.strictObject({
    from: Expression,
    /** A text that holds a list is split here. */
    separator: line(5).optional(),
    /** What each text of the library means in our words. */
    map: z.record(z.string().max(200), z.string().max(200)).optional(),
    unit: z.enum(['ms', 's', 'min', 'clock']).optional().describe('Of a length; clock is 1:23 or 0:01:23'),
  }),
])
export type DescribedValue = z.infer<typeof Value>

const Json: z.ZodType<unknown> = z.json()

/** One request whose answer is JSON. */
const Request = z.strictObject({
  path: Address,
  method: z.enum(['GET', 'POST']).default('GET'),
  headers: z.record(line(100), z.string().max(1000)).default({}),
  /** The body; texts in it may hold {name}. */
  json: Json.optional(),
})
export type DescribedRequest = z.infer<typeof Request>

const SignIn = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('none') }),
  z.strictObject({ kind: z.literal('header'), header: line(100), value: z.string().max(200).default('{key}') }),
  z.strictObject({ kind: z.literal('query'), parameter: line(100) }),
  z.strictObject({ kind: z.literal('basic') }),
  z.strictObject({
    kind: z.literal('bearer'),
    request: Request,
    token: Expression,
    /** Seconds that the token holds. */
    lifetimeS: Expression,
  }),
])

const Paging = z.discriminatedUnion('kind', [
  /** All on one page. */
  z.strictObject({ kind: z.literal('none') }),
  /** {after} is the number of sounds before. */
  z.strictObject({ kind: z.literal('offset') }),
  /** {after} is the number of the page, from `first` on; `pages` tells how many there are. */
  z.strictObject({
    kind: z.literal('page'),
    first: z.number().int().min(0).max(1).default(1),
    pages: Expression.optional(),
  }),
  /** {after} is what the answer names; nothing for the first page. */
  z.strictObject({ kind: z.literal('cursor'), next: Expression }),
  /** The header Link with rel="next" (RFC 8288) leads on. */
  z.strictObject({ kind: z.literal('link') }),
])

/** What can be asked for beside words: each is added to the address where it is wanted, with {value}. */
const SearchFilters = z.partialRecord(z.enum(['minLengthS', 'maxLengthS', 'kind']), line(200))

/** How a library is searched while one types; {words} is what is looked for. */
const Search = z.strictObject({
  ...Request.shape,
  paging: Paging,
  sounds: Expression,
  total: Expression.optional(),
  filters: SearchFilters.default({}),
  /** Words that find something, to try the library with. */
  example: line(60).default('door'),
})

const Tier = z.strictObject({
  key: line(60),
  title: line(120),
  price: Expression,
  currency: Expression,
  terms: line(60),
})

const Amount = z.strictObject({ price: Expression, currency: Expression })

/** A way to a file: the file itself, or a request whose answer names its address. */
const File = z.strictObject({ ...Request.shape, address: Expression.optional() })

const Order = z.strictObject({
  /** Requests one after the other; what each keeps can be filled in from then on. */
  steps: z
    .array(
      z.strictObject({
        ...Request.shape,
        keep: z.record(line(40), Expression).default({}),
        /** What is asked here has to be what was agreed, or nothing more is done. */
        agreed: Amount.optional(),
      }),
    )
    .max(5)
    .default([]),
  ref: Address.default('{key}'),
  title: line(200),
  file: Address,
  fileName: Address.optional(),
  paid: z.strictObject({ price: Address, currency: Address }).optional(),
  receipt: Address.optional(),
  /** Finds an order by its key; `order` is the part of the answer that the last step would have given. */
  find: z.strictObject({ ...Request.shape, order: Expression }).optional(),
})

/** A library that is connected without code: where everything lies in its answers. */
export const LibraryDescription = z
  .strictObject({
    format: z.literal('good-thud-library/1'),
    id: z.string().regex(/^[a-z][a-z0-9-]{1,39}$/, 'write small letters, digits and hyphens'),
    name: line(120),
    about: line(300),
    address: z.url({ protocol: /^https?$/ }).describe('Where the library is'),
    /** Hosts beside its own that files may come from, with the port where it is not the usual one. */
    downloadHosts: z.array(line(200)).max(20).default([]),
    requestsPerS: z.number().positive().max(100).default(10),
    signIn: SignIn,
    account: z.union([
      z.strictObject({ plan: line(120) }),
      z.strictObject({ ...Request.shape, plan: Expression, from: Expression.optional(), until: Expression.optional() }),
    ]),
    /** A library whose whole catalogue is read. */
    catalogue: z
      .strictObject({ ...Request.shape, paging: Paging, sounds: Expression, total: Expression.optional() })
      .optional(),
    /** A library that is too large for that and is searched instead. */
    search: Search.optional(),
    sound: z.strictObject({
      id: Value,
      title: Value,
      maker: Value.optional(),
      description: Value.optional(),
      tags: Value.optional(),
      category: Value.optional(),
      length: Value,
      formats: Value.optional(),
      pageUrl: Value.optional(),
      /** What {preview} stands for; the id unless said. */
      preview: Value.optional(),
      terms: Value,
      kind: Value.optional(),
      tempo: Value.optional(),
      mood: Value.optional(),
      vocals: Value.optional(),
      popularity: Value.optional(),
      /** In words: "free", "in your plan". Left out where there are tiers. */
      cost: line(60).optional(),
      tiers: z.array(Tier).max(12).default([]),
      /** Stems, parts and versions, where the entry lists them; the expressions are over one of the list. */
      choices: z
        .strictObject({
          list: Expression,
          id: Value,
          role: Value.describe('stem, part or version, in our words by a map'),
          name: Value,
          length: Value,
          /** What {preview} stands for; the id unless said. */
          preview: Value.optional(),
          formats: Value.optional(),
        })
        .optional(),
    }),
    terms: z.strictObject({
      ...Request.shape,
      version: Expression.optional(),
      title: Expression,
      shortTitle: z.union([line(60), z.record(z.string().max(60), line(60))]).optional(),
      url: Expression.optional(),
      text: Expression,
      /** SPDX identifier; counts only where the text is that very licence. */
      spdx: Value.optional(),
      duration: z.enum(DURATIONS).default('not-stated'),
      readings: z
        .array(
          z.strictObject({
            key: z.enum(CLAUSE_KEYS),
            answer: z.enum(['yes', 'no', 'duty']),
            phrase: line(2000),
            limit: LimitSchema.exactOptional(),
          }),
        )
        .max(300)
        .default([]),
    }),
    preview: File,
    order: Order,
  })
  .refine(({ catalogue, search }) => (catalogue === undefined) !== (search === undefined), {
    path: ['catalogue'],
    message: 'describe either the catalogue, where the whole of it is read, or the search',
  })
  .describe('A library for Good Thud, described without code')
export type LibraryDescription = z.infer<typeof LibraryDescription>
