import { spawn } from 'node:child_process'
import readline from 'node:readline'
import { isStripFrame, PICTURE_BYTES, PICTURE_HEIGHT, PICTURE_WIDTH, STRIP_HEIGHT_PX } from '../../core/picture'
import { media as messages } from '../../messages/server/media'
import { MediaError } from './decoder'

/** A child that gives nothing for this long is taken for hung, ms. */
const STALL_MS = 9_000
/** More frames than this are no cut that is taken: four hours at 60 a second. */
export const MAX_FRAMES = 900_000

export interface PictureReadOptions {
  /** A small picture is taken at most so often, s. */
  readonly stripStepS: number
  /** {@link PICTURE_BYTES} grey bytes of the next frame, which must not be held on to. */
  readonly onFrame: (grey: Uint8Array) => void
  /** The next small picture, as JPEG. */
  readonly onStripPicture: (jpeg: Uint8Array) => Promise<void> | void
  readonly signal?: AbortSignal
}

/** How reading a picture ended. */
export interface PictureRead {
  /** When each frame is shown, s, in order. */
  readonly timesS: readonly number[]
  readonly end: 'whole' | 'broke-off' | 'stalled'
}

/**
 * Decodes the picture of a file with `ffmpeg`: all frames small and grey, and some of them as small pictures.
 *
 * @throws {MediaError} too-long, not-media when nothing could be decoded; AbortError.
 */
export async function readPictureFrames(path: string, options: PictureReadOptions): Promise<PictureRead> {
  const { signal, onFrame, onStripPicture } = options
  signal?.throwIfAborted()
  const child = spawn('ffmpeg', pictureArguments(path, options.stripStepS), {
    stdio: ['ignore', 'pipe', 'pipe', 'pipe'],
  })
  const timesS: number[] = []
  let frames = 0
  let failure: unknown = null
  let isStalled = false
  const kill = (): boolean => child.kill('SIGKILL')
  const fail = (error: unknown): void => {
    failure ??= error
    kill()
  }
  let stall = setTimeout(kill, STALL_MS)
  const alive = (): void => {
    clearTimeout(stall)
    stall = setTimeout(() => {
      isStalled = true
      kill()
    }, STALL_MS)
  }
  readline.createInterface({ input: child.stderr as NodeJS.ReadableStream }).on('line', (line) => {
    const match = /Parsed_showinfo\S* .*\bn:\s*\d+ pts:\s*\S+ pts_time:(-?[\d.e+-]+)/.exec(line)
    if (match) timesS.push(Math.max(0, Number(match[1])))
  })
  const split = frameSplitter(PICTURE_BYTES, (grey) => {
    if (++frames > MAX_FRAMES) throw new MediaError('too-long', messages.pictureHasMoreFramesThan)
    onFrame(grey)
  })
  child.stdout?.on('data', (data: Buffer) => {
    alive()
    try {
      split(data)
    } catch (error) {
      fail(error)
    }
  })
  const strip = child.stdio[3] as NodeJS.ReadableStream
  const splitStrip = jpegSplitter()
  let writing: Promise<unknown> = Promise.resolve()
  strip.on('data', (data: Buffer) => {
    for (const jpeg of splitStrip(data)) writing = writing.then(() => onStripPicture(jpeg)).catch(fail)
  })
  signal?.addEventListener('abort', kill, { once: true })
  const code = await new Promise<number | null>((resolve) => {
    child.once('error', (error) => {
      fail(error)
      resolve(null)
    })
    child.once('close', resolve)
  })
  clearTimeout(stall)
  signal?.removeEventListener('abort', kill)
  await writing
  signal?.throwIfAborted()
  if (failure) throw failure
  if (frames === 0) throw new MediaError('not-media', messages.pictureCouldNotBeDecoded)
  return { timesS: timesS.slice(0, frames), end: isStalled ? 'stalled' : code === 0 ? 'whole' : 'broke-off' }
}

function pictureArguments(path: string, stepS: number): string[] {
  const graph = [
    '[0:v:0]split=2[a][b]',
    `[a]scale=${PICTURE_WIDTH}:${PICTURE_HEIGHT}:flags=area,format=gray,showinfo=checksum=0[grey]`,
    `[b]select='isnan(prev_selected_t)+gte(t-prev_selected_t\\,${stepS})',scale=-2:${STRIP_HEIGHT_PX}:flags=area[strip]`,
  ].join(';')
  return [
    ...['-v', 'info', '-nostats', '-hide_banner', '-nostdin', '-protocol_whitelist', 'file', '-i', `file:${path}`],
    ...['-filter_complex', graph],
    ...['-map', '[grey]', '-an', '-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1'],
    ...[
      '-map',
      '[strip]',
      '-an',
      '-fps_mode',
      'passthrough',
      '-c:v',
      'mjpeg',
      '-q:v',
      '6',
      '-f',
      'image2pipe',
      'pipe:3',
    ],
  ]
}

/** Which frames become small pictures: as `ffmpeg` is told to choose them. */
export function stripTimes(timesS: readonly number[], stepS: number): number[] {
  const chosen: number[] = []
  for (const timeS of timesS) {
    const last = chosen[chosen.length - 1]
    if (isStripFrame(timeS, last ?? null, stepS)) chosen.push(timeS)
  }
  return chosen
}

function frameSplitter(frameBytes: number, onFrame: (frame: Uint8Array) => void): (data: Buffer) => void {
  const frame = new Uint8Array(frameBytes)
  let filled = 0
  return (data) => {
    for (let at = 0; at < data.length; ) {
      const count = Math.min(frameBytes - filled, data.length - at)
      frame.set(data.subarray(at, at + count), filled)
      filled += count
      at += count
      if (filled === frameBytes) {
        filled = 0
        onFrame(frame)
      }
    }
  }
}

/** Longest small picture, bytes; what is longer is no JPEG of ours. */
const JPEG_MAX_BYTES = 512 * 1024

/** Takes a stream of JPEG files apart: each begins with FF D8 and ends with FF D9, which its coded data cannot contain. */
function jpegSplitter(): (data: Buffer) => Buffer[] {
  let rest: Buffer = Buffer.alloc(0)
  return (data) => {
    rest = Buffer.concat([rest, data])
    const found: Buffer[] = []
    for (;;) {
      const end = rest.indexOf(Buffer.of(0xff, 0xd9))
      if (end < 0) break
      found.push(Buffer.from(rest.subarray(0, end + 2)))
      rest = rest.subarray(end + 2)
    }
    if (rest.length > JPEG_MAX_BYTES) throw new MediaError('too-large', messages.smallPictureTooLarge)
    return found
  }
}
