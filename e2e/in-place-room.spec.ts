import fs from 'node:fs'
import { expect, test } from '@playwright/test'
import { MaskingAnswer } from '../src/contract'
import { readWav } from '../src/core/formats/wav'
import { field, openEmptyStep, SCORE, saved, scoreOf, seekTo } from './in-place-step'
import { openWorld } from './worlds'

openWorld('demo', { each: true })

test('the level of a sound is drawn by hand: by keys, by its handles, by numbers, and undone', {
  tag: '@long',
}, async ({ page }) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ridge wind/ }).click()
  const placed = page.locator('[data-placement]')
  await saved(page)
  const { document } = await scoreOf(page)
  const startS = document.placements[0]?.startS ?? Number.NaN
  const seek = (atS: number) => seekTo(page, atS)

  // A point at the playhead changes nothing by itself.
  await seek(startS + 2)
  await page.keyboard.press('p')
  const point = page.locator('[data-handle="point-0"]')
  await expect(point).toHaveAccessibleName(/^Level 0\.0 dB at (1\.9\d|2\.0\d) s$/)
  await point.focus()
  for (let step = 0; step < 4; step++) await page.keyboard.press('ArrowDown')
  await expect(point).toHaveAccessibleName(/^Level -2\.0 dB/)
  await page.keyboard.press('Shift+ArrowRight')
  await expect(point).toHaveAccessibleName(/^Level -2\.0 dB at 2\.[01]\d s$/)
  // The arrows moved the point, and not the picture.
  expect(await page.locator('video').evaluate((video: HTMLVideoElement) => video.currentTime)).toBeCloseTo(
    startS + 2,
    0,
  )

  // Outside of the sound there is no point to be had, and it is said.
  await seek(0.2)
  await page.keyboard.press('p')
  await expect(page.getByRole('alert')).toContainText('not within this sound')
  await expect(page.locator('[data-handle^="point-"]')).toHaveCount(1)

  // A fade that reaches to the playhead, then pulled further with the pointer: one step to undo.
  await seek(startS + 1)
  await page.keyboard.press('(')
  const fade = page.locator('[data-handle="fade-in"]')
  await expect(fade).toHaveAccessibleName(/^Fade in (0\.9\d|1\.0\d) s$/)
  const before = (await fade.getAttribute('aria-label')) ?? ''
  await placed.scrollIntoViewIfNeeded()
  const box = await fade.boundingBox()
  if (!box) throw new Error('no handle')
  await page.mouse.move(box.x + 12, box.y + 12)
  await page.mouse.down()
  await page.mouse.move(box.x + 40, box.y + 12, { steps: 5 })
  await page.mouse.up()
  await expect(fade).not.toHaveAccessibleName(before)
  await page.keyboard.press('Control+z')
  await expect(fade).toHaveAccessibleName(before)

  // A value that cannot be is brought into its bounds; the point goes by its key.
  await field(page, 'dB').fill('99')
  await field(page, 'dB').press('Enter')
  await expect(point).toHaveAccessibleName(/^Level \+30\.0 dB/)
  await point.focus()
  await page.keyboard.press('Delete')
  await expect(point).toHaveCount(0)
  await expect(placed).toHaveCount(1)
  await saved(page)
})

test('an end is dragged, with its numbers shown on the way, and the sound stays where it is', { tag: '@long' }, async ({
  page,
}) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ridge wind/ }).click()
  const placed = page.locator('[data-placement]')
  await placed.scrollIntoViewIfNeeded()
  const box = await placed.boundingBox()
  if (!box) throw new Error('nothing is drawn')
  const startS = Number(await field(page, 'Start (s)').inputValue())
  const y = box.y + box.height / 2
  await page.mouse.move(box.x + box.width - 3, y)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width - 120, y, { steps: 6 })
  // On the way it is drawn as it would be, and nothing is changed yet.
  await expect(placed).toContainText(/ s$/)
  const shownPx = (await placed.boundingBox())?.width ?? 0
  expect(Math.abs(shownPx - (box.width - 117))).toBeLessThan(6)
  await expect(field(page, 'To (s)')).toHaveValue('18')
  await page.mouse.up()
  const toS = Number(await field(page, 'To (s)').inputValue())
  expect(toS).toBeLessThan(16)
  expect(Number(await field(page, 'Start (s)').inputValue())).toBe(startS)
  await page.keyboard.press('Control+z')
  await expect(field(page, 'To (s)')).toHaveValue('18')
})

test('an end that is set by a number where the sound has not died gets a fade by itself', { tag: '@long' }, async ({
  page,
}) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ridge wind/ }).click()
  await field(page, 'To (s)').fill('3')
  await field(page, 'To (s)').press('Enter')
  await expect(field(page, 'Fade out, auto (s)')).toHaveValue('0.01')
  await field(page, 'Fade out, auto (s)').fill('0')
  await field(page, 'Fade out, auto (s)').press('Enter')
  await expect(field(page, 'Fade out, auto (s)')).toHaveValue('0.01')
})

test('a sound is found, dropped onto a layer, and replaced by any other; its row is folded', { tag: '@long' }, async ({
  page,
}) => {
  await openEmptyStep(page)
  const add = page.getByRole('region', { name: 'Add a sound' })
  await expect(add).toContainText('Type a word')
  await add.getByRole('searchbox').fill('door')
  const offered = add.getByRole('listitem').first()
  await expect(offered).toContainText(/door/i)
  await page.getByRole('combobox', { name: 'Add a layer' }).selectOption('Ambience')
  const layers = page.getByTestId('layers')
  await offered.dragTo(layers, { targetPosition: { x: 400, y: 20 } })
  const placed = page.locator('[data-placement]')
  await expect(placed).toHaveCount(1)
  await expect(placed).toHaveAccessibleName(/door/i)
  await saved(page)
  const dropped = (await scoreOf(page)).document
  expect(dropped.layers.map(({ role }) => role)).toEqual(['ambience'])
  const levelDb = Number(await field(page, 'Level (dB)').inputValue())

  await page.getByRole('button', { name: 'Replace …' }).click()
  await page.getByRole('searchbox', { name: 'Replace it with' }).fill('ice crack')
  const chosen = page.getByRole('region', { name: 'Chosen sound' })
  await chosen.getByRole('listitem').first().getByRole('button').click()
  await expect(chosen.getByRole('heading')).toContainText(/ice crack/i)
  // What was set stays.
  await expect(field(page, 'Level (dB)')).toHaveValue(String(levelDb))

  await page.keyboard.press('Escape')
  await layers.getByRole('button', { name: 'Ambience' }).click()
  const heightPx = async () => (await layers.boundingBox())?.height ?? 0
  await page.getByRole('checkbox', { name: 'Fold the row' }).check()
  await expect(placed).toBeVisible()
  expect((await placed.boundingBox())?.height).toBe(24)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await placed.boundingBox())?.height).toBe(48)
  expect(await heightPx()).toBe(48)

  await add.getByRole('combobox', { name: 'Look in' }).selectOption('Kept sounds and copies')
  await expect(add.getByRole('listitem').first()).toContainText(/door/i)
  await add.getByRole('searchbox').fill('door of nothing at all')
  await expect(add).toContainText('No sound here has all these words.')
})

test('what covers the voice is named at its place, and is not any more once it is softer', { tag: '@long' }, async ({
  page,
}) => {
  await openEmptyStep(page)
  const { document } = await scoreOf(page)
  expect(document.placements).toEqual([])
  const { cut } = (await (await page.request.get('/api/videos/1/moments')).json()) as {
    cut: { sound: { segments: { kind: string; startS: number; endS: number }[] } }
  }
  const speech = cut.sound.segments.find(({ kind, startS, endS }) => kind === 'speech' && endS - startS > 1.5)
  if (!speech) throw new Error('nobody speaks in the cut of the demo')
  await page.getByRole('button', { name: /^Place Ridge wind/ }).click()
  await field(page, 'Start (s)').fill(String(speech.startS))
  await field(page, 'Start (s)').press('Enter')
  await field(page, 'Level (dB)').fill('20')
  await field(page, 'Level (dB)').press('Enter')
  await saved(page)
  await page.getByRole('button', { name: 'Check against the voice' }).click()
  const cover = page.getByRole('region', { name: 'Sounds and the voice' })
  await expect(cover.getByRole('listitem')).toContainText(/covers the voice: \d+ % of what is said/)
  await expect(page.getByTestId('speech-lost').first()).toBeVisible()
  await expect(page.getByRole('region', { name: 'Chosen sound' })).toContainText('It covers the voice')

  // What was changed is not held to be as it was.
  await field(page, 'Level (dB)').fill('-50')
  await field(page, 'Level (dB)').press('Enter')
  await expect(cover.getByRole('listitem')).toHaveCount(0)
  await saved(page)
  await page.getByRole('button', { name: 'Check against the voice' }).click()
  await expect(cover.getByRole('listitem')).toContainText('is not heard under the voice')
  const answer = MaskingAnswer.parse(await (await page.request.get('/api/videos/1/masking')).json())
  expect(answer.places).toHaveLength(1)
  expect(answer.places[0]?.speechLostFraction).toBeLessThan(0.05)
})

test('the clearance page holds what is placed against what was heard, each a way to its place', {
  tag: '@long',
}, async ({ page }) => {
  await page.goto('/videos/1/clearance')
  const planned = page.getByTestId('planned-sounds')
  await expect(planned).toContainText(/\d of 2 placed sounds/)
  const [first] = (await scoreOf(page)).document.placements
  const place = planned.getByRole('listitem').first().getByRole('button')
  await place.click()
  await expect
    .poll(() => page.locator('video').evaluate((video: HTMLVideoElement) => video.currentTime))
    .toBeGreaterThan((first?.startS ?? 0) - 0.5)
  // With nothing placed there is nothing to be told.
  const { revision, document } = await scoreOf(page)
  const edits = [{ do: 'remove', ids: document.placements.map(({ id }) => id) }]
  expect((await page.request.post(SCORE, { data: { revision, edits } })).ok()).toBe(true)
  await page.reload()
  await expect(page.getByRole('region', { name: 'Findings' })).toBeVisible()
  await expect(planned).toHaveCount(0)
})

test('a part is looped with what is placed in it, and the sound stays with the picture', { tag: '@long' }, async ({
  page,
}) => {
  await openEmptyStep(page)
  await page.getByRole('button', { name: /^Place Ridge wind/ }).click()
  await page.keyboard.press('Escape')
  await saved(page)
  const seek = (atS: number) => seekTo(page, atS)
  await seek(4)
  await page.keyboard.press('i')
  await seek(6)
  await page.keyboard.press('o')
  await page.keyboard.press('r')
  await seek(4)
  await page.keyboard.press('Space')
  const health = page.getByTestId('mix-health')
  await expect(health).toBeAttached()
  const times: number[] = []
  for (let look = 0; look < 60; look++) {
    await page.waitForTimeout(150)
    times.push(await page.locator('video').evaluate((video: HTMLVideoElement) => video.currentTime))
  }
  // It went back at least twice in nine seconds, and never far beyond the end of the part.
  expect(times.filter((time, at) => at > 0 && time < (times[at - 1] as number) - 1).length).toBeGreaterThanOrEqual(2)
  expect(Math.max(...times)).toBeLessThan(6.4)
  expect(Math.min(...times)).toBeGreaterThan(3.9)
  const apartS = async () => Math.abs(Number((await health.getAttribute('data-drift-s')) ?? Number.NaN))
  await expect.poll(apartS).toBeLessThan(1 / 24)
  await page.keyboard.press('k')
})

test.describe('what the audio thread plays', () => {
  interface Captured {
    readonly endFrame: number
    readonly left: number[]
    readonly right: number[]
  }

  test('is what the files hold, under -80 dBFS', { tag: '@long' }, async ({ page }) => {
    await page.addInitScript(() => {
      const captured: { endFrame: number; left: number[]; right: number[] }[] = []
      ;(window as never as { captured: typeof captured }).captured = captured
      const Plain = window.AudioWorkletNode
      window.AudioWorkletNode = class extends Plain {
        constructor(...all: ConstructorParameters<typeof Plain>) {
          super(...all)
          this.port.addEventListener('message', ({ data }) => {
            const { nextFrame, left, right } = data as { nextFrame: number; left: Float32Array; right: Float32Array }
            if (left) captured.push({ endFrame: nextFrame, left: [...left], right: [...right] })
          })
        }
      }
    })
    await openEmptyStep(page)
    for (const name of [/^Place Ridge wind/, /^Place Ice crack/]) {
      await page.getByRole('button', { name }).click()
      await page.keyboard.press('Escape')
    }
    await saved(page)
    await page.getByRole('button', { name: 'Write the files' }).click()
    const link = page.getByRole('link', { name: /mix\.wav/ })
    await expect(link).toBeVisible({ timeout: 60_000 })
    const waiting = page.waitForEvent('download')
    await link.click()
    const { channels } = readWav(new Uint8Array(fs.readFileSync(await (await waiting).path())))
    const [left = new Float32Array(), right = new Float32Array()] = channels
    const firstS = left.findIndex((one) => one !== 0) / 48_000
    await seekTo(page, Math.max(0, firstS))
    await page.keyboard.press('Space')
    const count = () => page.evaluate(() => (window as never as { captured: unknown[] }).captured.length)
    await expect.poll(count, { timeout: 30_000 }).toBeGreaterThan(60)
    await page.keyboard.press('k')
    const blocks = await page.evaluate(() => (window as never as { captured: Captured[] }).captured)

    // Blocks that follow one another: where it jumped to meet the picture, it fades in.
    const steady = blocks.filter(
      (block, at) => at > 1 && block.endFrame - (blocks[at - 2]?.endFrame ?? 0) === 2 * block.left.length,
    )
    expect(steady.length).toBeGreaterThan(10)
    let most = 0
    let loudest = 0
    for (const block of steady) {
      const from = block.endFrame - block.left.length
      for (let n = 0; n < block.left.length; n++) {
        most = Math.max(
          most,
          Math.abs((block.left[n] as number) - (left[from + n] ?? 0)),
          Math.abs((block.right[n] as number) - (right[from + n] ?? 0)),
        )
        loudest = Math.max(loudest, Math.abs(left[from + n] ?? 0))
      }
    }
    // Something was heard.
    expect(loudest).toBeGreaterThan(0.01)
    expect(20 * Math.log10(most)).toBeLessThan(-80)
  })
})

test.describe('the microphone', () => {
  test('that is refused is said with what to do, and nothing is lost', { tag: '@long' }, async ({ page }) => {
    // Where a browser has no windows nobody can say no: this says it in their place.
    await page.addInitScript(() => {
      navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('', 'NotAllowedError'))
    })
    await openEmptyStep(page)
    await page.getByRole('button', { name: 'Record', exact: true }).click()
    const region = page.getByRole('region', { name: 'Record a sound' })
    await expect(region.getByRole('alert')).toContainText('The browser does not let')
    await expect(region.getByRole('alert')).toContainText('Nothing is lost')
    await expect(region.getByRole('button', { name: 'Record', exact: true })).toBeEnabled()
  })
})
