import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { areSame, rms, sine } from '../../../test/signals'
import { RATE_HZ, temporaryDir } from '../../../test/world'
import { resampled } from '../../core/audio'
import { writeWav } from '../../core/formats/wav'
import { coveredS } from '../../core/time-range'
import { concatFloat32 } from '../workers/concat-float32'
import { chosenDecoder, decodeMedia, soundDecoder } from './choose'
import type { DecodedMedia, Decoder } from './decoder'
import { embeddedDecoder } from './embedded'
import { ffmpegDecoder, ffmpegIsThere } from './ffmpeg'

const dir = temporaryDir('media')
const DURATION_S = 3

/** Clicks at known places over a quiet tone: their places survive every codec. */
const CLICKS_S = [0.5, 1.25, 2.4]
const SOURCE = source()

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

const ROOT = Math.SQRT1_2
const LONG_S = 8
/** Long enough for several clusters of Matroska: one that is not whole is left out by the built-in decoder. */
const CLUSTERS_S = 30
/** A tone for each channel of 7.1: left, right, centre, low frequencies, rears, sides. */
const SURROUND_HZ = [300, 400, 500, 80, 700, 800, 900, 1000]
const SURROUND: readonly (readonly [string, number, readonly string[]])[] = [
  ['5.1.wav', 6, ['-c:a', 'pcm_s16le']],
  ['5.1.mp4', 6, ['-c:a', 'aac']],
  ['5.1.mkv', 6, ['-c:a', 'libopus']],
  ['5.1.flac', 6, ['-c:a', 'flac']],
  ['5.1.ogg', 6, ['-c:a', 'libvorbis', '-q:a', '8']],
  ['7.1.wav', 8, ['-c:a', 'pcm_s16le']],
  ['7.1.mp4', 8, ['-c:a', 'aac']],
  ['7.1.mkv', 8, ['-c:a', 'libopus']],
  ['7.1.flac', 8, ['-c:a', 'flac']],
]

function ffmpeg(...args: readonly string[]): void {
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args])
}

/** A file of a kind, or with surround sound: each is made when it is first asked for. */
function fileOf(name: string): string {
  const file = path.join(dir, name)
  if (fs.existsSync(file)) return file
  const [, args, picture] = KINDS.find(([kind]) => kind === name) ?? []
  if (args)
    ffmpeg('-i', path.join(dir, 'source.wav'), ...(picture ? PICTURE : []), ...args, '-t', String(DURATION_S), file)
  const [, channelCount, codec] = SURROUND.find(([kind]) => kind === name) ?? []
  if (codec) {
    const tones = SURROUND_HZ.slice(0, channelCount).map((hz) => `0.1*sin(2*PI*${hz}*t)`)
    const layout = channelCount === 6 ? '5.1' : '7.1'
    ffmpeg('-f', 'lavfi', '-i', `aevalsrc='${tones.join('|')}':c=${layout}:s=48000:d=1`, ...codec, file)
  }
  return file
}

/** Files with several tracks, and long enough to be damaged in the middle. */
function makeOthers(): void {
  const tone = (hz: number, seconds: number): string[] => ['-f', 'lavfi', '-i', `sine=f=${hz}:d=${seconds}`]
  for (const [name, codec] of [
    ['two.mp4', 'aac'],
    ['two.mkv', 'flac'],
  ] as const)
    ffmpeg(
      ...[
        ...PICTURE,
        ...tone(300, 1),
        ...tone(900, 2),
        '-map',
        '0',
        '-map',
        '1',
        '-map',
        '2',
        '-c:a',
        codec,
        '-t',
        '2',
      ],
      ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-metadata:s:a:0', 'language=eng'],
      ...[
        '-metadata:s:a:1',
        'language=deu',
        '-disposition:a:0',
        '0',
        '-disposition:a:1',
        'default',
        path.join(dir, name),
      ],
    )
  ffmpeg(...tone(300, LONG_S), '-c:a', 'aac', '-movflags', '+faststart', path.join(dir, 'long.mp4'))
  ffmpeg(...tone(300, CLUSTERS_S), '-c:a', 'flac', path.join(dir, 'clusters.mkv'))
  const loudThenSilent = `aevalsrc='if(lt(t,2),0.5*(random(0)-0.5),0)':s=48000:d=${LONG_S}`
  const guessed = ['-c:a', 'libmp3lame', '-q:a', '5', '-write_xing', '0', path.join(dir, 'guessed.mp3')]
  ffmpeg('-f', 'lavfi', '-i', loudThenSilent, ...guessed)
}

beforeAll(() => {
  expect(ffmpegIsThere(), 'these tests need ffmpeg; npm test installs it').toBe(true)
  const wav = path.join(dir, 'source.wav')
  fs.writeFileSync(wav, writeWav({ sampleRateHz: RATE_HZ, channels: [SOURCE, SOURCE] }, { bits: 24 }))
  ffmpeg(...PICTURE, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', path.join(dir, 'silent.mp4'))
  makeOthers()
})
afterAll(() => fs.rmSync(dir, { recursive: true }))

async function decoded(decoder: Decoder, name: string): Promise<{ media: DecodedMedia; mono: Float32Array }> {
  const parts: Float32Array[] = []
  let rate = 0
  const media = await decodeMedia(decoder, fileOf(name), {
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

/** Writes what becomes of a file into another. */
function damaged(from: string, name: string, damage: (bytes: Buffer) => Buffer): string {
  const file = path.join(dir, name)
  fs.writeFileSync(file, damage(fs.readFileSync(fileOf(from))))
  return file
}

function cut(bytes: Buffer): Buffer {
  return bytes.subarray(0, Math.floor(bytes.length * 0.6))
}

/** Displacement of a decoded click against the source, s, by correlation over 20 ms. */
function displacementS(mono: Float32Array, atS: number): number {
  const at = Math.round(atS * RATE_HZ)
  const template = SOURCE.subarray(at, at + 480)
  // With silence where there is no more: what is read beyond an end is slow.
  const near = new Float32Array(template.length + 4800)
  const from = Math.max(0, at - 2400)
  near.set(mono.subarray(from, Math.max(from, at - 2400 + near.length)), from - (at - 2400))
  let best = Number.NEGATIVE_INFINITY
  let bestAt = 0
  for (let shift = -2400; shift <= 2400; shift++) {
    let sum = 0
    for (let i = 0; i < template.length; i++) sum += (template[i] as number) * (near[2400 + shift + i] as number)
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
  it.each(KINDS)('reads %s with everything in its place', { tags: 'long' }, async (name, _args, picture) => {
    const { media, mono } = await decoded(decoder, name)
    expect(media.hasPicture).toBe(picture)
    expect(Math.abs(media.durationS - DURATION_S)).toBeLessThan(0.05)
    for (const atS of CLICKS_S) expect(Math.abs(displacementS(mono, atS))).toBeLessThan(0.005)
    // The tone between the clicks: level kept within half a decibel.
    const level = rms(mono, 0.8 * RATE_HZ, 1.1 * RATE_HZ)
    expect(Math.abs(20 * Math.log10(level / (0.05 * Math.SQRT1_2)))).toBeLessThan(0.5)
  })

  it('tells its version', () => {
    expect(decoder.version()).toMatch(/^\d+\.\d+/)
  })

  it('says that a video has no sound', async () => {
    await expect(decoded(decoder, 'silent.mp4')).rejects.toMatchObject({ name: 'MediaError', code: 'no-sound' })
  })

  it('says that a text is no video, whatever its name', async () => {
    fs.writeFileSync(path.join(dir, 'text.mp4'), 'Dear reader, this is not a video.\n'.repeat(50))
    await expect(decoded(decoder, 'text.mp4')).rejects.toMatchObject({ name: 'MediaError', code: 'not-media' })
  })

  it('gives what is there of a file that breaks off', async () => {
    damaged('aac-44.mp4', 'cut.mp4', cut)
    const { media } = await decoded(decoder, 'cut.mp4')
    expect(media.durationS).toBeGreaterThan(0.3)
    expect(media.durationS).toBeLessThan(DURATION_S)
    expect(media.missing).toHaveLength(1)
    expect(media.missing[0]?.startS).toBeCloseTo(media.durationS, 1)
    expect(media.missing[0]?.endS).toBeCloseTo(DURATION_S, 1)
  })

  it('says that a file without its index is damaged', async () => {
    const whole = fs.readFileSync(fileOf('aac.mp4'))
    fs.writeFileSync(path.join(dir, 'headless.mp4'), whole.subarray(0, Math.floor(whole.length * 0.5)))
    await expect(decoded(decoder, 'headless.mp4')).rejects.toMatchObject({ name: 'MediaError' })
  })

  it('stops when it is told to', async () => {
    const onBlock = (): void => {}
    const work = decodeMedia(decoder, fileOf('aac.mp4'), { onBlock, signal: AbortSignal.abort() })
    await expect(work).rejects.toMatchObject({ name: 'AbortError' })
  })

  it('tells how far it is', async () => {
    const seen: number[] = []
    await decodeMedia(decoder, fileOf('plain.flac'), {
      onBlock: () => {},
      onProgress: (fraction) => seen.push(fraction),
    })
    expect(Math.max(...seen)).toBeGreaterThan(0.9)
    expect([...seen].sort((a, b) => a - b)).toEqual(seen)
  })
})

describe.each([
  ['embedded', embeddedDecoder],
  ['ffmpeg', ffmpegDecoder],
] as const)('tracks and channels, by the %s decoder', (_name, decoder) => {
  /** Level of a tone in each channel of the fold-down, of a track. */
  async function levels(name: string, trackIndex: number, tonesHz: readonly number[]): Promise<number[][]> {
    const parts: Float32Array[][] = []
    let rateHz = 0
    const onBlock = (channels: readonly Float32Array[], rate: number): void => {
      rateHz = rate
      channels.forEach((channel, index) => {
        parts[index] = [...(parts[index] ?? []), channel.slice()]
      })
    }
    await decodeMedia(decoder, fileOf(name), { trackIndex, onBlock })
    return parts.map((blocks) => {
      const channel = concatFloat32(blocks).subarray(Math.round(0.2 * rateHz), Math.round(0.8 * rateHz))
      return tonesHz.map((hz) => {
        let re = 0
        let im = 0
        channel.forEach((value, i) => {
          re += value * Math.cos((2 * Math.PI * hz * i) / rateHz)
          im += value * Math.sin((2 * Math.PI * hz * i) / rateHz)
        })
        return (2 * Math.hypot(re, im)) / channel.length
      })
    })
  }

  it.each(['two.mp4', 'two.mkv'])(
    'sees the tracks of %s in the order of the file, whichever is marked as the main one',
    async (name) => {
      const { tracks, hasPicture } = await decoder.inspect(fileOf(name))
      expect(hasPicture).toBe(true)
      expect(tracks.map(({ index, language, channelLayout }) => [index, language, channelLayout])).toEqual([
        [0, 'eng', 'mono'],
        [1, 'deu', 'mono'],
      ])
      const tones = [300, 900]
      const [first, second] = [await levels(name, 0, tones), await levels(name, 1, tones)]
      expect(first[0]?.[0]).toBeGreaterThan(0.1)
      expect(first[0]?.[1]).toBeLessThan(0.002)
      expect(second[0]?.[0]).toBeLessThan(0.002)
      expect(second[0]?.[1]).toBeGreaterThan(0.1)
    },
  )

  it.each(['two.mp4', 'two.mkv'])('misses nothing of a track of %s that is shorter than the other', async (name) => {
    for (const trackIndex of [0, 1]) {
      const media = await decodeMedia(decoder, fileOf(name), { trackIndex, onBlock: () => {} })
      expect(media).toMatchObject({ end: 'whole', missing: [] })
      expect(media.durationS).toBeCloseTo(trackIndex === 0 ? 1 : 2, 1)
    }
  })

  it('says that there is no third track', async () => {
    const third = decodeMedia(decoder, path.join(dir, 'two.mp4'), { trackIndex: 2, onBlock: () => {} })
    await expect(third).rejects.toMatchObject({ name: 'MediaError', code: 'no-sound' })
  })

  it.each(SURROUND)('folds %s down so that every channel counts', { tags: 'long' }, async (name, channelCount) => {
    const [left, right] = (await levels(name, 0, SURROUND_HZ)) as [number[], number[]]
    const expected = (gains: readonly number[]): number[] => gains.slice(0, channelCount).map((gain) => gain * 0.1)
    // Lossy codecs keep a tone within a tenth of its level; the low-frequency channel is louder in one of them.
    const close = (found: readonly number[], wanted: readonly number[]): void => {
      for (const [index, level] of wanted.entries())
        expect(Math.abs((found[index] as number) - level)).toBeLessThan(index === 3 ? 0.025 : 0.007)
    }
    close(left, expected([1, 0, ROOT, ROOT, ROOT, 0, ROOT, 0]))
    close(right, expected([0, 1, ROOT, ROOT, 0, ROOT, 0, ROOT]))
  })
})

describe.each([
  ['embedded', embeddedDecoder],
  ['ffmpeg', ffmpegDecoder],
] as const)('a damaged file, by the %s decoder', (_name, decoder) => {
  const listened = (file: string) => decodeMedia(decoder, file, { onBlock: () => {} })

  it.each([
    ['pcm24.wav', DURATION_S],
    ['plain.flac', DURATION_S],
    ['cbr.mp3', DURATION_S],
    ['clusters.mkv', CLUSTERS_S],
  ])('says what is missing of %s when its end was cut off', async (name, durationS) => {
    const media = await listened(damaged(name, `cut-${name}`, cut))
    const missing = media.missing[0]
    expect(media.missing).toHaveLength(1)
    expect(missing?.startS).toBeCloseTo(media.durationS, 1)
    expect(missing?.endS).toBeCloseTo(durationS, 0)
    expect((missing?.endS ?? 0) - (missing?.startS ?? 0)).toBeGreaterThan(0.5)
  })

  it('tells that an Ogg file was cut off, though it states no length', async () => {
    expect((await listened(fileOf('vorbis.ogg'))).end).toBe('whole')
    expect((await listened(damaged('vorbis.ogg', 'cut.ogg', cut))).end).toBe('broke-off')
  })

  it('says where the middle could not be decoded, and keeps what follows in its place', async () => {
    const file = damaged('long.mp4', 'hole.mp4', (bytes) => {
      const out = Buffer.from(bytes)
      return out.fill(0, Math.floor(out.length * 0.5), Math.floor(out.length * 0.7))
    })
    const media = await listened(file)
    expect(media.missing.length).toBeGreaterThan(0)
    const [first, last] = [media.missing[0], media.missing.at(-1)]
    expect(first?.startS).toBeGreaterThan(2)
    expect(last?.endS).toBeLessThan(LONG_S)
    expect(coveredS(media.missing)).toBeGreaterThan(0.5)
    expect(media.durationS).toBeCloseTo(LONG_S, 1)
  })

  it('does not cut a file at a length that was only guessed', async () => {
    // The first quarter has a high bit rate, the rest is silence: a guess from the start comes out far too short.
    expect((await listened(path.join(dir, 'guessed.mp3'))).durationS).toBeCloseTo(LONG_S, 0)
    expect((await listened(path.join(dir, 'guessed.mp3'))).missing).toEqual([])
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
    const failing: Decoder = { ...embeddedDecoder, decode: () => Promise.reject(new Error('inner')) }
    await expect(decodeMedia(failing, '/x', { onBlock: () => {} })).rejects.toMatchObject({
      name: 'MediaError',
      code: 'not-media',
    })
  })
})

describe('an Ogg file', () => {
  it('is read as at first, whatever was read in between', async () => {
    const read = () => decoded(embeddedDecoder, 'vorbis.ogg')
    const first = await read()
    damaged('vorbis.ogg', 'broken-off.ogg', cut)
    const between = [
      () => decoded(embeddedDecoder, 'broken-off.ogg'),
      // What is left in the decoder is never asked for.
      () => decodeMedia(embeddedDecoder, fileOf('vorbis.ogg'), { onBlock: () => {}, untilS: 0.5 }),
      () => Promise.all([read(), decoded(embeddedDecoder, 'broken-off.ogg')]),
    ]
    for (const other of between) {
      await other()
      const { media, mono } = await read()
      expect(media).toEqual(first.media)
      expect(areSame(mono, first.mono)).toBe(true)
    }
  })
})
