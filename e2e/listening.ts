import type { Locator, Page } from '@playwright/test'

/** The audio element that is heard; others stand ready beside it. */
export function heardNow(page: Page): Locator {
  return page.locator('audio[data-current]')
}

/** Where the clock of the audio element stands, s; 0 before anything was heard. */
export async function readHeardS(page: Page): Promise<number> {
  return (await heardNow(page).count()) === 0
    ? 0
    : heardNow(page).evaluate((audio: HTMLAudioElement) => audio.currentTime)
}

export function isPaused(page: Page): Promise<boolean> {
  return heardNow(page).evaluate((audio: HTMLAudioElement) => audio.paused)
}

/** Whether the audio element really plays: its clock moves. */
export function audioAdvances(page: Page): Promise<boolean> {
  return heardNow(page).evaluate(async (audio: HTMLAudioElement) => {
    const before = audio.currentTime
    await new Promise((resolve) => setTimeout(resolve, 250))
    return !audio.paused && audio.currentTime > before
  })
}

/** Milliseconds from a key that goes to another sound until the clock of that sound's audio element moves. */
export async function msUntilHeard(page: Page, key: string): Promise<number> {
  await heardNow(page).evaluate((before) => {
    const state = window as unknown as { heardMs: Promise<number> }
    state.heardMs = new Promise((resolve) => {
      const onKey = (): void => {
        const startMs = performance.now()
        const timer = setInterval(() => {
          const audio = document.querySelector<HTMLAudioElement>('audio[data-current]')
          if (!audio || audio === before || audio.paused || audio.currentTime === 0) return
          clearInterval(timer)
          resolve(performance.now() - startMs)
        }, 1)
      }
      document.addEventListener('keydown', onKey, { once: true, capture: true })
    })
  })
  await page.keyboard.press(key)
  return page.evaluate(() => (window as unknown as { heardMs: Promise<number> }).heardMs)
}
