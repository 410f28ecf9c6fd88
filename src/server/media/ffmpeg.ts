import { spawn, spawnSync } from 'node:child_process'
import { accessSync, constants, statSync } from 'node:fs'
import { delimiter, join } from 'node:path'
import readline from 'node:readline'
import { joinedRanges, missingRanges, type TimeRange } from '../../core/time-range'
import { media as messages } from '../../messages/server/media'
import { type ChannelLayout, type ChannelRole, channelLayout, layoutName } from './channel-layout'
import { type AudioTrack, type DecodeEnd, type DecodeOptions, type Decoder, MAX_TRACK_S, MediaError } from './decoder'
import { endsInZeros, mp3StatesLength, oggEndsProperly, readStatedWavDurationS } from './stated-length'
import { MAX_GAP_S, SoundTimeline } from './timeline'

/** Rate that the child delivers: that of most finished videos, so that most files are not resampled. */
const RATE_HZ = 48000
/** A child that gives nothing for this long is taken for hung, ms. */
const STALL_MS = 9_000
const PROBE_MS = 9_000
/** Decoded frames that lie this near to each other are one stretch, s. */
const FRAME_GAP_S = 0.1

interface ProbedTrack extends AudioTrack {
  /** When the sound begins, after the start of the file, s. */
  readonly startS: number
  readonly layout: ChannelLayout | null
}

interface Probe {
  readonly tracks: readonly ProbedTrack[]
  readonly isOgg: boolean
  readonly hasPicture: boolean
}

/** Decodes through `ffmpeg` on the PATH, as a child process that reads only the one file and has no network. */
export const ffmpegDecoder: Decoder = {
  name: 'ffmpeg',
  version: () => /version (\S+)/.exec(ffmpegVersionText())?.[1] ?? 'unknown',
  async inspect(path) {
    const { tracks, hasPicture } = await probed(path)
    return { hasPicture, tracks: tracks.map(({ startS: _, layout: __, ...track }) => track) }
  },
  async decode(path, options) {
    const { tracks, hasPicture, isOgg } = await probed(path)
    const track = tracks[options.trackIndex ?? 0]
    if (!track) throw new MediaError('no-sound', messages.fileHasNoSoundTrackWithNumber((options.trackIndex ?? 0) + 1))
    const timeline = new SoundTimeline(options, null, track.layout)
    const { end: childEnd, decoded } = await runChild(path, track, timeline, options)
    const breaksOff = isOgg ? !(await oggEndsProperly(path)) : track.durationS === null && (await endsInZeros(path))
    const end = childEnd === 'whole' && breaksOff ? 'broke-off' : childEnd
    const media = timeline.end()
    if (!media) throw new MediaError('not-media', messages.fileDamagedNoSoundIn)
    const missing = missingRanges(decoded, { statedS: track.durationS, startS: Math.max(0, decoded[0]?.startS ?? 0) })
    return { ...media, hasPicture, end, missing }
  },
}

/** Whether `ffmpeg` and `ffprobe` can be run. */
export function ffmpegIsThere(): boolean {
  return ffmpegVersionText() !== '' && onPath('ffprobe')
}

/** What `ffmpeg` says of itself, asked once a thread; nothing where it cannot be run. */
function ffmpegVersionText(): string {
  versionText ??= spawnSync('ffmpeg', ['-version'], { encoding: 'utf8', timeout: PROBE_MS }).stdout ?? ''
  return versionText
}

let versionText: string | null = null

/** Whether a program of this name lies on the PATH. */
function onPath(name: string): boolean {
  const file = process.platform === 'win32' ? `${name}.exe` : name
  return (process.env.PATH ?? '').split(delimiter).some((folder) => {
    try {
      accessSync(join(folder, file), constants.X_OK)
      return true
    } catch {
      return false
    }
  })
}

/** One stream of a file, as `ffprobe` tells of it. */
interface ProbedStream {
  readonly codec_type?: string
  readonly codec_name?: string
  readonly channels?: number
  readonly channel_layout?: string
  readonly start_time?: string
  readonly duration?: string
  readonly disposition?: { readonly attached_pic?: number }
  readonly width?: number
  readonly height?: number
  readonly avg_frame_rate?: string
  readonly r_frame_rate?: string
  readonly side_data_list?: readonly { readonly rotation?: number }[]
  readonly tags?: Readonly<Record<string, string>>
}

interface ProbedFile {
  readonly streams?: readonly ProbedStream[]
  readonly format?: { readonly duration?: string; readonly format_name?: string }
}

/** The file that was asked about last, as it was, and what was told: it is inspected, then decoded. */
let lastProbe: { readonly of: string; readonly told: ProbedFile } | null = null

/** What `ffprobe` tells of a file; null for one that it cannot read. */
export function probeFile(path: string): ProbedFile | null {
  const stat = statSync(path, { throwIfNoEntry: false })
  const of = JSON.stringify([path, stat?.size, stat?.mtimeMs, stat?.ino])
  if (lastProbe?.of === of) return lastProbe.told
  const told = askFfprobe(path)
  // What was not told may have been too slow: it is asked again.
  if (told) lastProbe = { of, told }
  return told
}

function askFfprobe(path: string): ProbedFile | null {
  const child = spawnSync(
    'ffprobe',
    ['-v', 'error', '-protocol_whitelist', 'file', '-of', 'json', '-show_streams', '-show_format', `file:${path}`],
    { encoding: 'utf8', timeout: PROBE_MS, maxBuffer: 16 * 1024 * 1024 },
  )
  return child.status === 0 ? (JSON.parse(child.stdout) as ProbedFile) : null
}

/** Whether a stream is a picture that moves, and not the cover of an album. */
export function isMovingPicture({ codec_type, disposition }: ProbedStream): boolean {
  return codec_type === 'video' && disposition?.attached_pic !== 1
}

async function probed(path: string): Promise<Probe> {
  const probe = probeFile(path)
  if (!probe) throw new MediaError('not-media', messages.fileNotVideoOrSound)
  const { streams = [], format } = probe
  const sound = streams.filter((stream) => stream.codec_type === 'audio')
  if (sound.length === 0) throw new MediaError('no-sound', messages.fileHasNoSoundTrack)
  const guessed = format?.format_name === 'mp3' && !(await mp3StatesLength(path))
  const statedS = await readStatedWavDurationS(path)
  return {
    tracks: sound.map((stream, index) => ({
      index,
      codec: stream.codec_name ?? 'unknown',
      language: languageOf(stream),
      channelCount: stream.channels ?? 2,
      channelLayout: layoutName(stream.channels ?? 2),
      durationS: guessed ? null : (statedS ?? streamDuration(stream, format?.duration)),
      startS: Number(stream.start_time) || 0,
      layout: layoutOf(stream),
    })),
    isOgg: format?.format_name === 'ogg',
    hasPicture: streams.some(isMovingPicture),
  }
}

function languageOf({ tags }: ProbedStream): string | null {
  const language = tags?.language
  return language && language !== 'und' ? language : null
}

/** Length that is stated for a stream: by the stream itself, by the tag that Matroska files have, or for the whole file. */
function streamDuration({ duration, tags }: ProbedStream, whole: string | undefined): number | null {
  const tag = /^(\d+):(\d\d):(\d\d(?:\.\d+)?)/.exec(tags?.DURATION ?? '')
  const taggedS = tag ? Number(tag[1]) * 3600 + Number(tag[2]) * 60 + Number(tag[3]) : Number.NaN
  return [Number(duration), taggedS, Number(whole)].find((seconds) => Number.isFinite(seconds) && seconds > 0) ?? null
}

/** Layouts whose channels are others than those of the usual layout with as many. */
const NAMED_LAYOUTS: Readonly<Record<string, ChannelLayout>> = {
  '2.1': ['L', 'R', 'LFE'],
  '3.1': ['L', 'R', 'C', 'LFE'],
  '4.0': ['L', 'R', 'C', 'BC'],
  '4.1': ['L', 'R', 'C', 'LFE', 'BC'],
  '5.0(side)': ['L', 'R', 'C', 'SL', 'SR'],
  '5.1(side)': ['L', 'R', 'C', 'LFE', 'SL', 'SR'],
  '6.1(back)': ['L', 'R', 'C', 'LFE', 'BL', 'BR', 'BC'],
}

function layoutOf({ channel_layout: name = '', channels = 2 }: ProbedStream): readonly ChannelRole[] | null {
  return NAMED_LAYOUTS[name] ?? channelLayout('wave', channels)
}

/**
 * Filters of the child: what each decoded frame holds is told on its error stream, lost frames are filled with silence, so that what
 * follows keeps its place, and silence is put before a track that begins late. A start before 0 is the encoder's delay, which is taken off anyway.
 */
function filtersOf({ startS }: ProbedTrack): string {
  return `ashowinfo,aresample=async=1${startS > 0.001 ? ':first_pts=0' : ''}`
}

function childArguments(path: string, track: ProbedTrack): string[] {
  return [
    ...['-v', 'info', '-nostats', '-hide_banner', '-nostdin', '-protocol_whitelist', 'file', '-i', `file:${path}`],
    ...['-map', `0:a:${track.index}`, '-vn', '-t', String(MAX_TRACK_S + 1), '-af', filtersOf(track)],
    ...['-ar', String(RATE_HZ), '-f', 'f32le', '-'],
  ]
}

/** The stretch that a decoded frame holds, from a line that the child tells of it; null for any other line. */
function frameRange(line: string): TimeRange | null {
  const match = /ashowinfo.* pts_time:(-?[\d.e+-]+) .* rate:(\d+) nb_samples:(\d+)/.exec(line)
  if (!match) return null
  const startS = Number(match[1])
  return { startS, endS: startS + Number(match[3]) / Number(match[2]) }
}

/** Runs the child to its end. @returns How it ended, and which stretches were decoded. */
async function runChild(
  path: string,
  track: ProbedTrack,
  timeline: SoundTimeline,
  { signal, onProgress }: DecodeOptions,
): Promise<{ end: DecodeEnd; decoded: readonly TimeRange[] }> {
  signal?.throwIfAborted()
  const child = spawn('ffmpeg', childArguments(path, track), { stdio: ['ignore', 'pipe', 'pipe'] })
  const decoded: TimeRange[] = []
  let isLeap = false
  readline.createInterface({ input: child.stderr }).on('line', (line) => {
    const range = frameRange(line)
    const last = decoded[decoded.length - 1]
    if (isLeap || (range && range.startS - (last?.endS ?? 0) > MAX_GAP_S)) {
      // What follows stands at times that cannot be right.
      isLeap = true
      child.kill('SIGKILL')
    } else if (range && last && range.startS - last.endS < FRAME_GAP_S && range.startS >= last.startS)
      decoded[decoded.length - 1] = { startS: last.startS, endS: Math.max(last.endS, range.endS) }
    else if (range) decoded.push(range)
  })
  const end = await new Promise<DecodeEnd>((resolve, reject) => {
    let stalled = false
    const giveUp = (): void => {
      stalled = true
      child.kill('SIGKILL')
    }
    let stall = setTimeout(giveUp, STALL_MS)
    let rest: Buffer = Buffer.alloc(0)
    let frames = 0
    const frameBytes = 4 * track.channelCount
    const abort = (): boolean => child.kill('SIGKILL')
    const fail = (error: unknown): void => {
      clearTimeout(stall)
      child.kill('SIGKILL')
      reject(error)
    }
    signal?.addEventListener('abort', abort, { once: true })
    child.stdout.on('data', (data: Buffer) => {
      clearTimeout(stall)
      stall = setTimeout(giveUp, STALL_MS)
      const all = rest.length > 0 ? Buffer.concat([rest, data]) : data
      const whole = all.length - (all.length % frameBytes)
      rest = Buffer.from(all.subarray(whole))
      frames += whole / frameBytes
      try {
        timeline.append(deinterleaved(all.subarray(0, whole), track.channelCount), RATE_HZ)
        if (track.durationS) onProgress?.(Math.min(1, frames / RATE_HZ / track.durationS))
      } catch (error) {
        fail(error)
      }
    })
    child.on('error', fail)
    child.on('close', (code) => {
      clearTimeout(stall)
      signal?.removeEventListener('abort', abort)
      if (signal?.aborted) reject(signal.reason)
      else resolve(stalled ? 'stalled' : code === 0 ? 'whole' : 'broke-off')
    })
  })
  return { end, decoded: joinedRanges(decoded, FRAME_GAP_S) }
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
