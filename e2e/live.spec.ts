import fs from 'node:fs'
import path from 'node:path'
import type { Readable } from 'node:stream'
import { buffer } from 'node:stream/consumers'
import { expect, type Page, test } from '@playwright/test'
import { ZipFile } from 'yazl'
import { ROOT } from './launch'
import { tellStandins } from './standins'
import { openWorld } from './worlds'

const world = openWorld('demo')
const rows = (page: Page) => page.locator('[role=row][id^=sound-]')
const live = (page: Page) => page.getByRole('status', { name: 'Libraries that are searched' })

/** Where a library answers: Sources shows it. */
async function addressOf(page: Page, name: string): Promise<string> {
  const row = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name, exact: true }) })
  return (await row.getByText(/^http:\/\/127/).textContent()) ?? ''
}

test('a library that no code knows is connected by its description, once it was tried', async ({ page }) => {
  await page.goto('/sources')
  const address = await addressOf(page, 'Quarry Hall')
  await page.getByRole('button', { name: 'Connect a library' }).click()
  const dialog = page.getByRole('dialog', { name: 'Connect a library' })
  await dialog.getByLabel('Kind').selectOption({ label: 'Another library, by its description' })
  const text = fs.readFileSync(path.join(ROOT, 'libraries', 'quarry-hall.yaml'), 'utf8')
  const bring = (name: string, body: string) =>
    dialog
      .getByLabel('Description (YAML or JSON)')
      .setInputFiles({ name, mimeType: 'text/yaml', buffer: Buffer.from(body) })
  await bring('broken.yaml', text.replace('sounds: entries', 'sounds: "entries["'))
  await expect(dialog.getByRole('alert')).toContainText('search.sounds: “entries[”')
  await expect(dialog.getByRole('button', { name: 'Connect' })).toBeDisabled()
  // A length that is looked for in the wrong place is named by its field, and the rest is shown.
  await bring('wrong.yaml', text.replace('from: time', 'from: by'))
  await expect(dialog.getByLabel('Name here')).toHaveValue('Quarry Hall (2)')
  await dialog.getByLabel('Name here').fill('Hall of ours')
  await dialog.getByLabel('Address').fill(address)
  await dialog.getByLabel('Key').fill('not-the-key')
  await dialog.getByRole('button', { name: 'Try it' }).click()
  await expect(dialog.getByRole('alert')).toContainText('refused the sign-in')
  await dialog.getByLabel('Key').fill('qh-small-hours')
  // What was tried is not what stands there now.
  await expect(dialog.getByRole('region', { name: 'What the library answered' })).toHaveCount(0)
  await dialog.getByRole('button', { name: 'Try it' }).click()
  const answered = dialog.getByRole('region', { name: 'What the library answered' })
  await expect(answered.getByRole('alert')).toContainText('length')
  await expect(answered).toContainText('Gate dropped in a stairwell, 1')
  await bring('right.yaml', text)
  await dialog.getByLabel('Name here').fill('Hall of ours')
  await dialog.getByLabel('Address').fill(address)
  await dialog.getByLabel('Key').fill('qh-small-hours')
  await dialog.getByRole('button', { name: 'Connect' }).click()
  await expect(dialog).toHaveCount(0)
  const ours = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'Hall of ours' }) })
  await expect(ours).toContainText('Hall member')
  await expect(ours).toContainText('searched while you type')
  // Another key is tried before it counts.
  await ours.getByRole('button', { name: 'Key for Hall of ours' }).click()
  const keyDialog = page.getByRole('dialog', { name: 'Key for Hall of ours' })
  await keyDialog.getByLabel('Key').fill('wrong')
  await keyDialog.getByRole('button', { name: 'Save' }).click()
  await expect(keyDialog.getByRole('alert')).toContainText('refused the sign-in')
  await keyDialog.getByRole('button', { name: 'Cancel' }).click()
  // Disconnected, it can be undone.
  await ours.getByRole('button', { name: 'Disconnect' }).click()
  await expect(ours).toContainText('not connected')
})

test('its sounds are found while one types, filled in, heard, taken with papers, and weighed', {
  tag: '@long',
}, async ({ page }) => {
  await page.goto('/sources')
  const hall = page
    .getByRole('listitem')
    .filter({ has: page.getByRole('heading', { name: 'Quarry Hall', exact: true }) })
  await hall.getByRole('button', { name: 'Connect' }).click()
  await expect(hall).toContainText('Hall member')
  await page.goto('/find')
  await page.getByRole('searchbox').fill('hammer struck')
  await expect(live(page)).toContainText('24 of 200')
  const first = rows(page).first()
  await expect(first).toContainText(/Hammer struck in a \w+/)
  await expect(first).toContainText('Quarry Hall')
  await expect(first.locator('[data-print]')).toBeVisible({ timeout: 30_000 })
  await page.getByRole('button', { name: 'More from Quarry Hall' }).click()
  await expect(live(page)).toContainText('48 of 200')
  // What it has is of the words that stand there now.
  await page.getByRole('searchbox').fill('hammer struck [under 1 s]')
  await expect(live(page)).toContainText(/24 of \d\d(?!\d)/)
  await page.goto('/find?q=hammer struck')
  await expect(live(page)).toContainText('24 of 200')
  // One under the hall's own licence: it asks for no credit.
  const member = rows(page).filter({ hasText: 'Hall members' }).first()
  const title = ((await member.getByRole('gridcell').first().locator('span').first().textContent()) ?? '').trim()
  await member.click()
  await expect(page.getByTestId('listening-title')).toHaveText(title)
  const panel = page.getByRole('complementary', { name: 'Selected sound' })
  await panel.getByRole('button', { name: 'Download' }).first().click()
  await expect(panel.getByRole('link', { name: /\.wav$/ })).toBeVisible({ timeout: 30_000 })
  await page.goto('/papers')
  const papers = page.getByRole('row').filter({ hasText: title })
  await expect(papers).toContainText('Quarry Hall')
  await page.goto('/find')
  await page.getByRole('searchbox').fill(title)
  await expect(rows(page).filter({ hasText: title }).first()).toContainText(/May be used|Not allowed/)
})

test('the down arrow goes to the first sound of what is asked, however late that is answered', {
  tag: '@long',
}, async ({ page }) => {
  // The library is asked beside, and answers first.
  let letGo = (): void => {}
  const late = new Promise<void>((resolve) => {
    letGo = resolve
  })
  await page.route(
    ({ pathname }) => pathname === '/api/sounds',
    async (route) => {
      await late
      await route.continue()
    },
  )
  await page.goto('/find?q=shutter')
  await page.getByRole('searchbox').press('ArrowDown')
  await expect(live(page)).toContainText('24 of')
  await expect(rows(page).first()).toContainText('Quarry Hall')
  await expect(page.getByTestId('listening-title')).toHaveText('Nothing is playing')
  letGo()
  await expect(page.getByTestId('listening-title')).not.toHaveText('Nothing is playing')
  const first = rows(page).first()
  await expect(first).not.toContainText('Quarry Hall')
  await expect(first).toHaveAttribute('aria-selected', 'true')
  await expect(first).toContainText((await page.getByTestId('listening-title').textContent()) ?? 'none')
})

test('a library that does not answer is named, and nothing else waits for it', { tag: '@long' }, async ({ page }) => {
  await page.goto('/find')
  await expect(page.getByRole('searchbox')).toBeVisible()
  await tellStandins(world.running, { fault: 'error' })
  await page.getByRole('searchbox').fill('kettle')
  await expect(rows(page).first()).toContainText(/kettle/i)
  await expect(live(page)).toContainText('not reachable')
  await tellStandins(world.running, { fault: 'none' })
  await page.getByRole('button', { name: 'Try Quarry Hall again' }).click()
  await expect(live(page)).toContainText('24 of')
  // Paused, it is not asked any more, and what was seen stays.
  await page.goto('/sources')
  const hall = page
    .getByRole('listitem')
    .filter({ has: page.getByRole('heading', { name: 'Quarry Hall', exact: true }) })
  await hall.getByRole('button', { name: 'Pause' }).click()
  await expect(hall).toContainText('Paused')
  await page.goto('/find?q=kettle')
  await expect(rows(page).first()).toBeVisible()
  await expect(live(page)).toHaveCount(0)
  await expect(rows(page).filter({ hasText: 'Quarry Hall' }).first()).toBeVisible()
})

test('a pack of sounds is dropped, unpacked, and searched', { tag: '@long' }, async ({ page }) => {
  const zip = new ZipFile()
  const film = path.join(ROOT, 'demo', 'sounds', 'tin-barn')
  const [preview = ''] = fs.readdirSync(film).filter((name) => name.endsWith('.preview.ogg'))
  zip.addFile(path.join(film, preview), 'Ours/one.ogg')
  zip.addBuffer(
    Buffer.from('filename,title,category,keywords\none.ogg,Lantern on a hook,Objects,lantern\n'),
    'Ours/list.csv',
  )
  zip.addBuffer(Buffer.from('https://creativecommons.org/publicdomain/zero/1.0/'), 'Ours/LICENSE.txt')
  zip.end()
  const bytes = await buffer(zip.outputStream as Readable)
  await page.goto('/sources')
  const bring = (name: string, content: Buffer) =>
    page.getByLabel('Pack of sounds').setInputFiles({ name, mimeType: 'application/zip', buffer: content })
  await bring('lanterns.zip', bytes)
  const row = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'lanterns', exact: true }) })
  await expect(row).toContainText('Found 1 new', { timeout: 30_000 })
  // The same recording came from a library before.
  await expect(row).toContainText('1 you have already')
  await expect(page.getByText('Ours/LICENSE.txt')).toBeVisible()
  await bring('broken.zip', bytes.subarray(0, 200))
  const broken = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'broken', exact: true }) })
  await expect(broken).toContainText('This pack cannot be used.', { timeout: 30_000 })
  await broken.getByRole('button', { name: 'Remove' }).click()
  await expect(broken).toHaveCount(0)
  await page.goto('/find?q=lantern')
  await expect(rows(page).first()).toContainText('Lantern on a hook')
  // Words are given, taken back, and proposed by what it sounds like.
  await rows(page).first().click()
  const words = page.getByRole('region', { name: 'Words' })
  const given = words.getByRole('list', { name: 'Words that you gave it' }).getByRole('listitem')
  await words.getByLabel('Add words').fill('wick, brass')
  await words.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(given).toHaveCount(2)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(given).toHaveCount(0)
  await words.getByRole('list', { name: 'Proposed words' }).getByRole('button').first().click()
  await expect(given).toHaveCount(1)
})
