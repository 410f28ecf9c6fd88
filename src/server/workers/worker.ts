import fs from 'node:fs'
import { hitPointS, soundPrint } from '../../core/audio'
import {
  type Detection,
  finalDetections,
  HEARING_RATE_HZ,
  type PreparedSound,
  preparedSound,
  preparedTrack,
  type RawDetection,
  Searcher,
} from '../../core/hearing'
import { chosenDecoder, decodeMedia, soundDecoder } from '../media/choose'
import type {
  AnalyseTask,
  DecodedTrack,
  DecodeTask,
  PrepareTask,
  SearchTask,
  SettleTask,
  SoundAnalysis,
  TaskResult,
} from './tasks'
import { mixedDown, TrackCollector } from './track-collector'

/** Longest sound of a library that is analysed, s. */
const MAX_SOUND_S = 600

/** Decodes a finished video or sound file into what a check needs. */
export function decodeTrack({ path, port }: DecodeTask): Promise<TaskResult<DecodedTrack>> {
  return answered(async () => {
    const collector = new TrackCollector()
    const decoder = chosenDecoder()
    const media = await decodeMedia(decoder, path, {
      onBlock: (channels, rate) => collector.push(channels, rate),
      onProgress: throttled((fraction) => port?.postMessage(fraction)),
    })
    const { integratedLufs, truePeakDbtp, momentaryLufs } = collector.loudness()
    port?.close()
    return {
      samples: collector.samples(),
      durationS: media.durationS,
      hasPicture: media.hasPicture,
      integratedLufs,
      truePeakDbtp,
      momentaryLufs,
      waveform: collector.waveform(),
      decoder: decoder.name,
    }
  })
}

/** Whitens a track and transforms its blocks, into shared memory. */
export function prepareTrack({ samples, spectraRe, spectraIm }: PrepareTask): Promise<TaskResult<null>> {
  return answered(async () => {
    preparedTrack(new Float32Array(samples), {
      spectraRe: new Float32Array(spectraRe),
      spectraIm: new Float32Array(spectraIm),
    })
    return null
  })
}

/** Looks for some sounds in a prepared track. */
export function searchSounds(task: SearchTask): Promise<TaskResult<RawDetection[]>> {
  return answered(async () => {
    const track = {
      samples: new Float32Array(task.samples),
      spectraRe: new Float32Array(task.spectraRe),
      spectraIm: new Float32Array(task.spectraIm),
    }
    const found = new Searcher().search(
      track,
      task.sounds.map(({ path }) => loadedSound(path)),
    )
    return found.map((find) => ({ ...find, soundIndex: task.sounds[find.soundIndex]?.index ?? -1 }))
  })
}

/** Settles the finds of all searches of one track. */
export function settleFinds({ raw, paths, durationS }: SettleTask): Promise<TaskResult<Detection[]>> {
  return answered(async () => {
    const involved = new Set(raw.map(({ soundIndex }) => soundIndex))
    const sounds = paths.map((path, index) => (involved.has(index) ? loadedSound(path) : null))
    return finalDetections(raw, sounds, durationS)
  })
}

/** Decodes a sound of a library and writes what hearing needs of it. */
export function analyseSound({ path, featurePath }: AnalyseTask): Promise<TaskResult<SoundAnalysis>> {
  return answered(async () => {
    const collector = new TrackCollector()
    const parts: Float32Array[] = []
    let rateHz = HEARING_RATE_HZ
    let frames = 0
    await decodeMedia(soundDecoder, path, {
      onBlock: (channels, rate) => {
        rateHz = rate
        frames += channels[0]?.length ?? 0
        if (frames / rate > MAX_SOUND_S) throw new Error(`longer than ${MAX_SOUND_S} s`)
        collector.push(channels, rate)
        parts.push(mixedDown(channels).slice())
      },
    })
    const mono = joined(parts)
    const features = new Float32Array(collector.samples())
    writeAtomically(featurePath, Buffer.from(features.buffer as SharedArrayBuffer))
    const print = soundPrint(mono, rateHz)
    return {
      durationS: mono.length / rateHz,
      loudnessLufs: collector.loudness().integratedLufs ?? shortLoudness(mono, rateHz),
      hitS: hitPointS(mono, rateHz),
      printColumnS: print.columnS,
      printLevels: print.levels,
    }
  })
}

/** A clip under one 400 ms block has no integrated loudness: it is measured with silence around it. */
function shortLoudness(mono: Float32Array, rateHz: number): number | null {
  if (mono.length / rateHz >= 0.4 || mono.length === 0) return null
  const padded = new Float32Array(Math.ceil(0.5 * rateHz))
  padded.set(mono)
  const collector = new TrackCollector()
  collector.push([padded], rateHz)
  return collector.loudness().integratedLufs
}

function loadedSound(path: string): PreparedSound | null {
  const bytes = fs.readFileSync(path)
  const samples = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)))
  return preparedSound(samples)
}

function writeAtomically(path: string, bytes: Uint8Array): void {
  const temporary = `${path}.${process.pid}.${Math.round(performance.now() * 1000)}.part`
  fs.writeFileSync(temporary, bytes)
  fs.renameSync(temporary, path)
}

function joined(parts: readonly Float32Array[]): Float32Array {
  const all = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    all.set(part, at)
    at += part.length
  }
  return all
}

function throttled(report: (fraction: number) => void): (fraction: number) => void {
  let last = -1
  return (fraction) => {
    if (fraction - last < 0.01) return
    last = fraction
    report(fraction)
  }
}

async function answered<T>(work: () => Promise<T>): Promise<TaskResult<T>> {
  try {
    return { ok: true, value: await work() }
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : 'failed'
    return { ok: false, code, message: error instanceof Error ? error.message : String(error) }
  }
}
