import { createHash } from 'node:crypto'
import fs from 'node:fs'
import PDFDocument from 'pdfkit'
import {
  type LibraryFiles,
  type LibrarySound,
  libraryOf,
  type Standin,
  type StandinAnswer,
  serveStandin,
  soundFile,
  wellBehaved,
} from './serve'

const PAGE_SIZE = 25
const USER = 'small-hours'
const PASSWORD = 'pays-by-the-sound'
/** What each tier costs, as a multiple of the lowest. */
const TIERS = { web: 1, promo: 2.25, all: 6 } as const
type Tier = keyof typeof TIERS

const COMMON = `The sound stays ours; you get the right to use it. You may cut, layer, pitch and mix it. Your production
stays yours, under whatever licence you choose. The sound may not be passed on by itself. The right holds in all countries
and for ever. No credit is owed. Keep the receipt: we may ask for it.`

const ONLINE = `It may be published online, also where it earns from adverts, sponsors or members, and shown for teaching and inside
your organisation. It may be made for a client, and the finished video may be handed over to the client.`

/** Wording of the three tiers. The middle one is silent on broadcast, cinema and games. */
const WORDING: Readonly<Record<Tier, { name: string; text: (issue: number) => string }>> = {
  web: {
    name: 'Single, online',
    text: (issue) => `Pell & Marrow, Single for online use, issue ${issue}

You may use the sound in one video. ${ONLINE}
Paid advertising, broadcast, cinema, games and apps need a higher tier.

${COMMON}`,
  },
  promo: {
    name: 'Online and advertising',
    text: (issue) => `Pell & Marrow, Online and advertising, issue ${issue}

You may use the sound in any number of videos. ${ONLINE}
Paid advertising online is included${issue > 3 ? ', for adverts that reach up to 500,000 people' : ''}.

${COMMON}`,
  },
  all: {
    name: 'Everything',
    text: (issue) => `Pell & Marrow, Everything, issue ${issue}

You may use the sound in any number of videos. ${ONLINE}
Paid advertising online is included. Broadcast on television and radio, cinema and festivals, games and apps, and publishing as
sound alone are included.

${COMMON}`,
  },
}

interface PlacedOrder {
  readonly no: string
  readonly sound: LibrarySound
  readonly tier: Tier
}

/** Stand-in for a shop: three priced tiers for each sound, a basket, an order with a receipt; page numbers; name and password. */
export async function servePellMarrow(
  files: LibraryFiles,
  port: number,
  /** File in which orders are stored over a restart. */
  ordersFile: string | null = null,
): Promise<Standin & { orderCount(): number }> {
  const all = libraryOf(files)
  const control = wellBehaved(3)
  const baskets = new Map<string, { sound: LibrarySound; tier: Tier }>()
  const orders = new Map<string, PlacedOrder>(readOrders(ordersFile))
  const receipts = new Map<string, Buffer>()
  const offered = (): LibrarySound[] => all.filter(({ id }) => !control.withdrawn.includes(id))

  const standin = await serveStandin(port, control, ({ method, url, headers, body }): StandinAnswer => {
    const wanted = `Basic ${Buffer.from(`${USER}:${PASSWORD}`).toString('base64')}`
    if (headers.authorization !== wanted) return { status: 401, json: { Error: 'name or password' } }
    const [, kind, id = '', action] = url.pathname.split('/').map(decodeURIComponent)
    if (kind === 'account') return { json: { Holder: 'Small Hours', Orders: orders.size } }
    if (kind === 'list') return list(Number(url.searchParams.get('page')) || 1)
    if (kind === 'tiers') return wording(id)
    if (kind === 'hear') return heard(id)
    if (kind === 'basket' && method === 'POST' && !action) return fill(body)
    if (kind === 'basket' && method === 'POST' && action === 'order')
      return order(id, String(headers['idempotency-key'] ?? ''))
    if (kind === 'orders') return ordersOf(url.searchParams.get('key') ?? '')
    if (kind === 'receipts') return receipt(id)
    if (kind === 'bought') return bought(id)
    return { status: 404, json: { Error: 'nothing here' } }
  })
  return Object.assign(standin, { orderCount: () => orders.size })

  function list(page: number): StandinAnswer {
    const sounds = offered()
    return {
      json: {
        Page: page,
        Pages: Math.max(1, Math.ceil(sounds.length / PAGE_SIZE)),
        Items: sounds.slice((page - 1) * PAGE_SIZE, page * PAGE_SIZE).map((sound) => ({
          Ref: sound.id,
          Label: `  ${sound.title} `,
          By: sound.maker || null,
          Ms: Math.round(sound.durationS * 1000),
          Words: sound.tags.split(' ').filter(Boolean).join(';'),
          Dept: sound.category || null,
          Kind: sound.kind === 'music' ? 'bed' : sound.kind === 'ambience' ? 'amb' : 'fx',
          ...(sound.tempoBpm ? { Bpm: sound.tempoBpm, Mood: sound.mood, Sung: sound.vocals ? 'Y' : 'N' } : {}),
          Prices: pricesOf(sound),
          Cur: 'EUR',
          Ext: `.${sound.format.toUpperCase()}`,
        })),
      },
    }
  }

  function wording(tier: string): StandinAnswer {
    if (!isTier(tier)) return { status: 404, json: { Error: 'no such tier' } }
    const { name, text } = WORDING[tier]
    return { json: { Tier: tier, Issue: control.edition, Name: name, Wording: text(control.edition) } }
  }

  function heard(id: string): StandinAnswer {
    const sound = offered().find((one) => one.id === id)
    return sound ? soundFile(files, sound, 'preview') : { status: 404, json: { Error: 'not in the list' } }
  }

  function fill(body: string): StandinAnswer {
    const { Ref, Tier: tier } = JSON.parse(body || '{}') as { Ref?: string; Tier?: string }
    const sound = offered().find((one) => one.id === Ref)
    if (!sound || !isTier(tier ?? '')) return { status: 404, json: { Error: 'not in the list' } }
    const basket = createHash('sha256').update(`${Ref} ${tier} ${baskets.size}`).digest('hex').slice(0, 12)
    baskets.set(basket, { sound, tier: tier as Tier })
    const currency = control.fault === 'other-currency' ? 'USD' : 'EUR'
    return { json: { Basket: basket, Total: pricesOf(sound)[tier as Tier], Cur: currency } }
  }

  /** The same key gives the order that was placed with it: asking twice buys once. */
  function order(basketId: string, key: string): StandinAnswer {
    if (key === '') return { status: 400, json: { Error: 'send an Idempotency-Key' } }
    if (control.fault === 'order-refused') return { status: 500, json: { Error: 'till closed' } }
    const basket = baskets.get(basketId)
    if (!orders.has(key)) {
      if (!basket) return { status: 404, json: { Error: 'no such basket' } }
      const no = `PM-${createHash('sha256').update(key).digest('hex').slice(0, 10).toUpperCase()}`
      const placed = { no, ...basket }
      orders.set(key, placed)
      if (ordersFile) fs.writeFileSync(ordersFile, JSON.stringify([...orders]))
    }
    if (control.fault === 'order-unanswered') return { status: 500, json: { Error: 'lost on the way' } }
    return { json: placedOf(orders.get(key) as PlacedOrder) }
  }

  /** The order of a key, or none: for who does not know whether an order arrived. */
  function ordersOf(key: string): StandinAnswer {
    const found = orders.get(key)
    return { json: { Orders: found ? [placedOf(found)] : [] } }
  }

  function placedOf({ no, sound, tier }: PlacedOrder): object {
    if (!receipts.has(no)) void makeReceiptPdf({ no, sound, tier }).then((pdf) => receipts.set(no, pdf))
    return {
      Order: no,
      Tier: tier,
      Total: pricesOf(sound)[tier] + (control.fault === 'overcharges' ? 100 : 0),
      Cur: 'EUR',
      Receipt: `/receipts/${no}`,
      Download: `/bought/${no}`,
      FileName: `${sound.title}.${sound.format}`,
    }
  }

  function receipt(no: string): StandinAnswer {
    if (control.fault === 'no-receipt') return { status: 404, json: { Error: 'no receipt' } }
    const content = receipts.get(no)
    // It is printed a moment after the order.
    return content ? { bytes: { content, mime: 'application/pdf' } } : { status: 425, json: { Error: 'being printed' } }
  }

  function bought(no: string): StandinAnswer {
    const found = [...orders.values()].find((one) => one.no === no)
    if (control.fault === 'broken-audio')
      return { bytes: { content: Buffer.from('no sound at all'), mime: 'audio/wav' } }
    return found ? soundFile(files, found.sound, 'original') : { status: 404, json: { Error: 'no such order' } }
  }
}

function readOrders(file: string | null): [string, PlacedOrder][] {
  return file && fs.existsSync(file) ? (JSON.parse(fs.readFileSync(file, 'utf8')) as [string, PlacedOrder][]) : []
}

function isTier(text: string): text is Tier {
  return text in TIERS
}

/** Prices in cents. */
function pricesOf(sound: LibrarySound): Record<Tier, number> {
  const base = Number(sound.licence) || 400
  const price = (tier: Tier): number => Math.round(base * TIERS[tier])
  return { web: price('web'), promo: price('promo'), all: price('all') }
}

function makeReceiptPdf({ no, sound, tier }: PlacedOrder): Promise<Buffer> {
  const page = new PDFDocument({ size: 'A5', info: { Title: `Receipt ${no}` } })
  const chunks: Buffer[] = []
  page.fontSize(16).text('Pell & Marrow').moveDown()
  page
    .fontSize(11)
    .text(`Receipt ${no}`)
    .text(`Sound: ${sound.title} (${sound.id})`)
    .text(`Tier: ${WORDING[tier].name}`)
  page.text(`Paid: ${(pricesOf(sound)[tier] / 100).toFixed(2)} EUR`).text('Licensee: Small Hours')
  return new Promise((resolve, reject) => {
    page.on('data', (chunk: Buffer) => chunks.push(chunk))
    page.on('end', () => resolve(Buffer.concat(chunks)))
    page.on('error', reject)
    page.end()
  })
}
