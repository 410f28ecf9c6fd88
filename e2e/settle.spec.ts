import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect, type Locator, type Page, test } from '@playwright/test'
import { writeWav } from '../src/core/formats/wav'
import { effect } from '../test/signals'
import { openWorld } from './worlds'

openWorld('demo', { without: ['pell-marrow', 'skerryview'] })

const RATE_HZ = 48_000
const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-settle-'))
test.afterAll(() => fs.rmSync(dir, { recursive: true, force: true }))

function samples(seed: number): Float32Array {
  return effect({ length: 40_000, rateHz: RATE_HZ, seed, frequencyHz: 300 + seed })
}

function wavFile(name: string, channel: Float32Array): string {
  const file = path.join(dir, name)
  fs.mkdirSync(path.dirname(file), { recursive: true })
  fs.writeFileSync(file, writeWav({ sampleRateHz: RATE_HZ, channels: [channel] }))
  return file
}

/** A finished file that holds one sound and nothing else. */
function film(name: string, sound: Float32Array): string {
  const track = new Float32Array(4 * RATE_HZ)
  track.set(
    sound.map((value) => 0.7 * value),
    RATE_HZ,
  )
  return wavFile(name, track)
}

async function addFolder(page: Page, folder: string, { mine }: { mine: boolean }): Promise<void> {
  await page.goto('/sources')
  await page.getByRole('button', { name: 'Add a folder' }).click()
  const dialog = page.getByRole('dialog', { name: 'A folder of your own' })
  await dialog.getByLabel('Path on this machine').fill(folder)
  if (mine) await dialog.getByLabel('I made it myself').check()
  await dialog.getByRole('button', { name: 'Add folder' }).click()
  await expect(page.getByText('Found 1 new, 0 changed, 0 moved, 0 gone').first()).toBeVisible()
}

async function check(page: Page, title: string, file: string): Promise<void> {
  await page.goto('/videos')
  await page.getByRole('button', { name: 'Add a video' }).first().click()
  await page.getByRole('dialog').getByLabel('Title').fill(title)
  await page.getByRole('dialog').getByRole('button', { name: 'Add the video' }).click()
  await page.getByLabel('Finished video file').setInputFiles(file)
  await expect(page.getByTestId('summary')).toHaveText(/^(Ready|Not ready|Partly examined)/, { timeout: 600_000 })
}

function findingOf(page: Page, title: string): Locator {
  return page.locator(`[data-finding="${title}"]`)
}

test('a file that changed is not cleared by the papers of the file before, and says how to settle it', {
  tag: '@long',
}, async ({ page }) => {
  const folder = path.join(dir, 'changed')
  const file = wavFile('changed/GATECreak_Old gate_SMHR_HILL.wav', samples(71))
  await addFolder(page, folder, { mine: false })
  await page.goto('/papers?q=old gate')
  await page.getByRole('row').filter({ hasText: 'Old gate' }).click()
  await page.getByRole('complementary').getByRole('button', { name: 'Say where it is from' }).click()
  await page.getByLabel('I made it myself').check()
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('row').filter({ hasText: 'Old gate' })).toContainText('Own recording')
  await check(page, 'Before the change', film('before.wav', samples(71)))
  await expect(findingOf(page, 'Old gate')).toContainText('clear')
  await expect(findingOf(page, 'Old gate')).toContainText(/on the word of/i)
  fs.copyFileSync(wavFile('other.wav', samples(88)), file)
  await page.goto('/sources')
  await page.getByRole('listitem').filter({ hasText: folder }).getByRole('button', { name: 'Scan again' }).click()
  await expect(page.getByText('Found 0 new, 1 changed, 0 moved, 0 gone').first()).toBeVisible()
  await check(page, 'After the change', film('after.wav', samples(88)))
  const finding = findingOf(page, 'Old gate')
  await expect(finding).toContainText('no papers')
  await expect(finding).toContainText(/This file changed on .*; its papers were for the file before\./)
  await expect(finding).toContainText('Put the earlier file back and check again.')
  // What was heard of the file before is cleared as it was.
  await page.goto('/videos')
  await page
    .getByRole('main')
    .getByRole('link', { name: /Before the change/ })
    .click()
  await expect(findingOf(page, 'Old gate')).toContainText('clear')
})

test('a file of one’s own that is a library’s sound is a point, settled by saying which one was used', {
  tag: '@long',
}, async ({ page }) => {
  const found = await (await page.request.get('/api/sounds?q="owl, four calls"')).json()
  const { id } = found.sounds.find(({ title }: { title: string }) => title === 'Owl, four calls')
  const served = path.join(dir, 'served')
  fs.writeFileSync(served, await (await page.request.get(`/api/sounds/${id}/audio`)).body())
  fs.mkdirSync(path.join(dir, 'twin'))
  const own = path.join(dir, 'twin', 'my owl.wav')
  execFileSync('ffmpeg', ['-v', 'error', '-i', served, '-ar', '48000', own])
  const finished = path.join(dir, 'owl film.wav')
  execFileSync('ffmpeg', ['-v', 'error', '-i', own, '-af', 'adelay=1000:all=1,volume=-4dB', finished])
  await addFolder(page, path.join(dir, 'twin'), { mine: true })
  await check(page, 'An owl', finished)
  await expect(page.getByTestId('summary')).toHaveText(/^Not ready/)
  const point = page.locator('[data-point="which-copy"][data-open="true"]')
  await expect(point).toContainText('is the same recording as')
  await point.getByRole('button', { name: 'It is from a sound or file' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel(/my owl/).check()
  await dialog.getByLabel('Reason (optional)').fill('Recorded on the hill.')
  await dialog.getByLabel('Your name').fill('Ann')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(point).toHaveCount(0)
  await page.getByText(/Settled by your word/).click()
  await expect(page.locator('[data-point="which-copy"][data-open="false"]')).toContainText('Ann')
})

test('what was acquired under a plan is not cleared for a day after its end', { tag: '@long' }, async ({ page }) => {
  await page.goto('/videos')
  await page
    .getByRole('main')
    .getByRole('link', { name: /The night the dome froze/ })
    .click()
  const finding = findingOf(page, 'Dome motor, starts and stops')
  await expect(finding).toContainText('clear')
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  const late = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10)
  await page.getByRole('dialog').getByLabel('Publish date').fill(late)
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await expect(finding).toContainText('not allowed')
  await expect(finding).toContainText(`The video is published on ${late}, outside Studio plan`)
  await expect(finding).toContainText('Renew the plan and download it again.')
  await expect(page.getByTestId('summary')).toHaveText(/^Not ready/)
})

test('an imported policy counts for nothing until its points are confirmed, and then for those', {
  tag: '@long',
}, async ({ page }) => {
  const { terms } = await (await page.request.get('/api/terms')).json()
  const { id } = terms.find(({ title }: { title: string }) => title === 'Creative Commons BY 4.0')
  const policy = await (await page.request.get(`/api/terms/${id}/odrl`)).json()
  policy['thud:terms']['@value'].title = 'Terms of Ivo Tarn'
  await page.goto('/papers/terms')
  const input = page.getByLabel('ODRL file')
  await input.setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{}') })
  await expect(page.getByRole('alert')).toContainText('The file is no ODRL policy')
  const buffer = Buffer.from(JSON.stringify(policy))
  await input.setInputFiles({ name: 'ivo.jsonld', mimeType: 'application/ld+json', buffer })
  await expect(page.getByRole('heading', { name: 'Confirm what this policy permits' })).toBeVisible()
  await expect(page.getByRole('button', { name: /^Confirm 0 of/ })).toBeDisabled()
  await expect(page.getByRole('checkbox', { checked: true })).toHaveCount(0)
  for (const point of ['Online', 'Cutting and mixing under a picture', 'Territory', 'How long it holds'])
    await page.getByRole('checkbox', { name: point }).check()
  await page.getByRole('button', { name: /^Confirm 4 of/ }).click()
  await expect(page.getByRole('heading', { name: 'Confirm what this policy permits' })).toHaveCount(0)
  await page.goto('/papers/terms')
  await expect(page.getByRole('link', { name: /Terms of Ivo Tarn.*to be confirmed/ })).toBeVisible()
  await page.goto('/sources')
  await page.getByLabel('File from elsewhere').setInputFiles(wavFile('ivo reeds.wav', samples(97)))
  const dialog = page.getByRole('dialog', { name: 'Where is it from?' })
  await dialog.getByLabel('Terms on file').check()
  const choices = dialog.getByRole('combobox', { name: 'Terms on file' }).locator('option')
  await expect(choices.filter({ hasText: 'Terms of Ivo Tarn' })).toHaveCount(1)
  await dialog
    .getByRole('combobox', { name: 'Terms on file' })
    .selectOption({ label: 'Terms of Ivo Tarn, version 4.0' })
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toHaveCount(0)
  await check(page, 'Reeds at the pond', film('reeds.wav', samples(97)))
  const finding = findingOf(page, 'ivo reeds')
  await expect(finding).toContainText('not allowed')
  // The licence of the video was not confirmed, so it is not stated.
  await expect(finding).toContainText('does not say whether the licence of the video is yours to choose')
  await expect(finding).toContainText('Ask the library in writing whether the licence of the video is yours to choose.')
})

test('the ledger tells what happened, whether it holds, and knows its own last line', { tag: '@long' }, async ({
  page,
}) => {
  await page.goto('/papers/ledger')
  const entries = page.getByRole('region', { name: 'Entries, the newest first' })
  await expect(entries.getByRole('listitem').first()).toBeVisible()
  await entries.focus()
  await page.keyboard.press('End')
  await expect(entries.getByText(/was acquired from Heron & Slate|served “/).last()).toBeVisible()
  await page.getByRole('button', { name: 'Verify now' }).click()
  await expect(page.getByText(/entries and everything on file were as they say/)).toBeVisible({ timeout: 60_000 })
  const line = (await page.getByRole('region', { name: 'The last entry' }).locator('code').textContent()) ?? ''
  expect(line).toMatch(/^\d+:[0-9a-f]{64}$/)
  const kept = page.getByLabel('Number and hash')
  await kept.fill('12 of something')
  await expect(page.getByRole('button', { name: 'Compare' })).toBeDisabled()
  await kept.fill(line)
  await page.getByRole('button', { name: 'Compare' }).click()
  await expect(page.getByText(/is the one that you noted/)).toBeVisible()
  await kept.fill(line.replace(/.$/, (last) => (last === '0' ? '1' : '0')))
  await page.getByRole('button', { name: 'Compare' }).click()
  await expect(page.getByText(/the ledger was written anew/)).toBeVisible()
})
