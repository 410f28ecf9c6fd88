import {
  type Decision,
  type DecisionContext,
  type Declared,
  decide,
  decidedByTerms,
  fitOf,
  isPermitted,
  type Offer,
  type Papers,
  type Reason,
  type Verdict,
} from '../rights'
import { clearance as messages } from '../wording/clearance'
import { findAnswer, type PointAnswer } from './answers'
import { heardInWhole, takenInstead } from './choices'
import type { CheckFacts, DetectionFacts } from './facts'
import type { SoundOnFile } from './sound-on-file'

/** Papers of a sound, with the content that they are for. */
export interface PapersOnFile {
  readonly papersId: number
  readonly soundId: number
  /** SHA-256 of every file that they hold for: the one that was served, its tagged form, and what was heard of it before. */
  readonly contents: readonly string[]
  readonly termsSha256: string
  readonly creditLine: string | null
  readonly papers: Papers
}

/** What a verdict rests on. */
export interface Ground {
  readonly papersId: number
  /** Sound that the papers are of: the heard one, or one that is the same recording. */
  readonly soundId: number
  readonly termsSha256: string
  /** The words of the terms that permit it. */
  readonly quotes: readonly string[]
  /** For papers of another sound: why they hold for this one. */
  readonly why: string | null
  /** Whose word they rest on; null for papers that a library gave. */
  readonly declared: Declared | null
}

/** One heard sound with its verdict. */
export interface Finding {
  readonly soundId: number
  readonly verdict: Verdict
  /** Null while no papers permit it. */
  readonly ground: Ground | null
  /** What decides stands first. Without papers, those of the terms that a copy acquired now would come under. */
  readonly reasons: readonly Reason[]
  /** One sentence that sums the verdict up. */
  readonly sentence: string
  readonly settlements: readonly string[]
  readonly creditLine: string | null
  /** Indices of its places in the facts. */
  readonly places: readonly number[]
  /** Stems of it that are heard with it, as they are in it: no findings of their own. */
  readonly stemIds: readonly number[]
  /** A member of the same recording that may as well be the one that was used; the creator says which. Null when it can be told. */
  readonly undecidedWith: readonly number[] | null
}

/** What findings are made from. */
export interface FindingSources {
  readonly facts: CheckFacts
  readonly context: DecisionContext
  readonly sounds: ReadonlyMap<number, SoundOnFile>
  readonly papers: readonly PapersOnFile[]
  readonly offers: ReadonlyMap<number, readonly Offer[]>
  readonly answers: readonly PointAnswer[]
}

const WORST_FIRST: Readonly<Record<Verdict, number>> = { 'not-allowed': 0, 'no-papers': 1, 'owes-credit': 2, clear: 3 }

/** Every heard sound with its verdict, worst first, then in the order in which they are heard. */
export function findingsOf(sources: FindingSources): Finding[] {
  const { detections } = sources.facts
  const inWhole = heardInWhole(detections, sources.sounds)
  const heard = new Map<number, number[]>()
  detections.forEach(({ soundId }, index) => {
    if (!inWhole.has(index)) heard.set(soundId, [...(heard.get(soundId) ?? []), index])
  })
  const stemsOf = (places: readonly number[]): number[] => {
    const stems = [...inWhole].flatMap(([stem, whole]) => (places.includes(whole) ? [detections[stem]?.soundId] : []))
    return [...new Set(stems)].filter((id) => id !== undefined).sort((a, b) => a - b)
  }
  const firstS = (finding: Finding): number =>
    Math.min(...finding.places.map((index) => (sources.facts.detections[index] as DetectionFacts).startS))
  return [...heard]
    .map(([soundId, places]) => ({ ...findingForSound(soundId, places, sources), stemIds: stemsOf(places) }))
    .sort((a, b) => WORST_FIRST[a.verdict] - WORST_FIRST[b.verdict] || firstS(a) - firstS(b) || a.soundId - b.soundId)
}

function findingForSound(
  soundId: number,
  places: readonly number[],
  sources: FindingSources,
): Omit<Finding, 'stemIds'> {
  const { facts, context, sounds, offers } = sources
  const sound = sounds.get(soundId) ?? unknownSound(soundId)
  const contents = [...new Set(places.map((index) => (facts.detections[index] as DetectionFacts).audioSha256))]
  const own = decisionFor(soundId, contents, sources)
  const used = usedFor(sound, { own: own.decision, places }, sources)
  const decided = used.lender ?? own
  const { decision, paper } = decided
  const base = { soundId, places, undecidedWith: used.undecidedWith }
  if (isPermitted(decision.verdict) && paper)
    return {
      ...base,
      verdict: decision.verdict,
      ground: {
        papersId: paper.papersId,
        soundId: paper.soundId,
        termsSha256: paper.termsSha256,
        quotes: quotesOf(decision.reasons),
        why: used.why,
        declared: decision.declared,
      },
      reasons: decision.reasons,
      sentence: decision.reasons[0]?.sentence ?? '',
      settlements: decision.settlements.map(({ sentence }) => sentence),
      creditLine: decision.verdict === 'owes-credit' ? paper.creditLine : null,
    }
  const ifAcquired = sound.offered ? decidedByTerms(sound.offered, context) : null
  const change = own.outdated ? changeOf(sound, contents) : null
  if (decision.verdict !== 'no-papers')
    return {
      ...base,
      verdict: decision.verdict,
      ground: null,
      reasons: decision.reasons,
      sentence: decision.reasons[0]?.sentence ?? '',
      settlements: decision.settlements.map(({ sentence }) => sentence),
      creditLine: null,
    }
  return {
    ...base,
    verdict: 'no-papers',
    ground: null,
    reasons: ifAcquired?.reasons ?? [],
    sentence: own.outdated ? changedSentence(sound, change) : missingSentence(sound),
    settlements: own.outdated
      ? [messages.putEarlierFileBackAnd, messages.sayWhereNewFileFrom]
      : settlementsWithoutPapers(sound, ifAcquired, decision, offers.get(soundId) ?? []),
    creditLine: null,
  }
}

export interface DecidedByPapers {
  readonly decision: Decision
  /** The papers that it rests on. */
  readonly paper: PapersOnFile | null
  /** There are papers, but for other content than what was heard. */
  readonly outdated: boolean
}

/** What the papers of a sound say of some content: papers for other content do not count. */
function decisionFor(
  soundId: number,
  contents: readonly string[],
  { papers, context, offers }: FindingSources,
): DecidedByPapers {
  const all = papers.filter((paper) => paper.soundId === soundId)
  const fitting =
    contents.length === 0 ? [] : all.filter((paper) => contents.every((one) => paper.contents.includes(one)))
  const decision = decide({
    ...context,
    papers: fitting.map((paper) => paper.papers),
    offers: offers.get(soundId) ?? [],
  })
  const paper = decision.restsOn === null ? null : (fitting[decision.restsOn] ?? null)
  return { decision, paper, outdated: all.length > 0 && fitting.length === 0 }
}

function currentContent({ contentSha256 }: SoundOnFile): string[] {
  return contentSha256 === null ? [] : [contentSha256]
}

/**
 * What papers say of a sound that was placed: its own, or those of what holds all of it.
 *
 * @param contents The copies that were placed; where only the preview was, what is known of the sound now.
 */
export function decidedForPlaced(
  sound: SoundOnFile,
  contents: readonly string[],
  sources: FindingSources,
): DecidedByPapers {
  const own = decisionFor(sound.soundId, contents.length > 0 ? contents : currentContent(sound), sources)
  if (isPermitted(own.decision.verdict)) return own
  return usedFor(sound, { own: own.decision, places: [] }, sources).lender ?? own
}

interface UsedMember {
  /** The papers that count in place of the sound's own. */
  readonly lender: DecidedByPapers | null
  readonly why: string | null
  readonly undecidedWith: readonly number[] | null
}

/** Sounds that a heard one may as well be: the same recording, and what answered alike at its places. Without this one, each once. */
export function rivalIdsOf(
  { soundId, sameRecordingIds }: Pick<SoundOnFile, 'soundId' | 'sameRecordingIds'>,
  places: readonly number[],
  { detections }: Pick<CheckFacts, 'detections'>,
): number[] {
  const alike = places.flatMap((index) => detections[index]?.alternativeIds ?? [])
  return [...new Set([...sameRecordingIds, ...alike.sort((a, b) => a - b)])].filter((id) => id !== soundId)
}

/** Whose papers count for a sound: its own where no others are named. */
function usedFor(
  sound: SoundOnFile,
  about: { readonly own: Decision; readonly places: readonly number[] },
  sources: FindingSources,
): UsedMember {
  const member = usedMember(sound, about, sources)
  return member.lender || isPermitted(about.own.verdict) ? member : usedInstead(sound, member, sources)
}

/**
 * Which of several sounds that cannot be told apart was used, as far as that can be told: by the creator's word, or because a file of only
 * one of them is here. Papers pass only between sounds that are the same recording, from one library's to another's by the same maker.
 */
function usedMember(
  sound: SoundOnFile,
  { own, places }: { readonly own: Decision; readonly places: readonly number[] },
  sources: FindingSources,
): UsedMember {
  const { sounds } = sources
  const plain: UsedMember = { lender: null, why: null, undecidedWith: null }
  const rivalIds = rivalIdsOf(sound, places, sources.facts)
  const others = rivalIds.flatMap((id) => sounds.get(id) ?? [])
  if (others.length === 0) return plain
  const told = findAnswer(whichCopyPoint(sound, rivalIds), sources.facts.file.sha256, sources.answers)
  const toldMember = [sound, ...others].find(({ soundId }) => soundId === told?.fromSoundId)
  if (told && toldMember) {
    if (toldMember.soundId === sound.soundId) return plain
    const isSame = sound.sameRecordingIds.includes(toldMember.soundId)
    const why = `${told.by} put on record that “${toldMember.title}” (${toldMember.sourceName}) was used, which ${isSame ? messages.isTheSameRecording : messages.soundsAlikeThere}: ${told.reason}`
    return { lender: decisionFor(toldMember.soundId, currentContent(toldMember), sources), why, undecidedWith: null }
  }
  const decided = others.map((other) => ({ other, ...decisionFor(other.soundId, currentContent(other), sources) }))
  if (isPermitted(own.verdict)) {
    // A file of one's own does not override what a library lists, whether a copy of that is here or not.
    const counts = (other: SoundOnFile): boolean => other.hasCopy || (!sound.isFromLibrary && other.isFromLibrary)
    const doubtful = decided.filter(({ other, decision }) => counts(other) && !isPermitted(decision.verdict))
    return doubtful.length === 0 ? plain : { ...plain, undecidedWith: doubtful.map(({ other }) => other.soundId) }
  }
  const permitted = decided.filter(({ decision }) => isPermitted(decision.verdict))
  if (permitted.length === 0) return plain
  const here = others.filter(({ hasCopy }) => hasCopy)
  const lender = permitted.find(
    ({ other }) => other.hasCopy && sound.sameRecordingIds.includes(other.soundId) && isSameMaker(sound, other),
  )
  if (lender && !sound.hasCopy && here.length === 1) {
    const { title, sourceName } = lender.other
    const why = `It is the same recording as “${title}” (${sourceName}), by the same maker, and only that file is here: of “${sound.title}” there is no copy.`
    return { lender, why, undecidedWith: null }
  }
  return { ...plain, undecidedWith: permitted.map(({ other }) => other.soundId) }
}

/** Papers of what holds all of a sound count for it where they permit it: of the whole for its part, of all stems for the bed. */
function usedInstead(sound: SoundOnFile, member: UsedMember, sources: FindingSources): UsedMember {
  const taken = takenInstead(sound, sources.sounds)
  const decided = (taken?.soundIds ?? []).flatMap((id) => {
    const other = sources.sounds.get(id)
    return other ? [decisionFor(id, currentContent(other), sources)] : []
  })
  const [worst] = decided.sort((a, b) => WORST_FIRST[a.decision.verdict] - WORST_FIRST[b.decision.verdict])
  if (!taken || !worst || decided.length < taken.soundIds.length || !isPermitted(worst.decision.verdict)) return member
  return { lender: worst, why: taken.why, undecidedWith: null }
}

function isSameMaker(one: SoundOnFile, other: SoundOnFile): boolean {
  const name = ({ maker }: SoundOnFile): string => maker.trim().toLowerCase()
  return one.isFromLibrary && other.isFromLibrary && name(one) !== '' && name(one) === name(other)
}

/** What an answer to "which of these was used" is about. @param rivalIds Sounds that it may as well be. */
export function whichCopyPoint({ soundId }: Pick<SoundOnFile, 'soundId'>, rivalIds: readonly number[]) {
  return {
    kind: 'which-copy',
    trackIndex: null,
    places: [],
    soundIds: [soundId, ...rivalIds],
  } as const
}

/** The words that permit or ask something, each once. */
function quotesOf(reasons: readonly Reason[]): string[] {
  const said = reasons.filter(({ effect }) => effect === 'allows' || effect === 'asks')
  return [...new Set(said.flatMap(({ quote }) => quote ?? []))]
}

function changeOf(sound: SoundOnFile, contents: readonly string[]): SoundOnFile['changes'][number] | null {
  const newestFirst = [...sound.changes].reverse()
  return newestFirst.find(({ toSha256 }) => contents.includes(toSha256)) ?? newestFirst[0] ?? null
}

function changedSentence(sound: SoundOnFile, change: SoundOnFile['changes'][number] | null): string {
  return change ? messages.thisFileChangedOnPapers(change.on) : messages.whatHeardAnotherRecordingThan(sound.title)
}

function missingSentence({ isFromLibrary, sourceName }: SoundOnFile): string {
  return isFromLibrary ? messages.heardInVideoAndListed(sourceName) : messages.heardInVideoAndNothing
}

/** Without papers: what a download or a purchase would settle, and a sound that would do as well. */
function settlementsWithoutPapers(
  { isSold, sourceName }: SoundOnFile,
  ifAcquired: Decision | null,
  decision: Decision,
  offers: readonly Offer[],
): string[] {
  const offered = decision.settlements.map(({ sentence }) => sentence)
  if (isSold)
    return offered.some((sentence) => sentence.startsWith('Buy'))
      ? offered
      : [...offered, messages.noTierAllowsThisVideo(sourceName)]
  if (!ifAcquired) return offered
  // Downloading is told in the next sentence, with the library's name.
  const plan = offers.some(({ kind }) => kind === 'plan')
  const others = plan ? offered.filter((sentence) => !sentence.startsWith('Download')) : offered
  const fit = fitOf(ifAcquired)
  if (fit === 'fits') return [messages.downloadFromTermsAllowThis(sourceName), ...others]
  if (fit === 'fits-with-credit') return [messages.downloadFromAndGiveCredit(sourceName), ...others]
  return [...others, messages.downloadingWouldNotSettleThis(ifAcquired.reasons[0]?.sentence ?? '')]
}

/** A sound of which nothing is on file any more. */
export function unknownSound(soundId: number): SoundOnFile {
  return {
    soundId,
    title: messages.sound(soundId),
    maker: '',
    sourceName: messages.aSourceThatIsGone,
    isFromLibrary: false,
    contentSha256: null,
    hasCopy: false,
    sameRecordingIds: [],
    stemIds: [],
    wholeId: null,
    changes: [],
    offered: null,
    isSold: false,
  }
}
