// Frame times of the time map: a cut of two hours with 300 moments is panned and zoomed for some seconds each, in a real browser.
// Usage: node scripts/bench-map.mjs [--port N]. Needs ffmpeg and chromium from Debian's packages.
import { spawn, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { chromium } from '@playwright/test'
import { CHROMIUM } from '../../scripts/chromium.mjs'

const PORT = 4880
const CUT_S = 7200
const MOMENTS = 300
const RUN_MS = 6000

/** @param root Folder of the project, built. */
export async function benchMap(root) {
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-map-'))
  const cut = path.join(dir, 'long.mp4')
  const small = path.join(dir, 'small.mp4')
  const source = path.join(root, 'demo', 'files', 'dome-rough-cut-1.mp4')
  // Small pictures: how long reading takes is measured elsewhere.
  spawnSync('ffmpeg', ['-v', 'error', '-i', source, '-vf', 'scale=160:90', '-c:a', 'copy', small])
  spawnSync('ffmpeg', ['-v', 'error', '-stream_loop', '-1', '-i', small, '-t', String(CUT_S), '-c', 'copy', cut])
  const args = [path.join(root, 'scripts', 'run.mjs'), '--port', String(PORT), '--data', path.join(dir, 'data')]
  const server = spawn(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, THUD_LOG: 'quiet' },
  })
  await new Promise((resolve) => server.stdout.on('data', (data) => String(data).includes('is ready') && resolve()))
  const base = `http://localhost:${PORT}`
  const browser = await chromium.launch(CHROMIUM)
  try {
    const uses = { places: ['online'], earns: false, territory: 'worldwide', publishOn: null, videoLicence: null }
    const { id } = await asked(`${base}/api/videos`, 'POST', { title: 'Two hours', uses })
    const begun = performance.now()
    const { cutId } = await (
      await fetch(`${base}/api/videos/${id}/cut?name=long.mp4`, {
        method: 'PUT',
        body: fs.readFileSync(cut),
        headers: { 'Content-Type': 'application/octet-stream', Origin: base },
      })
    ).json()
    for (;;) {
      const { versions } = await asked(`${base}/api/videos/${id}/moments`, 'GET')
      if (versions.find((one) => one.id === cutId)?.state === 'done') break
      await new Promise((resolve) => setTimeout(resolve, 1000))
    }
    console.log(`reading a cut of two hours (160x90): ${((performance.now() - begun) / 1000).toFixed(0)} s`)
    const moments = Array.from({ length: MOMENTS }, (_, at) => ({
      id: `m${at}`,
      atS: (at * CUT_S) / MOMENTS,
      endS: at % 5 === 0 ? (at * CUT_S) / MOMENTS + 9 : null,
      words: `moment number ${at}`,
      kind: ['hit', 'swell', 'spot', 'ambience', 'music'][at % 5],
      weight: 'must',
      note: '',
      shortList: [],
      soundId: null,
      cutOutFromS: null,
    }))
    await asked(`${base}/api/videos/${id}/moments`, 'POST', { revision: 0, edits: [{ do: 'add', moments }] })
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
    await page.goto(`${base}/videos/${id}/moments`)
    await page.getByTestId('map-track').waitFor()
    await page.waitForTimeout(4000)
    const box = await page.getByTestId('map-track').boundingBox()
    await page.mouse.move(box.x + box.width / 2, box.y + 40)
    for (const [name, move] of [
      ['zoom', (at) => ({ deltaY: at % 80 < 40 ? -60 : 60, shift: false })],
      ['pan', (at) => ({ deltaY: at % 80 < 40 ? 60 : -60, shift: true })],
    ]) {
      if (name === 'pan') for (let k = 0; k < 6; k++) await page.mouse.wheel(0, -300)
      const times = await page.evaluate(
        async ({ ms, moves }) => {
          const target = document.querySelector('[data-testid="map-track"]')
          const { left, top, width } = target.getBoundingClientRect()
          const frames = []
          let last = performance.now()
          const end = last + ms
          for (let at = 0; performance.now() < end; at++) {
            const { deltaY, shift } = moves[at % moves.length]
            target.dispatchEvent(
              new WheelEvent('wheel', {
                deltaY,
                shiftKey: shift,
                clientX: left + width / 2,
                clientY: top + 40,
                bubbles: true,
                cancelable: true,
              }),
            )
            await new Promise(requestAnimationFrame)
            const now = performance.now()
            frames.push(now - last)
            last = now
          }
          return frames
        },
        { ms: RUN_MS, moves: Array.from({ length: 80 }, (_, at) => move(at)) },
      )
      const sorted = times.sort((a, b) => a - b)
      const at = (share) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))].toFixed(1)
      console.log(
        `${name}: ${sorted.length} frames, p50 ${at(0.5)} ms, p95 ${at(0.95)} ms, p99 ${at(0.99)} ms, slowest ${at(1)} ms`,
      )
    }
  } finally {
    await browser.close()
    server.kill('SIGINT')
    await new Promise((resolve) => server.once('exit', resolve))
    fs.rmSync(dir, { recursive: true, force: true })
  }
}

async function asked(url, method, body) {
  const response = await fetch(url, {
    method,
    headers: { 'Content-Type': 'application/json', Origin: new URL(url).origin },
    ...(body ? { body: JSON.stringify(body) } : {}),
  })
  if (!response.ok) throw new Error(`${method} ${url}: ${await response.text()}`)
  return response.json()
}
