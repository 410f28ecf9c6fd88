// @module-tag long
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { addAt, bed, rms } from '../../../test/signals'
import { NODE_DIR, RATE_HZ, soundSamples, temporaryDir } from '../../../test/world'
import { writeWav } from '../../core/formats/wav'
import type { Detection } from '../../core/hearing'
import { spedSound } from '../../core/hearing/speed'
import { createPool, runTask } from '../workers/pool'
import { listen } from './listen'
import { expandStored, listenToStored } from './listen-to-stored'
import type { SearchedTrack } from './stages'

const dir = temporaryDir('stored')
const pool = createPool(NODE_DIR, 2)
/** Of which there are papers; at another speed; as it is; under the loud one; not there. */
const [LOUD, FASTER, PLAIN, UNDER, AWAY] = [0, 1, 2, 3, 4]
const IDS = ['b1', 'b2', 'h3', 'h5', 'b3']
const PATHS = IDS.map((id) => path.join(dir, `${id}.features`))
let compact: Uint8Array
let stored: SearchedTrack
let checked: readonly Detection[]

beforeAll(async () => {
  for (const [index, id] of IDS.entries()) {
    const file = path.join(dir, `${id}.wav`)
    fs.writeFileSync(file, writeWav({ sampleRateHz: RATE_HZ, channels: [soundSamples(id)] }))
    await runTask(pool, 'analyseSound', { path: file, featurePath: PATHS[index] })
  }
  const samples = bed({ length: 10 * RATE_HZ, rateHz: RATE_HZ, seed: 5 })
  const lay = (sound: Float32Array, atS: number, gain: number): void => {
    const at = Math.round(atS * RATE_HZ)
    addAt(samples, sound, at, (gain * rms(samples, at, at + sound.length)) / rms(sound))
  }
  lay(spedSound(soundSamples('b2'), 1.12), 4, 1)
  lay(soundSamples('h3'), 8, 0.6)
  lay(soundSamples('h5'), 1.1, 0.05)
  lay(soundSamples('b1'), 1, 3)
  const film = path.join(dir, 'film.wav')
  fs.writeFileSync(film, writeWav({ sampleRateHz: RATE_HZ, channels: [samples, samples] }))
  const reference = { featurePaths: PATHS, shortlist: [LOUD, UNDER], groups: [] }
  const result = await listen(pool, film, reference, { keep: true })
  compact = result.compact as Uint8Array
  checked = result.detections
  stored = await expandStored(pool, compact)
})
afterAll(async () => {
  await pool.destroy()
  fs.rmSync(dir, { recursive: true })
})

const placesOf = (detections: readonly Detection[]) =>
  detections.map(({ soundIndex, startS, speed }) => [
    soundIndex,
    Math.round(startS * 20) / 20,
    Math.round(speed * 50) / 50,
  ])

describe('a track that was stored', () => {
  it('is searched for many sounds at once, and all is heard that a check of the file hears', async () => {
    expect(placesOf(checked).map(([index]) => index)).toEqual([LOUD, UNDER, FASTER, PLAIN])
    const reference = { featurePaths: PATHS, shortlist: [LOUD, UNDER], groups: [] }
    const fractions: number[] = []
    const found = await listenToStored(pool, stored, reference, { onProgress: (fraction) => fractions.push(fraction) })
    expect(placesOf(found.detections)).toEqual(placesOf(checked))
    expect(found.sensitivity.map(({ index }) => index)).toEqual([AWAY])
    expect(found.unreadable).toEqual([])
    expect(found.stages.map(({ name, soundCount }) => [name, soundCount])).toEqual([
      ['shortlist', 2],
      ['catalogue', 3],
      ['looked-up', 3],
      ['again', 2],
    ])
    expect(Math.max(...fractions)).toBeGreaterThan(0.5)
    expect(fractions.every((fraction) => fraction >= 0 && fraction <= 1)).toBe(true)
  })

  it('gives a sound with papers that lies under one which an earlier search heard', async () => {
    const under = { featurePaths: [PATHS[UNDER] as string], shortlist: [0], groups: [] }
    const heard = checked.filter(({ soundIndex }) => soundIndex === LOUD)
    expect(heard).toHaveLength(1)
    const alone = await listenToStored(pool, stored, under)
    const after = await listenToStored(pool, stored, under, {
      heardBefore: { detections: heard.map((find) => ({ ...find, soundIndex: 0 })), paths: [PATHS[LOUD] as string] },
    })
    expect(alone.detections).toEqual([])
    expect(placesOf(after.detections)).toEqual(
      placesOf(checked)
        .filter(([index]) => index === UNDER)
        .map(([, ...place]) => [0, ...place]),
    )
  })

  it('asks more of a sound that stands among many which were searched before', async () => {
    const plain = { featurePaths: [PATHS[PLAIN] as string], shortlist: [], groups: [] }
    const among = async (rest: number) => {
      const { detections, stages, sensitivity } = await listenToStored(pool, stored, {
        ...plain,
        before: { shortlist: 0, rest },
      })
      return { confidence: detections[0]?.confidence ?? 0, stages, sensitivity }
    }
    const few = await among(0)
    const many = await among(1e9)
    expect(few.confidence).toBeGreaterThan(0.9)
    expect(many.confidence).toBeLessThan(few.confidence)
    expect(many.stages[0]?.threshold).toBeGreaterThan((few.stages[0]?.threshold ?? 0) + 5)
    // What is counted is what was searched now.
    expect(many.stages.map(({ soundCount }) => soundCount)).toEqual(few.stages.map(({ soundCount }) => soundCount))
  })

  it('names a sound whose features are gone, and is refused where it is damaged', async () => {
    const gone = path.join(dir, 'gone.features')
    const { detections, unreadable } = await listenToStored(pool, stored, {
      featurePaths: [gone, PATHS[PLAIN] as string],
      shortlist: [],
      groups: [],
    })
    expect(detections.map(({ soundIndex }) => soundIndex)).toEqual([1])
    expect(unreadable).toEqual([{ index: 0, reason: 'Its stored features could not be read.' }])
    await expect(expandStored(pool, compact.subarray(0, -3))).rejects.toMatchObject({ code: 'compact-damaged' })
  })
})
