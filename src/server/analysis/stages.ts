import { decoyIndices, HEARING_RATE_HZ, trackWindows } from '../../core/hearing'
import { analysis as messages } from '../../messages/server/analysis'
import type { DecodedTrack, SearchedSound } from '../workers/tasks'

/** Windows (of two minutes) that are held ready at once: bounds memory at about 80 MB, whatever the length of the track. */
export const WINDOWS_PER_STAGE = 3

/** What is listened for. */
export interface ReferenceSet {
  /** Feature file of each sound; detections carry the index into this list. */
  readonly featurePaths: readonly string[]
  /** Indices of the sounds that are most likely there: they are searched first, and each find of theirs needs less proof. */
  readonly shortlist: readonly number[]
  /** Indices of sounds that are the same recording. */
  readonly groups: readonly (readonly number[])[]
}

/** A part of the work: some sounds in some windows of the track. */
export interface Stage {
  readonly key: string
  readonly doing: string
  readonly indices: readonly number[]
  readonly decoys: readonly number[]
  readonly windows: readonly { readonly start: number; readonly frames: number }[]
  /** Whether these sounds are searched at other speeds too, by a bank of speeds: only a few can be. */
  readonly treated: boolean
  /** Indices of the sounds that are looked up at other speeds instead. */
  readonly lookedUp: readonly number[]
}

/** A sound of the set, as a worker is told of it. */
export function searchedSound({ featurePaths }: ReferenceSet, index: number): SearchedSound {
  return { index, path: featurePaths[index] as string }
}

export function stagesOf(track: DecodedTrack, reference: ReferenceSet): Stage[] {
  const windows = trackWindows(track.shared.frames)
  const stretches: (typeof windows)[] = []
  for (let i = 0; i < windows.length; i += WINDOWS_PER_STAGE) stretches.push(windows.slice(i, i + WINDOWS_PER_STAGE))
  const short = new Set(reference.shortlist)
  const rest = reference.featurePaths.map((_, index) => index).filter((index) => !short.has(index))
  const decoys = decoysOf(reference)
  const parts = [
    {
      name: 'shortlist',
      what: messages.soundsOfYours,
      indices: [...short],
      decoys: rest.length === 0 ? decoys : [],
      treated: true,
    },
    { name: 'catalogue', what: messages.soundsOfTheLibraries, indices: rest, decoys, treated: false },
  ].filter(({ indices }) => indices.length > 0)
  return parts.flatMap(({ name, what, indices, treated, decoys: listened }) =>
    stretches.map((stretch, at) => ({
      key: `${name} ${at}`,
      doing: messages.listeningFor(indices.length, what),
      indices,
      decoys: listened,
      treated,
      lookedUp: treated ? [] : indices,
      windows: stretch,
    })),
  )
}

/** Minutes of track that a stage searches. */
export function stageMinutes(stage: Stage): number {
  return stage.windows.reduce((sum, { frames }) => sum + frames, 0) / HEARING_RATE_HZ / 60
}

export function decoysOf({ featurePaths }: ReferenceSet): number[] {
  return decoyIndices(featurePaths.length)
}
