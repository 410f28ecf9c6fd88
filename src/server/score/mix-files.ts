import fs from 'node:fs'
import PQueue from 'p-queue'
import { MIX_RATE_HZ, type MixResult } from '../../core/mix'
import {
  audioKey,
  isLayerHeard,
  mixAudio,
  type PlacedAudio,
  placementEndS,
  type Score,
  usedSounds,
  withCutSound,
} from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import type { JobContext } from '../jobs/jobs'
import { runTask } from '../workers/pool'
import type {
  DecodedFile,
  DeliverTask,
  FlacTask,
  MixingTask,
  MixPartTask,
  MixSourceFile,
  MixSourceTask,
  StemTask,
  StretchTask,
  VideoTask,
} from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { cutFacts } from './cut-facts'
import type { MixResultJson } from './mix-rows'
import { placedSha256, placedTitle } from './placed-audio'

/** Share of the work that is decoding, for progress. */
const DECODE_SHARE = 0.3
/** Share that is mixing; the rest is writing. */
const MIX_SHARE = 0.5
/** So long a room may sound on after the last sound, s. */
const LONGEST_TAIL_S = 12
/** A thread mixes several stretches, so that all are at work until the end; each is at least ten seconds. */
const PARTS_PER_THREAD = 2
const LEAST_PART_FRAMES = 10 * MIX_RATE_HZ

/** What the making of a mix works with. */
type Making = Pick<Services, 'db' | 'store' | 'pool'>

/** Who is told of progress, and who may stop it. */
type Watch = Pick<JobContext, 'signal' | 'report'>

/** A mix that is to be made. */
export interface MixRequest {
  readonly videoId: number
  readonly title: string
  readonly score: Score
  readonly withStems: boolean
  readonly format: 'wav' | 'flac'
  /** Whether the cut's picture is written with the mix as its sound track. */
  readonly withVideo: boolean
  /** ISO date and time that the files bear. */
  readonly writtenAt: string
  /** A path for a file that is being made. The caller removes what is left. */
  readonly newPath: (ending: string) => string
  readonly context: Watch
}

/** A mix in files, the whole first, then a stem for each layer that is heard. */
export interface MadeMix {
  readonly outputs: readonly { readonly name: string; readonly path: string }[]
  /** Titles of placed sounds whose audio is not here. */
  readonly silent: readonly string[]
  readonly result: Omit<MixResultJson, 'silent'>
}

interface PreparedSources {
  readonly files: readonly MixSourceFile[]
  readonly silent: readonly string[]
}

/** Makes a mix and, where they are asked for, its stems. @throws AbortError when it is stopped. */
export async function makeMixFiles(services: Making, request: MixRequest): Promise<MadeMix> {
  const { videoId, title, withStems, writtenAt, newPath, context } = request
  const { lengthS: leastS, speech, sound, pictureSha256 } = await cutFacts(services.db, videoId)
  const { score, audio: cutAudio } = withCutSound(request.score, sound)
  const { files, silent } = await prepareSources(services, score, { context, newPath, cutAudio })
  const stems = withStems ? score.layers.filter((layer) => isLayerHeard(layer, score.layers)) : []
  const outputs = [
    { name: `${title}, mix.wav`, layerId: '', path: newPath('wav') },
    ...stems.map((layer) => ({ name: `${title}, ${layer.name}.wav`, layerId: layer.id, path: newPath('wav') })),
  ] as const
  const mixing: MixingTask = { score, sources: files, speech }
  const mixed = await mixAll(services, mixing, { context, newPath })
  const [whole, ...alone] = outputs
  const deliver: DeliverTask = {
    score,
    mixed,
    leastFrames: Math.round(leastS * MIX_RATE_HZ),
    title,
    writtenAt,
    path: whole.path,
  }
  const { pool } = services
  const { signal } = context
  const made = await runTask<MixResult>(pool, 'deliverMixFile', deliver, { signal })
  context.report(DECODE_SHARE + MIX_SHARE + 0.1, alone.length > 0 ? messages.writingTheStems : messages.writing)
  await Promise.all(
    alone.map(({ layerId, path }) => {
      const { lengthFrames, deliveryGainDb: gainDb } = made
      const stem: StemTask = { ...mixing, layerId, path, lengthFrames, gainDb, title, writtenAt }
      return runTask<boolean>(pool, 'renderStem', stem, { signal })
    }),
  )
  const video = request.withVideo && pictureSha256 ? await writeVideo(services, request, pictureSha256, whole.path) : []
  const sounds = request.format === 'flac' ? await inFlac(services, request, outputs) : outputs
  const { lengthFrames, integratedLufs, truePeakDbtp, mostLimitedDb } = made
  const result = { lengthS: lengthFrames / MIX_RATE_HZ, integratedLufs, truePeakDbtp, mostLimitedDb }
  return { outputs: [...sounds, ...video], silent, result }
}

/** The files as FLAC: the same samples, in about half the room. */
async function inFlac(
  { pool }: Making,
  { newPath, context: { signal, report } }: MixRequest,
  files: MadeMix['outputs'],
): Promise<MadeMix['outputs']> {
  report(DECODE_SHARE + MIX_SHARE + 0.15, messages.writingFlac)
  return Promise.all(
    files.map(async ({ name, path }) => {
      const into = newPath('flac')
      await runTask<boolean>(pool, 'writeFlac', { wavPath: path, into } satisfies FlacTask, { signal })
      return { name: name.replace(/\.wav$/, '.flac'), path: into }
    }),
  )
}

/** The picture of the cut as it is, with the mix as its sound track. */
async function writeVideo(
  { pool, store }: Making,
  { title, newPath, context: { signal, report } }: MixRequest,
  pictureSha256: string,
  wavPath: string,
): Promise<MadeMix['outputs']> {
  report(DECODE_SHARE + MIX_SHARE + 0.12, messages.writingTheVideo)
  const into = newPath('video')
  const task: VideoTask = { cutPath: store.blobPath(pictureSha256), wavPath, into }
  const ending = await runTask<string>(pool, 'writeVideo', task, { signal })
  return [{ name: messages.withTheMix(title, ending), path: into }]
}

/** Decodes what is placed into files that can be read anywhere. */
async function prepareSources(
  services: Making,
  score: Score,
  {
    context,
    newPath,
    cutAudio,
  }: {
    readonly context: Watch
    readonly newPath: (ending: string) => string
    readonly cutAudio: PlacedAudio | null
  },
): Promise<PreparedSources> {
  const { pool, store, db } = services
  const { signal, report } = context
  const silent: string[] = []
  const used = usedSounds(score)
  const needed = mixAudio(score)
  let begun = 0
  const decode = async ({ key: usedKey, audio }: (typeof used)[number]): Promise<MixSourceFile[]> => {
    report((DECODE_SHARE * begun) / used.length, messages.decodingSoundOf(++begun, used.length))
    const sha256 = await placedSha256(db, audio)
    if (sha256 === null || !store.has(sha256)) {
      silent.push(audio === cutAudio ? messages.theSoundOfTheCut : await placedTitle(db, audio))
      return []
    }
    const decoded = await runWatchedTask<DecodedFile>(
      pool,
      'decodeMixSource',
      { path: store.blobPath(sha256), into: newPath('pcm') } satisfies MixSourceTask,
      { signal },
    )
    const speeds = needed.filter((one) => audioKey(one.audio) === usedKey)
    return Promise.all(
      speeds.map(async ({ key, stretchRate }) => {
        if (stretchRate === null) return { ...decoded, key, stretchRate }
        const task: StretchTask = { source: decoded, rate: stretchRate, into: newPath('pcm') }
        return { ...(await runTask<DecodedFile>(pool, 'stretchMixSource', task, { signal })), key, stretchRate }
      }),
    )
  }
  const queue = new PQueue({ concurrency: pool.maxThreads })
  try {
    const files = await queue.addAll(used.map((one) => () => decode(one)))
    return { files: files.flat(), silent }
  } finally {
    // Nothing is written any more once it is given up.
    queue.clear()
    await queue.onIdle()
  }
}

/** Makes the whole mix, by all threads a stretch each. @returns It in a file, both channels. */
async function mixAll(
  { pool }: Making,
  mixing: MixingTask,
  { context: { signal, report }, newPath }: Pick<MixRequest, 'context' | 'newPath'>,
): Promise<DecodedFile> {
  const path = newPath('pcm')
  fs.writeFileSync(path, '', { flag: 'wx' })
  const mostFrames = Math.ceil(MIX_RATE_HZ * (lastEndS(mixing.score) + LONGEST_TAIL_S))
  const parts = Math.max(1, Math.min(PARTS_PER_THREAD * pool.maxThreads, Math.ceil(mostFrames / LEAST_PART_FRAMES)))
  const frames = Math.ceil(mostFrames / parts)
  let done = 0
  const lengths = await Promise.all(
    Array.from({ length: parts }, async (_, at) => {
      const task: MixPartTask = { ...mixing, fromFrame: at * frames, frames, into: path }
      const length = await runTask<number>(pool, 'mixPart', task, { signal })
      report(DECODE_SHARE + MIX_SHARE * (++done / parts), messages.mixing)
      return length
    }),
  )
  const lengthFrames = lengths[0] ?? 0
  fs.truncateSync(path, lengthFrames * 2 * Float32Array.BYTES_PER_ELEMENT)
  return { path, lengthFrames, channelCount: 2 }
}

function lastEndS({ placements }: Score): number {
  return Math.max(0, ...placements.map(placementEndS))
}
