import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { expect, type Locator, type Page, test } from '@playwright/test'
import { ROOT } from './launch'
import { audioAdvances, isPaused, readHeardS } from './listening'
import { openWorld } from './worlds'

const VIDEO = path.join(ROOT, 'demo', 'files', 'three-signals-before-dawn.mp4')

openWorld('demo')

test('each video is listed with its picture, its length, how it stands, and what is to be done next', async ({
  page,
}) => {
  await page.goto('/videos')
  const cut = page.getByRole('article', { name: 'The night the dome froze' })
  await expect(cut).toContainText('0:44.0')
  await expect(cut.locator('[data-video-state="ready"]')).toBeVisible()
  await expect
    .poll(() => cut.locator('img').evaluate((one: HTMLImageElement) => one.complete && one.naturalWidth))
    .toBeGreaterThan(50)
  // Of the other there is a finished film alone.
  const film = page.getByRole('article', { name: 'Three signals before dawn' })
  await expect(film).toContainText('0:38.0')
  await expect.poll(() => film.locator('video').evaluate((one: HTMLVideoElement) => one.videoWidth)).toBeGreaterThan(50)
  await film.getByRole('link', { name: /^Settle \d points$/ }).click()
  await expect(page).toHaveURL(/\/videos\/2\/clearance$/)
  await page.goBack()
  await cut.getByRole('link', { name: /^Copy the credits?$/ }).click()
  await expect(page.getByRole('heading', { name: 'Proof' })).toBeVisible()
  await page.goBack()
  // Anywhere else the row leads to the video.
  await cut.click({ position: { x: 400, y: 75 } })
  await expect(page).toHaveURL(/\/videos\/1$/)
})

test('the video in hand is chosen in the top bar, and stays chosen', async ({ page }) => {
  await page.goto('/find')
  await page.getByTestId('video-in-hand').click()
  await page
    .getByRole('list', { name: 'Videos' })
    .getByRole('button', { name: /The night the dome froze/ })
    .click()
  await expect(page.getByTestId('video-in-hand')).toHaveText('The night the dome froze')
  await page.reload()
  await expect(page.getByTestId('video-in-hand')).toHaveText('The night the dome froze')
})

test('a video is made, with where it goes, and becomes the one in hand', async ({ page }) => {
  await page.goto('/videos')
  await page.getByRole('button', { name: 'Add a video' }).first().click()
  const dialog = page.getByRole('dialog', { name: 'A new video' })
  await dialog.getByLabel('Online').uncheck()
  await dialog.getByRole('button', { name: 'Add the video' }).click()
  await expect(dialog.getByText('give the video a title')).toBeVisible()
  await expect(dialog.getByText('choose at least one place of publication')).toBeVisible()
  await fillWalk(dialog, 'A walk to the dome')
  await expect(page.getByText('Online, cinema and festivals · earns · DE, FR · 6 May 2031').first()).toBeVisible()
  await expect(page.getByTestId('video-in-hand')).toHaveText('A walk to the dome')
})

test('results change while typing, over all sources', async ({ page }) => {
  await page.goto('/find')
  await expect(page.getByTestId('result-count')).toHaveText('455 sounds')
  const search = page.getByRole('searchbox')
  await search.pressSequentially('swell')
  await expect(page.getByTestId('result-count')).toHaveText('26 sounds of 455')
  const rows = page.getByRole('row')
  for (const [words, source, mark] of [
    ['swell slow dawn', 'Tin Barn Commons', 'CC0'],
    ['swell glass', 'Heron & Slate', 'in your plan'],
    ['swell hive close', 'Pell & Marrow', 'from'],
    ['swell hive afar', 'Skerryview Free Collection', 'free'],
    ['kitchen door', 'Hill recordings', 'yours'],
  ] as const) {
    await search.fill(words)
    await expect(page.getByTestId('result-count')).toHaveText('1 sound of 455')
    await expect(rows.nth(1)).toContainText(source)
    await expect(rows.nth(1)).toContainText(mark)
  }
  await search.fill('zzzz')
  await expect(page.getByText('No sound matches “zzzz”')).toBeVisible()
  await page.getByRole('button', { name: 'Show all 455 sounds' }).click()
  await expect(page.getByTestId('result-count')).toHaveText('455 sounds')
})

test('the strip says whether the terms allow the video in hand', async ({ page }) => {
  await page.goto('/videos')
  await page.getByRole('button', { name: 'Add a video' }).first().click()
  await fillWalk(page.getByRole('dialog'), 'A walk in the light')
  await expect(page.getByTestId('video-in-hand')).toHaveText('A walk in the light')
  await page.goto('/find')
  const row = async (title: string) => {
    await page.getByRole('searchbox').fill(title)
    await expect(page.getByTestId('result-count')).toHaveText('1 sound of 455')
    // The heading of the sounds like it says its title as well.
    return page.locator('[role=row][id^=sound-]').filter({ hasText: title })
  }
  // The video in hand earns and goes to cinemas: the plan's licence does not say anything about cinemas.
  await expect(await row('Swell out of the static')).toContainText('Not allowed')
  await expect(await row('Swell, glass')).toContainText('Not allowed')
  await expect(await row('Swell, slow dawn')).toContainText('May be used')
  await expect(await row('Swell, three seconds of frost')).toContainText('With a credit')
})

test('arrow keys move and play, space stops, a click in a print plays from there', async ({ page }) => {
  await page.goto('/find?q=wind')
  await page.getByRole('searchbox').focus()
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  const selected = page.locator('[role=row][aria-selected=true]')
  await expect(selected).toHaveCount(1)
  const title = await selected.getByRole('gridcell').first().locator('span').first().textContent()
  await expect(page.getByTestId('listening-title')).toHaveText(title ?? '')
  await expect.poll(() => audioAdvances(page)).toBe(true)
  await page.keyboard.press('Space')
  await expect.poll(() => isPaused(page)).toBe(true)
  const print = selected.locator('[data-print]')
  const box = await print.boundingBox()
  if (!box) throw new Error('the print is not there')
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2)
  // Half of the six seconds that the column shows.
  let heardS = 0
  await expect
    .poll(async () => {
      heardS = await readHeardS(page)
      return heardS
    })
    .toBeGreaterThan(2.8)
  // As it was seen first: it goes on while it is looked at.
  expect(heardS).toBeLessThan(6)
  await expect.poll(() => audioAdvances(page)).toBe(true)
})

test('listening goes on from place to place', async ({ page }) => {
  await page.goto('/find?q=server room')
  await page.getByRole('searchbox').press('ArrowDown')
  await expect.poll(() => audioAdvances(page)).toBe(true)
  await page.getByRole('link', { name: 'Sources' }).click()
  await expect(page.getByRole('heading', { name: 'Sources', level: 1 })).toBeVisible()
  expect(await audioAdvances(page)).toBe(true)
})

test('while a sound plays, the playheads, the meter and the time change, and nothing else is drawn anew', async ({
  page,
}) => {
  await page.goto('/find?q=bed')
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => audioAdvances(page)).toBe(true)
  const playhead = page.locator('[role=row][aria-selected=true] [data-playhead]')
  const leftPx = async (): Promise<number> => (await playhead.locator('span').boundingBox())?.x ?? Number.NaN
  const firstPx = await leftPx()
  await expect.poll(leftPx).toBeGreaterThan(firstPx)
  // What is loaded for the chosen sound has come by then.
  await expect(page.getByRole('complementary', { name: 'Selected sound' }).getByRole('heading').first()).toBeVisible()
  await page.waitForLoadState('networkidle')
  const changed = await page.evaluate(
    () =>
      new Promise<string[]>((resolve) => {
        const seen = new Set<string>()
        const observer = new MutationObserver((all) => {
          for (const { target } of all) {
            const element = target instanceof Element ? target : target.parentElement
            seen.add(
              element?.closest('[data-playhead], [data-meter], [data-testid=listening-time]')?.tagName === undefined
                ? (element?.outerHTML.slice(0, 200) ?? 'something')
                : 'what shows where it stands',
            )
          }
        })
        observer.observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true })
        setTimeout(() => resolve([...seen]), 700)
      }),
  )
  expect(changed).toEqual(['what shows where it stands'])
  // An outline would lie over the playhead, and have the whole list drawn again for each of its steps.
  await expect(page.locator('[role=row][aria-selected=true]')).toBeFocused()
  await expect(page.locator('[role=row][aria-selected=true]')).toHaveCSS('outline-style', 'none')
  await expect(page.locator('[role=row][aria-selected=true]')).toHaveCSS(
    'box-shadow',
    /2px inset|inset 2px|0px 0px 0px 2px/,
  )
})

test('a checked video tells of every sound whether it is cleared, and on which words that rests', async ({ page }) => {
  await openCheck(page, 'Three signals before dawn')
  await expectVerdicts(page)
})

test('a finished video is checked: verdicts, places and credits', { tag: '@long' }, async ({ page }) => {
  await page.goto('/videos')
  await page.getByRole('button', { name: 'Add a video' }).first().click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Title').fill('Three signals, new cut')
  await dialog.getByText('It earns').click()
  await dialog.getByLabel('Publish date').fill(inDays(3))
  await dialog.getByRole('button', { name: 'Add the video' }).click()
  await expect(page.getByText('Not checked yet')).toBeVisible()
  await page.getByLabel('Finished video file').setInputFiles(VIDEO)
  await expect(page.getByText(/Listening to three-signals-before-dawn.mp4/)).toBeVisible()
  await expectVerdicts(page, { timeout: 600_000 })
})

test('a click on a heard sound plays the video there', async ({ page }) => {
  await openCheck(page, 'Three signals before dawn')
  await page
    .getByRole('list', { name: 'Heard sounds' })
    .getByRole('button', { name: /Owl, four calls/ })
    .click()
  const at = () => page.evaluate(() => document.querySelector('video')?.currentTime ?? 0)
  await expect.poll(at).toBeGreaterThan(22.9)
  expect(await at()).toBeLessThan(26)
  await expect.poll(() => page.evaluate(() => !document.querySelector('video')?.paused)).toBe(true)
})

test('the credits can be copied', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await openCheck(page, 'The night the dome froze')
  await expect(page.getByTestId('summary')).toHaveText('Ready, 3 credits owed.')
  await page.getByRole('button', { name: 'Copy the credits' }).click()
  await expect(page.getByText('Copied')).toBeVisible()
  const text = await page.evaluate(() => navigator.clipboard.readText())
  expect(text.split('\n')).toHaveLength(4)
  expect(text).toContain('“Ice crack across the pond” by fernlight')
  expect(text).toContain('“Dome shutter, slow and heavy” by mossgate')
})

test('a download is stored with its papers, once, and can be saved', async ({ page }) => {
  await page.goto('/find?q=bronze')
  await page.getByRole('searchbox').press('ArrowDown')
  const panel = page.getByRole('complementary', { name: 'Selected sound' })
  await expect(panel.getByRole('heading', { name: 'Small bronze hit' })).toBeVisible()
  await panel.getByRole('button', { name: /Download/ }).click()
  await expect(panel.getByText('A copy is here')).toBeVisible()
  await expect(panel.getByText(/Creative Commons BY-SA 4.0, version 4.0, as served on/)).toBeVisible()
  await expect(page.getByRole('row').filter({ hasText: 'Small bronze hit' }).getByText('A copy is here')).toBeAttached()
  await expect(panel.getByRole('button', { name: /Download/ })).toHaveCount(0)
  const waiting = page.waitForEvent('download')
  await panel.getByRole('link', { name: /Small bronze hit/ }).click()
  const saved = await waiting
  expect(saved.suggestedFilename()).toBe('Small bronze hit - tallow-and-pine - Tin Barn Commons.ogg')
  const bytes = fs.readFileSync(await saved.path())
  const address = await panel.getByRole('link', { name: /Small bronze hit/ }).getAttribute('href')
  expect(address).toBe(`/api/copies/${createHash('sha256').update(bytes).digest('hex')}`)
})

test.describe('in a world of its own', () => {
  openWorld('demo')
  test('acquiring the sound settles the finding and adds its credit', async ({ page }) => {
    await openCheck(page, 'Three signals before dawn')
    const owl = page.locator('[data-finding="Owl, four calls"]')
    await owl.getByRole('button', { name: 'Download it from Tin Barn Commons' }).click()
    await expect(owl).toContainText('owes credit')
    await expect(page.getByTestId('summary')).toHaveText('Not ready: 4 points open.')
    await expect(page.getByTestId('credits')).toHaveText(
      /^Sound effects\n• “Owl, four calls” by marram \(Tin Barn Commons, .*\), Creative Commons BY 4\.0 \(https:\/\/creativecommons\.org\/licenses\/by\/4\.0\/\) — cut and mixed$/,
    )
  })
})

async function expectVerdicts(page: Page, within: { readonly timeout?: number } = {}): Promise<void> {
  await expect(page.getByTestId('summary')).toHaveText('Not ready: 5 points open.', within)
  const verdicts = await page
    .locator('[data-finding]')
    .evaluateAll((rows) =>
      rows.map((row) => [row.getAttribute('data-finding'), row.querySelector('h3 + span')?.textContent]),
    )
  expect(Object.fromEntries(verdicts)).toEqual({
    'Radio static, near a storm': 'not allowed',
    'Owl, four calls': 'no papers',
    'Timer pips, three': 'clear',
    'Slew servo, long arc': 'clear',
    'Page turn, star atlas': 'clear',
    'Swell, two seconds': 'clear',
    'Hit, black water': 'clear',
    'Switch clack, old panel': 'clear',
    'Whoosh, big and low': 'clear',
  })
  const barred = page.locator('[data-finding="Radio static, near a storm"]')
  await expect(barred).toContainText('Creative Commons BY-NC 4.0 does not allow a video that earns.')
  await expect(barred).toContainText('not primarily intended for or directed towards commercial advantage')
  await expect(barred).toContainText('Ask the maker for a licence')
  await expect(page.getByText('Nothing that was heard and has papers asks for a credit.')).toBeVisible()
}

async function openCheck(page: Page, title: string): Promise<void> {
  await page.goto('/videos')
  await page
    .getByRole('main')
    .getByRole('link', { name: new RegExp(title) })
    .click()
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible()
}

function inDays(days: number): string {
  return new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10)
}

/** Fills in the open form for a video that earns, online and in cinemas, and sends it. */
async function fillWalk(dialog: Locator, title: string): Promise<void> {
  await dialog.getByLabel('Title').fill(title)
  await dialog.getByLabel('Online').check()
  await dialog.getByLabel('Cinema and festivals').check()
  await dialog.getByText('It earns').click()
  await dialog.getByLabel('Territory').fill('de, fr')
  await dialog.getByLabel('Publish date').fill('2031-05-06')
  await dialog.getByRole('button', { name: 'Add the video' }).click()
}
