import { expect, type Page, test } from '@playwright/test'
import { expectNoFaults, expectNoFaultsInEitherTheme } from './accessibility'
import { openWorld } from './worlds'

openWorld('demo')

const VIEWS: readonly (readonly [string, string, (page: Page) => Promise<void>])[] = [
  [
    'find',
    '/find',
    async (page) => {
      await page.getByRole('searchbox').press('ArrowDown')
      await expect(page.getByRole('complementary').getByRole('heading', { name: 'In this video' })).toBeVisible()
    },
  ],
  [
    'videos',
    '/videos',
    async (page) => {
      await expect(page.getByRole('main').getByRole('link').first()).toBeVisible()
    },
  ],
  [
    'clearance',
    '/videos/2',
    async (page) => {
      await expect(page.getByTestId('summary')).toBeVisible()
      await page
        .getByRole('button', { name: /clauses/ })
        .first()
        .click()
    },
  ],
  [
    'moments',
    '/videos/1/moments',
    async (page) => {
      await page.getByRole('option', { name: /ice breaks/ }).click()
      await expect(page.getByRole('button', { name: /^Hear Ice crack/ })).toBeEnabled()
    },
  ],
  [
    'in place',
    '/videos/1/in-place',
    async (page) => {
      await page.getByRole('button', { name: /^Place Ice crack/ }).click()
      await expect(page.getByTestId('lined-up')).toHaveText('Its hit meets “ice breaks”.')
    },
  ],
  [
    'credits and proof',
    '/videos/1/credits',
    async (page) => {
      await expect(page.getByRole('heading', { name: 'Proof' })).toBeVisible()
    },
  ],
  [
    'first steps',
    '/first-steps',
    async (page) => {
      await expect(page.getByRole('heading', { name: 'First steps' })).toBeVisible()
    },
  ],
  [
    'desk',
    '/desk',
    async (page) => {
      await expect(page.getByRole('button', { name: /^Dismiss/ }).first()).toBeVisible()
    },
  ],
  [
    'papers',
    '/papers',
    async (page) => {
      await page.getByRole('row').filter({ hasText: 'Bed, climbing the hill' }).click()
      await expect(page.getByRole('complementary').getByRole('heading', { name: 'Papers' })).toBeVisible()
    },
  ],
  [
    'may I',
    '/papers/may-i',
    async (page) => {
      await page.getByLabel('The sound').fill('shutter slow')
      await page.getByRole('button', { name: /Dome shutter, slow and heavy/ }).click()
      await expect(page.getByRole('heading', { name: 'Why' })).toBeVisible()
    },
  ],
  [
    'terms',
    '/papers/terms',
    async (page) => {
      await page.getByRole('link', { name: /Free Collection, with a credit/ }).click()
      await expect(page.getByRole('heading', { name: 'Clause by clause' })).toBeVisible()
    },
  ],
  [
    'basket',
    '/basket',
    async (page) => {
      await page.request.post('/api/basket', {
        data: { soundId: await soldSound(page), tier: 'all', videoId: 1 },
        headers: { Origin: new URL(page.url()).origin },
      })
      await page.reload()
      await expect(page.getByText(/allows this video too/)).toBeVisible()
      await expect(page.getByRole('button', { name: /^Pay / })).toBeVisible()
    },
  ],
  [
    'orders',
    '/papers/orders',
    async (page) => {
      await expect(page.getByRole('heading', { name: 'By library and month' })).toBeVisible()
      await expect(page.getByRole('link', { name: 'Receipt' }).first()).toBeVisible()
    },
  ],
  [
    'ledger',
    '/papers/ledger',
    async (page) => {
      await expect(page.getByRole('button', { name: 'Verify now' })).toBeVisible()
      await expect(page.getByText(/was acquired from/).first()).toBeVisible()
    },
  ],
  [
    'sources',
    '/sources',
    async (page) => {
      await expect(page.getByRole('button', { name: 'Sync now' }).first()).toBeVisible()
    },
  ],
]

/** What shows much, and takes long to be gone through. */
const LARGE = ['find', 'moments', 'in place', 'papers', 'terms', 'basket', 'ledger', 'sources']

for (const [name, address, settle] of VIEWS)
  test(`${name} has no accessibility faults in either theme and does not scroll sideways`, {
    tag: LARGE.includes(name) ? '@long' : [],
  }, async ({ page }) => {
    const answer = await page.goto(address)
    expect(answer?.status()).toBe(200)
    await settle(page)
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true)
    await expectNoFaultsInEitherTheme(page)
  })

test('the form of a video has no accessibility faults in either theme', { tag: '@long' }, async ({ page }) => {
  await page.goto('/videos/1')
  await page.getByRole('button', { name: 'Change' }).click()
  await expect(page.getByRole('dialog', { name: 'Change this video' })).toBeVisible()
  await expectNoFaultsInEitherTheme(page, 'dialog')
})

test('a dialog keeps the keys and what was typed, and gives the focus back', async ({ page }) => {
  const refused: string[] = []
  page.on('console', (message) => message.type() === 'error' && refused.push(message.text()))
  await page.goto('/videos')
  const opener = page.getByRole('main').getByRole('button', { name: 'Add a video' }).first()
  await opener.click()
  const dialog = page.getByRole('dialog', { name: 'A new video' })
  const title = dialog.getByLabel('Title')
  await expect(title).toBeFocused()
  await page.keyboard.type('Half a ti?tle')
  // Beside it, a click would lose what was typed; a key of the page would open the sheet or the line of commands.
  await page.mouse.click(5, 400)
  await page.keyboard.press('Control+k')
  await expect(page.getByRole('dialog')).toHaveCount(1)
  await expect(title).toHaveValue('Half a ti?tle')
  // Tab goes round in it, both ways.
  const isIn = () => page.evaluate(() => document.activeElement?.closest('[role=dialog]') !== null)
  await title.focus()
  await page.keyboard.press('Shift+Tab')
  expect(await isIn()).toBe(true)
  await expect(title).not.toBeFocused()
  await page.keyboard.press('Tab')
  await expect(title).toBeFocused()
  // A button that is disabled while it has the focus lets go of it; the keys are the dialog's all the same.
  const disabled = dialog.getByRole('button', { name: 'Cancel' })
  await disabled.focus()
  await disabled.evaluate((button: HTMLButtonElement) => {
    button.disabled = true
  })
  // The browser takes the focus from it a moment later.
  await expect(disabled).not.toBeFocused()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog')).toHaveCount(1)
  expect(await isIn()).toBe(true)
  await disabled.evaluate((button: HTMLButtonElement) => {
    button.disabled = false
    button.focus()
    button.disabled = true
  })
  // What lies under it is not there for those who do not see.
  const isHidden = () => page.getByRole('main').evaluate((one) => one.closest('[inert], [aria-hidden=true]') !== null)
  expect(await isHidden()).toBe(true)
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  await expect(opener).toBeFocused()
  expect(await isHidden()).toBe(false)
  // Nothing that the dialog brought along was kept out by the rules of the page.
  expect(refused).toEqual([])
})

test('a menu goes when the work goes on elsewhere, and takes no click from it', async ({ page }) => {
  await page.goto('/find')
  const opener = page.getByRole('button', { name: 'Cost', exact: true })
  const panel = page.getByRole('dialog', { name: 'Cost' })
  const rows = page.locator('[role=row][id^=sound-]')
  await expect(rows.first()).toBeVisible()
  await opener.focus()
  await page.keyboard.press('Enter')
  await expect(panel).toBeVisible()
  await expect(opener).toHaveAttribute('aria-expanded', 'true')
  expect(await panel.evaluate((one) => one.contains(document.activeElement))).toBe(true)
  // Its keys are not those of the page.
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog')).toHaveCount(1)
  await page.keyboard.press('Escape')
  await expect(panel).toHaveCount(0)
  await expect(opener).toBeFocused()
  await expect(opener).toHaveAttribute('aria-expanded', 'false')
  // The keys of the page are at work again at once.
  await page.keyboard.press('ArrowDown')
  await expect(rows.first()).toHaveAttribute('aria-selected', 'true')
  // One click beside it closes it and does what it does there; a click on its own button only closes it.
  await opener.click()
  await expect(panel).toBeVisible()
  await rows.nth(5).click()
  await expect(panel).toHaveCount(0)
  await expect(rows.nth(5)).toHaveAttribute('aria-selected', 'true')
  await opener.click()
  await expect(panel).toBeVisible()
  await opener.click()
  await expect(panel).toHaveCount(0)
})

test('the forms of libraries have no accessibility faults in either theme, and can be worked by keys', {
  tag: '@long',
}, async ({ page }) => {
  await page.goto('/sources')
  const opener = page.getByRole('button', { name: 'Connect a library' })
  await opener.focus()
  await page.keyboard.press('Enter')
  const dialog = page.getByRole('dialog', { name: 'Connect a library' })
  await expect(dialog.getByLabel('Kind')).toBeVisible()
  await dialog.getByLabel('Key').fill('small-hours-key')
  await dialog.getByRole('button', { name: 'Try it' }).click()
  await expect(dialog.getByRole('region', { name: 'What the library answered' })).toBeVisible()
  await expectNoFaultsInEitherTheme(page, 'dialog')
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  await expect(opener).toBeFocused()
  await page.getByRole('button', { name: 'Key for Heron & Slate' }).click()
  const keyDialog = page.getByRole('dialog', { name: 'Key for Heron & Slate' })
  await expect(keyDialog.getByLabel('Password')).toBeVisible()
  await expectNoFaults(page, 'dialog')
})

test('the theme can be changed and stays', async ({ page }) => {
  await page.goto('/find')
  const background = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor)
  const before = await background()
  await page.getByRole('button', { name: 'Use the dark theme' }).click()
  await expect.poll(background).not.toBe(before)
  const after = await background()
  await page.reload()
  await expect.poll(background).toBe(after)
})

test('the keys stand on a sheet, and never clash with typing', async ({ page }) => {
  await page.goto('/find')
  await page.getByRole('searchbox').fill('what?')
  await page.getByRole('searchbox').press('?')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.getByRole('grid').or(page.getByText('No sound matches')).first().click()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.keyboard.press('/')
  await expect(page.getByRole('searchbox')).toBeFocused()
})

test('from one line every place, video, sound and action is reached, wherever the focus is', { tag: '@long' }, async ({
  page,
}) => {
  await page.goto('/find')
  const dialog = page.getByRole('dialog', { name: 'Go to, or do' })
  const line = dialog.getByRole('combobox')
  // Also while words are typed, and the words stay.
  await page.getByRole('searchbox').fill('owl')
  await page.keyboard.press('Control+k')
  await expect(dialog).toBeVisible()
  await expect(line).toBeFocused()
  await expect(dialog.getByRole('option').first()).toBeVisible()
  await expectNoFaults(page, 'dialog')
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  await expect(page.getByRole('searchbox')).toHaveValue('owl')
  await expect(page.getByRole('searchbox')).toBeFocused()

  await page.keyboard.press('Control+k')
  await page.keyboard.type('ppr')
  await expect(dialog.getByRole('option').first()).toContainText('Papers')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/papers$/)
  await expect(dialog).toHaveCount(0)

  await page.keyboard.press('Control+k')
  await page.keyboard.type('dome froze')
  await expect(dialog.getByRole('option').first()).toContainText('The night the dome froze')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/videos\/1$/)

  await page.keyboard.press('Control+k')
  await page.keyboard.type('comet')
  await dialog.getByRole('group', { name: 'Sounds' }).getByRole('option').first().click()
  await expect(page).toHaveURL(/\/find\?q=/)
  await expect(page.getByRole('row').nth(1)).toContainText(/comet/i)

  await page.keyboard.press('Control+k')
  await page.keyboard.type('zzzzqq')
  await expect(dialog).toContainText('Nothing here is called “zzzzqq”.')
  await page.keyboard.press('Enter')
  await expect(dialog).toBeVisible()
  await page.keyboard.press('Escape')

  const background = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor)
  const before = await background()
  await page.getByRole('button', { name: 'Go to, or do' }).click()
  await page.keyboard.type('dark')
  await page.keyboard.press('Enter')
  await expect.poll(background).not.toBe(before)
  await expect(page.getByRole('button', { name: 'Use the light theme' })).toBeVisible()
})

test('what a page can do is on the line with its keys, and only there', { tag: '@long' }, async ({ page }) => {
  const option = (name: RegExp) => page.getByRole('dialog').getByRole('option', { name })
  await page.goto('/videos/1/in-place')
  await expect(page.getByRole('button', { name: /^Place / }).first()).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('split')
  await expect(option(/^Split the sound at the playhead/)).toContainText('V')
  await page.keyboard.press('Escape')
  await page.goto('/desk')
  await expect(page.getByRole('heading', { name: 'Desk', exact: true })).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('split the sound')
  await expect(option(/^Split/)).toHaveCount(0)
  await page.keyboard.press('Escape')
  // It does what its key does.
  await page.goto('/videos/1/moments')
  await expect(page.getByTestId('timecode')).toBeVisible()
  const isPaused = () => page.locator('video').evaluate((film: HTMLVideoElement) => film.paused)
  expect(await isPaused()).toBe(true)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('play or stop')
  await page.keyboard.press('Enter')
  await expect.poll(isPaused).toBe(false)
  // Over a dialog that is open it does not come.
  await page.goto('/desk')
  await expect(page.getByRole('heading', { name: 'Desk', exact: true })).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await page.keyboard.press('Control+k')
  await expect(page.getByRole('dialog')).toHaveCount(1)
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
})

test.describe('on a telephone', () => {
  test.use({ viewport: { width: 390, height: 844 } })
  test('a report can be read without scrolling sideways', async ({ page }) => {
    await page.goto('/videos/2')
    await expect(page.getByTestId('summary')).toBeVisible()
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  })
})

for (const width of [1024, 700, 390])
  test(`Find does not scroll sideways at ${width} pixels`, async ({ page }) => {
    await page.setViewportSize({ width, height: 800 })
    for (const address of ['/find', '/find?q=door']) {
      await page.goto(address)
      await expect(page.getByRole('row').nth(2)).toBeVisible()
      const overflowPx = () =>
        page.evaluate(() =>
          Math.max(
            ...[document.documentElement, ...document.querySelectorAll('main, [role="grid"]')].map(
              (one) => one.scrollWidth - one.clientWidth,
            ),
          ),
        )
      expect(await overflowPx()).toBeLessThanOrEqual(0)
    }
  })

test('when the application does not answer, that is said and can be retried', { tag: '@long' }, async ({ page }) => {
  await page.route('**/api/sounds/start', (route) => route.abort())
  await page.goto('/find')
  await expect(page.getByRole('alert').filter({ hasText: 'Good Thud does not answer.' })).toBeVisible()
  await page.unroute('**/api/sounds/start')
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(page.getByRole('row').nth(2)).toBeVisible()
  await page.route('**/api/sounds?*', (route) => route.abort())
  await page.goto('/find?sort=name')
  await expect(page.getByRole('alert').filter({ hasText: 'Good Thud does not answer.' })).toBeVisible()
  await page.unroute('**/api/sounds?*')
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(page.getByTestId('result-count')).toHaveText('455 sounds')
})

test('the whole text of the terms can be read', async ({ page }) => {
  await page.goto('/find?q=server room')
  await page.getByRole('searchbox').press('ArrowDown')
  await page.getByRole('button', { name: 'Read the whole text' }).click()
  const dialog = page.getByRole('dialog', { name: 'Studio plan licence, version 8' })
  await expect(dialog).toContainText('A film first published while your plan is active stays cleared')
  await expect(page).toHaveTitle('Find · Good Thud')
})

test('a library that could never be read can be paused and removed, one that nobody asked for cannot', async ({
  page,
}) => {
  const unread = { connected: false, lastSyncAt: null, soundCount: 0 }
  await page.route('**/api/sources', async (route) => {
    const response = await route.fetch()
    const { sources } = (await response.json()) as { sources: { id: string }[] }
    const change: Record<string, object> = {
      'tin-barn': { ...unread, mayBeRemoved: true, lastError: 'Tin Barn Commons refused the sign-in.' },
      skerryview: { ...unread, mayBeRemoved: false, lastError: null },
    }
    await route.fulfill({ response, json: { sources: sources.map((one) => ({ ...one, ...change[one.id] })) } })
  })
  await page.goto('/sources')
  const row = (name: string) => page.getByRole('listitem').filter({ has: page.getByRole('heading', { name }) })
  const words = (name: string) => row(name).getByRole('button').allInnerTexts()
  await expect(row('Tin Barn Commons')).toContainText('refused the sign-in')
  expect(await words('Tin Barn Commons')).toEqual(['Connect', 'Key', 'Pause', 'Remove'])
  expect(await words('Skerryview')).toEqual(['Connect', 'Key'])
  expect(await words('Heron & Slate')).toEqual(['Sync now', 'Key', 'Pause', 'Disconnect'])
})

test('an address that leads nowhere says so', async ({ page }) => {
  await page.goto('/videos/98765')
  await expect(page.getByText('This video is not here. Choose another under Videos.')).toBeVisible()
  await page.goto('/nowhere')
  await expect(page.getByText('There is nothing at this address.')).toBeVisible()
})

test('pages of other sites are kept out', async ({ request }) => {
  const foreign = await request.fetch('/api/videos', {
    method: 'POST',
    headers: { Origin: 'https://elsewhere.example' },
    data: {},
  })
  expect(foreign.status()).toBe(403)
  const rebound = await request.fetch('/api/videos', { headers: { Host: 'elsewhere.example' } })
  expect(rebound.status()).toBe(403)
})

test('a connection is kept for longer than any client waits before it asks again over it', async ({ request }) => {
  const answer = await request.get('/api/health')
  expect(Number(/timeout=(\d+)/.exec(answer.headers()['keep-alive'] ?? '')?.[1])).toBeGreaterThanOrEqual(60)
})

/** A sound that is sold in tiers. */
async function soldSound(page: Page): Promise<number> {
  const answer = await page.request.get('/api/sounds?q=torch button close')
  const { sounds } = (await answer.json()) as { sounds: { id: number; sold: boolean }[] }
  return sounds.find(({ sold }) => sold)?.id ?? 0
}
