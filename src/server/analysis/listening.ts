import type { StageFacts } from '../../core/clearance'
import type { Detection, TrackBreakdown } from '../../core/hearing'
import type { DecodedTrack, SearchResult, Sensitivity } from '../workers/tasks'
import type { WindowMemory } from './window-memory'

/** What one stage of a check found; enough to go on from it after a restart. */
export interface StageResult extends SearchResult {
  /** From this score on decoys were gathered. */
  readonly decoyScoreMin: number
  /** Decoys times minutes of track. */
  readonly decoyMinutes: number
  /** How decoys answered where they were looked up at other speeds; null where nothing was looked up. */
  readonly decoyScoresAtSpeeds: readonly number[] | null
}

/** What listening to one file gave. */
export interface ListeningResult {
  readonly track: DecodedTrack
  readonly detections: readonly Detection[]
  /** Decoys, which cannot be in the track, that answered at a score that would have been reported. */
  readonly decoyFinds: number
  readonly decoyCount: number
  readonly unreadable: SearchResult['unreadable']
  /** What the track is made of beside the sounds. */
  readonly breakdown: TrackBreakdown
  /** The compact form of the track, in which a new sound can be looked for later; null where it is not to be stored. */
  readonly compact: Uint8Array | null
  /** For each sound that was not heard, from which level it would have been. */
  readonly sensitivity: readonly Sensitivity[]
  /** What was searched for, and whether to the end. */
  readonly stages: readonly StageFacts[]
  readonly timing: { readonly decodeS: number; readonly searchS: number }
}

/** How a track is searched. */
export interface SearchOptions {
  readonly signal?: AbortSignal
  /** Called with a fraction of the whole and what is being done. */
  readonly onProgress?: (fraction: number, doing: string) => void
  /** Called with all that is heard so far, after each stage but the last. */
  readonly onHeard?: (detections: readonly Detection[]) => Promise<void>
  /** Stages that an earlier try finished, by key, and a place to put new ones. */
  readonly stages?: {
    load(key: string): Promise<StageResult | null>
    save(key: string, result: StageResult): Promise<void>
  }
  /** What an earlier search heard in the track, with the feature file of each sound by its index: it is taken out before the shortlist is searched once more. */
  readonly heardBefore?: { readonly detections: readonly Detection[]; readonly paths: readonly string[] }
}

export interface ListenOptions extends Omit<SearchOptions, 'onHeard' | 'heardBefore'> {
  /** Which audio track, 0 for the first. */
  readonly trackIndex?: number
  readonly onHeard?: (detections: readonly Detection[], track: DecodedTrack) => Promise<void>
  /** Whether the compact form of the track is wanted. */
  readonly keep?: boolean
}

/** The same while a stage is searched. */
export interface StageOptions extends SearchOptions {
  /** Called with a fraction of the stage. */
  readonly report: (fraction: number) => void
  readonly memory: WindowMemory
}

export function taskOptions({ signal }: Pick<SearchOptions, 'signal'>): { signal?: AbortSignal } {
  return signal ? { signal } : {}
}

export function inBatches<T>(items: readonly T[], size: number): T[][] {
  return inBatchesByWeight(items, { size, most: Number.POSITIVE_INFINITY, weightOf: () => 0 })
}

/** Batches, in order, of at most so many items that together weigh no more than `most`; what weighs more is alone. */
export function inBatchesByWeight<T>(
  items: readonly T[],
  { size, most, weightOf }: { readonly size: number; readonly most: number; readonly weightOf: (item: T) => number },
): T[][] {
  const batches: T[][] = []
  let weight = 0
  for (const item of items) {
    const own = weightOf(item)
    const open = batches.at(-1)
    if (open && open.length < size && weight + own <= most) {
      open.push(item)
      weight += own
    } else {
      batches.push([item])
      weight = own
    }
  }
  return batches
}
