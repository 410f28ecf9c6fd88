import path from 'node:path'
import { expect, test } from '@playwright/test'
import { ROOT } from './launch'
import { openWorld } from './worlds'

openWorld('demo', { env: { THUD_DECODER: 'embedded' } })

test('without a program for pictures the browser reads them, and the same is found', async ({ page }) => {
  await page.goto('/videos/2/moments')
  await page.getByLabel('Rough cut file').setInputFiles(path.join(ROOT, 'demo', 'files', 'dome-rough-cut-1.mp4'))
  await expect(page.getByRole('button', { name: /^Note a moment/ })).toBeVisible({ timeout: 90_000 })
  await expect(page.getByRole('button', { name: /^Shot change/ })).toBeVisible({ timeout: 60_000 })
  await expect(page.getByRole('button', { name: 'Flash 1' })).toBeVisible()
  await page.getByRole('button', { name: 'Flash 1' }).click()
  await page
    .getByRole('grid', { name: 'Suggestions' })
    .getByRole('row', { name: /flashes up/ })
    .click()
  await expect(page.getByTestId('timecode')).toHaveText(/^00:18:1[0-3]$/)
})
