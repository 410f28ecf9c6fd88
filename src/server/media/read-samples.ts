import { spawn } from 'node:child_process'
import type { TimeRange } from '../../core/time-range'
import { chosenDecoder } from './choose'

const RATE_HZ = 48_000
const TIMEOUT_MS = 9_000
const MAX_CHANNELS = 8
const HEADER_MAX_BYTES = 4096

/**
 * Samples of a short range of a file, mono, without decoding what comes before it.
 *
 * @param range At most a few seconds. @returns Null where `ffmpeg` is not there or reads nothing.
 */
export async function readSamples(
  path: string,
  { startS, endS }: TimeRange,
): Promise<{ samples: Float32Array; rateHz: number } | null> {
  if (chosenDecoder().name !== 'ffmpeg') return null
  const wanted = Math.round((endS - startS) * RATE_HZ)
  const child = spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-nostdin', '-protocol_whitelist', 'file', '-ss', startS.toFixed(6), '-i', `file:${path}`],
      ...['-map', '0:a:0', '-vn', '-t', (endS - startS).toFixed(6)],
      // With its header, which tells how many channels there are.
      ...['-ar', String(RATE_HZ), '-c:a', 'pcm_f32le', '-f', 'wav', '-'],
    ],
    { stdio: ['ignore', 'pipe', 'ignore'] },
  )
  const pieces: Buffer[] = []
  let bytes = 0
  const timer = setTimeout(() => child.kill('SIGKILL'), TIMEOUT_MS)
  child.stdout.on('data', (data: Buffer) => {
    bytes += data.length
    if (bytes > MAX_CHANNELS * 4 * wanted + HEADER_MAX_BYTES) child.kill('SIGKILL')
    else pieces.push(data)
  })
  await new Promise((resolve) => {
    child.once('error', resolve)
    child.once('close', resolve)
  })
  clearTimeout(timer)
  return mixedSamples(Buffer.concat(pieces), wanted)
}

/** Mean of the first two channels of a WAV file of floats; null for none. */
function mixedSamples(wav: Buffer, wanted: number): { samples: Float32Array; rateHz: number } | null {
  const dataAt = wav.indexOf('data', 12, 'latin1') + 8
  if (wav.length < 24 || dataAt < 8) return null
  const channels = wav.readUInt16LE(22)
  const frames = Math.min(wanted, Math.floor((wav.length - dataAt) / (4 * channels)))
  if (frames <= 0) return null
  const samples = new Float32Array(frames)
  for (let i = 0; i < frames; i++) {
    const left = wav.readFloatLE(dataAt + 4 * channels * i)
    samples[i] = channels === 1 ? left : 0.5 * (left + wav.readFloatLE(dataAt + 4 * channels * i + 4))
  }
  return { samples, rateHz: RATE_HZ }
}
