// @module-tag long
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { addAt, bed, rms } from '../../../test/signals'
import { finishedTrack, NODE_DIR, RATE_HZ, soundSamples, temporaryDir } from '../../../test/world'
import { writeWav } from '../../core/formats/wav'
import { decodedFeatures, decoyOf, type PreparedSound } from '../../core/hearing'
import { spedSound } from '../../core/hearing/speed'
import { createPool, runTask } from '../workers/pool'
import { GrowableBuffer } from '../workers/track-memory'
import { listen } from './listen'
import type { StageResult } from './listening'
import type { ReferenceSet } from './stages'
import { restMemory } from './window-memory'

const dir = temporaryDir('listen')
const pool = createPool(NODE_DIR, 2)
const film = path.join(dir, 'film.wav')
let reference: ReferenceSet

beforeAll(async () => {
  const featurePaths = await Promise.all(['b1', 'b2', 'h3'].map(featuresOf))
  reference = { featurePaths, shortlist: [0], groups: [] }
  fs.writeFileSync(
    film,
    finishedTrack(10, [
      ['b1', 2, -8],
      ['h3', 6, -8],
    ]),
  )
})
afterAll(async () => {
  await pool.destroy()
  fs.rmSync(dir, { recursive: true })
})

async function featuresOf(id: string): Promise<string> {
  const file = path.join(dir, `${id}.wav`)
  fs.writeFileSync(file, writeWav({ sampleRateHz: RATE_HZ, channels: [soundSamples(id)] }))
  const featurePath = path.join(dir, `${id}.features`)
  await runTask(pool, 'analyseSound', { path: file, featurePath })
  return featurePath
}

function completedStages() {
  const kept = new Map<string, StageResult>()
  return {
    kept,
    load: async (key: string) => kept.get(key) ?? null,
    save: async (key: string, result: StageResult) => {
      kept.set(key, result)
    },
  }
}

describe('listen', () => {
  it('searches the shortlist first, and says what is heard before the rest is done', async () => {
    const heardSoFar: number[][] = []
    const fractions: number[] = []
    const stages = completedStages()
    const {
      detections,
      decoyCount,
      sensitivity,
      compact,
      stages: facts,
    } = await listen(pool, film, reference, {
      stages,
      onProgress: (fraction) => fractions.push(fraction),
      onHeard: async (heard) => {
        heardSoFar.push(heard.map(({ soundIndex }) => soundIndex))
      },
    })
    expect(heardSoFar).toEqual([[0]])
    expect(detections.map(({ soundIndex }) => soundIndex)).toEqual([0, 2])
    expect([...stages.kept.keys()]).toEqual(['shortlist 0', 'catalogue 0', 'again 0'])
    expect(decoyCount).toBe(3)
    // Only what is looked up at other speeds has decoys there; all that nobody laid in is silent.
    expect([...stages.kept.values()].map((result) => result.decoyScoresAtSpeeds)).toEqual([null, [], null])
    expect(facts.map(({ name, soundCount, otherSpeeds }) => [name, soundCount, otherSpeeds])).toEqual([
      ['shortlist', 1, true],
      ['catalogue', 2, false],
      ['looked-up', 2, true],
      ['again', 1, false],
    ])
    expect(sensitivity.map(({ index }) => index)).toEqual([1])
    expect(compact).toBeNull()
    expect(fractions.every((fraction) => fraction >= 0 && fraction <= 1)).toBe(true)
  })

  it('goes on from the stages that an earlier try finished', async () => {
    const stages = completedStages()
    const nothing = {
      finds: [],
      decoyScores: [],
      decoyScoreMin: 7.2,
      decoyMinutes: 0,
      decoyScoresAtSpeeds: null,
      unreadable: [],
    }
    stages.kept.set('shortlist 0', nothing)
    stages.kept.set('again 0', nothing)
    const { detections } = await listen(pool, film, reference, { stages, keep: true })
    // What was kept is believed: the shortlist is not searched again.
    expect(detections.map(({ soundIndex }) => soundIndex)).not.toContain(0)
  })

  it('can be stopped', async () => {
    const controller = new AbortController()
    const running = listen(pool, film, reference, {
      signal: controller.signal,
      onProgress: (fraction) => {
        if (fraction > 0.2) controller.abort()
      },
    })
    await expect(running).rejects.toMatchObject({ name: 'AbortError' })
  })

  it('names sounds whose features are gone, and hears the others', async () => {
    const [first, , third] = reference.featurePaths as [string, string, string]
    const partly = { ...reference, featurePaths: [first, path.join(dir, 'gone.features'), third] }
    const { detections, unreadable } = await listen(pool, film, partly)
    expect(detections.map(({ soundIndex }) => soundIndex)).toEqual([0, 2])
    expect(unreadable).toEqual([{ index: 1, reason: 'Its stored features could not be read.' }])
  })

  it('hears a sound of the catalogue at another speed, also when what it is looked up by is gone or damaged', async () => {
    const faster = path.join(dir, 'faster.wav')
    const played = spedSound(soundSamples('b2'), 1.12)
    const samples = bed({ length: 10 * RATE_HZ, rateHz: RATE_HZ, seed: 5 })
    const at = 4 * RATE_HZ
    addAt(samples, played, at, rms(samples, at, at + played.length) / rms(played))
    fs.writeFileSync(faster, writeWav({ sampleRateHz: RATE_HZ, channels: [samples] }))
    const templates = reference.featurePaths.map((file) => file.replace('.features', '.templates'))
    const [first, second] = templates as [string, string]
    expect(templates.every((file) => fs.existsSync(file))).toBe(true)
    const whole = fs.readFileSync(second)
    const heard = async () => (await listen(pool, faster, { ...reference, shortlist: [] })).detections
    const found = await heard()
    expect(found).toMatchObject([{ soundIndex: 1, treatment: 'speed' }])
    expect(found[0]?.speed).toBeCloseTo(1.12, 2)
    fs.writeFileSync(second, whole.subarray(0, 900))
    fs.rmSync(first)
    expect(await heard()).toEqual(found)
    // They were made again, and are the same.
    expect(fs.readFileSync(second).equals(whole)).toBe(true)
    expect(fs.existsSync(first)).toBe(true)
  })

  it('hears decoys at other speeds where they are, and believes less what is found there', async () => {
    const more = { ...reference, shortlist: [], featurePaths: [await featuresOf('h5'), ...reference.featurePaths] }
    const original = decodedFeatures(fs.readFileSync(more.featurePaths[0] as string))
    const decoy = decoyOf(original as PreparedSound).samples
    // At the rate of files: three times as many samples, which is a speed of a third.
    const played = spedSound(decoy, 1.1 / 3)
    const samples = bed({ length: 10 * RATE_HZ, rateHz: RATE_HZ, seed: 5 })
    const at = 4 * RATE_HZ
    addAt(samples, played, at, (2 * rms(samples, at, at + played.length)) / rms(played))
    const file = path.join(dir, 'decoy.wav')
    fs.writeFileSync(file, writeWav({ sampleRateHz: RATE_HZ, channels: [samples] }))
    const stored = more.featurePaths.map((one) => one.replace('.features', '.decoy'))
    const listened = async () => {
      const stages = completedStages()
      const { decoyFinds, detections } = await listen(pool, file, more, { stages })
      return { decoyFinds, detections, scores: stages.kept.get('catalogue 0')?.decoyScoresAtSpeeds ?? [] }
    }
    const first = await listened()
    expect(Math.max(...first.scores)).toBeGreaterThan(9)
    expect(first.decoyFinds).toBeGreaterThan(0)
    expect(first.detections).toEqual([])
    // What decoys are looked up by is stored, and made again where it is gone or damaged.
    expect(stored.every((one) => fs.existsSync(one))).toBe(true)
    const whole = fs.readFileSync(stored[1] as string)
    fs.writeFileSync(stored[1] as string, 'damaged')
    fs.rmSync(stored[0] as string)
    expect(await listened()).toEqual(first)
    expect(fs.readFileSync(stored[1] as string).equals(whole)).toBe(true)
  })

  it('hears balance in a stereo track before its rest is laid over the side, and breaks it down as one without', async () => {
    const samples = bed({ length: 10 * RATE_HZ, rateHz: RATE_HZ, seed: 5 })
    const right = samples.slice()
    const sound = soundSamples('b1')
    const at = 4 * RATE_HZ
    const gain = (2 * rms(samples, at, at + sound.length)) / rms(sound)
    addAt(samples, sound, at, gain)
    addAt(right, sound, at, 0.2 * gain)
    const heardIn = async (name: string, channels: Float32Array[]) => {
      const file = path.join(dir, name)
      fs.writeFileSync(file, writeWav({ sampleRateHz: RATE_HZ, channels }))
      const { detections, breakdown } = await listen(pool, file, reference)
      expect(detections.map(({ soundIndex }) => soundIndex)).toEqual([0])
      return { balance: detections[0]?.balance ?? 0, breakdown }
    }
    const stereo = await heardIn('stereo.wav', [samples, right])
    expect(stereo.balance).toBeLessThan(-0.5)
    const mono = await heardIn('mono.wav', [samples.map((value, n) => (value + (right[n] as number)) / 2)])
    expect(mono.balance).toBe(0)
    expect(stereo.breakdown.segments).toEqual(mono.breakdown.segments)
    expect(stereo.breakdown.unexplained).toEqual(mono.breakdown.unexplained)
    expect(stereo.breakdown.secondsOf.heard).toBeCloseTo(mono.breakdown.secondsOf.heard, 1)
  })
})

describe('memory for the rest of a track', () => {
  const track = (sideBytes: number | null) => ({
    mid: new SharedArrayBuffer(2000),
    side: sideBytes === null ? null : new SharedArrayBuffer(sideBytes),
    frames: 1000,
  })
  const none = () => ({ windows: [], patches: [], rest: null })

  it('is that of the side where it is long enough or can be, never that of the middle, and made once', () => {
    const stereo = track(2400)
    expect(restMemory(none(), stereo)).toBe(stereo.side)
    const side = new GrowableBuffer(1000, { maxByteLength: 2000 })
    expect(restMemory(none(), { ...stereo, side })).toBe(side)
    expect(side.byteLength).toBe(2000)
    const full = new GrowableBuffer(1000, { maxByteLength: 1998 })
    expect(restMemory(none(), { ...stereo, side: full }).byteLength).toBe(2000)
    expect(full.byteLength).toBe(1000)
    for (const one of [track(null), track(1998)]) {
      const memory = none()
      const made = restMemory(memory, one)
      expect(made.byteLength).toBe(2000)
      expect([one.mid, one.side]).not.toContain(made)
      expect(restMemory(memory, one)).toBe(made)
    }
  })
})
