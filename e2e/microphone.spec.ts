import { expect, test } from '@playwright/test'
import { CHROMIUM_OPTIONS } from '../playwright.config'
import { openEmptyStep, saved, scoreOf, seekTo } from './in-place-step'
import { openWorld } from './worlds'

openWorld('demo')
// A browser without windows has nobody to ask: a microphone that is allowed has to be given by it unasked.
test.use({
  launchOptions: { ...CHROMIUM_OPTIONS, args: [...CHROMIUM_OPTIONS.args, '--use-fake-ui-for-media-stream'] },
})

test('an effect is recorded to the picture, and is a sound with its papers at its place', { tag: '@long' }, async ({
  page,
  context,
}) => {
  await context.grantPermissions(['microphone'])
  await openEmptyStep(page)
  const region = page.getByRole('region', { name: 'Record a sound' })
  await seekTo(page, 5)
  await region.getByRole('button', { name: 'Record', exact: true }).click()
  const state = page.getByTestId('recording')
  await expect(state).toContainText('Recording in')
  // Given up while it counts: nothing was recorded.
  await region.getByRole('button', { name: 'Cancel' }).click()
  await expect(state).toHaveText('')
  await expect(page.getByTestId('take')).toHaveCount(0)

  await region.getByRole('button', { name: 'Record', exact: true }).click()
  await expect(state).toHaveText('Recording', { timeout: 20_000 })
  await expect(region.getByText(/^[2-9]\.\d s$/)).toBeVisible({ timeout: 20_000 })
  await region.getByRole('button', { name: 'Stop' }).click()
  const take = page.getByTestId('take')
  await expect(take).toHaveCount(1)
  await expect(take).toContainText('Say who recorded it')
  await expect(take.getByRole('button', { name: 'Use it' })).toBeDisabled()
  await take.getByRole('button', { name: 'Remove' }).click()
  await expect(take).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(take).toHaveCount(1)

  // Another step is looked at meanwhile: what was recorded is still here afterwards.
  await page.getByRole('link', { name: /^Moments/ }).click()
  await expect(page.getByTestId('map-track')).toBeVisible()
  await expect(region).toHaveCount(0)
  await page.getByRole('link', { name: /^In place/ }).click()
  await expect(take).toHaveCount(1)

  await region.getByRole('textbox', { name: 'Recorded by' }).fill('Ilse Varga')
  await region.getByRole('textbox', { name: 'Where' }).fill('the shed')
  await take.getByRole('button', { name: 'Use it' }).click()
  await expect(take).toHaveCount(0, { timeout: 30_000 })
  await expect(page.locator('[data-placement]')).toHaveCount(1)
  await saved(page)
  const [placed] = (await scoreOf(page)).document.placements
  // Where it was recorded, from where something is heard in it.
  expect(placed?.startS).toBeGreaterThan(4.5)
  expect(placed?.startS).toBeLessThan(8)
  expect(placed?.audio.kind).toBe('copy')
  const papers = await (await page.request.get(`/api/sounds/${placed?.audio.soundId}`)).text()
  expect(papers).toContain('the shed')
  await expect(page.getByRole('region', { name: 'What is used' })).not.toContainText('no papers')
})
