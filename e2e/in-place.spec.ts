import fs from 'node:fs'
import { expect, test } from '@playwright/test'
import { clipLoudness, hitPointS } from '../src/core/audio'
import { readWav } from '../src/core/formats/wav'
import { field, openEmptyStep, saved } from './in-place-step'
import { openWorld } from './worlds'

openWorld('demo', { each: true })

/** When “ice breaks” is noted in the cut of the demo, s: frame 362 of 24 a second. */
const MOMENT_S = 362 / 24

test('from a moment through its candidates to a mix that is measured, by keys alone', async ({ page }) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ice crack/ }).focus()
  await page.keyboard.press('Enter')
  const linedUp = page.getByTestId('lined-up')
  await expect(linedUp).toHaveText('Its hit meets “ice breaks”.')
  await expect(page.getByTestId('stem')).toHaveAttribute('data-meets', 'true')
  const title = page.getByRole('region', { name: 'Chosen sound' }).getByRole('heading')
  const first = await title.textContent()

  // Another of the short list takes its place: the hit stays where it was.
  await page.keyboard.press('b')
  await expect(title).not.toHaveText(first ?? '')
  await expect(linedUp).toHaveText('Its hit meets “ice breaks”.')
  await page.keyboard.press('a')
  await expect(title).toHaveText(first ?? '')

  // Moved off, and lined up again.
  await page.keyboard.press('.')
  await expect(linedUp).toContainText('does not meet')
  await expect(page.getByTestId('stem')).toHaveAttribute('data-meets', 'false')
  await page.keyboard.press('h')
  await expect(linedUp).toHaveText('Its hit meets “ice breaks”.')

  const levelDb = Number(await field(page, 'Level (dB)').inputValue())
  for (let step = 0; step < 3; step++) await page.keyboard.press('-')
  await expect(field(page, 'Level (dB)')).toHaveValue(String(levelDb - 3))
  await page.keyboard.press('Control+z')
  await expect(field(page, 'Level (dB)')).toHaveValue(String(levelDb - 2))
  await saved(page)

  await page.getByRole('button', { name: 'Write the files' }).focus()
  await page.keyboard.press('Enter')
  const link = page.getByRole('link', { name: /mix\.wav/ })
  await expect(link).toBeVisible({ timeout: 60_000 })
  const waiting = page.waitForEvent('download')
  await link.focus()
  await page.keyboard.press('Enter')
  const bytes = new Uint8Array(fs.readFileSync(await (await waiting).path()))
  const { channels, sampleRateHz } = readWav(bytes)
  const [left = new Float32Array(), right = new Float32Array()] = channels
  expect(sampleRateHz).toBe(48_000)
  // As long as the cut, though the sound ends long before.
  expect(left.length / sampleRateHz).toBeCloseTo(44, 1)
  const startS = left.findIndex((sample) => sample !== 0) / sampleRateHz
  const hitS = hitPointS(left.slice(Math.round(startS * sampleRateHz)), sampleRateHz) ?? Number.NaN
  // The hit of a sound is known to one step of 5 ms; where it begins, to the sample.
  expect(Math.abs(startS + hitS - MOMENT_S)).toBeLessThan(0.006)
  expect(clipLoudness([left, right], sampleRateHz).truePeakDbtp).toBeLessThanOrEqual(-1)
})

test('what is placed is there after the page is loaded anew, and is removed and brought back', {
  tag: '@long',
}, async ({ page }) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ice crack/ }).click()
  await saved(page)
  await page.reload()
  const placed = page.locator('[data-placement]')
  await expect(placed).toHaveCount(1)
  await placed.click()
  await page.keyboard.press('m')
  await expect(placed).toHaveAccessibleName(/muted$/)
  await page.keyboard.press('Delete')
  await expect(placed).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(placed).toHaveCount(1)
  // What cannot be is said, and the field shows again what stands.
  await placed.click()
  await field(page, 'Speed').fill('9')
  await field(page, 'Speed').press('Enter')
  await expect(page.getByRole('alert')).toContainText('0.25 to 4 times')
  await expect(field(page, 'Speed')).toHaveValue('1')
})

test('what is allowed is told for this video only, never by the uses of another that is in hand', {
  tag: '@long',
}, async ({ page }) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ice crack/ }).click()
  const used = page.getByRole('region', { name: 'What is used' })
  const row = used.getByRole('row').filter({ hasText: 'Ice crack' })
  // Another video is in hand, which earns.
  await expect(page.getByRole('button', { name: 'Take it in hand' })).toBeVisible()
  await expect(row).toContainText('With a credit')
  await page.getByRole('button', { name: 'Take it in hand' }).click()
  await expect(page.getByRole('button', { name: 'Take it in hand' })).toHaveCount(0)
  await expect(row).toContainText('With a credit')
})

test('a bed is made as long as it is wanted, goes out with what is open, and comes back', { tag: '@long' }, async ({
  page,
}) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ridge wind/ }).click()
  await field(page, 'Length (s)').fill('31.5')
  await field(page, 'Length (s)').press('Enter')
  await expect(page.getByTestId('length-found')).toContainText('hidden well')
  await expect(field(page, 'Length (s)')).toHaveValue('31.5')
  // The first leaves the field, the second the sound.
  await field(page, 'Length (s)').fill('77')
  await page.keyboard.press('Escape')
  await expect(field(page, 'Length (s)')).toHaveValue('31.5')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: /^Place Ice crack/ }).click()
  await saved(page)

  await page.getByRole('button', { name: 'Save the files and lists' }).click()
  await expect(page.getByTestId('open-count')).toHaveText('Papers on file allow every placed sound in this video.')
  const waiting = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Timeline (OTIO)' }).click()
  const list = await (await waiting).path()
  await page.getByRole('button', { name: 'Close' }).click()

  // What is there already is not placed twice.
  const file = page.getByLabel('Back from an editing program')
  await file.setInputFiles({ name: 'again.otio', mimeType: 'application/json', buffer: fs.readFileSync(list) })
  await expect(page.getByTestId('list-read')).toContainText('2 sounds, which are placed already')
  await expect(page.getByRole('button', { name: 'Place 0 sounds' })).toBeDisabled()

  await page.locator('[data-placement]').first().click()
  await page.keyboard.press('Delete')
  await saved(page)
  await file.setInputFiles({ name: 'again.otio', mimeType: 'application/json', buffer: fs.readFileSync(list) })
  await page.getByRole('button', { name: 'Place 1 sound' }).click()
  await expect(page.locator('[data-placement]')).toHaveCount(2)
  await page.locator('[data-placement]').first().click()
  await expect(field(page, 'Length (s)')).toHaveValue('31.5')

  await file.setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no list') })
  await expect(page.getByRole('alert')).toContainText('neither an OpenTimelineIO file')
})

test('a placed sound is dragged to a moment, which it goes to by itself', { tag: '@long' }, async ({ page }) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ice crack/ }).click()
  for (let frame = 0; frame < 12; frame++) await page.keyboard.press('.')
  await expect(page.getByTestId('lined-up')).toContainText('does not meet')
  await expect(page.getByTestId('stem')).toHaveAttribute('data-meets', 'false')
  const placed = page.locator('[data-placement]')
  await placed.scrollIntoViewIfNeeded()
  const box = await placed.boundingBox()
  const track = await page.getByTestId('layers').boundingBox()
  if (!box || !track) throw new Error('nothing is drawn')
  const pxPerS = track.width / 44
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  // Half a second back, and a little less than exactly.
  await page.mouse.move(x - 0.5 * pxPerS + 3, y, { steps: 6 })
  await page.mouse.up()
  await expect(page.getByTestId('lined-up')).toHaveText('Its hit meets “ice breaks”.')
})

test('it plays with the picture: together within a frame', { tag: '@long' }, async ({ page }) => {
  await openEmptyStep(page)
  for (const name of [/^Place Ridge wind/, /^Place Dome motor/, /^Place Ice crack/]) {
    await page.getByRole('button', { name }).click()
    await page.keyboard.press('Escape')
  }
  await page.keyboard.press('Space')
  const health = page.getByTestId('mix-health')
  await expect(health).toBeAttached()
  const apartS = async () => Math.abs(Number((await health.getAttribute('data-drift-s')) ?? Number.NaN))
  await expect.poll(apartS).toBeLessThan(1 / 24)
  // Somewhere else in the cut they meet again.
  await page.locator('video').evaluate((video: HTMLVideoElement) => {
    video.currentTime += 8
  })
  await expect.poll(apartS).toBeLessThan(1 / 24)
  await expect(page.getByTestId('mix-levels')).toContainText('LUFS')
  await page.keyboard.press('k')
})

test('the cut’s own sound is a layer of the mix, and a sound sits as far under it as is asked', {
  tag: '@long',
}, async ({ page }) => {
  await openEmptyStep(page)
  const add = page.getByRole('combobox', { name: 'Add a layer' })
  await add.selectOption('Sound of the cut')
  const layer = page.getByRole('region', { name: 'Chosen layer' })
  await expect(layer.getByRole('heading')).toHaveText('Sound of the cut')
  // A cut has one sound.
  await expect(add.getByRole('option', { name: 'Sound of the cut' })).toHaveCount(0)
  const volume = () => page.locator('video').evaluate((media: HTMLVideoElement) => media.volume)
  expect(await volume()).toBe(1)
  await field(page, 'Level (dB)').fill('-12')
  await field(page, 'Level (dB)').press('Enter')
  await expect.poll(volume).toBeCloseTo(0.251, 2)
  await layer.getByRole('checkbox', { name: 'Mute' }).check()
  await expect.poll(volume).toBe(0)
  await page.keyboard.press('Control+z')
  await expect.poll(volume).toBeCloseTo(0.251, 2)
  await layer.getByRole('textbox', { name: 'Name' }).fill('As it was shot')
  await layer.getByRole('textbox', { name: 'Name' }).press('Enter')
  await page.getByRole('button', { name: 'As it was shot' }).click()

  await page.getByRole('button', { name: /^Place Ice crack/ }).click()
  const before = await field(page, 'Level (dB)').inputValue()
  const under = page.getByRole('spinbutton', { name: /^To the (voice|cut) \(LU\)/ })
  await under.fill('-9')
  await under.press('Enter')
  await expect(page.getByTestId('sits')).toHaveText(/^It sits (8\.9|9\.\d) LU under the (voice|cut) there\.$/)
  const after = await field(page, 'Level (dB)').inputValue()
  await page.keyboard.press('Escape')
  expect(after).not.toBe(before)

  await page.getByRole('combobox', { name: 'List by' }).selectOption('By moment')
  const row = page.getByTestId('used-by-moment').getByRole('row', { name: /ice breaks/ })
  await expect(row).toContainText('Ice crack')
  await expect(page.getByText(/moments? without a sound yet/)).toBeVisible()
  await saved(page)
})
