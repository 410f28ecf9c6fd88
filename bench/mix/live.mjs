// How a score of twelve layers and sixty placements, twenty of them at once, plays in a real browser: how often the audio came too late, and how
// far the picture was from the sound. Prints figures; it is no test. Usage: node scripts/bench-live.mjs. Needs chromium and the data of the demo.
import { spawn } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { chromium } from '@playwright/test'
import { CHROMIUM } from '../../scripts/chromium.mjs'

const PORT = 4882
const LAYERS = 12
const PLACEMENTS = 60
const AT_ONCE = 20
const PLAY_S = 36
const TREATMENTS = ['wall', 'telephone', 'small-speaker', 'far-off']

/** @param root Folder of the project, built. @param demoData Data of the demo, which are copied. */
export async function benchLive(root, demoData) {
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-live-'))
  const data = path.join(dir, 'data')
  fs.cpSync(demoData, data, { recursive: true, filter: (file) => !path.basename(file).startsWith('in-use') })
  const server = spawn(
    process.execPath,
    [path.join(root, 'scripts', 'run.mjs'), '--port', String(PORT), '--data', data],
    {
      cwd: root,
      stdio: ['ignore', 'pipe', 'inherit'],
      env: { ...process.env, THUD_LOG: 'quiet' },
    },
  )
  await new Promise((resolve) => server.stdout.on('data', (text) => String(text).includes('is ready') && resolve()))
  const base = `http://localhost:${PORT}`
  const browser = await chromium.launch({
    ...CHROMIUM,
    args: [...CHROMIUM.args, '--autoplay-policy=no-user-gesture-required'],
  })
  try {
    const address = `${base}/api/videos/1/score`
    const { revision, document } = await (await fetch(address)).json()
    const { sounds } = await (await fetch(`${base}/api/sounds?q=&limit=120&sort=longest`)).json()
    await send(address, {
      revision,
      edits: scoreEdits(
        document,
        sounds.filter(({ print }) => print),
      ),
    })
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
    await page.addInitScript(() => {
      const Plain = window.AudioContext
      window.AudioContext = class extends Plain {
        constructor(...all) {
          super(...all)
          window.clocks = () => [performance.now() / 1000, this.currentTime]
        }
      }
    })
    await page.goto(`${base}/videos/1/in-place`)
    await page.locator('[data-placement]').first().waitFor()
    const drifts = []
    const clocks = () => page.evaluate(() => window.clocks())
    await page.keyboard.press('Space')
    const health = page.getByTestId('mix-health')
    await health.waitFor({ state: 'attached', timeout: 60_000 })
    await page.waitForTimeout(2000)
    const late = async () => Number(await health.getAttribute('data-underruns'))
    const atStart = await late()
    const from = await clocks()
    for (let at = 0; at < PLAY_S * 4; at++) {
      await page.waitForTimeout(250)
      drifts.push(Math.abs(Number(await health.getAttribute('data-drift-s'))))
    }
    const to = await clocks()
    const behindMs = 1000 * (to[0] - from[0] - (to[1] - from[1]))
    const missing = await page.getByText('its audio is not here').count()
    drifts.sort((a, b) => a - b)
    const ms = (share) => (1000 * drifts[Math.floor(share * (drifts.length - 1))]).toFixed(0)
    console.log(
      `${LAYERS} layers, ${PLACEMENTS} placements, ${AT_ONCE} at once, ${missing} without audio, played for ${PLAY_S} s`,
    )
    console.log(`too late: ${atStart} times while it began, ${(await late()) - atStart} times after that`)
    console.log(
      `audio clock behind the clock on the wall: ${behindMs.toFixed(0)} ms in ${(to[0] - from[0]).toFixed(0)} s`,
    )
    console.log(`picture from sound: p50 ${ms(0.5)} ms, p95 ${ms(0.95)} ms, most ${ms(1)} ms (a frame is 42 ms)`)
  } finally {
    await browser.close()
    server.kill('SIGINT')
    await new Promise((resolve) => server.once('exit', resolve))
    fs.rmSync(dir, { recursive: true, force: true })
  }
}

/** Three waves of twenty sounds that overlap, long ones stretched over the wave by their loop. */
function scoreEdits(before, sounds) {
  const layers = Array.from({ length: LAYERS }, (_, at) => ({
    id: `bench-${at}`,
    name: `Layer ${at + 1}`,
    role: 'effects',
    levelDb: -12,
    isMuted: false,
    isSolo: false,
    isFolded: false,
    duck: at < 3 ? { depthDb: 10, attackS: 0.15, holdS: 0.25, releaseS: 0.6, adjusted: [] } : null,
  }))
  const placements = Array.from({ length: PLACEMENTS }, (_, at) => {
    const sound = sounds[at % sounds.length]
    const wave = Math.floor(at / AT_ONCE)
    // Played through again and again, so that twenty sound together for the whole wave.
    const times = Math.max(1, Math.min(40, Math.floor(12 / sound.durationS)))
    return {
      id: `bench-p${at}`,
      layerId: `bench-${at % LAYERS}`,
      audio: { kind: 'preview', soundId: sound.id },
      fromS: 0,
      toS: sound.durationS,
      assembly: times > 1 ? [{ fromS: 0, toS: sound.durationS, times, seamS: 0 }] : null,
      startS: 0.5 + 13 * wave + 0.03 * (at % AT_ONCE),
      hitS: null,
      hitRepeat: 0,
      target: null,
      gainDb: -6,
      gainPoints:
        at % 5 === 0
          ? [
              { atS: 0, value: -6 },
              { atS: 3, value: 0 },
            ]
          : [],
      pan: ((at % 9) - 4) / 4,
      panPoints: [],
      fadeIn: null,
      fadeOut: null,
      rate: at % 10 === 3 ? 1.2 : 1,
      keepsPitch: false,
      isReversed: false,
      treatments:
        at % 4 === 0
          ? [{ kind: TREATMENTS[(at / 4) % 4], amountFraction: 0.6 }]
          : at % AT_ONCE === 1
            ? [{ kind: 'large-room', amountFraction: 0.5 }]
            : [],
      treatmentChange: null,
      isMuted: false,
    }
  })
  return [
    ...(before.placements.length > 0 ? [{ do: 'remove', ids: before.placements.map(({ id }) => id) }] : []),
    ...before.layers.map(({ id }) => ({ do: 'remove-layer', id })),
    ...layers.map((layer, atIndex) => ({ do: 'add-layer', layer, atIndex })),
    { do: 'add', placements },
  ]
}

async function send(url, body) {
  const response = await fetch(url, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Origin: new URL(url).origin },
    body: JSON.stringify(body),
  })
  if (!response.ok) throw new Error(`${url}: ${await response.text()}`)
}
