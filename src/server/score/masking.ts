import type { MaskingAnswer } from '../../contract'
import { type OverVoice, placedOverVoice } from '../../core/mix'
import { cutLayer, isLayerHeard } from '../../core/score'
import type { Services } from '../context'
import { findScoreRow } from '../rows/score-rows'
import { getVideoRow } from '../rows/video-rows'
import type { MaskingResult, MaskingTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { cutFacts } from './cut-facts'
import { placedSha256 } from './placed-audio'

/** So much of the video is looked at in one task, s: its sound is held in memory. */
const MOST_AT_ONCE_S = 600

type Placed = MaskingTask['placed'][number]

/**
 * How all that is placed and the voice of the cut cover each other, as both are heard in the mix.
 *
 * @throws {DomainError} not-found; {MediaError} where a file cannot be decoded.
 */
export async function measureMasking(
  { db, store, pool }: Pick<Services, 'db' | 'store' | 'pool'>,
  videoId: number,
  signal: AbortSignal,
): Promise<MaskingAnswer> {
  await getVideoRow(db, videoId)
  const { revision, document } = await findScoreRow(db, videoId)
  const { speech, sound } = await cutFacts(db, videoId)
  const layer = cutLayer(document)
  // Where the cut is not heard, nobody speaks in the mix.
  const isVoiceHeard = sound !== null && store.has(sound.sha256) && (!layer || isLayerHeard(layer, document.layers))
  if (!isVoiceHeard) return { revision, isVoiceHeard, places: [], notHere: [], cutShort: [] }
  const notHere: string[] = []
  const placed: Placed[] = []
  for (const one of placedOverVoice(document, speech)) {
    const sha256 = await placedSha256(db, one.placement.audio)
    if (sha256 === null || !store.has(sha256)) notHere.push(one.placement.id)
    else placed.push({ ...one, path: store.blobPath(sha256) })
  }
  const places: MaskingAnswer['places'] = []
  for (const together of inPortions(placed)) {
    const task: Omit<MaskingTask, 'pulse'> = {
      cutPath: store.blobPath(sound.sha256),
      cutLevelDb: layer?.levelDb ?? 0,
      speech,
      placed: together,
    }
    const measured = await runWatchedTask<MaskingResult[]>(pool, 'measureMasking', task, { signal })
    places.push(...measured.map((one) => ({ ...one, speechLost: [...one.speechLost] })))
  }
  const cutShort = placed.filter((one) => one.isCutShort).map(({ placement }) => placement.id)
  return { revision, isVoiceHeard, places, notHere, cutShort }
}

/** Placements in the order of time, so many together as fit into one task. */
function inPortions<T extends OverVoice>(placed: readonly T[]): T[][] {
  const portions: T[][] = []
  let lengthS = 0
  for (const one of placed) {
    const partS = one.range.endS - one.range.startS
    const last = portions[portions.length - 1]
    lengthS += partS
    if (last && lengthS <= MOST_AT_ONCE_S) last.push(one)
    else {
      portions.push([one])
      lengthS = partS
    }
  }
  return portions
}
