import { spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { chromium } from '@playwright/test'
import { writeWav } from '../../src/core/formats/wav'
import { RATE_HZ } from '../synthesis/toolkit'
import { DEMO_CUTS, DEMO_VIDEOS, type DemoCut } from '../videos'
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
/** Names of files to make; all where none is given. */
const wanted = process.argv.slice(3)
for (const video of [...DEMO_VIDEOS, ...DEMO_CUTS])
  if (wanted.length === 0 || wanted.includes(video.file)) await makeVideo(video)
await browser.close()

interface Film {
  readonly file: string
  readonly durationS: number
  readonly parts?: DemoCut['parts']
}

/** Left and right of a film: of a rough cut the parts that it has. */
function soundOf(film: Film): [Float32Array, Float32Array] {
  const demo = DEMO_VIDEOS.find(({ file }) => file === film.file)
  if (demo) return soundTrack(demo)
  const cut = DEMO_CUTS.find(({ file }) => file === film.file) as DemoCut
  const whole = DEMO_VIDEOS.find(({ title }) => title === cut.title)
  if (!whole) throw new Error(`no demo video is called “${cut.title}”`)
  const channels = soundTrack({ ...whole, effects: cut.effects })
  return channels.map((channel) => {
    const pieces = cut.parts.map(([from, to]) => channel.slice(Math.round(from * RATE_HZ), Math.round(to * RATE_HZ)))
    const out = new Float32Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
    let at = 0
    for (const piece of pieces) {
      out.set(piece, at)
      at += piece.length
    }
    return out
  }) as [Float32Array, Float32Array]
}

/** When each frame of a film is in the whole, s. */
function frameTimes({ durationS, parts = [[0, durationS]] }: Film): number[] {
  return parts.flatMap(([from, to]) =>
    Array.from({ length: Math.round((to - from) * FRAMES_PER_S) }, (_, frame) => from + frame / FRAMES_PER_S),
  )
}

async function makeVideo(video: Film): Promise<void> {
  const out = path.join(root, 'demo', 'files', video.file)
  const wav = `${out}.wav`
  fs.writeFileSync(wav, writeWav({ sampleRateHz: RATE_HZ, channels: soundOf(video) }, { bits: 24 }))
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
  for (const timeS of frameTimes(video)) {
    const url = await page.evaluate(
      ([file, t]) =>
        (window as unknown as { frame(file: string, t: number): string }).frame(file as string, t as number),
      [video.parts ? 'rough-cut' : video.file, timeS],
    )
    encoder.stdin.write(Buffer.from(url.slice(url.indexOf(',') + 1), 'base64'))
  }
  encoder.stdin.end()
  await new Promise((resolve) => encoder.on('close', resolve))
  await page.close()
  fs.rmSync(wav)
  console.log(`${video.file}: ${(fs.statSync(out).size / 1e6).toFixed(2)} MB`)
}
