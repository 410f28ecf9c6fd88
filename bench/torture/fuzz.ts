import { execFileSync, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { encoded } from '../../demo/synthesis/encode'
import { decodeWatched, inspectWatched } from '../../src/server/analysis/decode-watched'
import { MediaError } from '../../src/server/media/decoder'
import { createPool } from '../../src/server/workers/pool'
import { burst } from './libraries'
import { Random } from './random'
import type { Campaign } from './run'

const HANG_MS = 20_000
const PEAK_BYTES = 1.5e9
const FFMPEG_KINDS = ['aac.mp4', 'opus.mkv', 'flac.mkv', 'opus.webm', 'aac.m4a', 'opus.ogg', 'pcm.mov', 'sound.aiff']

/** Files of every format with bytes changed, cut off, doubled or zeroed, through both decoders. */
export const fuzz: Campaign = async ({ root, dir, seed, count = 10_000, say }) => {
  const random = new Random(seed)
  const originals = await makeOriginals(dir, random)
  const problems: string[] = []
  const outcomes = new Map<string, number>()
  let slowestMs = 0
  let peakBytes = 0
  const watch = setInterval(() => {
    peakBytes = Math.max(peakBytes, process.memoryUsage.rss())
  }, 200)
  for (const decoder of ['embedded', 'ffmpeg'] as const) {
    if (decoder === 'ffmpeg' && !hasFfmpeg()) continue
    process.env.THUD_DECODER = decoder
    const pool = createPool(path.join(root, 'dist', 'node'), 2)
    // Threads start and load what they need with the first file: that is no mutant's doing.
    await Promise.all([outcomeOf(pool, originals[0] as string), outcomeOf(pool, originals[1] as string)])
    for (let at = 0; at < count / 2; at++) {
      const name = random.pick(originals)
      const file = path.join(dir, `mutant-${path.basename(name)}`)
      const { bytes, how } = mutated(fs.readFileSync(name), random)
      fs.writeFileSync(file, bytes)
      const first = await timed(pool, file)
      // A machine that stood still looks like a hang; what hangs does so again.
      const { outcome, tookMs } = first.tookMs > HANG_MS ? await timed(pool, file) : first
      slowestMs = Math.max(slowestMs, tookMs)
      outcomes.set(`${decoder}: ${outcome}`, (outcomes.get(`${decoder}: ${outcome}`) ?? 0) + 1)
      if (tookMs > HANG_MS || outcome.startsWith('failed')) {
        problems.push(
          `${decoder}, mutant ${at} of ${path.basename(name)} (${how}): ${outcome} after ${Math.round(tookMs)} ms`,
        )
        fs.copyFileSync(file, path.join(dir, `problem-${decoder}-${at}-${path.basename(name)}`))
      }
      if (at % 500 === 499) say(`${decoder}: ${at + 1} mutants, ${problems.length} problems`)
    }
    await pool.destroy()
  }
  clearInterval(watch)
  delete process.env.THUD_DECODER
  if (peakBytes > PEAK_BYTES) problems.push(`The process took ${Math.round(peakBytes / 1e6)} MB.`)
  return {
    rows: [
      ['mutants', count],
      ['kinds of files', originals.length],
      ...[...outcomes].sort().map(([words, number]): [string, number] => [words, number]),
      ['slowest, ms', Math.round(slowestMs)],
      ['peak memory, MB', Math.round(peakBytes / 1e6)],
    ],
    problems,
  }
}

async function timed(pool: ReturnType<typeof createPool>, file: string): Promise<{ outcome: string; tookMs: number }> {
  const startMs = performance.now()
  const outcome = await outcomeOf(pool, file)
  return { outcome, tookMs: performance.now() - startMs }
}

async function outcomeOf(pool: ReturnType<typeof createPool>, file: string): Promise<string> {
  try {
    await inspectWatched(pool, file)
    const { track, voices } = await decodeWatched(pool, file, { trackIndex: 0, onProgress: () => {} })
    await voices
    return track.end === 'whole' && track.missing.length === 0 ? 'whole' : 'partly'
  } catch (error) {
    if (error instanceof MediaError) return `refused, ${error.code}`
    return `failed, ${error instanceof Error ? `${error.name} ${error.message}` : String(error)}`
  }
}

function mutated(original: Buffer, random: Random): { bytes: Buffer; how: string } {
  const bytes = Buffer.from(original)
  const at = (): number => random.whole(0, bytes.length)
  switch (random.whole(0, 5)) {
    case 0: {
      const flips = random.whole(1, 12)
      for (let i = 0; i < flips; i++) bytes[at()] = random.whole(0, 256)
      return { bytes, how: `${flips} bytes` }
    }
    case 1:
      return { bytes: bytes.subarray(0, at()), how: 'cut off' }
    case 2: {
      const from = at()
      return { bytes: bytes.fill(0, from, Math.min(bytes.length, from + random.whole(1, 5000))), how: 'zeros' }
    }
    case 3: {
      const from = at()
      const piece = bytes.subarray(from, from + random.whole(1, 3000))
      return { bytes: Buffer.concat([bytes.subarray(0, from), piece, bytes.subarray(from)]), how: 'doubled' }
    }
    default: {
      // Numbers in a head: lengths and counts that cannot be.
      const from = random.whole(0, Math.min(512, bytes.length - 8))
      bytes.writeUInt32BE(random.pick([0, 1, 0x7fffffff, 0xffffffff, 0x80000000]), from)
      return { bytes, how: 'a number of its head' }
    }
  }
}

function hasFfmpeg(): boolean {
  return spawnSync('ffmpeg', ['-version'], { stdio: 'ignore' }).status === 0
}

async function makeOriginals(dir: string, random: Random): Promise<string[]> {
  const names: string[] = []
  for (const format of ['wav', 'flac', 'mp3', 'ogg'] as const) {
    const file = path.join(dir, `plain.${format}`)
    fs.writeFileSync(file, await encoded([burst(random)], format))
    names.push(file)
  }
  if (hasFfmpeg())
    for (const kind of FFMPEG_KINDS) {
      const file = path.join(dir, kind)
      const codec = kind.startsWith('opus') ? ['-c:a', 'libopus'] : kind.startsWith('flac') ? ['-c:a', 'flac'] : []
      const made = ['-v', 'error', '-y', '-i', path.join(dir, 'plain.wav'), '-ar', '48000', ...codec, file]
      execFileSync('ffmpeg', made)
      names.push(file)
    }
  return names
}
