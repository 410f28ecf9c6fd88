import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect, type Locator, type Page, test } from '@playwright/test'
import { writeWav } from '../src/core/formats/wav'
import { effect } from '../test/signals'
import { openWorld } from './worlds'

openWorld('demo')

const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-papers-'))
test.afterAll(() => fs.rmSync(dir, { recursive: true, force: true }))

function soundFile(name: string, seed: number): string {
  const file = path.join(dir, name)
  fs.mkdirSync(path.dirname(file), { recursive: true })
  const samples = effect({ length: 40_000, rateHz: 48_000, seed, frequencyHz: 300 + seed })
  fs.writeFileSync(file, writeWav({ sampleRateHz: 48_000, channels: [samples] }))
  return file
}

function rowOf(page: Page, title: string) {
  return page.getByRole('row').filter({ hasText: title })
}

test('the desk says what wants attention and what it means; things can be put away and brought back', async ({
  page,
}) => {
  await page.goto('/desk')
  await expect(page.getByRole('heading', { name: /Studio plan at Heron & Slate ends on/ })).toBeVisible()
  await expect(page.getByText(/it stays cleared/).first()).toBeVisible()
  await expect(page.getByText('Keeps version 7; the new one would allow it too.').first()).toBeVisible()
  const title = 'Tin Barn Commons no longer offers “Lamp pull cord”'
  await page.getByRole('button', { name: `Dismiss: ${title}` }).click()
  await expect(page.getByRole('heading', { name: title })).toHaveCount(0)
  await page.getByRole('button', { name: /Show 1 dismissed notice/ }).click()
  await page.getByRole('button', { name: `Restore: ${title}` }).click()
  await expect(page.getByRole('heading', { name: title })).toBeVisible()
})

test('papers are narrowed by what is missing, owed and ending, and say when nothing matches', async ({ page }) => {
  await page.goto('/papers')
  const status = page.getByRole('status').filter({ hasText: 'cop' })
  await expect(status).toHaveText(/^\d+ copies$/)
  await page.getByRole('button', { name: 'No papers' }).click()
  await expect(rowOf(page, 'owl grabbed somewhere')).toBeVisible()
  await expect(rowOf(page, 'Bed, climbing the hill')).toHaveCount(0)
  await page.getByRole('button', { name: 'No papers' }).click()
  await page.getByRole('button', { name: 'Owes credit' }).click()
  await expect(rowOf(page, 'Dome shutter, slow and heavy')).toBeVisible()
  await page.getByRole('button', { name: 'Owes credit' }).click()
  await page.getByLabel('Expires within').selectOption('30')
  await expect(rowOf(page, 'Dome motor, starts and stops')).toBeVisible()
  await page.getByLabel('Filter the papers').fill('zzz')
  await expect(page.getByRole('heading', { name: 'Nothing matches' })).toBeVisible()
  await page.getByRole('button', { name: /Show all \d+ copies/ }).click()
  const selected = page.locator('[role=row][aria-selected=true]')
  await expect(selected).toHaveCount(0)
  await page.getByLabel('Expires within').focus()
  await page.keyboard.press('Tab')
  await page.keyboard.press('ArrowDown')
  await expect(selected).toHaveCount(1)
  await expect(selected).toBeFocused()
  const second = (await selected.textContent()) ?? ''
  // The last is far below what is drawn, and a name can be typed.
  await page.keyboard.press('End')
  await expect(selected).not.toHaveText(second)
  await expect(selected).toBeInViewport()
  // Letters count as one name while they follow each other closely, which a busy machine does not promise.
  await expect(async () => {
    await page.keyboard.type('switch clack')
    await expect(selected).toContainText('Switch clack', { timeout: 2_500 })
  }).toPass({ timeout: 60_000 })
  await expect(selected).toBeFocused()
  await expect(page.getByRole('complementary', { name: /Papers of/ })).toContainText('Switch clack')
  await page.keyboard.press('Home')
  await expect(selected).not.toContainText('Switch clack')
  await expect(page.getByRole('columnheader', { name: 'Sound', exact: true })).toBeInViewport()
})

test('papers are saved as CSV, JSON and ODRL', async ({ page, request }) => {
  await page.goto('/papers')
  const waiting = page.waitForEvent('download')
  await page.getByRole('link', { name: 'CSV' }).click()
  expect((await waiting).suggestedFilename()).toMatch(/^papers \d{4}-\d\d-\d\d ledger \d+ [0-9a-f]{12}\.csv$/)
  const odrl = (await (await request.get('/api/papers/export?format=odrl')).json()) as { '@graph': unknown[] }
  expect(odrl['@graph'].length).toBeGreaterThan(10)
  expect((await request.get('/api/papers/export?format=xls')).status()).toBe(400)
})

/** Buys the cheapest tier of a sound for the video in hand, in Find. */
async function buySingle(page: Page, title: string): Promise<Locator> {
  await page.goto(`/find?q="${title}"`)
  await page.getByRole('searchbox').press('ArrowDown')
  const panel = page.getByRole('complementary', { name: 'Selected sound' })
  await panel.getByRole('button', { name: /Put “Single, online” for .* into the basket/ }).click()
  // Put into the basket is not paid: nothing is under way.
  await panel.getByRole('link', { name: 'Go to the basket' }).click()
  const line = page.getByRole('listitem').filter({ hasText: title })
  await line.getByRole('button', { name: /from the basket$/ }).click()
  await expect(page.getByText('The basket is empty')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(line).toBeVisible()
  await page.getByRole('button', { name: /^Pay \d+\.\d\d EUR$/ }).click()
  await expect(page.getByText('1 order under way.')).toBeVisible()
  await page.goto(`/find?q="${title}"`)
  await page.getByRole('searchbox').press('ArrowDown')
  await expect(panel.getByText('A copy is here')).toBeVisible()
  return panel
}

test('a sound is bought for the video in hand, with its receipt', { tag: '@long' }, async ({ page }) => {
  const panel = await buySingle(page, 'torch button, close')
  await expect(panel.getByText('It is on record that it is for the video in hand.')).toBeVisible()
  await expect(panel.getByRole('link', { name: /receipt PM-/ })).toBeVisible()
  const address = await panel.getByRole('link', { name: /receipt PM-/ }).getAttribute('href')
  const receipt = await page.request.get(address ?? '')
  expect(receipt.headers()['content-type']).toBe('application/pdf')
  expect((await receipt.body()).subarray(0, 5).toString()).toBe('%PDF-')
})

test('may I? is answered with reasons, the words they rest on, and what would settle it', async ({ page }) => {
  await buySingle(page, 'anvil block, close')
  await page.goto('/papers/may-i')
  await page.getByLabel('The sound').fill('anvil block close')
  await page.getByRole('button', { name: /Anvil block, close/ }).click()
  await expect(page.getByText('say for which video you ask', { exact: false }).first()).toBeVisible()
  await page.getByLabel('Broadcast').check()
  await expect(page.getByRole('heading', { name: 'not allowed' })).toBeVisible()
  await expect(page.getByText(/Buy the tier “Everything” for \d+\.\d\d EUR: it allows this video\./)).toBeVisible()
  await expect(
    page.getByText('broadcast, cinema, games and apps need a higher tier', { exact: false }).first(),
  ).toBeVisible()
  await page.getByLabel('Broadcast').uncheck()
  await page.getByLabel('Online').uncheck()
  await expect(page.getByText('Choose at least one place of publication.')).toBeVisible()
})

test('a page tells of terms in plain words, with what changed', async ({ page }) => {
  await page.goto('/papers/terms')
  await page.getByRole('link', { name: /Free Collection, with a credit/ }).click()
  const plain = page.getByRole('region', { name: 'In plain words' })
  await expect(plain).toContainText('publish it online')
  await expect(plain).toContainText('show it in cinemas and at festivals')
  await expect(page.locator('ins').filter({ hasText: 'partner contract' })).toBeVisible()
  await page.getByRole('link', { name: /version 2026-03-02/ }).click()
  await expect(page.getByRole('heading', { name: 'What changed since the version before' })).toHaveCount(0)
  await expect(page.getByText('The video may earn from adverts, sponsors and members').first()).toBeVisible()
})

test('a file from elsewhere has no papers until someone says where it is from', { tag: '@long' }, async ({ page }) => {
  await page.goto('/sources')
  await page.getByLabel('File from elsewhere').setInputFiles(soundFile('found clank.wav', 31))
  const dialog = page.getByRole('dialog', { name: 'Where is it from?' })
  await expect(dialog).toBeVisible()
  await dialog.getByLabel('From whom').fill('somebody at a fair')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toHaveCount(0)
  await page.goto('/papers?q=found clank')
  await rowOf(page, 'found clank').click()
  const panel = page.getByRole('complementary')
  await expect(panel.getByText('No papers.')).toBeVisible()
  await panel.getByRole('button', { name: 'Say where it is from' }).click()
  await page.getByLabel('A text').check()
  await page.getByLabel('Text of the terms').fill('You may use the sound online. No credit is required.')
  await page.getByRole('button', { name: 'Read it' }).click()
  await page.getByRole('checkbox', { name: /Online: yes/ }).check()
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click()
  await expect(panel.getByText(/Terms as given, version 1/)).toBeVisible()
  // Cutting and mixing was not stated, so it is still not allowed.
  await expect(panel.getByText(/does not say whether it allows cutting and mixing/)).toBeVisible()
  await panel.getByLabel('Evidence file').setInputFiles({
    name: 'mail.eml',
    mimeType: 'message/rfc822',
    buffer: Buffer.from('From: a@b.example\n\nYes, you may.'),
  })
  await expect(panel.getByRole('link', { name: 'mail.eml' })).toBeVisible()
  await panel.getByRole('button', { name: 'Withdraw' }).click()
  await expect(panel.getByText('No papers.')).toBeVisible()
})

test('a folder of one’s own is looked through, and a text beside the files is proposed, not assumed', {
  tag: '@long',
}, async ({ page }) => {
  soundFile('mine/ROCKFall_Scree slides_SMHR_HILL.wav', 41)
  fs.writeFileSync(path.join(dir, 'mine', 'LICENSE.txt'), 'SPDX-License-Identifier: CC0-1.0\n')
  await page.goto('/sources')
  await page.getByRole('button', { name: 'Add a folder' }).click()
  const dialog = page.getByRole('dialog', { name: 'A folder of your own' })
  await dialog.getByLabel('Path on this machine').fill('/no/such/folder')
  await dialog.getByRole('button', { name: 'Add folder' }).click()
  await expect(dialog.getByRole('alert')).toContainText('There is no folder /no/such/folder')
  await dialog.getByLabel('Path on this machine').fill(path.join(dir, 'mine'))
  await dialog.getByRole('button', { name: 'Add folder' }).click()
  await expect(page.getByText('Found 1 new, 0 changed, 0 moved, 0 gone').first()).toBeVisible()
  const proposal = page.getByRole('listitem').filter({ hasText: 'LICENSE.txt' }).first()
  await expect(proposal).toContainText('Creative Commons Zero 1.0')
  // Nothing is chosen beforehand.
  await expect(proposal.getByRole('button', { name: 'Use as their papers' })).toBeDisabled()
  await proposal.getByRole('button', { name: 'Use this licence' }).click()
  await proposal.getByRole('button', { name: 'Use as their papers' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'LICENSE.txt' })).toHaveCount(0)
  await page.goto('/papers?q=scree')
  await expect(rowOf(page, 'Scree slides')).toContainText('Creative Commons Zero 1.0')
  await page.goto('/sources')
  await page.getByRole('listitem').filter({ hasText: dir }).getByRole('button', { name: 'Remove' }).click()
  await page.goto('/papers?q=scree')
  await expect(rowOf(page, 'Scree slides')).toBeVisible()
})

test('a text that takes back beside what it gives allows nothing until someone has read it', { tag: '@long' }, async ({
  page,
}) => {
  soundFile('tricky/GATECreak_Iron gate_SMHR_HILL.wav', 52)
  const said = 'You may use the sounds in online videos. You may edit the sounds. The maker may call this off.'
  fs.writeFileSync(path.join(dir, 'tricky', 'LICENSE.txt'), said)
  await page.goto('/sources')
  await page.getByRole('button', { name: 'Add a folder' }).click()
  const dialog = page.getByRole('dialog', { name: 'A folder of your own' })
  await dialog.getByLabel('Path on this machine').fill(path.join(dir, 'tricky'))
  await dialog.getByRole('button', { name: 'Add folder' }).click()
  const proposal = page.getByRole('listitem').filter({ hasText: 'LICENSE.txt' }).filter({ hasText: 'tricky' })
  await expect(proposal.getByRole('checkbox', { name: /Online: yes/ })).toBeDisabled()
  await expect(proposal.getByText('1 not understood beside it').first()).toBeVisible()
  await proposal.getByRole('checkbox', { name: /The maker may call this off/ }).check()
  await proposal.getByRole('checkbox', { name: /Online: yes/ }).check()
  await proposal.getByRole('button', { name: 'Use as their papers' }).click()
  await page.goto('/papers?q=iron gate')
  await rowOf(page, 'Iron gate').click()
  const panel = page.getByRole('complementary')
  // What was not confirmed stays not stated.
  await expect(panel.getByText(/does not say whether it allows cutting and mixing/)).toBeVisible()
})
