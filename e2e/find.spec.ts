import fs from 'node:fs'
import path from 'node:path'
import { expect, type Page, test } from '@playwright/test'
import { readWav, writeWav } from '../src/core/formats/wav'
import { expectNoFaultsInEitherTheme } from './accessibility'
import { ROOT } from './launch'
import { audioAdvances, heardNow, isPaused, msUntilHeard, readHeardS } from './listening'
import { openWorld } from './worlds'

openWorld('demo')

const grid = (page: Page) => page.getByRole('grid', { name: 'Sounds' })
const count = (page: Page) => page.getByTestId('result-count')
const chips = (page: Page) => page.getByRole('list', { name: 'Active filters' })

async function search(page: Page, text: string): Promise<void> {
  await page.getByRole('searchbox', { name: 'Search everything' }).fill(text)
}

/** Goes from the search line into the results; keys are theirs only when the first is selected. */
async function hearFirst(page: Page): Promise<void> {
  await page.getByRole('searchbox', { name: 'Search everything' }).press('ArrowDown')
  await expect(page.locator('[role=row][data-selected=true]')).toHaveCount(1)
}

test('typing finds by other words for the same, forgives slips, and says so', async ({ page }) => {
  await page.goto('/find')
  await search(page, 'swoosh')
  await expect(page.getByRole('row').nth(1)).toContainText('Whoosh')
  await search(page, 'ketle')
  await expect(page.getByTestId('corrections')).toHaveText('Results for “kettle” instead of “ketle”.')
  await expect(page.getByRole('row').nth(1)).toContainText('ettle')
  await search(page, '"ice crack" -thin')
  await expect(count(page)).toHaveText('1 sound of 455')
})

test('the down arrow is at work from the moment the page is seen, wherever the focus is', async ({ page }) => {
  const selected = page.locator('[role=row][data-selected=true]')
  await page.goto('/find?q=kettle')
  await expect(page.getByRole('searchbox', { name: 'Search everything' })).toBeVisible()
  await page.keyboard.press('ArrowDown')
  await expect(selected).toHaveCount(1)
  await expect(selected).toBeFocused()
  await expect.poll(() => audioAdvances(page)).toBe(true)
  // In an open menu it belongs to the menu; as soon as that is closed, to the results.
  await page.reload()
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.getByRole('button', { name: 'Cost', exact: true }).click()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: 'Cost', exact: true })).toBeFocused()
  await expect(selected).toHaveCount(0)
  await page.keyboard.press('ArrowDown')
  await expect(selected).toHaveCount(1)
  // A field that has a use for it keeps it.
  await page.reload()
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.getByRole('combobox', { name: 'Order' }).focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  expect(await page.evaluate(() => document.activeElement?.closest('select') !== null)).toBe(true)
  await expect(selected).toHaveCount(0)
})

test('the list is one stop of the Tab key, and keys go on from the row with the focus however far it was scrolled away', async ({
  page,
}) => {
  await page.goto('/find?q=[over 1 s]')
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  const selected = page.locator('[role=row][data-selected=true]')
  const rowOf = (number: number) => page.locator(`[role=row][aria-rowindex="${number + 1}"]`)
  // Coming to the list is not hearing it; then its keys begin with the first row.
  await page.getByRole('button', { name: /^(Fit each|One scale)$/i }).focus()
  await page.keyboard.press('Tab')
  await expect(rowOf(1)).toBeFocused()
  await expect(selected).toHaveCount(0)
  await expect(heardNow(page)).toHaveCount(0)
  // The first row is not pushed under the headings of the columns.
  expect(await grid(page).evaluate((list) => list.scrollTop)).toBe(0)
  await page.keyboard.press('ArrowDown')
  await expect(rowOf(1)).toHaveAttribute('data-selected', 'true')
  await page.keyboard.press('PageDown')
  await expect(rowOf(11)).toHaveAttribute('data-selected', 'true')
  await expect(rowOf(11)).toBeFocused()
  // Far below, the row is still there and has the focus; the next key comes back to it.
  await grid(page).evaluate((list) => list.scrollTo({ top: 4000 }))
  await expect(rowOf(90)).toBeVisible()
  await expect(rowOf(11)).not.toBeInViewport()
  await expect(rowOf(11)).toBeFocused()
  await page.keyboard.press('ArrowDown')
  await expect(rowOf(12)).toBeFocused()
  await expect(rowOf(12)).toBeInViewport()
  await page.keyboard.press('End')
  await expect(selected).toBeFocused()
  await expect(selected).toBeInViewport()
  expect(Number(await selected.getAttribute('aria-rowindex'))).toBeGreaterThan(140)
  await page.keyboard.press('Home')
  await expect(rowOf(1)).toBeFocused()
  // One step leads out of all the rows, and one back to the same.
  await page.keyboard.press('Tab')
  expect(await grid(page).evaluate((list) => list.contains(document.activeElement))).toBe(false)
  await page.keyboard.press('Shift+Tab')
  await expect(rowOf(1)).toBeFocused()
  // A button of a row that was clicked leaves the arrows to the list.
  await rowOf(3)
    .getByRole('button', { name: /^Keep / })
    .click()
  await page.keyboard.press('ArrowDown')
  await expect(rowOf(4)).toBeFocused()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await expect(page.getByRole('searchbox', { name: 'Search everything' })).toBeFocused()
})

test('before anything is asked, Find shows what suits the video in hand; the whole list is one key away', async ({
  page,
}) => {
  await page.goto('/find')
  const section = (kind: string) => page.locator(`[data-section="${kind}"]`)
  await expect(section('kept')).toBeVisible()
  await expect(section('often-used')).toBeVisible()
  await expect(count(page)).toHaveText('455 sounds')
  // Each row can be heard, from the first press on.
  await page.keyboard.press('ArrowDown')
  const selected = page.locator('[role=row][data-selected=true]')
  await expect(selected).toHaveCount(1)
  // It may be over before one looks: some are short.
  await expect.poll(() => readHeardS(page)).toBeGreaterThan(0)
  const first = await selected.getAttribute('id')
  await page.keyboard.press('ArrowDown')
  await expect(selected).not.toHaveAttribute('id', first ?? '')
  // While words are typed the key is a letter.
  await search(page, '')
  await page.getByRole('searchbox', { name: 'Search everything' }).press('e')
  await expect(page.getByRole('searchbox', { name: 'Search everything' })).toHaveValue('e')
  await search(page, '')
  await expect(section('kept')).toBeVisible()
  await grid(page).focus()
  await page.keyboard.press('e')
  await expect(page.locator('[data-section]')).toHaveCount(0)
  await expect(page).toHaveURL(/sort=name/)
  await expect(count(page)).toHaveText('455 sounds')
  const names = await page
    .locator('[role=row][data-selected]')
    .evaluateAll((rows) => rows.slice(0, 6).map((row) => row.querySelector('[title]')?.textContent ?? ''))
  expect(names).toEqual(names.toSorted((a, b) => a.localeCompare(b)))
  await page.getByRole('link', { name: 'Find', exact: true }).click()
  await section('kept').getByRole('link', { name: 'Show all' }).click()
  await expect(chips(page)).toContainText('kept')
})

test('a condition in plain words is offered, and one key takes it', async ({ page }) => {
  await page.goto('/find')
  const line = page.getByRole('searchbox', { name: 'Search everything' })
  await line.pressSequentially('kettel under 2s')
  await expect(page.getByTestId('corrections')).toHaveText('Results for “kettle” instead of “kettel”.')
  const offer = page.getByRole('button', { name: 'Add the filter “under 2 s”' })
  await expect(offer).toHaveText(/^length under 2 s\?/)
  // It does not count before it is taken.
  await expect(chips(page)).toHaveCount(0)
  await line.press('Enter')
  await expect(chips(page)).toContainText('under 2 s')
  await expect(line).toHaveValue('kettel ')
  await expect(offer).toHaveCount(0)
  await line.fill('door no credit')
  await page.getByRole('button', { name: 'Add the filter “no credit owed”' }).click()
  await expect(line).toHaveValue('door ')
  await expect(chips(page)).toContainText('no credit owed')
})

test('words can be looked for in titles or in descriptions alone', async ({ page }) => {
  await page.goto('/find?q=door')
  await expect(count(page)).toHaveText(/^\d+ sounds of 455$/)
  const everywhere = Number.parseInt((await count(page).textContent()) ?? '', 10)
  await page.getByRole('button', { name: 'Words', exact: true }).click()
  await page.getByLabel('Titles only').check()
  await expect(chips(page)).toContainText('in titles only')
  await expect(page.getByRole('row').nth(1)).toContainText(/door/i)
  const inTitles = async () => Number.parseInt((await count(page).textContent()) ?? '', 10)
  await expect.poll(inTitles).toBeLessThan(everywhere)
  expect(await inTitles()).toBeGreaterThan(0)
})

test('a query that nothing meets whole is met half way, and by what sounds alike', async ({ page }) => {
  await page.goto('/find?q=owl tower')
  const words = page.locator('[data-section="words"]')
  await expect(words.first()).toContainText('1 of 2 words: owl')
  await expect(count(page)).toHaveText('0 sounds of 455')
  await expect(page.getByTestId('no-full-match')).toHaveText('No sound matches all of “owl tower”.')
  await expect(page.getByRole('row').nth(2)).toContainText(/owl/i)
  await expect(page.locator('[data-section="alike"]')).toContainText('Sounds like ')
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => readHeardS(page)).toBeGreaterThan(0)
  await words.first().getByRole('link', { name: 'Search for “owl”' }).click()
  await expect(page.getByRole('searchbox', { name: 'Search everything' })).toHaveValue('owl')
  await expect(words).toHaveCount(0)
  await expect(page.getByRole('row').nth(1)).toContainText(/owl/i)
})

test('arrow keys move and play; the marked part is looped, and sounds are matched in loudness', async ({ page }) => {
  await page.goto('/find?q=ridge wind steady')
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await hearFirst(page)
  const time = () => readHeardS(page)
  await expect.poll(time).toBeGreaterThan(0.2)
  await page.keyboard.press('i')
  const fromS = await time()
  await expect.poll(time).toBeGreaterThan(fromS + 0.4)
  await page.keyboard.press('o')
  await page.keyboard.press('r')
  await expect(page.getByTestId('marked-part')).toBeVisible()
  const [start = 0, end = 0] = ((await page.getByTestId('marked-part').textContent()) ?? '').split(/[–s]/).map(Number)
  expect(end).toBeGreaterThan(start + 0.3)
  await expect.poll(time, { intervals: [20] }).toBeLessThan(start + 0.2)
  await expect.poll(time).toBeGreaterThan(start + 0.25)
  expect(await time()).toBeLessThan(end + 0.3)
  const meterPx = () => page.locator('[data-meter] > span').evaluate((bar) => bar.getBoundingClientRect().width)
  await expect.poll(meterPx).toBeGreaterThan(20)
  await expect(page.getByTitle(/Its own loudness/)).toContainText(/LUFS \([+−]\d+ dB\)/)
  await page.keyboard.press('k')
  await expect.poll(() => isPaused(page)).toBe(true)
  await expect.poll(meterPx).toBeLessThan(1)
  const before = await time()
  await page.keyboard.press('ArrowLeft')
  expect(await time()).toBeLessThan(before)
  await page.keyboard.press('x')
  await expect(page.getByTestId('marked-part')).toHaveCount(0)
})

test('a row that was fetched ahead is heard soon after the key, and can be gone back to', async ({ page }) => {
  await page.goto('/find?q=owl')
  await hearFirst(page)
  await expect.poll(() => readHeardS(page)).toBeGreaterThan(0.1)
  const first = await page.getByTestId('listening-title').textContent()
  await page.waitForLoadState('networkidle')
  const heardMs = await msUntilHeard(page, 'ArrowDown')
  console.log(`heard ${Math.round(heardMs)} ms after the key`)
  expect(await heardNow(page).getAttribute('src')).toMatch(/^blob:/)
  await expect(page.getByTestId('listening-next')).toContainText('Next: ')
  await page.getByRole('button', { name: 'Heard in this session' }).click()
  await page
    .getByRole('list', { name: 'Heard in this session' })
    .getByText(first ?? '')
    .click()
  await expect(page.getByTestId('listening-title')).toHaveText(first ?? '')
})

test('however fast the list is walked through, only the sound at the end of it is heard', async ({ page }) => {
  await page.goto('/find?q=[over 5 s]')
  await hearFirst(page)
  for (let row = 0; row < 14; row++) await page.keyboard.press('ArrowDown')
  await expect(page.locator('[role=row][aria-rowindex="16"]')).toHaveAttribute('data-selected', 'true')
  await expect.poll(() => audioAdvances(page)).toBe(true)
  const playing = () =>
    page
      .locator('audio')
      .evaluateAll((all) => all.map((one) => !(one as HTMLAudioElement).paused).filter(Boolean).length)
  expect(await playing()).toBe(1)
  expect(await page.locator('audio').count()).toBeLessThanOrEqual(8)
  const selected = page.locator('[role=row][data-selected=true]')
  await expect(selected).toContainText((await page.getByTestId('listening-title').textContent()) ?? 'nothing')
})

test('filters stand as chips in words; when they hide everything the page says which hides how many', async ({
  page,
}) => {
  await page.goto('/find')
  await page.getByRole('button', { name: 'Cost', exact: true }).click()
  await page.getByLabel('In my plan').check()
  await page.keyboard.press('Escape')
  await expect(count(page)).toHaveText('44 sounds of 455')
  await expect(chips(page)).toContainText('in my plan')
  await page
    .getByRole('navigation', { name: 'Categories' })
    .getByRole('button', { name: /^Swells/ })
    .click()
  await expect(count(page)).toHaveText('4 sounds of 455')
  await page.getByRole('button', { name: 'Length', exact: true }).click()
  await page.getByLabel('Length, upper end').fill('2')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('heading', { name: 'The filters hide everything' })).toBeVisible()
  await expect(page.getByText(/hides 4, 4 of them it alone|hides \d+, 4 of them it alone/)).toBeVisible()
  await page.getByRole('button', { name: 'Remove “under 0.2 s”' }).first().click()
  await expect(count(page)).toHaveText('4 sounds of 455')
  await page.getByRole('button', { name: 'Clear all' }).click()
  await expect(count(page)).toHaveText('455 sounds')
  await expect(page).toHaveURL(/\/find$/)
})

test('conditions can be typed, and the address and saved searches hold them', async ({ page }) => {
  await page.goto('/find')
  const line = page.getByRole('searchbox', { name: 'Search everything' })
  await line.pressSequentially('door [free] [under 2 s]')
  await expect(chips(page)).toContainText('free')
  await expect(chips(page)).toContainText('under 2 s')
  await expect(line).toHaveValue('door ')
  // Of the 28 that answer to the word alone, both conditions leave these.
  const found = '5 sounds of 455'
  await expect(count(page)).toHaveText(found)
  await page.reload()
  await expect(count(page)).toHaveText(found)
  await line.fill('door [freee]')
  await expect(page.getByTestId('unread')).toContainText('[freee] is not a condition and is ignored.')
  await line.fill('a b c d e f g h i j k l m')
  await expect(page.getByTestId('unread')).toHaveText('Only the first 12 words count; 1 word at the end is ignored.')
  await line.fill('door')
  await expect(page.getByTestId('unread')).toHaveCount(0)
  await page.getByRole('button', { name: 'Saved' }).click()
  await page.getByLabel('Name of this search').fill('Short free doors')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await page.goto('/find')
  await page.getByRole('button', { name: 'Saved' }).click()
  await page.getByRole('button', { name: /^Short free doors/ }).click()
  await expect(count(page)).toHaveText(found)
  await page.getByRole('button', { name: 'Saved' }).click()
  await page.getByRole('button', { name: 'Remove Short free doors' }).click()
  await expect(page.getByRole('list', { name: 'Saved searches' }).getByRole('listitem')).toHaveCount(0)
})

test('sounds like a dropped file are found, with what differs, and narrowed down to what is allowed', async ({
  page,
}) => {
  const file = path.join(ROOT, 'test-results', 'dropped.wav')
  const whoosh = await page.request.get('/api/sounds?q=%22whoosh, comet%22')
  const { sounds } = (await whoosh.json()) as { sounds: { id: number }[] }
  const preview = await page.request.get(`/api/sounds/${sounds[0]?.id}/audio`)
  const bytes = await preview.body()
  fs.mkdirSync(path.dirname(file), { recursive: true })
  fs.writeFileSync(file, bytes)
  await page.goto('/find')
  await expect(grid(page)).toBeVisible()
  const data = await page.evaluateHandle((base64) => {
    const transfer = new DataTransfer()
    transfer.items.add(new File([Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0))], 'dropped.ogg'))
    return transfer
  }, bytes.toString('base64'))
  await page.dispatchEvent('[aria-label="Results"]', 'drop', { dataTransfer: data })
  await expect(chips(page)).toContainText('sounds like dropped.ogg')
  await expect(page.getByRole('row').nth(1)).toContainText('Whoosh, comet')
  await expect(page.getByRole('row').nth(1)).toContainText('100 % alike')
  await expect(page.getByRole('row').nth(2)).toContainText(/\d\d % alike/)
  await expect(page.getByText(/\d\d % alike · .*(longer|shorter|brighter|darker)/).first()).toBeVisible()
  await page.getByRole('row').nth(1).click()
  await page.getByRole('button', { name: 'Alike, and allowed in this video' }).click()
  await expect(chips(page)).toContainText('may be used or with a credit')
  await expect(page.getByRole('row').filter({ hasText: 'Not allowed' })).toHaveCount(0)
})

test('a sound is kept with a note, found on the Shelf, renamed, put into a collection and given a habit', async ({
  page,
}) => {
  await page.goto('/find?q=%22small bronze hit%22')
  await hearFirst(page)
  await page.keyboard.press('s')
  await expect(page.getByRole('button', { name: 'Keep Small bronze hit' })).toHaveAttribute('aria-pressed', 'true')
  await page.getByRole('link', { name: 'Shelf' }).click()
  await page.getByRole('searchbox', { name: 'Search the Shelf' }).fill('bronze')
  await page.getByRole('row', { name: /Small bronze hit/ }).click()
  await page.getByLabel('Name', { exact: true }).fill('Gong for openings')
  await page.getByRole('button', { name: 'Rename' }).click()
  await expect(page.getByRole('row', { name: /Gong for openings/ })).toContainText('was “Small bronze hit”')
  await page.getByLabel('New habit').fill('chapter card')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page.getByRole('list', { name: 'Habits' })).toContainText('chapter card')
  const option = page.getByRole('row', { name: /Gong for openings/ })
  const handle = option.getByRole('button', { name: 'Move Gong for openings' })
  const target = page.getByRole('list', { name: 'Collections' }).getByRole('button', { name: /^Nights/ })
  const [from, to] = [await handle.boundingBox(), await target.boundingBox()]
  if (!from || !to) throw new Error('nothing to drag')
  await page.mouse.move(from.x + 8, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(from.x + 30, from.y + 20, { steps: 4 })
  await page.mouse.move(to.x + 20, to.y + 8, { steps: 8 })
  await page.mouse.up()
  await expect(page.getByRole('list', { name: 'Collections' }).getByRole('button', { name: 'Nights 4' })).toBeVisible()
  await page.getByRole('searchbox', { name: 'Search the Shelf' }).fill('')
  await target.click()
  await expect(page.getByRole('row')).toHaveCount(4)
  await expect(page.getByRole('row').last()).toContainText('Gong for openings')
})

test('the Shelf is gone through, picked from and put in order by keys alone', async ({ page }) => {
  // As where much is going on: timers come after keys.
  await page.addInitScript(() => {
    const inTime = window.setTimeout
    const late = (todo: TimerHandler, ms = 0, ...given: unknown[]) => inTime(todo, ms + 2_000, ...given)
    window.setTimeout = late as typeof setTimeout
  })
  await page.goto('/shelf')
  await page
    .getByRole('list', { name: 'Collections' })
    .getByRole('button', { name: /^The dome/ })
    .click()
  const rows = page.getByRole('grid').getByRole('row')
  const titles = () => rows.locator('[role=gridcell]:nth-child(2) > span:first-child').allTextContents()
  await expect(rows).toHaveCount(4)
  const [first, second, third, fourth] = await titles()
  await rows.first().click()
  await page.keyboard.press('ArrowDown')
  await expect(rows.nth(1)).toBeFocused()
  // One ring, under the playhead.
  await expect(rows.nth(1)).toHaveCSS('outline-style', 'none')
  await expect(rows.nth(1)).toHaveCSS('box-shadow', /0px 0px 0px 2px/)
  await expect(page.getByTestId('listening-title')).toHaveText(second ?? '')
  await page.keyboard.press('Enter')
  await expect(rows.nth(1).getByRole('checkbox')).toBeChecked()
  // What the row holds comes after it, and then no other row.
  await page.keyboard.press('Tab')
  await expect(rows.nth(1).getByRole('button', { name: `Move ${second}` })).toBeFocused()
  // While it is moved, the arrows are those of the handle.
  await page.keyboard.press('Space')
  const told = page.getByRole('status').filter({ hasText: second })
  await expect(told).toHaveText(`${second} is over ${second}.`)
  await page.keyboard.press('ArrowDown')
  await expect(told).toHaveText(`${second} is over ${third}.`)
  await page.keyboard.press('Space')
  await expect.poll(titles).toEqual([first, third, second, fourth])
  await expect(page.getByTestId('listening-title')).toHaveText(second ?? '')
  await page.keyboard.press('Tab')
  await expect(page.getByRole('checkbox', { name: new RegExp(`${second}`) })).toBeFocused()
  await page.keyboard.press('Space')
  await expect(page.getByRole('checkbox', { name: new RegExp(`${second}`) })).not.toBeChecked()
  await page.keyboard.press('Tab')
  expect(await page.getByRole('grid').evaluate((list) => list.contains(document.activeElement))).toBe(false)
})

test('a part of a copy is saved with the very samples of the copy', async ({ page }) => {
  await page.goto('/find?q=%22dome shutter, slow%22')
  await hearFirst(page)
  await expect.poll(() => readHeardS(page), { intervals: [20] }).toBeGreaterThan(0.3)
  await page.keyboard.press('i')
  const beganByS = await readHeardS(page)
  await expect.poll(() => readHeardS(page), { intervals: [20] }).toBeGreaterThan(beganByS + 0.5)
  await page.keyboard.press('o')
  await page.keyboard.press('k')
  const saving = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Save the marked part' }).click()
  const saved = await saving
  expect(saved.suggestedFilename()).toContain('Dome shutter, slow and heavy')
  const part = readWav(new Uint8Array(fs.readFileSync(await saved.path())))
  const copyLink = page.getByRole('link', { name: /^Dome shutter, slow and heavy.*\.wav$/ })
  const copy = await page.request.get((await copyLink.getAttribute('href')) ?? '')
  const whole = readWav(new Uint8Array(await copy.body()))
  const marked = ((await page.getByTestId('marked-part').textContent()) ?? '').split(/[–s]/).map(Number)
  const near = Math.round((marked[0] as number) * whole.sampleRateHz)
  const length = part.channels[0]?.length ?? 0
  expect(length).toBeGreaterThan(0.4 * whole.sampleRateHz)
  // The bar shows hundredths of a second: the part begins within one of them.
  const at = startOf(
    part.channels[0] as Float32Array,
    whole.channels[0] as Float32Array,
    near,
    0.006 * whole.sampleRateHz,
  )
  expect(at).toBeGreaterThanOrEqual(0)
  expect(part.channels).toEqual(whole.channels.map((channel) => channel.slice(at, at + length)))
  expect(writeWav(part).length).toBeGreaterThan(length)
})

/** Where a part begins in a whole, near a place; -1 when it is not there. */
function startOf(part: Float32Array, whole: Float32Array, near: number, within: number): number {
  for (let at = Math.max(0, Math.floor(near - within)); at <= near + within; at++)
    if (part.subarray(0, 64).every((sample, step) => sample === whole[at + step])) return at
  return -1
}

test('a sound that is offered in several formats is downloaded in the one that is chosen', async ({ page }) => {
  await page.goto('/find?q=%22focus servo, tiny%22')
  await hearFirst(page)
  await page.getByLabel('OGG').check()
  await page.getByRole('button', { name: 'Download · in your plan' }).click()
  await expect(page.getByRole('link', { name: /^Focus servo, tiny - Sable Row - Heron & Slate\.ogg$/ })).toBeVisible()
  await expect(page.getByLabel('OGG')).toHaveCount(0)
})

test('several are downloaded as one job at one price', async ({ page }) => {
  await page.goto('/find?q=%22compressor%22')
  await expect(count(page)).toHaveText('2 sounds of 455')
  for (const title of ['Compressor, close', 'Compressor, from afar'])
    await page
      .locator('[role=row][id^=sound-]')
      .filter({ hasText: title })
      .click({ modifiers: ['Control'] })
  await expect(page.getByText('2 sounds selected')).toBeVisible()
  await page.getByRole('button', { name: /^Download 2 · \d+\.\d\d EUR in all/ }).click()
  const archive = page.getByRole('link', { name: 'Save the files as one archive' })
  await expect(archive).toBeVisible({ timeout: 30_000 })
  const saving = page.waitForEvent('download')
  await archive.click()
  const zip = fs.readFileSync(await (await saving).path())
  expect(zip.includes('Compressor, close')).toBe(true)
  expect(zip.includes('Compressor, from afar')).toBe(true)
  await expect(page.getByRole('button', { name: 'All are here' })).toBeDisabled()
})

test('sounds are compared by number keys', async ({ page }) => {
  await page.goto('/find?q=shimmer')
  await hearFirst(page)
  await page.keyboard.press('c')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('c')
  await page.getByRole('link', { name: 'Compare 2' }).click()
  const rows = page.getByRole('list', { name: 'Compared sounds' }).getByRole('listitem')
  await expect(rows).toHaveCount(2)
  await page.keyboard.press('2')
  await expect(rows.nth(1)).toHaveAttribute('aria-current', 'true')
  await expect(page.getByTestId('listening-time')).toHaveAttribute('data-playing', 'true')
  await page.keyboard.press('1')
  await expect(rows.nth(0)).toHaveAttribute('aria-current', 'true')
})

test('captions of a video become searches, with what is the habit first', async ({ page }) => {
  await page.goto('/videos')
  await page.getByRole('link', { name: /Three signals before dawn/ }).click()
  await page
    .getByRole('navigation', { name: 'Steps of the video' })
    .getByRole('link', { name: /Moments/ })
    .click()
  const words = page.getByRole('list', { name: 'Spoken words' })
  await expect(words.getByRole('listitem').first()).toBeVisible()
  const captions =
    'WEBVTT\n\n00:01.000 --> 00:03.000\nThe stars come out.\n\n00:42.000 --> 00:44.000\nThen the kettle.\n'
  const dropped = await page.evaluateHandle((text) => {
    const transfer = new DataTransfer()
    transfer.items.add(new File([text], 'other.vtt', { type: 'text/vtt' }))
    return transfer
  }, captions)
  await page.dispatchEvent('#spoken', 'dragenter', { dataTransfer: dropped })
  await page.dispatchEvent('#spoken', 'drop', { dataTransfer: dropped })
  await expect(words.getByRole('listitem')).toHaveCount(2)
  await expect(words.getByRole('listitem').first()).toContainText('(habit)')
  await page
    .getByLabel('Caption file')
    .setInputFiles({ name: 'x.srt', mimeType: 'text/plain', buffer: Buffer.from('none') })
  await expect(page.getByText('This file holds no captions.')).toBeVisible()
  await words.getByRole('link', { name: 'kettle', exact: true }).click()
  await expect(page.getByRole('searchbox', { name: 'Search everything' })).toHaveValue('kettle')
  await expect(page.getByRole('row').nth(1)).toContainText(/kettle/i)
})

test('a part of a finished video is marked on the time map, played to its end, and sounds like it are found', async ({
  page,
}) => {
  await page.goto('/videos')
  await page.getByRole('link', { name: 'Three signals before dawn' }).click()
  const map = page.getByTestId('map-track')
  await map.scrollIntoViewIfNeeded()
  const box = await map.boundingBox()
  if (!box) throw new Error('the map is not there')
  // The owl calls from 23.4 to 26.3 s of 38.
  await page.mouse.move(box.x + (box.width * 26.3) / 38, box.y + 60)
  await page.mouse.down()
  await page.mouse.move(box.x + (box.width * 23.4) / 38, box.y + 70, { steps: 6 })
  await page.mouse.up()
  await expect(page.getByTestId('marked-span')).toHaveText(/^Marked: 0:23\.[34] to 0:26\.[23], 2\.[89] s$/)
  const video = page.locator('video')
  const isPlaying = () => video.evaluate((media: HTMLVideoElement) => !media.paused)
  expect(await isPlaying()).toBe(false)
  const part = page.getByRole('region', { name: 'Marked part' })
  await part.getByRole('button', { name: 'Play it' }).click()
  await expect.poll(isPlaying).toBe(true)
  await expect.poll(isPlaying).toBe(false)
  const endS = await video.evaluate((media: HTMLVideoElement) => media.currentTime)
  expect(endS).toBeGreaterThan(26.1)
  expect(endS).toBeLessThan(26.8)
  await part.getByRole('button', { name: /^Start at 0:26/ }).click()
  await expect(page.getByTestId('marked-span')).toHaveText(/^Marked: 0:26\.\d to 0:3[78]\.\d, 1[12]/)
  await part.getByRole('button', { name: 'Clear' }).click()
  await expect(part).toContainText('Drag over the map')
  await page.mouse.move(box.x + (box.width * 23.4) / 38, box.y + 60)
  await page.mouse.down()
  await page.mouse.move(box.x + (box.width * 26.3) / 38, box.y + 60, { steps: 6 })
  await page.mouse.up()
  await part.getByRole('button', { name: 'Find sounds like it' }).click()
  await expect(chips(page)).toContainText('Three signals before dawn, 23.')
  const rows = page.getByRole('row').filter({ hasText: 'Owl' })
  await expect(rows.first()).toBeVisible()
  expect((await page.getByRole('row').nth(3).textContent()) ?? '').toMatch(/Owl|pigeon|Grouse/)
})

test('what an unexplained event may be is said, and sounds like it are found', async ({ page }) => {
  await page.goto('/videos')
  await page.getByRole('link', { name: 'Three signals before dawn' }).click()
  const events = page.getByRole('list', { name: 'Unexplained events' })
  // A low thump of the music under a wind: the nearest sounds are hums and winds.
  const thump = events.getByRole('listitem').filter({ hasText: '0:18.5' })
  await expect(thump).toContainText(/maybe [a-z ,]*(ambience|hum|wind)/)
  // Of one that is like nothing nothing is said.
  await expect(events.getByRole('listitem').filter({ hasText: '0:04.6' })).not.toContainText('maybe')
  await thump.getByRole('button', { name: 'Find sounds like the event at 0:18.5' }).click()
  await expect(page).toHaveURL(/like=probe/)
  await expect(page.getByText(/Three signals before dawn, 18\.5 to 18\.6 s/).first()).toBeVisible()
})

test('while the search loads it says so, and when it fails it offers to try again', async ({ page }) => {
  let fail = true
  await page.route('**/api/sounds?**', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 400))
    if (fail)
      await route.fulfill({
        status: 500,
        json: {
          type: 'x',
          title: 'x',
          status: 500,
          code: 'x',
          detail: 'The search stopped in the middle. Search again.',
        },
      })
    else await route.continue()
  })
  await page.goto('/find?sort=name')
  await expect(page.getByText('Looking through everything …')).toBeVisible()
  await expect(page.getByRole('alert')).toContainText('The search stopped in the middle.', { timeout: 15_000 })
  fail = false
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(count(page)).toHaveText('455 sounds')
})

test('an answer that does not know the last changes is asked for again by itself', async ({ page }) => {
  let isBehind = true
  await page.route(/\/api\/sounds(\/start|\/counts)?(\?|$)/, async (route) => {
    if (!isBehind) return route.continue()
    const nothing = { sounds: [], total: 0, sections: [], category: [], behindMs: 1 }
    const response = await route.fetch()
    await route.fulfill({ response, json: { ...(await response.json()), ...nothing } })
  })
  await page.goto('/find?sort=name')
  await expect(count(page)).toHaveText('0 sounds')
  const all = page.getByRole('navigation', { name: 'Categories' }).getByRole('button', { name: /^All/ })
  await expect(all).toContainText('0')
  await expect(all).not.toContainText('455')
  isBehind = false
  await expect(count(page)).toHaveText('455 sounds')
  await expect(all).toContainText('455')
  isBehind = true
  const answered = page.waitForResponse('**/api/sounds/start')
  await page.goto('/find')
  await answered
  await expect(page.locator('[data-section]')).toHaveCount(0)
  isBehind = false
  await expect(page.locator('[data-section="kept"]')).toBeVisible()
})

for (const [name, place] of [
  ['Find', '/find?q=whoosh [free]'],
  ['everything hidden', '/find?q=door [over 5 min]'],
  ['Shelf', '/shelf'],
  ['Compare', '/find/compare'],
] as const)
  test(`${name} has no barriers in either theme`, { tag: '@long' }, async ({ page }) => {
    await page.goto(place)
    // The room is there, and no longer waits for anything.
    await expect(page.getByRole('main').getByRole('heading', { level: 1 })).toHaveCount(1)
    await page.waitForLoadState('networkidle')
    if (name === 'Find') await page.getByRole('button', { name: 'Length', exact: true }).click()
    if (name === 'Shelf') await page.getByRole('row').first().click()
    await expectNoFaultsInEitherTheme(page)
  })
