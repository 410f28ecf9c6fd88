import fs from 'node:fs'
import { canLoop, hitPointS, soundPrint } from '../../core/audio'
import { writeWav } from '../../core/formats/wav'
import {
  type Account,
  accountOf,
  bandLevels,
  bestKernel,
  CellTransform,
  compactTrack,
  type Detection,
  decodedFeatures,
  decodedMarks,
  decoyOf,
  encodedFeatures,
  FeaturesError,
  finalDetections,
  HEARING_RATE_HZ,
  hearableFromDb,
  type PreparedSound,
  type PreparedWindow,
  preparedSound,
  preparedWindow,
  type RawDetection,
  recordingGroups,
  Searcher,
  searchPlan,
  spectraLength,
  subtracted,
  Track,
  TreatedSearcher,
  whitenedLength,
} from '../../core/hearing'
import { likenessOf } from '../../core/likeness'
import { chosenDecoder, decodeMedia, soundDecoder } from '../media/choose'
import { concatFloat32 } from './concat-float32'
import type {
  AccountTask,
  AnalyseTask,
  CompactTask,
  CutTask,
  DecodedTrack,
  DecodeTask,
  DescribeTask,
  GroupTask,
  PrepareTask,
  SearchedSound,
  SearchResult,
  SearchTask,
  Sensitivity,
  SensitivityTask,
  SettleTask,
  SharedTrack,
  SharedWindow,
  SoundAnalysis,
  SoundDescription,
  SubtractTask,
  TagTask,
  TaskResult,
  VoiceTask,
} from './tasks'
import { mixedDown, TrackCollector } from './track-collector'
import { voiceProbabilities } from './voice'

/** Longest sound of a library that is analysed, s. */
const MAX_SOUND_S = 600

/** Decodes a finished video or sound file into what a check needs. */
export function decodeTrack({ path, memory, port }: DecodeTask): Promise<TaskResult<DecodedTrack>> {
  return answered(async () => {
    const collector = new TrackCollector(memory)
    const decoder = chosenDecoder()
    const media = await decodeMedia(decoder, path, {
      onBlock: (channels, rate) => collector.push(channels, rate),
      onProgress: throttled((fraction) => port?.postMessage(fraction)),
    })
    const { integratedLufs, truePeakDbtp, momentaryLufs, shortTermMaxLufs, rangeLu } = collector.loudness()
    port?.close()
    return {
      shared: collector.track(),
      durationS: media.durationS,
      hasPicture: media.hasPicture,
      integratedLufs,
      truePeakDbtp,
      momentaryLufs,
      shortTermMaxLufs,
      loudnessRangeLu: rangeLu,
      waveform: collector.waveform(),
      decoder: decoder.name,
    }
  })
}

/** Made at the first task that needs it: its kernel owns large buffers. */
let searcher: Searcher | null = null
let treatedSearcher: TreatedSearcher | null = null

/** Whitens a stretch of a track and transforms its blocks, into shared memory. */
export function prepareWindow({ track, window }: PrepareTask): Promise<TaskResult<null>> {
  return answered(async () => {
    preparedWindow(trackFrom(track), window, searcher?.correlator.kernel ?? bestKernel(), windowFrom(window))
    return null
  })
}

/** Looks for some sounds in some windows of a track, and for some of them backwards. */
export function searchSounds(task: SearchTask): Promise<TaskResult<SearchResult>> {
  return answered(async () => {
    searcher ??= new Searcher()
    const track = trackFrom(task.track)
    const windows = task.windows.map(windowFrom)
    const sounds = task.sounds.map(loadedOrReason)
    const found = bothSearches(
      searcher,
      track,
      windows,
      sounds.map(({ sound }) => sound),
      task,
    )
    const decoys = task.decoys.map(loadedOrReason).map(({ sound }) => sound && decoyOf(sound))
    return {
      finds: found.map((find) => ({ ...find, soundIndex: task.sounds[find.soundIndex]?.index ?? -1 })),
      decoyScores: bothSearches(searcher, track, windows, decoys, task).map(({ score }) => score),
      unreadable: sounds.flatMap(({ reason }, at) =>
        reason === null ? [] : [{ index: (task.sounds[at] as SearchedSound).index, reason }],
      ),
    }
  })
}

/** The plain search, and the one at other speeds where it is asked for. */
function bothSearches(
  using: Searcher,
  track: Track,
  windows: readonly PreparedWindow[],
  sounds: readonly (PreparedSound | null)[],
  { threshold, treated }: SearchTask,
): RawDetection[] {
  const plan = searchPlan(threshold, treated)
  const plain = using.search(track, windows, sounds, plan)
  if (!treated) return plain
  treatedSearcher ??= new TreatedSearcher(using.correlator, using.cells)
  const sure = plain.filter(({ score }) => score >= threshold)
  return [...plain, ...treatedSearcher.search(track, windows, sounds, { plain: sure, scoreMin: plan.scoreMin })]
}

/** Settles the finds of all searches of one track. */
export function settleFinds(task: SettleTask): Promise<TaskResult<Detection[]>> {
  return answered(async () => {
    const { raw, paths, shortlist, ...settings } = task
    const involved = new Set(raw.map(({ soundIndex }) => soundIndex))
    const sounds = paths.map((path, index) => (involved.has(index) ? loadedSound(path) : null))
    return finalDetections(raw, sounds, { ...settings, soundCount: paths.length, shortlist: new Set(shortlist) })
  })
}

/** Takes the sounds that were heard out of a track; the rest lies in shared memory of its own. */
export function subtractFound(task: SubtractTask): Promise<TaskResult<SharedTrack>> {
  return answered(async () => {
    const rest = restOf(task)
    const mid = new SharedArrayBuffer(2 * rest.frames)
    new Int16Array(mid).set(rest.mid)
    return { mid, side: null, frames: rest.frames }
  })
}

/** Where in a track someone speaks. */
export function hearVoices({ memory }: VoiceTask): Promise<TaskResult<Float32Array>> {
  return answered(() => voiceProbabilities(memory))
}

/** What a track is made of. */
export function accountTrack(task: AccountTask): Promise<TaskResult<Account>> {
  return answered(async () => accountOf(restOf(task), task.speech, task.detections))
}

/** The compact form of a track. */
export function keepTrack({ track }: CompactTask): Promise<TaskResult<Uint8Array>> {
  return answered(async () => compactTrack(trackFrom(track)))
}

/** From which level each of some sounds would have been heard. */
export function measureSensitivity({ track, sounds, threshold }: SensitivityTask): Promise<TaskResult<Sensitivity[]>> {
  return answered(async () => {
    const cells = new CellTransform()
    const levels = bandLevels(trackFrom(track), cells)
    return sounds.map(({ index, path }) => {
      const sound = quietly(() => loadedSound(path))
      return { index, fromDb: sound && hearableFromDb(sound, levels, threshold, cells) }
    })
  })
}

function restOf({ track, detections, paths }: SubtractTask): Track {
  const sounds = new Map<number, PreparedSound | null>()
  return subtracted(trackFrom(track), detections, ({ soundIndex }) => {
    const known = sounds.get(soundIndex)
    if (known !== undefined) return known
    const made = quietly(() => loadedSound(paths[soundIndex] as string))
    sounds.set(soundIndex, made)
    return made
  })
}

/** Looks which of many sounds are the same recording. */
export function groupSounds({ paths }: GroupTask): Promise<TaskResult<number[][]>> {
  return answered(async () =>
    recordingGroups(
      paths.map((path) => quietly(() => decodedMarks(fs.readFileSync(path)))),
      (index) => quietly(() => loadedSound(paths[index] as string)),
    ),
  )
}

/** Decodes a sound of a library and writes what hearing needs of it. */
export function analyseSound({ path, featurePath }: AnalyseTask): Promise<TaskResult<SoundAnalysis>> {
  return answered(async () => {
    const collector = new TrackCollector()
    const parts: Float32Array[] = []
    let rateHz = HEARING_RATE_HZ
    let frames = 0
    let channelCount = 1
    await decodeMedia(soundDecoder, path, {
      onBlock: (channels, rate) => {
        rateHz = rate
        channelCount = channels.length
        frames += channels[0]?.length ?? 0
        if (frames / rate > MAX_SOUND_S) throw new Error(`longer than ${MAX_SOUND_S} s`)
        collector.push(channels, rate)
        parts.push(mixedDown(channels).slice())
      },
    })
    const mono = concatFloat32(parts)
    const track = trackFrom(collector.track())
    const side = track.side ? track.sideSamples(0, track.frames) : null
    writeAtomically(featurePath, encodedFeatures(preparedSound(track.midSamples(0, track.frames), side)))
    const print = soundPrint(mono, rateHz)
    return {
      durationS: mono.length / rateHz,
      loudnessLufs: collector.loudness().integratedLufs ?? shortLoudness(mono, rateHz),
      hitS: hitPointS(mono, rateHz),
      printColumnS: print.columnS,
      printLevels: print.levels,
      description: describedAs(mono, rateHz, channelCount),
    }
  })
}

/** How a file, or a span of it, sounds. Of a long file only the span is kept in memory. */
export function describeSound({ path, span }: DescribeTask): Promise<TaskResult<SoundDescription>> {
  return answered(async () => {
    const { channels, rateHz } = await decodedSpan(path, span ?? [0, MAX_SOUND_S])
    return describedAs(mixedDown(channels), rateHz, channels.length)
  })
}

function describedAs(mono: Float32Array, rateHz: number, channels: number): SoundDescription {
  return {
    channels,
    loops: canLoop(mono, rateHz),
    durationS: mono.length / rateHz,
    likeness: likenessOf(mono, rateHz),
  }
}

/** Writes rights into a copy that is still on its way into the store. Answers whether it took them. */
export function tagCopy({ path, ending, rights }: TagTask): Promise<TaskResult<boolean>> {
  // Loaded when first needed: most threads never write tags.
  return answered(async () => (await import('./tag-file')).tagFile(path, ending, rights))
}

/** Writes a span of a sound track as WAV of 24 bits at the track's own rate. */
export function cutTrack({ path, into, span }: CutTask): Promise<TaskResult<boolean>> {
  return answered(async () => {
    const { channels, rateHz } = await decodedSpan(path, span)
    writeAtomically(into, writeWav({ sampleRateHz: rateHz, channels }, { bits: 24 }))
    return true
  })
}

/** Samples of a span of a file. @throws Error when there is no sound in it. */
async function decodedSpan(
  path: string,
  [fromS, toS]: readonly [number, number],
): Promise<{ channels: Float32Array[]; rateHz: number }> {
  const parts: Float32Array[][] = []
  let rateHz = 0
  let frames = 0
  await decodeMedia(soundDecoder, path, {
    onBlock: (channels, rate) => {
      rateHz = rate
      const length = channels[0]?.length ?? 0
      const from = Math.max(0, Math.round(fromS * rate) - frames)
      const to = Math.min(length, Math.round(toS * rate) - frames)
      if (to > from) parts.push(channels.map((channel) => channel.slice(from, to)))
      frames += length
    },
  })
  if (parts.length === 0) throw new Error('there is no sound in that part')
  const channels = (parts[0] as Float32Array[]).map((_, index) =>
    concatFloat32(parts.map((part) => part[index] as Float32Array)),
  )
  return { channels, rateHz }
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
  return decodedFeatures(fs.readFileSync(path))
}

/** A sound whose features are gone or damaged does not end the search for the others. */
function loadedOrReason({ path }: SearchedSound): { sound: PreparedSound | null; reason: string | null } {
  try {
    return { sound: loadedSound(path), reason: null }
  } catch (error) {
    if (error instanceof FeaturesError) return { sound: null, reason: error.message }
    return { sound: null, reason: 'Its stored features could not be read.' }
  }
}

function quietly<T>(read: () => T): T | null {
  try {
    return read()
  } catch {
    return null
  }
}

function trackFrom({ mid, side, frames }: SharedTrack): Track {
  return new Track(new Int16Array(mid), side && new Int16Array(side), frames)
}

function windowFrom({ start, frames, spectraRe, spectraIm, whitened, whitenedHalf }: SharedWindow): PreparedWindow {
  // The memory may be larger: it is shared by windows of all lengths.
  return {
    start,
    frames,
    spectraRe: new Float32Array(spectraRe, 0, spectraLength(frames)),
    spectraIm: new Float32Array(spectraIm, 0, spectraLength(frames)),
    whitened: new Float32Array(whitened, 0, whitenedLength(frames)),
    whitenedHalf: new Float32Array(whitenedHalf, 0, whitenedLength(frames) / 2),
  }
}

function writeAtomically(path: string, bytes: Uint8Array): void {
  const temporary = `${path}.${process.pid}.${Math.round(performance.now() * 1000)}.part`
  fs.writeFileSync(temporary, bytes)
  fs.renameSync(temporary, path)
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
