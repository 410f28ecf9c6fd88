import { expect, type Page } from '@playwright/test'
import { VideoScore } from '../src/contract'

/** Where what is placed in the first video of the demo is read and changed. */
export const SCORE = '/api/videos/1/score'

export async function scoreOf(page: Page): Promise<VideoScore> {
  return VideoScore.parse(await (await page.request.get(SCORE)).json())
}

/** Opens the step with nothing placed: what the demo has placed is taken away. */
export async function openEmptyStep(page: Page): Promise<void> {
  const { revision, document } = await scoreOf(page)
  const edits = [
    { do: 'remove', ids: document.placements.map(({ id }) => id) },
    ...document.layers.map(({ id }) => ({ do: 'remove-layer', id })),
  ]
  expect((await page.request.post(SCORE, { data: { revision, edits } })).ok()).toBe(true)
  await page.goto('/videos/1/in-place')
  await expect(page.getByRole('button', { name: /^Place Ice crack/ })).toBeVisible()
}

export const saved = (page: Page) => expect(page.getByTestId('save-state')).toHaveText('saved')

/** Brings the film to a time, and waits until the page has followed: before that a key would act at the time of before. */
export const seekTo = (page: Page, atS: number) =>
  page.locator('video').evaluate(async (video: HTMLVideoElement, to) => {
    if (video.readyState < HTMLMediaElement.HAVE_METADATA)
      await new Promise((resolve) => video.addEventListener('loadedmetadata', resolve, { once: true }))
    const isSought = new Promise((resolve) => video.addEventListener('seeked', resolve, { once: true }))
    video.currentTime = to
    await isSought
  }, atS)

/** A field for a number, by its label. */
export const field = (page: Page, label: string) => page.getByRole('spinbutton', { name: label, exact: true })
