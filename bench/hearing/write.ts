import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { RATE_HZ } from '../../demo/synthesis/toolkit'
import { writeWav } from '../../src/core/formats/wav'
import type { BenchSound } from './material'
import { interleaved, type Laid, type Mix } from './mixes'

/** How a mix is encoded before it is listened to. */
export type Codec = 'aac' | 'opus' | 'wav'

const CODEC_ARGS: Readonly<
  Record<Exclude<Codec, 'wav'>, { readonly args: readonly string[]; readonly ending: string }>
> = {
  aac: { args: ['-c:a', 'aac', '-b:a', '128k'], ending: 'm4a' },
  opus: { args: ['-c:a', 'libopus', '-b:a', '96k'], ending: 'webm' },
}

export function encodersAreThere(): boolean {
  return spawnSync('ffmpeg', ['-version'], { stdio: 'ignore' }).status === 0
}

/** Writes a mix as it would be published. @returns Its path, and the truth about it. */
export function writeMix(
  folder: string,
  name: string,
  mix: Mix,
  codec: Codec,
): { readonly file: string; readonly laid: readonly Laid[] } {
  const { samples, laid } = interleaved(mix)
  const left = new Float32Array(samples.length / 2)
  const right = new Float32Array(samples.length / 2)
  for (let i = 0; i < left.length; i++) {
    left[i] = samples[2 * i] as number
    right[i] = samples[2 * i + 1] as number
  }
  const wav = path.join(folder, `${name}.wav`)
  fs.writeFileSync(wav, writeWav({ sampleRateHz: RATE_HZ, channels: [left, right] }))
  if (codec === 'wav') return { file: wav, laid }
  const { args, ending } = CODEC_ARGS[codec]
  const file = path.join(folder, `${name}.${ending}`)
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', wav, ...args, file], { encoding: 'utf8' })
  if (status !== 0) throw new Error(`${name} could not be encoded: ${stderr}`)
  fs.rmSync(wav)
  return { file, laid }
}

/** Writes sounds as files that can be listed. */
export function writeSounds(folder: string, sounds: readonly BenchSound[]): string[] {
  fs.mkdirSync(folder, { recursive: true })
  return sounds.map(({ name, left, right }) => {
    const file = path.join(folder, `${name.replace(/\.\w+$/, '')}.wav`)
    const channels = left === right || left.every((value, i) => value === right[i]) ? [left] : [left, right]
    fs.writeFileSync(file, writeWav({ sampleRateHz: RATE_HZ, channels }, { bits: 16 }))
    return file
  })
}
