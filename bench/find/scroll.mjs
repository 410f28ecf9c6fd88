// Measures how steadily the list of Find scrolls: frame times while it is scrolled through many rows.
// `npm run bench:find -- --sounds 50000 --scroll` runs it on a large catalogue; by hand: start Good Thud first, then
// `node bench/find/scroll.mjs http://localhost:4800`.
import { chromium } from '@playwright/test'
import { CHROMIUM } from '../../scripts/chromium.mjs'

const address = process.argv[2] ?? 'http://localhost:4800'
const ROWS = 50_000
const ROW_PX = 44

const browser = await chromium.launch({
  executablePath: CHROMIUM.executablePath,
  args: ['--no-sandbox', '--disable-gpu'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.goto(`${address}/find`)
await page.getByRole('grid').waitFor()
// The list grows as its end comes into view: first all rows are loaded.
const loaded = await page.evaluate(async (wanted) => {
  const grid = document.querySelector('[role=grid]')
  let height = 0
  for (let still = 0; still < 40 && grid.scrollHeight < wanted; ) {
    grid.scrollTop = grid.scrollHeight
    await new Promise((resolve) => setTimeout(resolve, 60))
    still = grid.scrollHeight === height ? still + 1 : 0
    height = grid.scrollHeight
  }
  return height
}, ROWS * ROW_PX)
/** Scrolls from the top by so many pixels with each frame. */
const scrolled = (stepPx) =>
  page.evaluate(async (step) => {
    const grid = document.querySelector('[role=grid]')
    const times = []
    grid.scrollTop = 0
    await new Promise((resolve) => setTimeout(resolve, 500))
    let last = performance.now()
    const end = Math.min(grid.scrollHeight - grid.clientHeight, step * 600)
    for (let at = 0; at < end; at += step) {
      grid.scrollTop = at
      await new Promise(requestAnimationFrame)
      const now = performance.now()
      times.push(now - last)
      last = now
    }
    return times
  }, stepPx)
console.log(`${Math.round(loaded / ROW_PX).toLocaleString('en')} rows`)
for (const stepPx of [60, 200, 1800]) {
  const frames = (await scrolled(stepPx)).sort((a, b) => a - b)
  const share = (part) => frames[Math.min(frames.length - 1, Math.floor(part * frames.length))].toFixed(1)
  console.log(
    `${stepPx} px with each frame: median ${share(0.5)}   p95 ${share(0.95)}   p99 ${share(0.99)}   worst ${share(1)}  ms`,
  )
}
await browser.close()
