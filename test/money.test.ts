import { describe, expect, it } from 'vitest'
import { todayIso } from '../src/server/database/open'
import { loadDesk } from '../src/server/desk/desk'
import { listLedgerEntries } from '../src/server/ledger/ledger'
import { changeBasketLine, loadBasket, payBasket, putIntoBasket } from '../src/server/orders/basket'
import { exportJournal, listOrders, loadJournal } from '../src/server/orders/journal'
import { finishOrder, takeUpDueOrders } from '../src/server/orders/orders'
import { setLimit } from '../src/server/orders/spending-limit'
import { getSoundDetail } from '../src/server/sounds/sound-detail'
import { createVideo } from '../src/server/videos/videos'
import { mirrorAll, soundId, usesOf, worldForEach } from './world'

const world = worldForEach('money', (first) => mirrorAll(first, ['pell-marrow']))
const shop = () => world().standins['pell-marrow']
const FAR = '2999-01-01T00:00:00.000Z'
const USES = usesOf()

async function put(title: string, tier: string, videoId: number | null = null): Promise<void> {
  await putIntoBasket(world().app.db, { soundId: await soundId(world().app, title), tier, videoId })
}

/** Pays for all that lies in the basket, as it is shown. */
async function pay(): Promise<void> {
  const { lines } = await loadBasket(world().app, todayIso())
  await payBasket(world().app, lines, todayIso())
  await world().app.jobs.idle()
}

async function onlyOrder() {
  const [order, ...more] = await listOrders(world().app.db)
  expect(more).toEqual([])
  return order as NonNullable<typeof order>
}

/** Time goes by until everything is due, and what is due is taken up. */
async function later(): Promise<void> {
  await takeUpDueOrders(world().app, FAR)
  await world().app.jobs.idle()
}

async function grantCount(title: string): Promise<number> {
  const id = await soundId(world().app, title)
  return (await world().app.db.selectFrom('grants').select('id').where('sound_id', '=', id).execute()).length
}

const video = async (title: string, places: readonly ('online' | 'broadcast')[] = ['online']) =>
  (await createVideo(world().app, { title, uses: usesOf({ places: [...places] }) }, todayIso())).id

describe('the basket', () => {
  it('lasts, holds an offer once, and buys nothing', async () => {
    await put('Crate lands', 'web')
    await put('Crate lands', 'web')
    await put('Vault closes', 'all')
    await world().reopen()
    const { lines, totals } = await loadBasket(world().app, todayIso())
    expect(lines.map(({ title, tier, price }) => [title, tier, price])).toEqual([
      ['Crate lands', 'web', '3.00 EUR'],
      ['Vault closes', 'all', '27.00 EUR'],
    ])
    expect(totals).toMatchObject([{ sourceName: 'Pell & Marrow', total: '30.00 EUR' }])
    expect(shop().orderCount()).toBe(0)
  })

  it('points out a cheaper tier that would do, and a tier that does not', async () => {
    await put('Crate lands', 'all', await video('Online only'))
    await put('Vault closes', 'web', await video('On air', ['broadcast']))
    const { lines } = await loadBasket(world().app, todayIso())
    expect(lines[0]?.notes).toEqual(['“Single, online” for 3.00 EUR allows this video too.'])
    expect(lines[1]?.tiers.map(({ key, fits }) => [key, fits])).toEqual([
      ['web', false],
      ['promo', false],
      ['all', true],
    ])
    await changeBasketLine(world().app.db, lines[0]?.id ?? 0, { tier: 'web' })
    const changed = await loadBasket(world().app, todayIso())
    expect(changed.lines.find(({ title }) => title === 'Crate lands')).toMatchObject({ tier: 'web', notes: [] })
  })

  it('points out papers that are held', async () => {
    const first = await video('First')
    await put('Crate lands', 'all', first)
    await pay()
    await put('Crate lands', 'web', first)
    const { lines } = await loadBasket(world().app, todayIso())
    expect(lines[0]?.notes).toContain('Papers that are on file allow this video already: it need not be bought.')
  })

  it('is not paid at a price that was not shown', async () => {
    await put('Crate lands', 'web')
    const { lines } = await loadBasket(world().app, todayIso())
    await world().app.db.updateTable('sound_tiers').set({ price_minor: 250 }).where('key', '=', 'web').execute()
    await expect(payBasket(world().app, lines, todayIso())).rejects.toMatchObject({
      code: 'price-changed',
      detail: expect.stringContaining('costs 2.50 EUR now; you saw 3.00 EUR'),
    })
    const other = lines.map((line) => ({ ...line, priceMinor: 250, currency: 'USD' }))
    await expect(payBasket(world().app, other, todayIso())).rejects.toMatchObject({ code: 'price-changed' })
    expect(shop().orderCount()).toBe(0)
    expect((await loadBasket(world().app, todayIso())).lines[0]?.notes).toEqual(['It was 3.00 EUR when you put it in.'])
  })

  it('is not paid beyond the limit of the month, all of it or nothing', async () => {
    await setLimit(world().app.db, 'EUR', 700)
    await put('Crate lands', 'web')
    await pay()
    await put('Vault closes', 'web')
    await expect(pay()).rejects.toMatchObject({
      code: 'over-limit',
      detail: expect.stringMatching(/^This costs 4\.50 EUR\. 3\.00 EUR of the 7\.00 EUR/),
    })
    expect(shop().orderCount()).toBe(1)
    // The month before does not count.
    await world().app.db.updateTable('orders').set({ paid_at: '2020-01-01T00:00:00.000Z' }).execute()
    await pay()
    expect(shop().orderCount()).toBe(2)
    expect((await loadBasket(world().app, todayIso())).lines).toEqual([])
  })

  it('does not buy again what was bought for this video in this tier, and does for another', {
    tags: 'long',
  }, async () => {
    const [first, second] = [await video('First'), await video('Second')]
    await put('Crate lands', 'web', first)
    await pay()
    await put('Crate lands', 'web', first)
    await expect(pay()).rejects.toMatchObject({ code: 'bought', detail: expect.stringContaining('order PM-') })
    expect(shop().orderCount()).toBe(1)
    const { lines } = await loadBasket(world().app, todayIso())
    await changeBasketLine(world().app.db, lines[0]?.id ?? 0, { videoId: second })
    await pay()
    expect(shop().orderCount()).toBe(2)
  })
})

describe('an order that was paid', () => {
  it('stays open while its file does not come, is on the Desk and with the sound, and is finished by itself', async () => {
    const videoId = await video('Paid for')
    await put('Crate lands', 'web', videoId)
    shop().control.fault = 'half-body'
    await pay()
    expect(await onlyOrder()).toMatchObject({ state: 'file-to-come', paid: '3.00 EUR', nextTryAt: expect.any(String) })
    const id = await soundId(world().app, 'Crate lands')
    const { notices } = await loadDesk(world().app, todayIso())
    expect(notices.find(({ kind }) => kind === 'order')?.title).toContain('paid, file still to come')
    const detail = await getSoundDetail(world().app, id, { uses: USES, videoId: null, asOf: todayIso() })
    expect(detail.orders).toMatchObject([{ state: 'file-to-come' }])
    expect((await listLedgerEntries(world().app.db, 0)).at(-1)).toMatchObject({ kind: 'paid' })
    // However often it fails, it is not given up, and each wait is longer.
    const waits: number[] = []
    for (let i = 0; i < 5; i++) {
      await later()
      waits.push(Date.parse((await onlyOrder()).nextTryAt ?? '') - Date.now())
    }
    expect(waits.every((wait, at) => at === 0 || wait > (waits[at - 1] ?? 0))).toBe(true)
    shop().control.fault = 'none'
    await later()
    expect(await onlyOrder()).toMatchObject({ state: 'done', receiptId: expect.any(Number) })
    expect(shop().orderCount()).toBe(1)
    const bound = await world().app.db.selectFrom('grant_videos').select('video_id').execute()
    expect(bound).toEqual([{ video_id: videoId }])
  })

  it('keeps the terms that it was paid under, whatever is served when the file comes', async () => {
    await put('Crate lands', 'web')
    shop().control.fault = 'half-body'
    await pay()
    shop().control.fault = 'none'
    shop().control.edition++
    await later()
    const { version } = await world()
      .app.db.selectFrom('grants')
      .innerJoin('terms', 'terms.id', 'grants.terms_id')
      .select('terms.version')
      .executeTakeFirstOrThrow()
    expect(version).toBe(String(shop().control.edition - 1))
  })

  it('is finished by a press, for the video that it was paid for, also when the sound was withdrawn', async () => {
    await put('Crate lands', 'web', await video('Paid for'))
    shop().control.fault = 'half-body'
    await pay()
    shop().control.fault = 'none'
    const id = await soundId(world().app, 'Crate lands')
    await world().app.db.deleteFrom('sound_tiers').where('sound_id', '=', id).execute()
    await world().app.db.updateTable('sounds').set({ withdrawn_at: todayIso() }).where('id', '=', id).execute()
    await finishOrder(world().app, (await onlyOrder()).id)
    await world().app.jobs.idle()
    expect(await onlyOrder()).toMatchObject({ state: 'done', videoTitle: 'Paid for' })
  })

  it('that was charged otherwise waits for the creator, and is never taken up by itself', async () => {
    await put('Crate lands', 'web')
    shop().control.fault = 'overcharges'
    await pay()
    const order = await onlyOrder()
    expect(order).toMatchObject({ state: 'disputed', agreed: '3.00 EUR', paid: '4.00 EUR', nextTryAt: null })
    await later()
    expect(await grantCount('Crate lands')).toBe(0)
    await finishOrder(world().app, order.id)
    await world().app.jobs.idle()
    expect(await onlyOrder()).toMatchObject({ state: 'done', paid: '4.00 EUR' })
  })

  it('comes without its receipt, which is named as missing and fetched later', async () => {
    await put('Crate lands', 'web')
    shop().control.fault = 'no-receipt'
    await pay()
    expect(await onlyOrder()).toMatchObject({ state: 'receipt-to-come', receiptId: null })
    expect(await grantCount('Crate lands')).toBe(1)
    shop().control.fault = 'none'
    await later()
    expect(await onlyOrder()).toMatchObject({ state: 'done', receiptId: expect.any(Number), message: '' })
  })

  it('keeps its receipt when the file that comes is broken', async () => {
    await put('Crate lands', 'web')
    shop().control.fault = 'broken-audio'
    await pay()
    expect(await onlyOrder()).toMatchObject({
      state: 'file-to-come',
      message: expect.stringContaining('not a video or sound'),
    })
    const { receipt_sha256, served_sha256 } = await world()
      .app.db.selectFrom('orders')
      .select(['receipt_sha256', 'served_sha256'])
      .executeTakeFirstOrThrow()
    expect(world().app.store.has(receipt_sha256 ?? '')).toBe(true)
    expect(world().app.store.has(served_sha256 ?? '')).toBe(true)
  })
})

describe('an order whose answer was lost', () => {
  it('is found again by its key when it had arrived', async () => {
    await put('Crate lands', 'web')
    shop().control.fault = 'order-unanswered'
    await pay()
    expect(await onlyOrder()).toMatchObject({ state: 'not-answered' })
    shop().control.fault = 'none'
    await later()
    expect(await onlyOrder()).toMatchObject({ state: 'done' })
    expect(shop().orderCount()).toBe(1)
  })

  it('is not placed by itself when it had never arrived', async () => {
    await put('Crate lands', 'web')
    shop().control.fault = 'order-refused'
    await pay()
    shop().control.fault = 'none'
    await later()
    expect(await onlyOrder()).toMatchObject({
      state: 'not-bought',
      message: expect.stringContaining('nothing was bought'),
    })
    await later()
    expect(shop().orderCount()).toBe(0)
  })
})

describe('the money journal', () => {
  it('lists every order and what was paid by library and month, also as a table', { tags: 'long' }, async () => {
    await put('Crate lands', 'web', await video('=cmd|calc'))
    await put('Vault closes', 'web')
    await pay()
    const { orders, totals } = await loadJournal(world().app.db)
    expect(orders.map(({ title, state }) => [title, state])).toEqual([
      ['Vault closes', 'done'],
      ['Crate lands', 'done'],
    ])
    expect(totals).toEqual([{ month: todayIso().slice(0, 7), sourceName: 'Pell & Marrow', total: '7.50 EUR' }])
    let csv = ''
    for await (const piece of exportJournal(world().app.db, todayIso()).pieces) csv += piece
    const lines = csv.trim().split('\r\n')
    expect(lines[0]).toBe('date,sound,library,tier,video,order,state,agreed,paid,currency,paid on,receipt')
    expect(lines[1]).toMatch(/,Vault closes,Pell & Marrow,.*,4\.50,EUR,.*,on file$/)
    expect(lines[2]).toContain("'=cmd|calc")
  })
})
