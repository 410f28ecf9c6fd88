// How Chromium is started for tests and measurements: without a monitor, and without asking for anything outside.
import fs from 'node:fs'

const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/local/bin/chromium']

export const CHROMIUM = {
  executablePath: process.env.CHROMIUM ?? PLACES.find((place) => fs.existsSync(place)) ?? PLACES[0],
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
