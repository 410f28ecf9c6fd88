import { spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { chromium } from '@playwright/test'
import { writeWav } from '../../src/core/formats/wav'
import { RATE_HZ } from '../synthesis/toolkit'
import { DEMO_VIDEOS, type DemoVideo } from '../videos'
import { soundTrack } from './mix'

/*
 * Makes the finished videos of the demo (H.264 and AAC in MP4). Needs ffmpeg, espeak-ng and Chromium from Debian's packages;
 * its results are committed, so that starting the demo needs none of them. Run: npm run demo:videos
 */
const FRAMES_PER_S = 24
/** Folder of the project. */
const root = process.argv[2] ?? '.'

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
})
for (const video of DEMO_VIDEOS) await makeVideo(video)
await browser.close()

async function makeVideo(video: DemoVideo): Promise<void> {
  const out = path.join(root, 'demo', 'files', video.file)
  const wav = `${out}.wav`
  fs.writeFileSync(wav, writeWav({ sampleRateHz: RATE_HZ, channels: soundTrack(video) }, { bits: 24 }))
  const page = await browser.newPage()
  await page.goto(`file://${path.join(root, 'demo', 'make-videos', 'picture.html')}`)
  const encoder = spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-y', '-f', 'image2pipe', '-c:v', 'mjpeg', '-r', String(FRAMES_PER_S), '-i', '-', '-i', wav],
      ...['-c:v', 'libx264', '-preset', 'slow', '-crf', '27', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-b:a', '160k'],
      ...['-movflags', '+faststart', '-shortest', out],
    ],
    { stdio: ['pipe', 'inherit', 'inherit'] },
  )
  for (let frame = 0; frame < video.durationS * FRAMES_PER_S; frame++) {
    const url = await page.evaluate(
      ([file, t]) =>
        (window as unknown as { frame(file: string, t: number): string }).frame(file as string, t as number),
      [video.file, frame / FRAMES_PER_S],
    )
    encoder.stdin.write(Buffer.from(url.slice(url.indexOf(',') + 1), 'base64'))
  }
  encoder.stdin.end()
  await new Promise((resolve) => encoder.on('close', resolve))
  await page.close()
  fs.rmSync(wav)
  console.log(`${video.file}: ${(fs.statSync(out).size / 1e6).toFixed(2)} MB`)
}
