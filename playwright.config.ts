import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './scripts/chromium.mjs'

export const CHROMIUM_OPTIONS = {
  ...CHROMIUM,
  // A microphone that beeps, for tests that allow it.
  args: [...CHROMIUM.args, '--autoplay-policy=no-user-gesture-required', '--use-fake-device-for-media-stream'],
}

export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results/browser',
  globalSetup: './e2e/global-setup.ts',
  // Each file has servers of its own. Three keep two cores at work: each waits for a part of its time.
  workers: 3,
  fullyParallel: false,
  timeout: 900_000,
  // The workers and all that they listen to share two cores, which a machine may share with others: the limits only end what hangs.
  expect: { timeout: 90_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  use: {
    actionTimeout: 90_000,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    trace: 'off',
    // What turns while one waits would be drawn sixty times a second without anybody who looks.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: CHROMIUM_OPTIONS,
  },
})
