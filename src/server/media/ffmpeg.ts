import { spawn, spawnSync } from 'node:child_process'
import { type DecodedMedia, type DecodeOptions, type Decoder, MAX_TRACK_S, MediaError } from './decoder'
import { SoundTimeline } from './timeline'

/** Rate that the child delivers: that of most finished videos, so that most files are not resampled. */
const RATE_HZ = 48000
/** A child that gives nothing for this long is taken for hung, ms. */
const STALL_MS = 60_000
const PROBE_MS = 20_000

interface Probe {
  readonly channelCount: number
  readonly durationS: number | null
  readonly hasPicture: boolean
  /** When the sound begins, after the start of the file, s. */
  readonly startS: number
}

/** Decodes through `ffmpeg` on the PATH, as a child process that reads only the one file and has no network. */
export const ffmpegDecoder: Decoder = {
  name: 'ffmpeg',
  async decode(path, options) {
    const probe = probed(path)
    const timeline = new SoundTimeline(options, null)
    await runChild(path, probe, timeline, options)
    const media = timeline.end()
    if (!media) throw new MediaError('not-media', `The file is damaged: no sound in it could be decoded.`)
    return { ...media, hasPicture: probe.hasPicture } satisfies DecodedMedia
  },
}

/** Whether `ffmpeg` and `ffprobe` can be run. */
export function ffmpegIsThere(): boolean {
  return ['ffmpeg', 'ffprobe'].every(
    (name) => spawnSync(name, ['-version'], { stdio: 'ignore', timeout: PROBE_MS }).status === 0,
  )
}

function probed(path: string): Probe {
  const child = spawnSync(
    'ffprobe',
    ['-v', 'error', '-protocol_whitelist', 'file', '-of', 'json', '-show_streams', '-show_format', `file:${path}`],
    { encoding: 'utf8', timeout: PROBE_MS, maxBuffer: 16 * 1024 * 1024 },
  )
  if (child.status !== 0) throw new MediaError('not-media', `The file is not a video or sound file that can be read.`)
  const { streams = [], format } = JSON.parse(child.stdout) as {
    streams?: { codec_type?: string; channels?: number; start_time?: string; disposition?: { attached_pic?: number } }[]
    format?: { duration?: string }
  }
  const sound = streams.find((stream) => stream.codec_type === 'audio')
  if (!sound) throw new MediaError('no-sound', `The file has no sound track. Export it with its sound.`)
  const durationS = Number(format?.duration)
  return {
    channelCount: (sound.channels ?? 2) === 1 ? 1 : 2,
    durationS: Number.isFinite(durationS) && durationS > 0 ? durationS : null,
    startS: Number(sound.start_time) || 0,
    hasPicture: streams.some((stream) => stream.codec_type === 'video' && stream.disposition?.attached_pic !== 1),
  }
}

/** Silence is put before a sound track that begins late. A start before 0 is the encoder's delay, which is taken off anyway. */
function startFilter({ startS }: Probe): string[] {
  return startS > 0.001 ? ['-af', 'aresample=first_pts=0'] : []
}

function runChild(path: string, probe: Probe, timeline: SoundTimeline, options: DecodeOptions): Promise<void> {
  const { signal, onProgress } = options
  signal?.throwIfAborted()
  const child = spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-nostdin', '-protocol_whitelist', 'file', '-i', `file:${path}`, '-map', '0:a:0', '-vn'],
      ...['-t', String(MAX_TRACK_S + 1), ...startFilter(probe)],
      ...['-ac', String(probe.channelCount), '-ar', String(RATE_HZ), '-f', 'f32le', '-'],
    ],
    { stdio: ['ignore', 'pipe', 'ignore'] },
  )
  return new Promise((resolve, reject) => {
    let stall = setTimeout(() => child.kill('SIGKILL'), STALL_MS)
    let rest: Buffer = Buffer.alloc(0)
    let frames = 0
    const frameBytes = 4 * probe.channelCount
    const abort = (): boolean => child.kill('SIGKILL')
    const settle = (error?: unknown): void => {
      clearTimeout(stall)
      signal?.removeEventListener('abort', abort)
      child.kill('SIGKILL')
      if (error) reject(error)
      else resolve()
    }
    signal?.addEventListener('abort', abort, { once: true })
    child.stdout.on('data', (data: Buffer) => {
      clearTimeout(stall)
      stall = setTimeout(() => child.kill('SIGKILL'), STALL_MS)
      const joined = rest.length > 0 ? Buffer.concat([rest, data]) : data
      const whole = joined.length - (joined.length % frameBytes)
      rest = Buffer.from(joined.subarray(whole))
      frames += whole / frameBytes
      try {
        timeline.append(deinterleaved(joined.subarray(0, whole), probe.channelCount), RATE_HZ)
        if (probe.durationS) onProgress?.(Math.min(1, frames / RATE_HZ / probe.durationS))
      } catch (error) {
        settle(error)
      }
    })
    child.on('error', settle)
    child.on('close', () => settle(signal?.aborted ? signal.reason : undefined))
  })
}

function deinterleaved(bytes: Buffer, channelCount: number): Float32Array[] {
  const frames = bytes.length / 4 / channelCount
  // What came through the pipe may begin anywhere in its memory.
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : new Uint8Array(bytes)
  const values = new Float32Array(aligned.buffer, aligned.byteOffset, frames * channelCount)
  if (channelCount === 1) return [values.slice()]
  return Array.from({ length: channelCount }, (_, channel) => {
    const samples = new Float32Array(frames)
    for (let i = 0, at = channel; i < frames; i++, at += channelCount) samples[i] = values[at] as number
    return samples
  })
}
