import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rms, sine } from '../../../test/signals'
import { RATE_HZ, temporaryDir } from '../../../test/world'
import { resampled } from '../../core/audio'
import { writeWav } from '../../core/formats/wav'
import { chosenDecoder, decodeMedia, soundDecoder } from './choose'
import type { DecodedMedia, Decoder } from './decoder'
import { embeddedDecoder } from './embedded'
import { ffmpegDecoder, ffmpegIsThere } from './ffmpeg'

const dir = temporaryDir('media')
const DURATION_S = 3

/** Clicks at known places over a quiet tone: their places survive every codec. */
const CLICKS_S = [0.5, 1.25, 2.4]
function source(): Float32Array {
  const out = sine({ length: DURATION_S * RATE_HZ, rateHz: RATE_HZ, frequencyHz: 440, level: 0.05 })
  for (const at of CLICKS_S)
    for (let i = 0; i < 480; i++) {
      const n = Math.round(at * RATE_HZ) + i
      out[n] = (out[n] as number) + 0.7 * Math.sin((2 * Math.PI * 1500 * i) / RATE_HZ) * Math.exp(-i / 90)
    }
  return out
}

const PICTURE = ['-f', 'lavfi', '-i', `color=c=gray:s=64x64:r=10:d=${DURATION_S}`]

/** Kinds of file that finished videos and sounds come in: name, encoder arguments, picture. */
const KINDS: readonly (readonly [string, readonly string[], boolean])[] = [
  ['aac.mp4', ['-c:a', 'aac', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'], true],
  [
    'aac-44.mp4',
    ['-c:a', 'aac', '-ar', '44100', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-movflags', '+faststart'],
    true,
  ],
  ['pcm.mov', ['-c:a', 'pcm_s16le', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'], true],
  ['aac.mov', ['-c:a', 'aac', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'], true],
  ['opus.mkv', ['-c:a', 'libopus', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'], true],
  ['flac.mkv', ['-c:a', 'flac', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'], true],
  ['opus.webm', ['-c:a', 'libopus', '-c:v', 'libvpx', '-b:v', '100k'], true],
  ['pcm24.wav', ['-c:a', 'pcm_s24le'], false],
  ['float.wav', ['-c:a', 'pcm_f32le'], false],
  ['mono.wav', ['-c:a', 'pcm_s16le', '-ac', '1'], false],
  ['cbr.mp3', ['-c:a', 'libmp3lame', '-b:a', '160k'], false],
  ['vbr.mp3', ['-c:a', 'libmp3lame', '-q:a', '3'], false],
  ['plain.flac', ['-c:a', 'flac'], false],
  ['vorbis.ogg', ['-c:a', 'libvorbis'], false],
  ['opus.ogg', ['-c:a', 'libopus'], false],
  ['aac.m4a', ['-c:a', 'aac'], false],
]

beforeAll(() => {
  expect(ffmpegIsThere(), 'these tests need ffmpeg; npm test installs it').toBe(true)
  const wav = path.join(dir, 'source.wav')
  fs.writeFileSync(wav, writeWav({ sampleRateHz: RATE_HZ, channels: [source(), source()] }, { bits: 24 }))
  for (const [name, args, picture] of KINDS)
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-i',
      wav,
      ...(picture ? PICTURE : []),
      ...args,
      '-t',
      String(DURATION_S),
      path.join(dir, name),
    ])
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    ...PICTURE,
    '-c:v',
    'libx264',
    '-pix_fmt',
    'yuv420p',
    path.join(dir, 'silent.mp4'),
  ])
})
afterAll(() => fs.rmSync(dir, { recursive: true }))

async function decoded(decoder: Decoder, name: string): Promise<{ media: DecodedMedia; mono: Float32Array }> {
  const parts: Float32Array[] = []
  let rate = 0
  const media = await decodeMedia(decoder, path.join(dir, name), {
    onBlock: (channels, rateHz) => {
      rate = rateHz
      parts.push((channels[0] as Float32Array).slice())
    },
  })
  const all = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    all.set(part, at)
    at += part.length
  }
  return { media, mono: rate === RATE_HZ ? all : resampled(all, { fromHz: rate, toHz: RATE_HZ }) }
}

/** Displacement of a decoded click against the source, s, by correlation over 20 ms. */
function displacementS(mono: Float32Array, atS: number): number {
  const template = source().subarray(Math.round(atS * RATE_HZ), Math.round(atS * RATE_HZ) + 480)
  let best = Number.NEGATIVE_INFINITY
  let bestAt = 0
  for (let shift = -2400; shift <= 2400; shift++) {
    let sum = 0
    for (let i = 0; i < template.length; i++)
      sum += (template[i] as number) * (mono[Math.round(atS * RATE_HZ) + shift + i] ?? 0)
    if (sum > best) {
      best = sum
      bestAt = shift
    }
  }
  return bestAt / RATE_HZ
}

describe.each([
  ['embedded', embeddedDecoder],
  ['ffmpeg', ffmpegDecoder],
] as const)('the %s decoder', (_name, decoder) => {
  it.each(KINDS)('reads %s with everything in its place', async (name, _args, picture) => {
    const { media, mono } = await decoded(decoder, name)
    expect(media.hasPicture).toBe(picture)
    expect(Math.abs(media.durationS - DURATION_S)).toBeLessThan(0.05)
    for (const atS of CLICKS_S) expect(Math.abs(displacementS(mono, atS))).toBeLessThan(0.005)
    // The tone between the clicks: level kept within half a decibel.
    const level = rms(mono, 0.8 * RATE_HZ, 1.1 * RATE_HZ)
    expect(Math.abs(20 * Math.log10(level / (0.05 * Math.SQRT1_2)))).toBeLessThan(0.5)
  })

  it('says that a video has no sound', async () => {
    await expect(decoded(decoder, 'silent.mp4')).rejects.toMatchObject({ name: 'MediaError', code: 'no-sound' })
  })

  it('says that a text is no video, whatever its name', async () => {
    fs.writeFileSync(path.join(dir, 'text.mp4'), 'Dear reader, this is not a video.\n'.repeat(50))
    await expect(decoded(decoder, 'text.mp4')).rejects.toMatchObject({ name: 'MediaError', code: 'not-media' })
  })

  it('gives what is there of a file that breaks off', async () => {
    const whole = fs.readFileSync(path.join(dir, 'aac-44.mp4'))
    fs.writeFileSync(path.join(dir, 'cut.mp4'), whole.subarray(0, Math.floor(whole.length * 0.6)))
    const { media } = await decoded(decoder, 'cut.mp4')
    expect(media.durationS).toBeGreaterThan(0.3)
    expect(media.durationS).toBeLessThan(DURATION_S)
  })

  it('says that a file without its index is damaged', async () => {
    const whole = fs.readFileSync(path.join(dir, 'aac.mp4'))
    fs.writeFileSync(path.join(dir, 'headless.mp4'), whole.subarray(0, Math.floor(whole.length * 0.5)))
    await expect(decoded(decoder, 'headless.mp4')).rejects.toMatchObject({ name: 'MediaError' })
  })

  it('stops when it is told to', async () => {
    const onBlock = (): void => {}
    const work = decodeMedia(decoder, path.join(dir, 'aac.mp4'), { onBlock, signal: AbortSignal.abort() })
    await expect(work).rejects.toMatchObject({ name: 'AbortError' })
  })

  it('tells how far it is', async () => {
    const seen: number[] = []
    await decodeMedia(decoder, path.join(dir, 'plain.flac'), {
      onBlock: () => {},
      onProgress: (fraction) => seen.push(fraction),
    })
    expect(Math.max(...seen)).toBeGreaterThan(0.9)
    expect([...seen].sort((a, b) => a - b)).toEqual(seen)
  })
})

describe('the choice of a decoder', () => {
  it('prefers ffmpeg where it is, unless told otherwise', () => {
    expect(chosenDecoder(undefined).name).toBe('ffmpeg')
    expect(chosenDecoder('embedded').name).toBe('embedded')
  })

  it('falls back to ffmpeg for sounds that the embedded decoder cannot read', async () => {
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', path.join(dir, 'source.wav'), path.join(dir, 'sound.aiff')])
    const { media } = await decoded(soundDecoder, 'sound.aiff')
    expect(media.durationS).toBeCloseTo(DURATION_S, 2)
  })

  it('turns any failure into a media error', async () => {
    const failing: Decoder = { name: 'embedded', decode: () => Promise.reject(new Error('inner')) }
    await expect(decodeMedia(failing, '/x', { onBlock: () => {} })).rejects.toMatchObject({
      name: 'MediaError',
      code: 'not-media',
    })
  })
})
