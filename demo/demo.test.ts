import fs from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { ROOT } from '../test/world'
import { DEMO_LIBRARIES, DEMO_SOUNDS, type DemoSound } from './synthesis/catalogue'
import { encoded, previewOf } from './synthesis/encode'
import { catalogueRow, originalOf, soundOf } from './synthesis/make-library'
import { Chance, filtered, RATE_HZ, strike, tone, whiteNoise } from './synthesis/toolkit'
import { DEMO_VIDEOS } from './videos'

const SOUNDS = path.join(ROOT, 'demo', 'sounds')

function shippedRows(library: string): unknown[] {
  return JSON.parse(fs.readFileSync(path.join(SOUNDS, library, 'catalogue.json'), 'utf8')) as unknown[]
}

/** An Ogg file without the number of its stream, which is by chance, and the check sums that it is in. Pages are laid out after RFC 3533. */
function withoutSerials(ogg: Uint8Array): Buffer {
  const bytes = Buffer.from(ogg)
  for (let at = 0; at < bytes.length; ) {
    expect(bytes.toString('latin1', at, at + 4)).toBe('OggS')
    bytes.fill(0, at + 14, at + 18).fill(0, at + 22, at + 26)
    const segments = bytes.readUInt8(at + 26)
    const sizes = bytes.subarray(at + 27, at + 27 + segments)
    at += 27 + segments + sizes.reduce((sum, size) => sum + size, 0)
  }
  return bytes
}

function withoutSerialsOf(format: 'ogg' | 'mp3', bytes: Uint8Array): Buffer {
  return format === 'ogg' ? withoutSerials(bytes) : Buffer.from(bytes)
}

describe('the demo sounds', () => {
  it('are at least four hundred, in many categories, formats and licences, each under a name of its own', () => {
    expect(DEMO_SOUNDS.length).toBeGreaterThanOrEqual(400)
    expect(new Set(DEMO_SOUNDS.map(({ title }) => title)).size).toBe(DEMO_SOUNDS.length)
    expect(new Set(DEMO_SOUNDS.map(({ library, id }) => `${library} ${id}`)).size).toBe(DEMO_SOUNDS.length)
    expect(new Set(DEMO_SOUNDS.map(({ category }) => category)).size).toBeGreaterThanOrEqual(12)
    expect(new Set(DEMO_SOUNDS.map(({ format }) => format))).toEqual(new Set(['wav', 'flac', 'mp3', 'ogg']))
    expect(new Set(DEMO_SOUNDS.map(({ licence }) => licence)).size).toBeGreaterThanOrEqual(6)
  })

  it('are as careless as those of real libraries: long names, wrong lengths, nothing said', () => {
    expect(DEMO_SOUNDS.filter(({ title }) => title.length === 120).length).toBeGreaterThanOrEqual(2)
    for (const lacks of [
      (sound: DemoSound) => sound.listedDurationS !== undefined,
      (sound: DemoSound) => sound.maker === '',
      (sound: DemoSound) => sound.tags === '',
      (sound: DemoSound) => sound.category === '',
    ])
      expect(DEMO_SOUNDS.filter(lacks).length).toBeGreaterThanOrEqual(5)
  })

  it('hold music with tempo, mood and voices told', () => {
    const beds = DEMO_SOUNDS.filter(({ kind }) => kind === 'music')
    expect(beds.length).toBeGreaterThanOrEqual(8)
    for (const { tempoBpm, mood } of beds) expect([tempoBpm, mood]).not.toContain(undefined)
    expect(new Set(beds.map(({ vocals }) => vocals))).toEqual(new Set([true, false]))
  })

  it.each(['ogg', 'mp3'] as const)('are encoded as %s the same, whatever was encoded before', async (format) => {
    const knock = [whiteNoise(0.25, new Chance(1))]
    const bytesOf = async () => withoutSerialsOf(format, await encoded(knock, format))
    const first = await bytesOf()
    const wide = [0.2, 0.5].map((level) => new Float32Array(RATE_HZ).fill(level))
    const [other, again] = await Promise.all([encoded(wide, format), bytesOf()])
    expect(again).toEqual(first)
    expect(withoutSerialsOf(format, other)).not.toEqual(first)
  })

  it('are offered by two libraries in some cases, as the same recording', { tags: 'long' }, () => {
    const twins = DEMO_SOUNDS.filter(({ sameAs }) => sameAs !== undefined)
    expect(twins.length).toBeGreaterThanOrEqual(4)
    for (const twin of twins) {
      const first = DEMO_SOUNDS.find(({ title }) => title === twin.sameAs)
      expect(first?.library).not.toBe(twin.library)
      expect(soundOf(twin)[0]?.slice(0, 2000)).toEqual(soundOf(first as DemoSound)[0]?.slice(0, 2000))
    }
  })

  // One of each recipe: to make all of them takes a minute.
  const oneOfEach = [...new Map(DEMO_SOUNDS.map((sound) => [sound.recipe, sound])).values()]
  it.each(oneOfEach.map((sound) => [sound.title, sound] as const))(
    '%s is whole, audible, unclipped, the same every time, and the one that is shipped',
    { tags: 'long' },
    async (_title, sound) => {
      const channels = soundOf(sound)
      const [first] = channels as [Float32Array]
      expect(channels.length).toBeLessThanOrEqual(2)
      expect(first.length / RATE_HZ).toBeGreaterThanOrEqual(0.2)
      expect(first.length / RATE_HZ).toBeLessThanOrEqual(30.1)
      let loudest = 0
      for (const channel of channels)
        for (const value of channel) {
          if (!Number.isFinite(value)) throw new Error('a sample is no number')
          loudest = Math.max(loudest, Math.abs(value))
        }
      // A take is as loud as it is in the whole, and its ends are those that join.
      expect(loudest).toBeGreaterThan(sound.of ? 0.1 : 0.5)
      expect(loudest).toBeLessThanOrEqual(0.8001)
      // Neither start nor end of a sound is a step.
      expect(Math.abs(first[0] as number)).toBeLessThan(sound.of ? 1 : 0.1)
      expect(Math.abs(first[first.length - 1] as number)).toBeLessThan(sound.of ? 1 : 0.05)
      // What is shipped was made at another time, in another process.
      const shipped = fs.readFileSync(path.join(SOUNDS, sound.library, `${sound.id}.preview.ogg`))
      expect(withoutSerials(shipped).equals(withoutSerials(await previewOf(channels)))).toBe(true)
      expect(shippedRows(sound.library)).toContainEqual(catalogueRow(sound, first.length))
    },
  )

  it('in stems add up to the whole, and in parts join to it', { tags: 'long' }, () => {
    const bed = DEMO_SOUNDS.find(({ title }) => title === 'Bed, the long watch') as DemoSound
    const takes = (is: string): Float32Array[] =>
      DEMO_SOUNDS.filter(({ of }) => of?.id === bed.id && of.is === is).map((one) => soundOf(one)[0] as Float32Array)
    const [whole] = soundOf(bed) as [Float32Array]
    const stems = takes('stem')
    const joined = takes('piece').flatMap((part) => [...part])
    expect([stems.length, joined.length]).toEqual([3, whole.length])
    // The whole is faded over a few milliseconds at its ends.
    for (let n = 300; n < whole.length - 300; n++) {
      const sum = stems.reduce((total, stem) => total + (stem[n] as number), 0)
      if (Math.abs(sum - (whole[n] as number)) > 1e-4) throw new Error(`the stems do not add up at ${n}`)
      if (Math.abs((joined[n] as number) - (whole[n] as number)) > 1e-4)
        throw new Error(`the parts do not join at ${n}`)
    }
  })

  it('are shipped whole: a preview and a row of the catalogue for each, and nothing else', () => {
    for (const library of DEMO_LIBRARIES) {
      const sounds = DEMO_SOUNDS.filter((one) => one.library === library)
      const names = [...sounds.map(({ id }) => `${id}.preview.ogg`), 'catalogue.json']
      expect(fs.readdirSync(path.join(SOUNDS, library)).sort()).toEqual(names.sort())
      const rows = shippedRows(library) as { durationS: number }[]
      expect(rows).toEqual(sounds.map((sound, at) => catalogueRow(sound, (rows[at]?.durationS ?? 0) * RATE_HZ)))
    }
  })

  it('are handed out as their library offers them; what it has not is not made', { tags: 'long' }, async () => {
    const sound = DEMO_SOUNDS.find(({ format }) => format === 'wav') as DemoSound
    const bytes = await originalOf(sound.library, sound.id)
    expect(bytes).toEqual(await encoded(soundOf(sound), 'wav'))
    await expect(originalOf(sound.library, '../catalogue')).rejects.toThrow('has no sound')
  })

  it('differ with their seed', () => {
    const [a, b] = DEMO_SOUNDS.filter(({ title }) => title.startsWith('Ice crack')).map((sound) => soundOf(sound)[0])
    expect(a?.slice(0, 500)).not.toEqual(b?.slice(0, 500))
  })

  it.each(['wav', 'flac', 'mp3', 'ogg'] as const)('are encoded as %s', async (format) => {
    const channels = [tone(0.3, () => 440)]
    const bytes = await encoded(channels, format)
    const starts = { wav: 'RIFF', flac: 'fLaC', ogg: 'OggS', mp3: '' }
    expect(Buffer.from(bytes.subarray(0, starts[format].length)).toString('latin1')).toBe(starts[format])
    expect(bytes.length).toBeGreaterThan(500)
    if (format === 'mp3')
      expect((bytes[0] === 0xff && ((bytes[1] as number) & 0xe0) === 0xe0) || bytes[0] === 0x49).toBe(true)
    expect((await previewOf(channels)).length).toBeGreaterThan(500)
  })
})

describe('the toolkit', () => {
  it('filters: a low-pass keeps lows and takes highs', () => {
    const level = (samples: Float32Array): number =>
      Math.sqrt(samples.reduce((sum, value) => sum + value * value, 0) / samples.length)
    const low = tone(0.5, () => 100)
    const high = tone(0.5, () => 8000)
    expect(level(filtered(low, 'low', 1000)) / level(low)).toBeGreaterThan(0.9)
    expect(level(filtered(high, 'low', 1000)) / level(high)).toBeLessThan(0.05)
    expect(level(filtered(high, 'high', 1000)) / level(high)).toBeGreaterThan(0.9)
  })

  it('strikes: up in the attack, then 60 dB down in the decay', () => {
    const envelope = strike(0.01, 0.5)
    expect(envelope(0)).toBe(0)
    expect(envelope(0.01)).toBeCloseTo(1, 6)
    expect(envelope(0.51)).toBeCloseTo(0.001, 6)
  })

  it('draws the same chance from the same seed, evenly', () => {
    const draw = (seed: number): number[] => [...whiteNoise(0.1, new Chance(seed))]
    expect(draw(3)).toEqual(draw(3))
    expect(draw(3)).not.toEqual(draw(4))
    expect(Math.abs(draw(5).reduce((sum, value) => sum + value, 0) / 4800)).toBeLessThan(0.05)
  })
})

describe('the demo videos', () => {
  it.each(DEMO_VIDEOS.map((video) => [video.file, video] as const))(
    '%s is there, under 4 MB, and made of demo sounds',
    (file, video) => {
      const { size } = fs.statSync(path.join(ROOT, 'demo', 'files', file))
      expect(size).toBeGreaterThan(500_000)
      expect(size).toBeLessThan(4_000_000)
      expect(video.durationS).toBeGreaterThanOrEqual(30)
      expect(video.durationS).toBeLessThanOrEqual(60)
      const titles = new Set(DEMO_SOUNDS.map(({ title }) => title))
      for (const { title, atS } of video.effects) {
        expect(titles).toContain(title)
        expect(atS).toBeLessThan(video.durationS)
      }
      for (const title of video.acquired) expect(titles).toContain(title)
    },
  )
})
