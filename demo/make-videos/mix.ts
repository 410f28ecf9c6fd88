import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { resampled } from '../../src/core/audio'
import { readWav } from '../../src/core/formats/wav'
import { DEMO_SOUNDS } from '../synthesis/catalogue'
import { soundOf } from '../synthesis/make-library'
import {
  body,
  Chance,
  drawn,
  filtered,
  mixIn,
  pinkNoise,
  RATE_HZ,
  saw,
  seconds,
  shaped,
  strike,
  tone,
  whiteNoise,
} from '../synthesis/toolkit'
import type { DemoVideo } from '../videos'

/** The sound track of a demo video: narration, music bed and effects. Left and right. */
export function soundTrack(video: DemoVideo): [Float32Array, Float32Array] {
  const left = seconds(video.durationS)
  const right = seconds(video.durationS)
  const speech = seconds(video.durationS)
  for (const [atS, sentence] of video.narration) mixIn(speech, spoken(sentence), atS, 0.5)
  for (const channel of [left, right]) mixIn(channel, speech, 0)
  if (video.bed) {
    const [leftMusic, rightMusic] = drivenBed(video.durationS)
    mixIn(left, leftMusic, 0, 0.16)
    mixIn(right, rightMusic, 0, 0.16)
  }
  for (const effect of video.effects) placeEffect(left, right, effect)
  return [limited(left), limited(right)]
}

function placeEffect(left: Float32Array, right: Float32Array, effect: DemoVideo['effects'][number]): void {
  const sound = DEMO_SOUNDS.find(({ title }) => title === effect.title)
  if (!sound) throw new Error(`no demo sound is called “${effect.title}”`)
  const [from, to] = effect.part ?? [0, Number.POSITIVE_INFINITY]
  const gain = 10 ** (effect.gainDb / 20)
  const channels = soundOf(sound).map((channel) => {
    const part = channel.slice(Math.round(from * RATE_HZ), Math.min(channel.length, Math.round(to * RATE_HZ)))
    const fade = effect.part ? 0.03 * RATE_HZ : 1
    return part.map((v, i) => v * Math.min(1, (i + 1) / fade, (part.length - i) / fade))
  })
  mixIn(left, channels[0] as Float32Array, effect.atS, gain)
  mixIn(right, channels[1] ?? (channels[0] as Float32Array), effect.atS, gain)
}

/** Speech from a free synthesiser, at the demo's rate. */
function spoken(sentence: string): Float32Array {
  const file = path.join(os.tmpdir(), `thud-speech-${process.pid}.wav`)
  execFileSync('espeak-ng', ['-v', 'en-gb', '-s', '148', '-p', '38', '-w', file, sentence])
  const { channels, sampleRateHz } = readWav(fs.readFileSync(file))
  fs.rmSync(file)
  return resampled(channels[0] as Float32Array, { fromHz: sampleRateHz, toHz: RATE_HZ })
}

/** A pulse with bass, plucks and a soft beat. */
function drivenBed(durationS: number): [Float32Array, Float32Array] {
  const beatS = 60 / 104
  const chance = new Chance(404)
  const bass = [55, 55, 65.4, 49]
  const plucks = [440, 523.3, 659.3, 587.3, 784, 659.3, 523.3, 587.3]
  const out = seconds(durationS)
  const air = seconds(durationS)
  for (let t = 0, k = 0; t < durationS; t += beatS / 2, k++) {
    const root = bass[Math.floor(k / 16) % bass.length] as number
    if (k % 2 === 0)
      mixIn(
        out,
        shaped(
          filtered(
            tone(0.4, () => root, saw),
            'low',
            400,
          ),
          strike(0.006, 0.5),
        ),
        t,
        0.8,
      )
    if (k % 4 === 0)
      mixIn(
        out,
        shaped(
          tone(0.25, (x) => 48 * (1 + 2 * Math.exp(-x / 0.02))),
          strike(0.002, 0.3),
        ),
        t,
        1,
      )
    mixIn(air, body(0.6, [[(plucks[(k * 3) % plucks.length] as number) * (root / 55), 0.5, 0.5]]), t, 0.4)
    if (k % 2 === 1) mixIn(air, shaped(filtered(whiteNoise(0.08, chance), 'high', 6000), strike(0.001, 0.05)), t, 0.25)
  }
  const pad = filtered(pinkNoise(durationS, chance), 'band', 700, 0.8)
  return [
    drawn(durationS, (_t, i) => (out[i] as number) + 0.9 * (air[i] as number) + 0.15 * (pad[i] as number)),
    drawn(
      durationS,
      (_t, i) => (out[i] as number) + 0.6 * (air[Math.max(0, i - 900)] as number) - 0.15 * (pad[i] as number),
    ),
  ]
}

function limited(samples: Float32Array): Float32Array {
  return samples.map((value) => Math.tanh(value * 1.05) * 0.92)
}
