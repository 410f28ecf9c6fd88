import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect, type Locator, type Page, test } from '@playwright/test'
import { ROOT } from './launch'
import { openWorld } from './worlds'

const world = openWorld('demo', { each: true })
const FRAMES_PER_S = 24
const STEP = '/videos/1/moments'

async function openMoments(page: Page): Promise<Locator> {
  await page.goto(STEP)
  const list = page.getByRole('listbox', { name: 'Moments' })
  await expect(list.getByRole('option').first()).toBeVisible()
  await expect
    .poll(() => page.locator('video').evaluate((media: HTMLVideoElement) => media.readyState))
    .toBeGreaterThanOrEqual(2)
  return list
}

const saved = (page: Page) => expect(page.getByTestId('save-state')).toHaveText('saved')
const timeOf = async (row: Locator): Promise<string> => ((await row.textContent()) ?? '').slice(0, 8)
/** Number of the frame that a shown timecode names. */
const frameOf = (code: string): number => {
  const [minutes = 0, seconds = 0, frames = 0] = code.split(':').map(Number)
  return (minutes * 60 + seconds) * FRAMES_PER_S + frames
}

test('moments are noted while the cut plays, corrected by frames, undone, and there after a power cut', async ({
  page,
}) => {
  const list = await openMoments(page)
  await page.keyboard.press('Space')
  for (const words of ['first thing', 'second thing', 'third thing']) {
    await page.waitForTimeout(900)
    await page.keyboard.press('n')
    await page.keyboard.type(words)
    await page.keyboard.press('Enter')
  }
  await page.keyboard.press('k')
  await expect(list.getByRole('option')).toHaveCount(10)
  const first = list.getByRole('option', { name: /first thing/ })
  // The key was pressed after the thing was heard: the moment lies before it.
  expect(frameOf(await timeOf(first))).toBeLessThan(3 * FRAMES_PER_S)
  await first.click()
  const before = frameOf(await timeOf(first))
  await page.keyboard.press('.')
  await page.keyboard.press('.')
  await page.keyboard.press(',')
  await expect.poll(async () => frameOf(await timeOf(first))).toBe(before + 1)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => frameOf(await timeOf(first))).toBe(before + 2)
  await page.keyboard.press('Control+Shift+Z')
  await expect.poll(async () => frameOf(await timeOf(first))).toBe(before + 1)
  await page.keyboard.press('Delete')
  await expect(list.getByRole('option')).toHaveCount(9)
  await page.keyboard.press('Control+z')
  await expect(list.getByRole('option')).toHaveCount(10)
  // What is typed is saved while it is typed: a power cut in the middle of a word loses at most a second.
  await page.keyboard.press('n')
  // Typed on without a pause; what is older than a second is there afterwards.
  await page.keyboard.type('half a word and more', { delay: 150 })
  await world.cutPower()
  await page.reload()
  await expect(list.getByRole('option', { name: /half a wor/ })).toBeVisible()
  await expect(list.getByRole('option')).toHaveCount(11)
})

test('what the cut shows is suggested with its reason, taken by one key, and never comes again once dismissed', {
  tag: '@long',
}, async ({ page }) => {
  const list = await openMoments(page)
  const suggestions = page.getByRole('grid', { name: 'Suggestions' })
  await page.getByRole('button', { name: /^Flash 1/ }).click()
  const flash = suggestions.getByRole('row', { name: /flashes up/ })
  await flash.click()
  await expect(page.getByTestId('timecode')).toHaveText(/^00:18:1[0-3]$/)
  await page.keyboard.press('x')
  await expect(page.getByRole('button', { name: /^Flash/ })).toHaveCount(0)
  await saved(page)
  await page.reload()
  const words = page.getByRole('button', { name: /^Spoken word/ })
  await words.click()
  await expect(page.getByRole('button', { name: /^Flash/ })).toHaveCount(0)
  const before = await list.getByRole('option').count()
  const word = suggestions.getByRole('row').first()
  const named = ((await word.textContent()) ?? '').slice(8, 14)
  await word.click()
  await page.keyboard.press('a')
  await expect(list.getByRole('option')).toHaveCount(before + 1)
  await expect(list.getByRole('option', { name: new RegExp(named.trim(), 'i') }).first()).toBeVisible()
})

test('moments go out in every format and come back as they were', { tag: '@long' }, async ({ page }) => {
  await openMoments(page)
  await page.getByRole('button', { name: 'Import and export' }).click()
  const dialog = page.getByRole('dialog', { name: 'Import and export moments' })
  for (const [name, ending] of [
    ['CSV table', 'csv'],
    ['WebVTT', 'vtt'],
    ['EDL (CMX 3600)', 'edl'],
    ['OpenTimelineIO', 'otio'],
    ['Plain text', 'txt'],
  ] as const) {
    const coming = page.waitForEvent('download')
    await dialog.getByRole('button', { name, exact: true }).click()
    const file = await (await coming).path()
    await dialog.getByLabel('File with moments').setInputFiles({
      name: `moments.${ending}`,
      mimeType: 'text/plain',
      buffer: fs.readFileSync(file),
    })
    await expect(dialog.getByTestId('import-plan')).toContainText(
      '0 to add, 0 to change, 7 already the same, 0 lines to look at',
    )
  }
  for (const [name, start] of [
    ['List to print (HTML)', '<!doctype html>'],
    ['List to print (PDF)', '%PDF-'],
  ] as const) {
    const coming = page.waitForEvent('download')
    await dialog.getByRole('link', { name }).click()
    expect(fs.readFileSync(await (await coming).path(), 'latin1').startsWith(start)).toBe(true)
  }
  await dialog.getByLabel('Or paste it here').fill('0:20 owl calls\n0:99:00 what\n1:40 too late\n')
  await expect(dialog.getByTestId('import-plan')).toContainText('1 to add')
  await expect(dialog.getByTestId('import-plan')).toContainText('behind the end of the cut')
  await dialog.getByRole('button', { name: 'Import', exact: true }).click()
  await expect(page.getByRole('listbox', { name: 'Moments' }).getByRole('option', { name: /owl calls/ })).toBeVisible()
})

test('a new cut carries the moments over, and says what changed', { tag: '@long' }, async ({ page }) => {
  const list = await openMoments(page)
  const kettle = list.getByRole('option', { name: /kettle whistles/ })
  const before = frameOf(await timeOf(kettle))
  const second = path.join(ROOT, 'demo', 'files', 'dome-rough-cut-2.mp4')
  await page.getByLabel('Rough cut file').setInputFiles(second)
  const carried = page.getByTestId('carried')
  await expect(carried).toContainText('With dome-rough-cut-2.mp4', { timeout: 60_000 })
  // The kettle came before the ice: it is noted there now, to the frame.
  await expect.poll(async () => Math.abs(frameOf(await timeOf(kettle)) - 18 * FRAMES_PER_S)).toBeLessThanOrEqual(1)
  await carried.getByText('With dome-rough-cut-2.mp4').click()
  await carried.getByRole('button', { name: 'kettle whistles' }).click()
  await expect(page.getByTestId('timecode')).toHaveText(/^00:1[78]:/)
  const versions = page.getByRole('region', { name: 'Versions of the cut' })
  await expect(versions).toContainText('dome-rough-cut-1.mp4')
  // Removed again, all is as it was before; and brought back.
  await versions.getByRole('button', { name: 'Remove dome-rough-cut-2.mp4' }).click()
  await expect.poll(async () => frameOf(await timeOf(kettle)), { timeout: 30_000 }).toBe(before)
  await expect(page.getByTestId('carried')).toBeHidden()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(carried).toContainText('With dome-rough-cut-2.mp4', { timeout: 30_000 })
  await expect.poll(async () => Math.abs(frameOf(await timeOf(kettle)) - 18 * FRAMES_PER_S)).toBeLessThanOrEqual(1)
})

test('from a moment to sounds by one key, onto the short list, and back to hear them in the cut', {
  tag: '@long',
}, async ({ page }) => {
  const list = await openMoments(page)
  await list.getByRole('option', { name: /kettle whistles/ }).click()
  await page.keyboard.press('f')
  await expect(page.getByTestId('for-moment')).toHaveText(/^for 00:26:12 kettle whistles/)
  await expect(page.getByTestId('video-in-hand')).toHaveText('The night the dome froze')
  const line = page.getByRole('searchbox', { name: 'Search everything' })
  await expect(line).toHaveValue('kettle whistles')
  await line.fill('kettle')
  const row = page.getByRole('row').nth(1)
  await expect(row).toContainText(/hit after|no hit/)
  await line.press('ArrowDown')
  // Until the results are there a letter belongs to the search line.
  await expect(page.locator('[role=row][data-selected=true]')).toHaveCount(1)
  await page.keyboard.press('a')
  await expect(row.getByRole('button', { name: /^Short list/ })).toHaveAttribute('aria-pressed', 'true')
  await page.getByRole('link', { name: 'Back to the moment' }).click()
  const candidate = page.getByRole('region', { name: 'Short list' }).getByRole('listitem').first()
  await expect(candidate.getByRole('button', { name: /^Hear/ })).toBeEnabled()
  await page.keyboard.press('1')
  const video = page.locator('video')
  await expect
    .poll(() => video.evaluate((media: HTMLVideoElement) => !media.paused && media.currentTime > 24))
    .toBe(true)
  await expect(candidate.getByRole('button', { name: /^Hear/ })).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('k')
  await candidate.getByRole('button', { name: 'Pick' }).click()
  await saved(page)
  await page.reload()
  await expect(list.getByRole('option', { name: /kettle whistles/ })).toContainText(/kettle.*/i)
  await expect(page.getByRole('navigation', { name: 'Steps of the video' })).toContainText('7 moments, 4 settled')
})

test('two tabs on one video lose nothing', { tag: '@long' }, async ({ page, context }) => {
  const list = await openMoments(page)
  const other = await context.newPage()
  const otherList = await openMoments(other)
  await otherList.getByRole('option', { name: /motor hums/ }).click()
  await other.keyboard.press('Enter')
  await other.keyboard.type('motor groans')
  await other.keyboard.press('Enter')
  await saved(other)
  await list.getByRole('option', { name: /shutter slams/ }).click()
  await page.keyboard.press('Delete')
  await expect(page.getByText('These moments were changed elsewhere meanwhile (1 changed)')).toBeVisible()
  await page.getByRole('button', { name: 'Merge both' }).click()
  await expect(list.getByRole('option', { name: /motor groans/ })).toBeVisible()
  await saved(page)
  await other.reload()
  await expect(otherList.getByRole('option')).toHaveCount(6)
  await expect(otherList.getByRole('option', { name: /motor groans/ })).toBeVisible()
})

test('after a seek and after each step the frame that is shown is the one at that time', { tag: '@long' }, async ({
  page,
}) => {
  const file = numberedFilm()
  await page.goto('/videos/2/moments')
  await page.getByLabel('Rough cut file').setInputFiles(file)
  await expect(page.getByRole('button', { name: /^Note a moment/ })).toBeVisible({ timeout: 60_000 })
  const code = page.getByTestId('timecode')
  const map = page.getByTestId('map-track')
  const box = await map.boundingBox()
  if (!box) throw new Error('the map is not there')
  for (const share of [0.031, 0.5, 0.77, 0.2004]) {
    await page.mouse.click(box.x + share * box.width, box.y + 30)
    await expectFrame(page, code)
  }
  for (const key of ['ArrowRight', 'ArrowRight', 'ArrowLeft', 'Shift+ArrowRight', 'Shift+ArrowLeft']) {
    await page.keyboard.press(key)
    await expectFrame(page, code)
  }
  fs.rmSync(path.dirname(file), { recursive: true })
})

/** The number that is painted into the picture is that of the timecode. */
async function expectFrame(page: Page, code: Locator): Promise<void> {
  await expect
    .poll(async () => {
      const shown = await page.locator('video').evaluate((media: HTMLVideoElement) => {
        if (media.seeking) return -1
        const canvas = document.createElement('canvas')
        canvas.width = 160
        canvas.height = 90
        const context = canvas.getContext('2d') as CanvasRenderingContext2D
        context.drawImage(media, 0, 0, 160, 90)
        // Ten bits from left to right, white for 1.
        let number = 0
        for (let bit = 0; bit < 10; bit++)
          number = 2 * number + ((context.getImageData(8 + 16 * bit, 45, 1, 1).data[0] as number) > 128 ? 1 : 0)
        return number
      })
      return shown - frameOf((await code.textContent()) ?? '')
    })
    .toBe(0)
}

/** Ten seconds of film whose frames have their number painted in, as ten black or white bars. */
function numberedFilm(): string {
  const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'thud-frames-')), 'numbered.mp4')
  const frames = Buffer.alloc(240 * 160 * 90)
  for (let frame = 0; frame < 240; frame++)
    for (let y = 0; y < 90; y++)
      for (let x = 0; x < 160; x++)
        frames[(frame * 90 + y) * 160 + x] = (frame >> (9 - Math.floor(x / 16))) & 1 ? 235 : 16
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', '160x90', '-r', String(FRAMES_PER_S), '-i', '-']
  const tone = ['-f', 'lavfi', '-i', 'sine=frequency=300:duration=10']
  const out = ['-c:v', 'libx264', '-bf', '2', '-g', '48', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-shortest', file]
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...raw, ...tone, ...out], { input: frames })
  if (status !== 0) throw new Error(String(stderr))
  return file
}
