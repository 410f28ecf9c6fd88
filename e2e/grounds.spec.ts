import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect, type Page, test } from '@playwright/test'
import { expectNoFaults } from './accessibility'
import { ROOT } from './launch'
import { openWorld } from './worlds'

openWorld('demo', { without: ['pell-marrow', 'skerryview'] })

const VIDEO = path.join(ROOT, 'demo', 'files', 'three-signals-before-dawn.mp4')
const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-grounds-'))
test.afterAll(() => fs.rmSync(dir, { recursive: true, force: true }))

async function makeVideo(page: Page, title: string): Promise<void> {
  await page.goto('/videos')
  await page.getByRole('button', { name: 'Add a video' }).first().click()
  await page.getByRole('dialog').getByLabel('Title').fill(title)
  await page.getByRole('dialog').getByRole('button', { name: 'Add the video' }).click()
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible()
}

async function openVideo(page: Page, title: string): Promise<void> {
  await page.goto('/videos')
  await page
    .getByRole('main')
    .getByRole('link', { name: new RegExp(title) })
    .click()
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible()
}

/** A video of its own whose finished file, of 10 s, breaks off. */
async function makeCutOff(page: Page, title: string): Promise<void> {
  const opening = path.join(dir, 'opening.mp4')
  const cut = path.join(dir, 'cut-off.mp4')
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    VIDEO,
    '-c',
    'copy',
    '-t',
    '10',
    '-movflags',
    'faststart',
    opening,
  ])
  const whole = fs.readFileSync(opening)
  fs.writeFileSync(cut, whole.subarray(0, Math.floor(whole.length * 0.6)))
  await makeVideo(page, title)
  await page.getByLabel('Finished video file').setInputFiles(cut)
  await expect(page.getByTestId('summary')).toHaveText(/^Partly examined: /, { timeout: 600_000 })
}

/** The state in the top bar and in the list of videos. */
async function expectState(page: Page, title: string, words: RegExp | string): Promise<void> {
  await expect(page.getByRole('banner').locator('[data-video-state]')).toHaveText(words)
  await page.getByRole('link', { name: 'Videos' }).click()
  const row = page.getByRole('main').getByRole('article', { name: title })
  await expect(row.locator('[data-video-state]')).toHaveText(words)
}

test('a file that was cut off is partly examined: on the page, in the top bar, in the list', { tag: '@long' }, async ({
  page,
}) => {
  await makeCutOff(page, 'Cut off')
  await expect(page.locator('[data-point="undecoded"]')).toContainText('could not be decoded')
  await expect(page.getByTestId('not-decoded').first()).toBeAttached()
  const open = page.getByRole('list', { name: 'Open points' }).getByRole('listitem')
  await expect(open.first()).toContainText('could not be decoded from 0:06.1 to 0:10.0')
  await expect(page.getByRole('region', { name: 'Summary' })).toContainText('0:06.1 of 0:10.0')
  await expectState(page, 'Cut off', 'partly examined')
})

test('what nothing explains is settled by a name and a reason, stays visible, and can be undone', {
  tag: '@long',
}, async ({ page }) => {
  await makeCutOff(page, 'Broken off')
  const part = page.locator('[data-point="undecoded"]')
  await part.getByRole('button', { name: 'Accept it' }).click()
  const dialog = page.getByRole('dialog')
  await expectNoFaults(page, 'dialog')
  // Without a reason nothing is accepted.
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toBeVisible()
  await dialog.getByLabel('Why it is accepted').fill('The rest is black.')
  await dialog.getByLabel('Your name').fill('Ann')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByTestId('summary')).toHaveText(/^Not ready: /)
  const settled = page.locator('[data-point="undecoded"][data-open="false"]')
  await page.getByText(/Settled by your word/).click()
  await expect(settled).toContainText('Accepted by Ann: The rest is black.')
  await settled.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByTestId('summary')).toHaveText(/^Partly examined: /)
})

test('the dialog for a stretch that is from a sound wants the sound', { tag: '@long' }, async ({ page }) => {
  await openVideo(page, 'Three signals before dawn')
  await page.locator('[data-point="music"]').first().getByRole('button', { name: 'It is from a sound or file' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
  await dialog.getByLabel('The sound that it is from').fill('the long watch')
  await dialog.getByRole('button', { name: /^Bed, the long watch(?! \()/ }).click()
  await expect(dialog.getByText('Chosen: Bed, the long watch')).toBeVisible()
  await expect(dialog.getByRole('button', { name: 'Save' })).toBeEnabled()
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
})

test('two tabs can have two videos in hand', { tag: '@long' }, async ({ context }) => {
  const [one, two] = [await context.newPage(), await context.newPage()]
  const take = async (page: Page, title: string): Promise<void> => {
    await page.goto('/find')
    await page.getByTestId('video-in-hand').click()
    await page.getByRole('list', { name: 'Videos' }).getByRole('button', { name: title }).click()
    await expect(page.getByTestId('video-in-hand')).toHaveText(new RegExp(title))
  }
  await take(one, 'The night the dome froze')
  await take(two, 'Three signals before dawn')
  await one.reload()
  await expect(one.getByTestId('video-in-hand')).toHaveText(/The night the dome froze/)
  await expect(two.getByTestId('video-in-hand')).toHaveText(/Three signals before dawn/)
  // What each shows is in the light of its own: this licence forbids a video that earns.
  const shownFit = async (page: Page): Promise<string> => {
    await page.goto('/find?q="radio static, near a storm"')
    const row = page.getByRole('row').filter({ hasText: 'Radio static, near a storm' }).first()
    await expect(row).toBeVisible()
    return (await row.textContent()) ?? ''
  }
  expect(await shownFit(one)).toContain('With a credit')
  expect(await shownFit(two)).toContain('Not allowed')
  await one.close()
  await two.close()
})

test('a video that is removed can be brought back from wherever one is', { tag: '@long' }, async ({ page }) => {
  await makeVideo(page, 'To remove')
  await page.getByRole('button', { name: 'Remove', exact: true }).first().click()
  await expect(page.getByRole('heading', { name: 'Videos', level: 1 })).toBeVisible()
  await expect(page.getByRole('main').getByRole('link', { name: /To remove/ })).toHaveCount(0)
  await page.getByRole('link', { name: 'Sources' }).click()
  await page.getByRole('status').getByRole('button', { name: 'Undo' }).click()
  await page.getByRole('link', { name: 'Videos' }).click()
  await expect(page.getByRole('main').getByRole('link', { name: /To remove/ })).toBeVisible()
  await openVideo(page, 'To remove')
  await page.getByRole('button', { name: 'Remove', exact: true }).first().click()
  await page.getByRole('status').getByRole('button', { name: 'Close' }).click()
  // The offer is gone; the way back is not.
  await page.getByText(/^Removed in the last 30 days/).click()
  await page.getByRole('button', { name: 'Restore To remove' }).click()
  await expect(page.getByRole('main').getByRole('link', { name: /To remove/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Restore To remove' })).toHaveCount(0)
})

test('the room that everything takes is shown under Sources', { tag: '@long' }, async ({ page }) => {
  await page.goto('/sources')
  const room = page.getByRole('region', { name: 'Disk space' })
  await expect(room.getByRole('listitem').filter({ hasText: 'Previews' })).toContainText(/\d+ MB/)
  await expect(room.getByText(/are free/)).toBeVisible()
})
