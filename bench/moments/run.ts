import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { DEMO_CUTS, ROUGH_CUT_EVENTS } from '../../demo/videos'
import { Track } from '../../src/core/hearing'
import { carriedTime } from '../../src/core/moments'
import { FrameMeter, type PictureEvent, pictureEvents } from '../../src/core/picture'
import { matchCuts, type TrackSketch, trackSketch } from '../../src/core/recut'
import { chosenDecoder } from '../../src/server/media/choose'
import { readPictureFrames } from '../../src/server/media/picture'
import { TrackCollector } from '../../src/server/workers/track-collector'

/** Frames of the demo's cuts a second. */
const RATE = 24
/** An event is found where it is told within so many frames. */
const TOLERANCE_FRAMES = 2
const LONG_CUT_S = 20 * 60

/** Folder of the project. */
const root = process.argv[2] ?? '.'
const fileOf = (file: string): string => path.join(root, 'demo', 'files', file)

await judgeEvents()
await judgeCarryOver()
await timeLongCut()

/** What is found in the picture of the demo's rough cut, against what was drawn into it. */
async function judgeEvents(): Promise<void> {
  const found = await eventsOf(fileOf('dome-rough-cut-1.mp4'))
  const kinds = [...new Set(ROUGH_CUT_EVENTS.map(({ kind }) => kind))]
  console.log('kind          drawn  found  right')
  let right = 0
  for (const kind of kinds) {
    const drawn = ROUGH_CUT_EVENTS.filter((event) => event.kind === kind)
    const told = found.filter((event) => event.kind === kind)
    const hits = drawn.filter(({ timeS }) =>
      told.some((event) => Math.abs(event.timeS - timeS) <= (TOLERANCE_FRAMES + 0.1) / RATE),
    )
    right += hits.length
    console.log(
      `${kind.padEnd(13)} ${String(drawn.length).padStart(5)}  ${String(told.length).padStart(5)}  ${String(hits.length).padStart(5)}`,
    )
  }
  console.log(`precision ${(right / found.length).toFixed(2)}, recall ${(right / ROUGH_CUT_EVENTS.length).toFixed(2)}`)
  for (const { kind, timeS, confidence } of found) console.log(`  ${timeS.toFixed(2)} ${kind} ${confidence.toFixed(2)}`)
}

async function eventsOf(file: string): Promise<PictureEvent[]> {
  const meter = new FrameMeter()
  const { timesS } = await readPictureFrames(file, {
    stripStepS: 2,
    onFrame: (grey) => meter.push(grey, 0),
    onStripPicture: () => {},
  })
  return pictureEvents({ ...meter.result(), timesS: Float64Array.from(timesS) })
}

/** How far carried times are from where they really are in the second cut. */
async function judgeCarryOver(): Promise<void> {
  const [first, second] = DEMO_CUTS
  if (!first || !second) throw new Error('there are two demo cuts')
  const started = performance.now()
  const sections = matchCuts(await sketchOf(fileOf(first.file)), await sketchOf(fileOf(second.file)))
  console.log(`\ncarry-over of ${first.durationS} s in ${((performance.now() - started) / 1000).toFixed(1)} s:`)
  for (const { startS, endS, shiftS, score } of sections)
    console.log(
      `  ${startS.toFixed(3)} to ${endS.toFixed(3)}: ${shiftS === null ? 'gone' : shiftS.toFixed(4)} ${score?.toFixed(2) ?? ''}`,
    )
  const errorsS: number[] = []
  let wrong = 0
  for (let timeS = 0.05; timeS < first.durationS; timeS += 0.05) {
    const real = realTime(second.parts, timeS)
    const carried = carriedTime(sections, timeS)
    if ((real === null) === carried.isThere) wrong++
    else if (real !== null) errorsS.push(Math.abs(carried.timeS - real))
  }
  errorsS.sort((a, b) => a - b)
  const near = errorsS.filter((errorS) => errorS <= 1 / RATE).length
  console.log(`  of ${errorsS.length + wrong} times ${near} are within one frame, ${wrong} wrongly there or gone`)
  console.log(
    `  error: median ${ms(errorsS[errorsS.length >> 1])}, 95 % ${ms(errorsS[Math.floor(0.95 * errorsS.length)])}, most ${ms(errorsS[errorsS.length - 1])}`,
  )
}

function ms(seconds = 0): string {
  return `${(1000 * seconds).toFixed(1)} ms`
}

function realTime(parts: readonly (readonly [number, number])[], timeS: number): number | null {
  let beforeS = 0
  for (const [from, to] of parts) {
    if (timeS >= from && timeS < to) return beforeS + timeS - from
    beforeS += to - from
  }
  return null
}

async function sketchOf(file: string): Promise<TrackSketch> {
  const collector = new TrackCollector()
  await chosenDecoder().decode(file, { onBlock: (channels, rate) => collector.push(channels, rate) })
  const { mid, frames } = collector.track()
  const track = new Track(new Int16Array(mid), null, frames)
  return trackSketch((from, length) => track.midSamples(from, from + length), frames)
}

/** How long the strip and the events of a cut of 20 minutes take, and its sketch against itself less a minute. */
async function timeLongCut(): Promise<void> {
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-bench-'))
  const long = path.join(dir, 'long.mp4')
  spawnSync('ffmpeg', [
    '-v',
    'error',
    '-stream_loop',
    '-1',
    '-i',
    fileOf('dome-rough-cut-1.mp4'),
    '-t',
    String(LONG_CUT_S),
    '-c',
    'copy',
    long,
  ])
  const started = performance.now()
  const meter = new FrameMeter()
  const { timesS } = await readPictureFrames(long, {
    stripStepS: 2,
    onFrame: (grey) => meter.push(grey, 0),
    onStripPicture: () => {},
  })
  const events = pictureEvents({ ...meter.result(), timesS: Float64Array.from(timesS) })
  console.log(
    `\npicture of ${LONG_CUT_S / 60} min (640x360, ${timesS.length} frames): ${((performance.now() - started) / 1000).toFixed(1)} s, ${events.length} events`,
  )
  fs.rmSync(dir, { recursive: true })
}
