import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect, test } from '@playwright/test'
import { ROOT } from './launch'
import { openWorld } from './worlds'

openWorld('demo', { env: { THUD_DECODER: 'embedded' } })

test('without a program for pictures the browser reads them, and the same is found', { tag: '@long' }, async ({
  page,
}) => {
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

test('frames that come unevenly are stepped to one by one, as the browser saw them', { tag: '@long' }, async ({
  page,
}) => {
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-uneven-'))
  const file = path.join(dir, 'uneven.mp4')
  // Every fourth picture is left out: 12 s at 25 a second become steps of 40 and 80 ms.
  const picture = ['-f', 'lavfi', '-i', "testsrc2=size=160x90:rate=25:duration=12,select='mod(n,4)'"]
  const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=12']
  const out = ['-fps_mode', 'vfr', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-g', '25', '-c:a', 'aac', file]
  execFileSync('ffmpeg', ['-v', 'error', ...picture, ...tone, ...out])
  const uses = { places: ['online'], earns: false, territory: 'worldwide', publishOn: null, videoLicence: null }
  const { id } = await (await page.request.post('/api/videos', { data: { title: 'An uneven night', uses } })).json()
  await page.goto(`/videos/${id}/moments`)
  await page.getByLabel('Rough cut file').setInputFiles(file)
  await expect(page.getByText('Its frame rate varies')).toBeVisible({ timeout: 90_000 })
  const times = [0]
  for (let step = 0; step < 6; step++) {
    await page.keyboard.press('ArrowRight')
    await expect
      .poll(() => page.locator('video').evaluate((media: HTMLVideoElement) => media.currentTime))
      .toBeGreaterThan((times.at(-1) ?? 0) + 0.02)
    times.push(await page.locator('video').evaluate((media: HTMLVideoElement) => media.currentTime))
  }
  // By their mean they would all be of 53 ms.
  const stepsS = times.slice(2).map((timeS, at) => timeS - (times[at + 1] ?? 0))
  expect(Math.min(...stepsS)).toBeLessThan(0.045)
  expect(Math.max(...stepsS)).toBeGreaterThan(0.055)
  fs.rmSync(dir, { recursive: true })
})
