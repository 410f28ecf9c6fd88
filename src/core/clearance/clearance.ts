import type { DecisionContext, Offer } from '../rights'
import type { PointAnswer } from './answers'
import { type LicenceConflict, licenceConflicts } from './conflicts'
import type { CheckFacts } from './facts'
import { type Finding, findingsOf, type PapersOnFile, type SoundOnFile, whichCopyPoint } from './finding'
import { answeredPoint, type Point, type PointSources, pointsOf } from './points'
import { stateOf, type VideoState } from './state'

/** Everything that the clearance of a video rests on. */
export interface ClearanceInput {
  /** Of the newest check that is over, for the newest file; null while there is none. */
  readonly facts: CheckFacts | null
  /** A check of the newest file waits or runs. */
  readonly isChecking: boolean
  /** Uses of the video, the video and the day. */
  readonly context: DecisionContext
  /** Every heard sound, and every sound that is the same recording as one. */
  readonly sounds: ReadonlyMap<number, SoundOnFile>
  readonly papers: readonly PapersOnFile[]
  /** What could be had for a heard sound. Says how to settle a point; never changes a verdict. */
  readonly offers: ReadonlyMap<number, readonly Offer[]>
  readonly answers: readonly PointAnswer[]
  /** Sounds that can be listened for now and were not listened for. */
  readonly unlistedIds: readonly number[]
  readonly ownSpeech: PointSources['ownSpeech']
}

/** What is known of a video's sounds, decided in one place. */
export interface Clearance {
  readonly state: VideoState
  /** Worst first. */
  readonly findings: readonly Finding[]
  readonly points: readonly Point[]
  readonly conflicts: readonly LicenceConflict[]
}

/**
 * Decides the clearance of a video. Pure: the same input gives the same value, and the day is part of the input.
 *
 * Never "ready" while anything was not examined, not explained, or not permitted by papers for the very content that was heard.
 */
export function clearance(input: ClearanceInput): Clearance {
  const { facts, context } = input
  if (!facts) {
    const state: VideoState = { kind: input.isChecking ? 'checking' : 'not-checked' }
    return { state, findings: [], points: [], conflicts: [] }
  }
  const sources = { ...input, facts }
  const findings = findingsOf(sources)
  const points = [...pointsOf(sources), ...whichCopyPoints(findings, sources)]
  const conflicts = licenceConflicts(findings, { ...input, videoLicence: context.uses.videoLicence })
  const state: VideoState = input.isChecking ? { kind: 'checking' } : stateOf(findings, points, conflicts)
  return { state, findings, points, conflicts }
}

/** A point for each recording that is there several times, where it cannot be told which of them was used. */
function whichCopyPoints(
  findings: readonly Finding[],
  sources: ClearanceInput & { readonly facts: CheckFacts },
): Point[] {
  const done = new Set<string>()
  return findings.flatMap(({ soundId, undecidedWith }) => {
    const sound = sources.sounds.get(soundId)
    if (!sound || undecidedWith === null) return []
    const about = whichCopyPoint(sound)
    const key = [...about.soundIds].sort((a, b) => a - b).join()
    if (done.has(key)) return []
    done.add(key)
    const names = undecidedWith.flatMap((id) => sources.sounds.get(id) ?? [])
    const list = names.map(({ title, sourceName }) => `“${title}” (${sourceName})`).join(', ')
    const sentence = `“${sound.title}” (${sound.sourceName}) is the same recording as ${list}, and not all of them are cleared. Say which one was used.`
    return [answeredPoint({ ...about, sentence, answerKinds: ['from'] }, sources)]
  })
}
