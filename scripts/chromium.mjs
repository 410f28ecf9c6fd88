// How Chromium is started for tests and measurements: without a monitor, and without asking for anything outside.
import fs from 'node:fs'

const { CHROMIUM: told } = process.env
/** First the one that never had a window: with each page that is opened, the other begins a page for its own frame, which is more work than ours. */
const PLACES = told
  ? [told]
  : ['chromium-headless-shell', 'chromium', 'chromium-browser'].flatMap((name) => [
      `/usr/bin/${name}`,
      `/usr/local/bin/${name}`,
    ])

/** Where it is, or null. */
export function chromiumPath() {
  return PLACES.find((place) => fs.existsSync(place)) ?? null
}

export const CHROMIUM = {
  executablePath: chromiumPath() ?? PLACES[0],
  args: [
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
}
