import { certaintyOf } from '../hearing/certainty'
import { clauseOf, type DecisionContext, type Offer, SAME_LICENCE } from '../rights'
import { clearance as messages } from '../wording/clearance'
import { findAnswer, type PointAnswer } from './answers'
import { type LicenceConflict, licenceConflicts } from './conflicts'
import type { CheckFacts } from './facts'
import {
  decidedForPlaced,
  type Finding,
  findingsOf,
  type PapersOnFile,
  rivalIdsOf,
  unknownSound,
  whichCopyPoint,
} from './finding'
import { placedUnheard } from './placed'
import { answeredPoint, clock, type Point, type PointSources, pointsOf } from './points'
import type { SoundOnFile } from './sound-on-file'
import { isBarred, stateOf, type VideoState } from './state'

/** Everything that the clearance of a video rests on. */
export interface ClearanceInput {
  /** Of the newest check that is over, for the newest file; null while there is none. */
  readonly facts: CheckFacts | null
  /** A check of the newest file waits or runs. */
  readonly isChecking: boolean
  /** Uses of the video, the video and the day. */
  readonly context: DecisionContext
  /** Every heard sound, and every sound that is the same recording as one or answered alike where it is heard. */
  readonly sounds: ReadonlyMap<number, SoundOnFile>
  readonly papers: readonly PapersOnFile[]
  /** What could be had for a heard sound. Says how to settle a point; never changes a verdict. */
  readonly offers: ReadonlyMap<number, readonly Offer[]>
  readonly answers: readonly PointAnswer[]
  /** Sounds that are listed now, as they are now, and were not listened for. */
  readonly unlistedIds: readonly number[]
  /** Sounds that were listened for by an excerpt: they are listed as longer than what could be heard of them. */
  readonly inPartIds: readonly number[]
  /** Names of sources that are connected and of which nothing could be read yet. */
  readonly unreadSources: readonly string[]
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
  const { facts } = input
  if (!facts) {
    const state: VideoState = { kind: input.isChecking ? 'checking' : 'not-checked' }
    return { state, findings: [], points: [], conflicts: [] }
  }
  // How long the finished video is, is seen in the file.
  const context = { ...input.context, videoLengthS: fileLengthS(facts) }
  const sources = { ...input, context, facts }
  const findings = withoutContradictions(findingsOf(sources), input)
  const points = [
    ...pointsOf(sources),
    ...placedPoints(findings, sources),
    ...unsurePoints(findings, sources),
    ...whichCopyPoints(findings, sources),
  ]
  const conflicts = licenceConflicts(findings, { ...input, videoLicence: context.uses.videoLicence })
  const state: VideoState = input.isChecking ? { kind: 'checking' } : stateOf(findings, points, conflicts)
  return { state, findings, points, conflicts }
}

/** Length of a checked file, s: of its longest track, by what it states or what was decoded, whichever is more. */
export function fileLengthS({ tracks }: Pick<CheckFacts, 'tracks'>): number {
  return Math.max(0, ...tracks.map(({ statedDurationS, durationS }) => Math.max(statedDurationS ?? 0, durationS)))
}

/**
 * Leaves out what would settle one sound and bar another: to publish the video under the licence that one of them wants, where that licence
 * cannot be kept together with what the others are under.
 */
function withoutContradictions(findings: readonly Finding[], input: ClearanceInput): Finding[] {
  return findings.map((finding) => {
    if (!finding.settlements.includes(SAME_LICENCE)) return finding
    const wanted = input.papers.find(
      ({ soundId, papers }) => soundId === finding.soundId && clauseOf(papers.terms, 'share-alike').answer === 'duty',
    )?.papers.terms.spdxId
    const isPossible = wanted && licenceConflicts(findings, { ...input, videoLicence: wanted }).length === 0
    if (isPossible) return finding
    return { ...finding, settlements: finding.settlements.filter((sentence) => sentence !== SAME_LICENCE) }
  })
}

/** A point for each sound that was placed and not heard, unless papers permit it and nothing is owed: that nobody hears it is no proof that it is not there. */
function placedPoints(findings: readonly Finding[], sources: ClearanceInput & { readonly facts: CheckFacts }): Point[] {
  const { facts, sounds } = sources
  return placedUnheard(facts, sounds).flatMap(({ soundId, contents, places }) => {
    const sound = sounds.get(soundId) ?? unknownSound(soundId)
    const { decision, paper } = decidedForPlaced(sound, contents, sources)
    if (decision.verdict === 'clear') return []
    const beside = findings.filter(
      (finding) => sound.sameRecordingIds.includes(finding.soundId) || rivalsOf(finding, sources).includes(soundId),
    )
    // Which of them was used is asked, or settled, with the one that was heard.
    if (beside.some((finding) => isBarred(finding) || finding.undecidedWith !== null)) return []
    if (beside.length > 0 && beside.every((finding) => isToldWhich(finding, sources))) return []
    const { title, sourceName } = sound
    const say = beside.length > 0 ? messages.placedAndMayBeHeard : messages.placedAndNotHeard
    const where = say(title, sourceName, places.length, clock(places[0]?.startS ?? 0))
    const what =
      decision.verdict === 'owes-credit'
        ? messages.ifThereCreditOwed(paper?.creditLine ?? '')
        : decision.verdict === 'not-allowed'
          ? messages.ifThereNotAllowed(decision.reasons[0]?.sentence ?? '')
          : messages.ifThereNoPapers
    return [
      answeredPoint(
        {
          kind: 'placed',
          trackIndex: facts.tracks[0]?.index ?? null,
          places,
          soundIds: [soundId],
          sentence: `${where} ${what}`,
          answerKinds: ['accepted'],
        },
        sources,
      ),
    ]
  })
}

/** Sounds that a heard one may as well be. */
function rivalsOf(
  { soundId, places }: Finding,
  { sounds, facts }: { readonly facts: CheckFacts } & ClearanceInput,
): number[] {
  return rivalIdsOf(sounds.get(soundId) ?? unknownSound(soundId), places, facts)
}

/** Whether the creator said which of a heard sound and those that it may as well be was used. */
function isToldWhich(finding: Finding, sources: ClearanceInput & { readonly facts: CheckFacts }): boolean {
  const about = whichCopyPoint(finding, rivalsOf(finding, sources))
  return findAnswer(about, sources.facts.file.sha256, sources.answers) !== null
}

/** Places where it is only possible that a sound is heard explain nothing by themselves: a point for each track and sound that papers permit. */
function unsurePoints(findings: readonly Finding[], sources: ClearanceInput & { readonly facts: CheckFacts }): Point[] {
  const { detections } = sources.facts
  return findings
    .filter((finding) => !isBarred(finding))
    .flatMap(({ soundId, places }) => {
      const unsure = places
        .flatMap((index) => detections[index] ?? [])
        .filter(({ confidence }) => certaintyOf(confidence) === 'possible')
      const { title, sourceName } = sources.sounds.get(soundId) ?? unknownSound(soundId)
      return [...new Set(unsure.map(({ trackIndex }) => trackIndex))].map((trackIndex) => {
        const here = unsure.filter((one) => one.trackIndex === trackIndex)
        return answeredPoint(
          {
            kind: 'unsure',
            trackIndex,
            places: here.map(({ startS, endS }) => ({ startS, endS })),
            soundIds: [soundId],
            sentence: messages.onlyPossibleThat(title, sourceName, here.length, clock(here[0]?.startS ?? 0)),
            answerKinds: ['from', 'own', 'accepted'],
          },
          sources,
        )
      })
    })
}

/** A point for each heard sound that cannot be told from others, where it matters which of them was used. */
function whichCopyPoints(
  findings: readonly Finding[],
  sources: ClearanceInput & { readonly facts: CheckFacts },
): Point[] {
  const done = new Set<string>()
  return findings.flatMap((finding) => {
    const { soundId, undecidedWith } = finding
    const sound = sources.sounds.get(soundId)
    if (!sound) return []
    const rivalIds = rivalsOf(finding, sources)
    const about = whichCopyPoint(sound, rivalIds)
    // What was answered stays to be seen, and can be undone, though nothing is open any more.
    if (undecidedWith === null && !isToldWhich(finding, sources)) return []
    const key = [...about.soundIds].sort((a, b) => a - b).join()
    if (done.has(key)) return []
    done.add(key)
    const named = undecidedWith ?? rivalIds
    const names = named.flatMap((id) => sources.sounds.get(id) ?? [])
    const list = names.map(({ title, sourceName }) => `“${title}” (${sourceName})`).join(', ')
    const isSame = named.every((id) => sound.sameRecordingIds.includes(id))
    const relation = isSame ? messages.isTheSameRecordingAs(list) : messages.cannotBeToldFromWhere(list)
    const sentence = `“${sound.title}” (${sound.sourceName}) ${relation}, and not all of them are cleared. Say which one was used.`
    return [answeredPoint({ ...about, sentence, answerKinds: ['from'] }, sources)]
  })
}
