import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect, type Page, test } from '@playwright/test'
import { freshData, type Launched, launch, ROOT } from './launch'

const PORT = 4893
const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-files-'))
let running: Launched

test.describe.configure({ mode: 'serial' })
test.use({ baseURL: `http://localhost:${PORT}` })

test.beforeAll(async () => {
  running = await launch({ port: PORT, data: freshData() })
})
test.afterAll(async () => {
  await running.interrupt()
  fs.rmSync(running.data, { recursive: true, force: true })
  fs.rmSync(dir, { recursive: true, force: true })
})

/** Tells every stand-in how to behave, through the address that only the demo and tests use. */
async function tellStandins(change: object): Promise<void> {
  for (const url of standinUrls()) {
    const answer = await fetch(`${url}/control`, { method: 'POST', body: JSON.stringify(change) })
    expect(answer.ok).toBe(true)
  }
}

function standinUrls(): string[] {
  const pids = execFileSync('pgrep', ['-f', `standins.mjs ${path.join(running.data, 'standins')}`], {
    encoding: 'utf8',
  })
  const pid = pids.split('\n')[0]
  const open = execFileSync('ss', ['-ltnpH'], { encoding: 'utf8' })
  return open
    .split('\n')
    .filter((line) => line.includes(`pid=${pid},`))
    .map((line) => `http://127.0.0.1:${/127\.0\.0\.1:(\d+)/.exec(line)?.[1]}`)
}

async function makeVideo(page: Page, title: string): Promise<void> {
  await page.goto('/videos')
  await page.getByRole('button', { name: 'Make a video' }).first().click()
  await page.getByRole('dialog').getByLabel('Title').fill(title)
  await page.getByRole('dialog').getByRole('button', { name: 'Make the video' }).click()
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible()
}

test('an empty application says what to do first', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Bring in the first sounds' })).toBeVisible()
  await page.getByLabel('Name of the licence holder').fill('Small Hours')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByText('Small Hours', { exact: true })).toBeVisible()
})

test('a library that is down is named, in words, and nothing is lost', async ({ page }) => {
  await tellStandins({ fault: 'error' })
  await page.goto('/sources')
  const row = page.getByRole('listitem').filter({ hasText: 'Tin Barn Commons' })
  await row.getByRole('button', { name: 'Connect' }).click()
  await expect(row.getByText(/Tin Barn Commons answered with an error \(500\)/)).toBeVisible()
  await tellStandins({ fault: 'garbage' })
  await row.getByRole('button', { name: 'Connect' }).click()
  await expect(row.getByText(/Tin Barn Commons cannot be understood/)).toBeVisible()
  await tellStandins({ fault: 'none' })
})

test('a catalogue with markup in its titles is shown as text', async ({ page }) => {
  await tellStandins({ fault: 'html-titles' })
  await page.goto('/')
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Heron & Slate' })
    .last()
    .getByRole('button', { name: 'Connect' })
    .click()
  await expect(page.getByTestId('result-count')).toHaveText('42 sounds', { timeout: 120_000 })
  await page.getByRole('searchbox').fill('screech')
  await page.getByRole('searchbox').press('ArrowDown')
  await expect(page.getByRole('complementary').getByRole('heading', { level: 2 })).toHaveText(
    `<img src=x onerror="document.title='owned'"><b>Screech of a young owl</b>`,
  )
  await expect(page.locator('img')).toHaveCount(0)
  expect(await page.title()).not.toBe('owned')
  await tellStandins({ fault: 'none' })
})

test('a sync mends the titles and keeps the sounds', async ({ page }) => {
  await page.goto('/sources')
  const row = (name: string) => page.getByRole('listitem').filter({ hasText: name })
  await row('Heron & Slate').getByRole('button', { name: 'Sync now' }).click()
  await expect(page.getByText(/42 sounds in the catalogue: 0 new, 42 changed, 0 gone; 0 newly/).first()).toBeVisible()
  await page.goto('/find?q=screech')
  await expect(page.getByRole('row').nth(1)).toContainText('Screech of a young owl')
  await page.goto('/sources')
  await row('Tin Barn Commons').getByRole('button', { name: 'Connect' }).click()
  await expect(page.getByText(/50 sounds in the catalogue: 50 new/).first()).toBeVisible({ timeout: 120_000 })
})

test.describe('files that cannot be checked', () => {
  const cases: readonly (readonly [string, () => void, RegExp])[] = [
    [
      'text.mp4',
      () => fs.writeFileSync(path.join(dir, 'text.mp4'), 'Not a video at all.\n'.repeat(99)),
      /is not a video or sound file that can be read/,
    ],
    ['empty.mp4', () => fs.writeFileSync(path.join(dir, 'empty.mp4'), ''), /is empty\. Export the video again/],
    ['silent.mp4', () => withoutSound(path.join(dir, 'silent.mp4')), /has no sound track\. Export it with its sound/],
    ['cut.mp4', () => cutOff(path.join(dir, 'cut.mp4')), /is damaged|not a video or sound file/],
    [
      'notes.docx',
      () => fs.writeFileSync(path.join(dir, 'notes.docx'), 'x'),
      /is not a kind of file that can be checked/,
    ],
  ]
  for (const [name, make, words] of cases) {
    test(`${name} ends in a clear sentence`, async ({ page }) => {
      make()
      await makeVideo(page, `Trouble with ${name}`)
      await page.getByLabel('Finished video file').setInputFiles(path.join(dir, name))
      await expect(page.getByText(words).first()).toBeVisible({ timeout: 60_000 })
      // The video is still there, and another file can be brought.
      await expect(page.getByRole('button', { name: /Bring/ }).first()).toBeEnabled()
    })
  }
})

function withoutSound(out: string): void {
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    path.join(ROOT, 'demo', 'files', 'the-night-the-dome-froze.mp4'),
    '-an',
    '-c',
    'copy',
    '-t',
    '3',
    out,
  ])
}

function cutOff(out: string): void {
  const whole = fs.readFileSync(path.join(ROOT, 'demo', 'files', 'the-night-the-dome-froze.mp4'))
  fs.writeFileSync(out, whole.subarray(0, 3000))
}

test('after a cut of power in the middle, a check completes and a download is whole or absent', async ({ page }) => {
  await makeVideo(page, 'Cut of power')
  const { videos } = (await (await fetch(`${running.url}/api/videos`)).json()) as { videos: { id: number }[] }
  const videoId = videos[0]?.id
  const film = fs.readFileSync(path.join(ROOT, 'demo', 'files', 'the-night-the-dome-froze.mp4'))
  // An upload that never ends …
  const endless = new ReadableStream({
    start(controller) {
      controller.enqueue(film.subarray(0, 500_000))
    },
  })
  const upload = fetch(`${running.url}/api/videos/${videoId}/export?name=half.mp4`, {
    method: 'PUT',
    body: endless,
    duplex: 'half',
    headers: { 'Content-Type': 'application/octet-stream' },
  } as RequestInit).catch(() => 'broken')
  // … a check in the middle …
  const started = (await (
    await fetch(`${running.url}/api/videos/${videoId}/export?name=film.mp4`, { method: 'PUT', body: film })
  ).json()) as { checkId: number; jobId: number }
  await expect
    .poll(
      async () =>
        ((await (await fetch(`${running.url}/api/jobs/${started.jobId}`)).json()) as { progressFraction: number })
          .progressFraction,
      {
        timeout: 60_000,
      },
    )
    .toBeGreaterThan(0.05)
  // … and a download from a slow library.
  await tellStandins({ fault: 'slow' })
  const { sounds } = (await (await fetch(`${running.url}/api/sounds?q=bronze`)).json()) as { sounds: { id: number }[] }
  const soundId = sounds[0]?.id
  const asked = await fetch(`${running.url}/api/sounds/${soundId}/download`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ format: null }),
  })
  expect(asked.status).toBe(200)
  await running.kill()
  expect(await upload).toBe('broken')

  running = await launch({ port: PORT, data: running.data })
  expect(fs.readdirSync(path.join(running.data, 'incoming'))).toEqual([])
  await expect
    .poll(
      async () =>
        ((await (await fetch(`${running.url}/api/checks/${started.checkId}`)).json()) as { state: string }).state,
      {
        timeout: 120_000,
      },
    )
    .toBe('done')
  const check = (await (await fetch(`${running.url}/api/checks/${started.checkId}`)).json()) as {
    findings: { verdict: string }[]
  }
  // Nothing was acquired yet.
  expect(check.findings.length).toBeGreaterThan(4)
  expect(new Set(check.findings.map(({ verdict }) => verdict))).toEqual(new Set(['no-papers']))
  await expect
    .poll(
      async () =>
        ((await (await fetch(`${running.url}/api/sounds/${soundId}`)).json()) as { copy: unknown; papers: unknown[] })
          .papers.length,
      {
        timeout: 60_000,
      },
    )
    .toBe(1)
  // The upload can be repeated.
  await page.goto(`/videos/${videoId}`)
  await page
    .getByLabel('Finished video file')
    .setInputFiles(path.join(ROOT, 'demo', 'files', 'the-night-the-dome-froze.mp4'))
  await expect(page.getByText(/Listening to/)).toBeVisible()
})

test('after a cut of power in the middle, a sync goes on and a purchase is made once', async () => {
  const json = async <T>(path: string, init?: RequestInit): Promise<T> =>
    (await (await fetch(`${running.url}${path}`, init)).json()) as T
  const jobOf = (kind: string) =>
    expect.poll(
      async () =>
        (await json<{ jobs: { kind: string; state: string }[] }>('/api/jobs')).jobs.find((job) => job.kind === kind)
          ?.state,
      { timeout: 180_000 },
    )
  // In the middle of reading a slow catalogue …
  await tellStandins({ fault: 'slow' })
  await json('/api/sources/pell-marrow/sync', { method: 'POST' })
  await jobOf('mirror').toBe('running')
  await running.kill()
  running = await launch({ port: PORT, data: running.data })
  await jobOf('mirror').toBe('done')
  const { sounds } = await json<{ sounds: { id: number; sold: boolean }[] }>('/api/sounds?q=torch button close')
  const id = sounds[0]?.id
  expect(sounds[0]?.sold).toBe(true)
  // … and in the middle of a purchase at a slow shop.
  const { tiers } = await json<{ tiers: { key: string; priceMinor: number }[] }>(`/api/sounds/${id}`)
  await tellStandins({ fault: 'slow' })
  const body = JSON.stringify({ tier: tiers[0]?.key, priceMinor: tiers[0]?.priceMinor, videoId: null })
  const buy = () =>
    fetch(`${running.url}/api/sounds/${id}/buy`, {
      method: 'POST',
      body,
      headers: { 'Content-Type': 'application/json' },
    })
  await buy()
  const placed = path.join(running.data, 'standins', 'pellMarrow.orders.json')
  await expect.poll(() => fs.existsSync(placed), { timeout: 60_000 }).toBe(true)
  await running.kill()
  running = await launch({ port: PORT, data: running.data })
  await jobOf('purchase').toBe('done')
  expect(JSON.parse(fs.readFileSync(placed, 'utf8'))).toHaveLength(1)
  const { papers } = await json<{ papers: { evidence: unknown[] }[] }>(`/api/sounds/${id}`)
  expect(papers).toHaveLength(1)
  expect(papers[0]?.evidence).toHaveLength(1)
})

test('a check can be stopped', async ({ page }) => {
  await makeVideo(page, 'Stopped half way')
  await page
    .getByLabel('Finished video file')
    .setInputFiles(path.join(ROOT, 'demo', 'files', 'the-night-the-dome-froze.mp4'))
  // While the file is sent there is a button of the same name, which stops the upload.
  await expect(page.getByRole('heading', { name: /Listening to/ })).toBeVisible()
  await page.getByRole('main').getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'The check was stopped' })).toBeVisible()
})
