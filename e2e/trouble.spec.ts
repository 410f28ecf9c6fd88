import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect, type Page, test } from '@playwright/test'
import { launch, ROOT } from './launch'
import { tellStandins } from './standins'
import { openWorld } from './worlds'

const FILM = path.join(ROOT, 'demo', 'files', 'the-night-the-dome-froze.mp4')
const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-files-'))
test.afterAll(() => fs.rmSync(dir, { recursive: true, force: true }))

async function makeVideo(page: Page, title: string): Promise<void> {
  await page.goto('/videos')
  await page.getByRole('button', { name: 'Add a video' }).first().click()
  await page.getByRole('dialog').getByLabel('Title').fill(title)
  await page.getByRole('dialog').getByRole('button', { name: 'Add the video' }).click()
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible()
}

test.describe('with nothing in it', () => {
  const world = openWorld('empty', { each: true })

  test('the first minutes, by keys alone: from nothing to a result', async ({ page }) => {
    // Whoever listens for it first in the moment of the key may be told too late.
    page.on('filechooser', () => {})
    await page.goto('/')
    await expect(page).toHaveURL(/\/first-steps$/)
    const step = (name: string) => page.locator(`[data-first-step="${name}"]`)
    // What is to be done now has the focus from the start.
    await expect(page.getByLabel('Name of the licence holder')).toBeFocused()
    await page.keyboard.type('Small Hours')
    await page.keyboard.press('Enter')
    await expect(step('licensee')).toHaveAttribute('data-done', 'true')
    await expect(step('licensee')).toContainText('Small Hours')
    await expect(
      step('library')
        .getByRole('button', { name: /^Connect/ })
        .first(),
    ).toBeFocused()
    await page.keyboard.press('Enter')
    await expect(step('library').getByText(/^Sync.*: /)).toBeVisible()
    await expect(step('library')).toHaveAttribute('data-done', 'true', { timeout: 600_000 })
    await expect(step('library')).toContainText(/\d+ sounds/)

    // A film that is nothing but one of its sounds.
    const { sounds } = (await (await page.request.get('/api/sounds?q=whoosh')).json()) as { sounds: { id: number }[] }
    const film = path.join(dir, 'first film.ogg')
    fs.writeFileSync(film, await (await page.request.get(`/api/sounds/${sounds[0]?.id}/audio`)).body())
    await expect(step('film').getByRole('button', { name: 'Choose the file' })).toBeFocused()
    const choosing = page.waitForEvent('filechooser')
    await page.keyboard.press('Enter')
    await (await choosing).setFiles(film)
    await expect(step('film').getByLabel('Title')).toHaveValue('first film')
    await expect(step('film').getByLabel('Title')).toBeFocused()
    await page.keyboard.press('Enter')
    await expect(page.getByTestId('first-result')).toContainText(/point.* open/, { timeout: 600_000 })
    await expect(step('result')).toHaveAttribute('data-done', 'true')
    const result = page.getByRole('link', { name: 'See the result' })
    await expect(result).toBeFocused()
    await page.keyboard.press('Enter')
    await expect(page.getByTestId('summary')).toHaveText(/^Not ready: /)
    // All four are done: nothing speaks of them any more.
    await page.goto('/desk')
    await expect(page.getByRole('heading', { name: 'Desk' })).toBeVisible()
    await expect(page.getByTestId('first-steps-notice')).toHaveCount(0)
  })

  test('first steps that are left are offered until they are done; a film that cannot be read is said there', {
    tag: '@long',
  }, async ({ page }) => {
    await page.goto('/first-steps')
    await page.getByRole('link', { name: 'Desk' }).click()
    const notice = page.getByTestId('first-steps-notice')
    await expect(notice).toHaveText('First steps: 0 of 4 done. Next: Say who holds the licences')
    await notice.getByRole('link').click()
    await page.getByLabel('Name of the licence holder').fill('Small Hours')
    await page.getByRole('button', { name: 'Save' }).click()
    await page.getByRole('link', { name: 'Desk' }).click()
    await expect(notice).toHaveText('First steps: 1 of 4 done. Next: Connect a library')
    await notice.getByRole('link').click()
    const broken = path.join(dir, 'text.mp4')
    fs.writeFileSync(broken, 'Not a video at all.\n'.repeat(99))
    await page.getByLabel('Finished video file').setInputFiles(broken)
    await page.getByRole('button', { name: 'Check it' }).click()
    const failed = page.getByRole('alert').filter({ hasText: '“text” could not be checked.' })
    await expect(failed).toBeVisible()
    await expect(page.locator('[data-first-step="film"]')).toHaveAttribute('data-done', 'false')
    // Trying again with another file adds no second video.
    const empty = path.join(dir, 'empty.mp4')
    fs.writeFileSync(empty, '')
    await page.reload()
    await expect(failed).toBeVisible()
    await page.getByLabel('Finished video file').setInputFiles(empty)
    // What is answered now is what counts, also of the video that is there already.
    await page.getByLabel('It earns').check()
    await page.getByLabel('Broadcast').check()
    await page.getByRole('button', { name: 'Check it' }).click()
    await expect(page.getByRole('alert').filter({ hasText: 'is empty. Export the video again' })).toBeVisible()
    await failed.getByRole('link', { name: 'See why' }).click()
    await expect(page.getByText(/is not a video or sound file that can be read/)).toBeVisible()
    const { videos } = (await (await page.request.get('/api/videos')).json()) as { videos: unknown[] }
    expect(videos).toMatchObject([{ uses: { earns: true, places: ['online', 'broadcast'] } }])
  })

  test('a library that is down is named, in words, and works when it is back', { tag: '@long' }, async ({ page }) => {
    await tellStandins(world.running, { fault: 'error' })
    await page.goto('/sources')
    const row = page.getByRole('listitem').filter({ hasText: 'Tin Barn Commons' })
    await row.getByRole('button', { name: 'Connect' }).click()
    await expect(row.getByText(/Tin Barn Commons answered with an error \(500\)/)).toBeVisible()
    await tellStandins(world.running, { fault: 'garbage' })
    await row.getByRole('button', { name: 'Connect' }).click()
    await expect(row.getByText(/Tin Barn Commons cannot be understood/)).toBeVisible()
    await tellStandins(world.running, { fault: 'none' })
    await row.getByRole('button', { name: 'Connect' }).click()
    await expect(page.getByText(/50 sounds in the catalogue: 50 new/).first()).toBeVisible({ timeout: 600_000 })
  })

  test('markup in the titles of a catalogue is shown as text, and a sync mends it', { tag: '@long' }, async ({
    page,
  }) => {
    await tellStandins(world.running, { fault: 'html-titles' })
    await page.goto('/first-steps')
    await page.getByRole('button', { name: 'Connect Heron & Slate' }).click()
    await expect(page.locator('[data-first-step="library"]')).toContainText('58 sounds', { timeout: 600_000 })
    await page.getByRole('link', { name: 'Go to Find' }).click()
    await expect(page.getByTestId('result-count')).toHaveText('44 sounds', { timeout: 600_000 })
    await page.getByRole('searchbox').fill('screech')
    await page.getByRole('searchbox').press('ArrowDown')
    await expect(page.getByRole('complementary').getByRole('heading', { level: 2 })).toHaveText(
      `<img src=x onerror="document.title='owned'"><b>Screech of a young owl</b>`,
    )
    await expect(page.locator('img')).toHaveCount(0)
    expect(await page.title()).not.toBe('owned')
    await tellStandins(world.running, { fault: 'none' })
    await page.goto('/sources')
    const row = page.getByRole('listitem').filter({ hasText: 'Heron & Slate' })
    await row.getByRole('button', { name: 'Sync now' }).click()
    await expect(page.getByText(/58 sounds in the catalogue: 0 new, 58 changed, 0 gone; 0 newly/).first()).toBeVisible()
    await page.goto('/find?q=screech')
    await expect(page.getByRole('row').nth(1)).toContainText('Screech of a young owl')
  })
})

test.describe('files that cannot be checked', () => {
  openWorld('empty')

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
      await expect(page.getByRole('button', { name: /Upload/ }).first()).toBeEnabled()
    })
  }
})

function withoutSound(out: string): void {
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', FILM, '-an', '-c', 'copy', '-t', '3', out])
}

function cutOff(out: string): void {
  const whole = fs.readFileSync(FILM)
  fs.writeFileSync(out, whole.subarray(0, 3000))
}

test.describe('after a cut of power in the middle', () => {
  const world = openWorld('demo', { each: true })
  const json = async <T>(address: string, init?: RequestInit): Promise<T> =>
    (await (await fetch(`${world.running.url}${address}`, init)).json()) as T
  const post = (address: string, body: unknown): Promise<Response> =>
    fetch(`${world.running.url}${address}`, {
      method: 'POST',
      body: JSON.stringify(body),
      headers: { 'Content-Type': 'application/json' },
    })
  const stateOf = (kind: string) =>
    expect.poll(
      async () =>
        (await json<{ jobs: { kind: string; state: string }[] }>('/api/jobs')).jobs.find((job) => job.kind === kind)
          ?.state,
      { timeout: 180_000 },
    )
  const pellMarrow = async () => {
    const { sources } = await json<{ sources: { id: string; lastSyncAt: string }[] }>('/api/sources')
    return sources.find(({ id }) => id === 'pell-marrow') as { lastSyncAt: string }
  }
  const idOf = async (query: string): Promise<number> =>
    (await json<{ sounds: { id: number }[] }>(`/api/sounds?q=${query}`)).sounds[0]?.id as number

  test('a check completes, a download is whole, and an upload can be repeated', { tag: '@long' }, async ({ page }) => {
    await makeVideo(page, 'Cut of power')
    const { videos } = await json<{ videos: { id: number; title: string }[] }>('/api/videos')
    const videoId = videos.find(({ title }) => title === 'Cut of power')?.id
    const opening = path.join(dir, 'opening.mp4')
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', FILM, '-c', 'copy', '-t', '15', opening])
    const film = fs.readFileSync(opening)
    // An upload that never ends …
    const endless = new ReadableStream({
      start(controller) {
        controller.enqueue(film.subarray(0, 100_000))
      },
    })
    const upload = fetch(`${world.running.url}/api/videos/${videoId}/export?name=half.mp4`, {
      method: 'PUT',
      body: endless,
      duplex: 'half',
      headers: { 'Content-Type': 'application/octet-stream' },
    } as RequestInit).catch(() => 'broken')
    // … a check in the middle …
    const started = await json<{ checkId: number; jobId: number }>(`/api/videos/${videoId}/export?name=film.mp4`, {
      method: 'PUT',
      body: film,
    })
    const progress = async () =>
      (await json<{ progressFraction: number }>(`/api/jobs/${started.jobId}`)).progressFraction
    await expect.poll(progress, { timeout: 60_000, intervals: [20] }).toBeGreaterThan(0.05)
    // … and a download from a slow library.
    await tellStandins(world.running, { fault: 'slow' })
    const soundId = await idOf('bronze')
    expect((await post(`/api/sounds/${soundId}/download`, { format: null })).status).toBe(200)
    await world.cutPower()
    expect(await upload).toBe('broken')
    type Check = { state: string; findings: { title: string; verdict: string }[] }
    const check = () => json<Check>(`/api/checks/${started.checkId}`)
    await expect.poll(async () => (await check()).state, { timeout: 600_000 }).toBe('done')
    // What is heard in its opening was heard in the same film before, when nothing was cut off.
    const { findings } = await check()
    expect(findings.length).toBeGreaterThan(2)
    const before = await json<{ check: { id: number } }>('/api/videos/1')
    const titles = (list: Check['findings']) => list.map(({ title }) => title)
    const heardBefore = titles((await json<Check>(`/api/checks/${before.check.id}`)).findings)
    expect(heardBefore).toEqual(expect.arrayContaining(titles(findings)))
    const papers = async () => (await json<{ papers: unknown[] }>(`/api/sounds/${soundId}`)).papers.length
    await expect.poll(papers, { timeout: 60_000 }).toBe(1)
    // What was half written before is gone; the download that went on had a file there, too, until it was whole.
    await expect.poll(() => fs.readdirSync(path.join(world.running.data, 'incoming'))).toEqual([])
    await page.goto(`/videos/${videoId}`)
    await page.getByLabel('Finished video file').setInputFiles(FILM)
    await expect(page.getByText(/Listening to/)).toBeVisible()
  })

  test('a sync goes on', { tag: '@long' }, async () => {
    await tellStandins(world.running, { fault: 'slow' })
    const { lastSyncAt } = await pellMarrow()
    await json('/api/sources/pell-marrow/sync', { method: 'POST' })
    await stateOf('mirror').toBe('running')
    await world.cutPower()
    await stateOf('mirror').toBe('done')
    expect((await pellMarrow()).lastSyncAt).not.toBe(lastSyncAt)
    const { sounds } = await json<{ sounds: { sold: boolean }[] }>('/api/sounds?q=torch button close')
    expect(sounds[0]?.sold).toBe(true)
  })

  test('a purchase is made once', { tag: '@long' }, async () => {
    const placed = path.join(world.running.data, 'standins', 'pellMarrow.orders.json')
    const ordersPlaced = (): number => (JSON.parse(fs.readFileSync(placed, 'utf8')) as unknown[]).length
    const ordersBefore = ordersPlaced()
    const id = await idOf('torch button close')
    const { tiers } = await json<{ tiers: { key: string; priceMinor: number }[] }>(`/api/sounds/${id}`)
    await tellStandins(world.running, { fault: 'slow' })
    await post('/api/basket', { soundId: id, tier: tiers[0]?.key, videoId: null })
    const { lines } = await json<{ lines: { id: number; priceMinor: number; currency: string }[] }>('/api/basket')
    await post('/api/basket/pay', {
      lines: lines.map((line) => ({ id: line.id, priceMinor: line.priceMinor, currency: line.currency })),
    })
    await expect.poll(() => ordersPlaced(), { timeout: 60_000 }).toBe(ordersBefore + 1)
    await world.cutPower()
    await stateOf('purchase').toBe('done')
    expect(ordersPlaced()).toBe(ordersBefore + 1)
    const { papers } = await json<{ papers: { evidence: unknown[] }[] }>(`/api/sounds/${id}`)
    expect(papers).toHaveLength(1)
    expect(papers[0]?.evidence).toHaveLength(1)
  })
})

test.describe('a check', () => {
  openWorld('demo')

  test('can be stopped', { tag: '@long' }, async ({ page }) => {
    await makeVideo(page, 'Stopped half way')
    await page.getByLabel('Finished video file').setInputFiles(FILM)
    // While the file is sent there is a button of the same name, which stops the upload.
    await expect(page.getByRole('heading', { name: /Listening to/ })).toBeVisible()
    await page.getByRole('main').getByRole('button', { name: 'Stop', exact: true }).click()
    await expect(page.getByRole('heading', { name: 'The check was stopped' })).toBeVisible()
  })
})

test('a demo that begins with nothing shows its first library and how far the rest is, and ends at any time', {
  tag: '@long',
}, async ({ page }) => {
  const data = path.join(dir, 'fresh-demo')
  const first = await launch({ port: 4887, data, demo: true })
  await page.goto(`${first.url}/find`)
  const background = page.getByRole('region', { name: 'Work in the background' })
  await expect(background).toContainText('Preparing the demo')
  await expect(background).toContainText(/Step [12] of \d+: listening to the sounds of/)
  // The first library is there, and can be heard.
  await expect(page.getByRole('grid', { name: 'Sounds' }).getByText('Tin Barn Commons').first()).toBeVisible()
  // Nobody is asked to do what is being done.
  await expect(page.getByTestId('first-steps-notice')).toHaveCount(0)
  await page.goto(`${first.url}/videos`)
  await expect(page.getByText('“Preparing the demo” below shows how far that is')).toBeVisible()
  await first.kill()
  // The next start goes on with it.
  const next = await launch({ port: 4887, data, demo: true })
  await page.goto(`${next.url}/videos`)
  await expect(background).toContainText(/Step \d of \d+/)
  // Whoever does not want it stops it.
  await background.getByRole('button', { name: 'Cancel: Preparing the demo' }).click()
  await expect(background.getByText('Preparing the demo')).toHaveCount(0, { timeout: 30_000 })
  await expect(page.getByText('A video says where it will be published.', { exact: false })).toBeVisible()
  await expect(page.getByText('“Preparing the demo” below', { exact: false })).toHaveCount(0)
  expect(await next.interrupt()).toBe(0)
})
