import { expect, test } from '@playwright/test'
import { field, openEmptyStep, saved, scoreOf } from './in-place-step'
import { openWorld } from './worlds'

openWorld('demo', { each: true })

const BED = 'Bed, the long watch'

test('music in stems is one entry; a stem is heard, taken and filed by its own name', { tag: '@long' }, async ({
  page,
}) => {
  await page.goto('/find?q=bed+watch')
  const row = page.locator('[role=row][id^=sound-]').filter({ hasText: BED })
  await expect(row).toHaveCount(1)
  await expect(row).toContainText('7 choices')
  await row.click()
  const choices = page.getByRole('region', { name: 'Stems and versions' })
  await expect(choices.getByRole('heading')).toHaveText(['Stems', 'Parts', 'Versions'])
  await choices.getByRole('button', { name: 'Play pulse' }).click()
  await expect(page.getByText(`${BED} (stem: pulse)`)).toBeVisible()
  await expect(choices.getByRole('button', { name: 'Stop pulse' })).toBeVisible()

  await choices.getByRole('button', { name: 'Download pulse' }).click()
  const line = choices.getByRole('listitem').filter({ hasText: 'pulse' })
  await expect(line).toContainText('Here', { timeout: 30_000 })
  // Only that one was taken.
  await expect(choices.getByText('Here', { exact: true })).toHaveCount(1)
  await expect(page.getByRole('button', { name: /^Download · / })).toBeVisible()

  // By itself it has its own papers, and leads back to what it is of.
  await choices.getByRole('button', { name: 'pulse', exact: true }).click()
  await expect(page.getByRole('heading', { name: `${BED} (stem: pulse)` })).toBeVisible()
  await expect(page.getByRole('paragraph').filter({ hasText: 'A copy is here' })).toBeVisible()
  await page.getByRole('button', { name: `Back to “${BED}”` }).click()
  await expect(page.getByRole('heading', { name: BED, exact: true })).toBeVisible()
  await page.goto('/papers')
  await expect(page.getByText(`${BED} (stem: pulse)`).first()).toBeVisible()
})

test('a bed is placed in stems as one thing, thinned under speech, moved, laid in parts, and undone', {
  tag: '@long',
}, async ({ page }) => {
  await openEmptyStep(page)
  const add = page.getByRole('region', { name: 'Add a sound' })
  await add.getByLabel('Words of the sound').fill('bed long watch')
  await add.getByRole('button', { name: `Place ${BED}` }).click()
  const chosen = page.getByRole('region', { name: 'Chosen sound' })
  await chosen.getByRole('button', { name: 'In 3 stems' }).click()
  const prints = page.locator('[data-placement]')
  await expect(prints).toHaveCount(3)
  await expect(chosen.getByRole('heading')).toHaveText(BED)
  // One thing: all of it is chosen, in the order of the library.
  await expect(page.locator('[data-placement][aria-pressed=true]')).toHaveCount(3)
  await expect(chosen.locator('[data-stem]')).toHaveCount(3)
  expect(
    await chosen.locator('[data-stem]').evaluateAll((all) => all.map((one) => one.getAttribute('data-stem'))),
  ).toEqual(['pad', 'figure', 'pulse'])
  await expect(page.getByText('1 sound placed')).toBeVisible()

  // The line of one stem goes down where the cut speaks; the others stay as they are.
  await chosen.getByRole('radio', { name: 'figure' }).press('Space')
  await chosen.getByRole('button', { name: 'figure: thinner under speech' }).press('Enter')
  await expect(page.locator('[data-handle^="point-"]').first()).toBeVisible()
  await saved(page)
  const lines = async () => (await scoreOf(page)).document.placements.map(({ gainPoints }) => gainPoints.length)
  expect((await lines()).filter((count) => count > 0)).toHaveLength(1)

  // Moved by a frame, all of it moves.
  await page.keyboard.press('Escape')
  await prints.first().focus()
  await prints.first().press('Enter')
  for (let step = 0; step < 5; step++) await page.keyboard.press('.')
  await saved(page)
  const starts = new Set((await scoreOf(page)).document.placements.map(({ startS }) => startS))
  expect(starts.size).toBe(1)
  expect([...starts][0]).toBeGreaterThan(0.1)

  // A stem is silent by itself.
  await chosen.getByRole('button', { name: 'Mute pulse' }).click()
  await saved(page)
  expect((await scoreOf(page)).document.placements.filter(({ isMuted }) => isMuted)).toHaveLength(1)

  await chosen.getByRole('button', { name: 'As one sound' }).click()
  await expect(prints).toHaveCount(1)
  await chosen.getByRole('button', { name: 'In parts' }).click()
  await expect(prints).toHaveCount(3)
  await field(page, 'Length, in whole loops (s)').fill('41')
  await field(page, 'Length, in whole loops (s)').press('Enter')
  await expect(field(page, 'Length, in whole loops (s)')).not.toHaveValue('41')
  await saved(page)
  const { document } = await scoreOf(page)
  const loops = document.placements.flatMap(({ assembly }) => assembly ?? [])
  expect(loops.map(({ times, seamS }) => [times, seamS])).toEqual([[7, 0]])
  // What is used is told by what would be taken.
  await expect(page.getByRole('region', { name: 'What is used' })).toContainText(`${BED} (part: loop)`)

  for (let step = 0; step < 3; step++) await page.keyboard.press('Control+z')
  await expect(prints).toHaveCount(3)
  await expect(chosen.or(page.locator('[data-placement][aria-label*="stem: pulse"]')).first()).toBeVisible()
  await page.locator('[data-placement][aria-label*="stem: pad"]').click()
  await page.keyboard.press('Delete')
  await expect(prints).toHaveCount(0)
})
