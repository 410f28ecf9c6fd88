import { decoyIndices, HEARING_RATE_HZ, type Opposition, sideWindows, trackWindows } from '../../core/hearing'
import { analysis as messages } from '../../messages/server/analysis'
import type { DecodedTrack, SearchedSound } from '../workers/tasks'
import { inBatches } from './listening'

/** Windows (of two minutes) that are held ready at once: bounds memory at about 80 MB, whatever the length of the track. */
export const WINDOWS_PER_STAGE = 3

/**
 * So few sounds that come later are searched at other speeds in full, without decoys: to look them up, a map of all of the track has to be made, which takes as long as
 * five sounds or six, and what chance gives is hardly learned from so few.
 */
const FEW_LATER = 5

/** What is listened for. */
export interface ReferenceSet {
  /** Feature file of each sound; detections carry the index into this list. */
  readonly featurePaths: readonly string[]
  /** Indices of the sounds that are most likely there: they are searched first, and each find of theirs needs less proof. */
  readonly shortlist: readonly number[]
  /** Indices of sounds that are the same recording. */
  readonly groups: readonly (readonly number[])[]
  /** How many sounds the track was searched for before, which these are added to: a find among many has to stand out more. */
  readonly before?: SoundCounts
}

/** How many sounds a track is searched for. */
export interface SoundCounts {
  /** Those that are most likely there. */
  readonly shortlist: number
  readonly rest: number
}

/** What is searched of a track: its samples, how long it is, and where left and right oppose each other, which of a stored track is not known. */
export type SearchedTrack = Pick<DecodedTrack, 'shared' | 'durationS'> & Partial<Opposition>

/** A stretch of a track, frames. */
interface TrackWindow {
  readonly start: number
  readonly frames: number
}

/** A part of the work: some sounds in some windows of the track. */
export interface Stage {
  readonly key: string
  readonly doing: string
  readonly indices: readonly number[]
  readonly decoys: readonly number[]
  /** Among how many sounds each of them stands. */
  readonly soundCount: number
  readonly windows: readonly TrackWindow[]
  /** Whether these sounds are searched at other speeds too, by a bank of speeds: only a few can be. */
  readonly treated: boolean
  /** Indices of the sounds that are looked up at other speeds instead. */
  readonly lookedUp: readonly number[]
  /** Whether the side of the track is searched, and not its middle. */
  readonly ofSide: boolean
}

/** Among how many sounds a find has to stand out, those that were searched before included. */
export function countsOf({ featurePaths, shortlist, before = { shortlist: 0, rest: 0 } }: ReferenceSet): SoundCounts {
  return {
    shortlist: before.shortlist + shortlist.length,
    rest: before.rest + featurePaths.length - shortlist.length,
  }
}

/** A sound of the set, as a worker is told of it. */
export function searchedSound({ featurePaths }: ReferenceSet, index: number): SearchedSound {
  return { index, path: featurePaths[index] as string }
}

export function stagesOf(track: SearchedTrack, reference: ReferenceSet): Stage[] {
  const stretches = inBatches(trackWindows(track.shared.frames), WINDOWS_PER_STAGE)
  const short = new Set(reference.shortlist)
  const rest = reference.featurePaths.map((_, index) => index).filter((index) => !short.has(index))
  const decoys = decoysOf(reference)
  const counts = countsOf(reference)
  const isFew = areFewLater(reference)
  const parts = [
    {
      name: 'shortlist',
      what: messages.soundsOfYours,
      indices: [...short],
      soundCount: counts.shortlist,
      decoys: rest.length === 0 ? decoys : [],
      treated: true,
    },
    {
      name: 'catalogue',
      what: messages.soundsOfTheLibraries,
      indices: rest,
      soundCount: counts.rest,
      decoys,
      treated: isFew,
    },
  ].filter(({ indices }) => indices.length > 0)
  const middle = parts.flatMap(({ name, what, indices, soundCount, treated, decoys: listened }) =>
    stretches.map((stretch, at) => ({
      key: `${name} ${at}`,
      doing: messages.listeningFor(indices.length, what),
      indices,
      decoys: listened,
      soundCount,
      treated,
      lookedUp: treated ? [] : indices,
      windows: stretch,
      ofSide: false,
    })),
  )
  return [...middle, ...sideStages(track, reference)]
}

/** All sounds, as they are, where left and right oppose each other. */
function sideStages({ shared, opposed = [], partlyOpposed = [] }: SearchedTrack, reference: ReferenceSet): Stage[] {
  const indices = reference.featurePaths.map((_, index) => index)
  const { shortlist, rest } = countsOf(reference)
  const windows = sideWindows(shared.frames, { opposed, partlyOpposed })
  return inBatches(windows, WINDOWS_PER_STAGE).map((stretch, at) => ({
    key: `side ${at}`,
    doing: messages.listeningForInSide,
    indices,
    decoys: decoysOf(reference),
    soundCount: shortlist + rest,
    treated: false,
    lookedUp: [],
    windows: stretch,
    ofSide: true,
  }))
}

/** Minutes of track that a stage searches. */
export function stageMinutes(stage: Stage): number {
  return stage.windows.reduce((sum, { frames }) => sum + frames, 0) / HEARING_RATE_HZ / 60
}

export function decoysOf(reference: ReferenceSet): number[] {
  return areFewLater(reference) ? [] : decoyIndices(reference.featurePaths.length)
}

function areFewLater({ before, featurePaths }: ReferenceSet): boolean {
  return before !== undefined && featurePaths.length <= FEW_LATER
}
