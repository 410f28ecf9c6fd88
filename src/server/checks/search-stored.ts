import type { CheckFacts, DetectionFacts, StageFacts, TrackFacts } from '../../core/clearance'
import { COMPACT_VERSION, type Detection } from '../../core/hearing'
import { overlaps } from '../../core/time-range'
import { expandStored, listenToStored, type StoredListening } from '../analysis/listen-to-stored'
import type { Answer } from '../analysis/search-track'
import type { ReferenceSet } from '../analysis/stages'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import type { JobContext } from '../jobs/jobs'
import { detectionFacts, type ListenedSound, sensitivityFacts } from './facts-of'
import { type ListedAudio, referenceSetOf } from './reference-sounds'
import { settledWithKnown } from './settle-known'

/** A sound that is looked for in what a check stored. */
export interface Target extends ListenedSound {
  /** The creator named it for a stretch. */
  readonly isClaimed: boolean
}

/** A target, and what decides how it is looked for. */
type KnownTarget = Target & ListedAudio

export type StoredTracks = Awaited<ReturnType<typeof loadStoredTracks>>

/** What more is known of each track, by its index, and of the sounds. */
export interface FoundInTracks {
  /** What the check heard, less what a sound that came later explains better. */
  readonly known: readonly DetectionFacts[]
  readonly finds: readonly DetectionFacts[]
  /** Sounds that could not be listened for, and why. */
  readonly unheard: ReadonlyMap<number, string>
  readonly tracks: ReadonlyMap<number, Pick<TrackFacts, 'stages' | 'sensitivity'>>
}

export function loadStoredTracks(db: Db, checkId: number) {
  return db
    .selectFrom('stored_tracks')
    .innerJoin('checks', 'checks.export_id', 'stored_tracks.export_id')
    .select(['stored_tracks.track_index', 'stored_tracks.version', 'stored_tracks.bytes'])
    .where('checks.id', '=', checkId)
    .execute()
}

/**
 * Finds in every track that was listened to, all targets at once: what a track is made ready for serves them all.
 *
 * @returns Null when one of the tracks cannot be searched.
 */
export async function searchTracks(
  { db, store, pool }: Pick<Services, 'db' | 'store' | 'pool'>,
  stored: StoredTracks,
  facts: CheckFacts,
  { targets, context }: { readonly targets: readonly Target[]; readonly context: JobContext },
): Promise<FoundInTracks | null> {
  const { signal } = context
  const known: DetectionFacts[] = []
  const finds: DetectionFacts[] = []
  const unheard = new Map<number, string>()
  const tracks = new Map<number, Pick<TrackFacts, 'stages' | 'sensitivity'>>()
  const listened = facts.tracks.filter(({ notListenedReason }) => notListenedReason === null)
  const rows = listened.map(({ index }) => stored.find(({ track_index }) => track_index === index))
  if (rows.some((row) => row?.version !== COMPACT_VERSION)) return null
  if (targets.length === 0) return { known: facts.detections, finds, unheard, tracks }
  const searches = searchesOf(await knownTargets({ db, store }, targets))
  const parts = listened.length * searches.length
  let done = 0
  for (const [at, track] of listened.entries()) {
    const expanded = await expandStored(pool, (rows[at] as StoredTracks[number]).bytes, { signal })
    let heard = facts.detections.filter(({ trackIndex }) => trackIndex === track.index)
    const heardBefore = heardIn(facts, track.index, store)
    let about: Pick<TrackFacts, 'stages' | 'sensitivity'> = track
    for (const some of searches) {
      const found = await listenToStored(pool, expanded, referenceOf(some, track), {
        signal,
        heardBefore,
        onProgress: (fraction, doing) => context.report((done + fraction) / parts, doing),
      })
      done++
      for (const { index, reason } of found.unreadable) unheard.set((some[index] as Target).soundId, reason)
      const own = detectionFacts(found.detections, track.index, some)
      const together = searchedTogether(some, found.answers, heard)
      if (together.later.length === 0) finds.push(...own)
      else {
        const all = [...together.later, ...(await knownTargets({ db, store }, together.rivals))]
        const { detections } = await listenToStored(pool, expanded, referenceOf(all, track), { signal })
        const settled = settledWithKnown(
          heard,
          own,
          detectionFacts(detections, track.index, all),
          new Set(together.later.map(({ soundId }) => soundId)),
        )
        heard = settled.known
        finds.push(...settled.finds)
      }
      about = knownAfter(about, found, some, facts)
    }
    known.push(...heard)
    tracks.set(track.index, about)
  }
  return { known, finds, unheard, tracks }
}

/**
 * Sounds that answered where others were heard, and those others: what they are is settled among them. What the creator named is there by that word,
 * whatever else is.
 */
function searchedTogether(
  targets: readonly KnownTarget[],
  answers: readonly Answer[],
  heard: readonly DetectionFacts[],
): { readonly later: readonly KnownTarget[]; readonly rivals: readonly Target[] } {
  const rivals = new Map<string, Target>()
  const later = new Set<KnownTarget>()
  for (const answer of answers) {
    const target = targets[answer.soundIndex] as KnownTarget
    if (target.isClaimed) continue
    for (const { soundId, audioSha256, ...place } of heard) {
      if (soundId === target.soundId || !overlaps(answer, place)) continue
      later.add(target)
      rivals.set(`${soundId} ${audioSha256}`, { soundId, audioSha256, isClaimed: false })
    }
  }
  return { later: [...later], rivals: [...rivals.values()] }
}

/** What is looked for together: what the creator named needs to stand out among these few only. */
function searchesOf(targets: readonly KnownTarget[]): KnownTarget[][] {
  const claimed = targets.filter(({ isClaimed }) => isClaimed)
  const others = targets.filter(({ isClaimed }) => !isClaimed)
  return [claimed, others].filter((some) => some.length > 0)
}

async function knownTargets(
  { db, store }: Pick<Services, 'db' | 'store'>,
  targets: readonly Target[],
): Promise<KnownTarget[]> {
  const ids = targets.map(({ soundId }) => soundId)
  const grants = await db.selectFrom('grants').select('sound_id').where(isOneOf('sound_id', ids)).execute()
  const groups = await db.selectFrom('recording_groups').selectAll().where(isOneOf('sound_id', ids)).execute()
  const acquiredIds = new Set(grants.map(({ sound_id }) => sound_id))
  const groupOf = new Map(groups.map(({ sound_id, group_id }) => [sound_id, group_id]))
  return targets.map((target) => ({
    ...target,
    featurePath: store.featurePath(target.audioSha256),
    acquired: target.isClaimed || acquiredIds.has(target.soundId),
    groupId: groupOf.get(target.soundId) ?? null,
  }))
}

/** Targets as the engine takes them. Those that came later stand among all that the check listened for. */
function referenceOf(targets: readonly KnownTarget[], { stages }: TrackFacts): ReferenceSet {
  const countOf = (wanted: StageFacts['name']): number =>
    stages.reduce((sum, { name, soundCount }) => sum + (name === wanted ? soundCount : 0), 0)
  const isClaimed = targets.some((target) => target.isClaimed)
  return {
    ...referenceSetOf(targets),
    ...(isClaimed ? {} : { before: { shortlist: countOf('shortlist'), rest: countOf('catalogue') } }),
  }
}

/** What the check heard in a track, as the engine takes it. */
export function heardIn({ detections }: Pick<CheckFacts, 'detections'>, trackIndex: number, store: Services['store']) {
  const own = detections.filter((find) => find.trackIndex === trackIndex)
  const audio = [...new Set(own.map(({ audioSha256 }) => audioSha256))]
  return {
    detections: own.map(
      (find): Detection => ({
        ...find,
        soundIndex: audio.indexOf(find.audioSha256),
        score: find.confidence,
        alternatives: [],
      }),
    ),
    paths: audio.map((sha256) => store.featurePath(sha256)),
  }
}

/** What is known of a track once more sounds were looked for in it. A sound that was counted before, as another recording, is not counted again. */
function knownAfter(
  { stages, sensitivity }: Pick<TrackFacts, 'stages' | 'sensitivity'>,
  found: StoredListening,
  targets: readonly KnownTarget[],
  { reference }: CheckFacts,
): Pick<TrackFacts, 'stages' | 'sensitivity'> {
  const countedIds = new Set(reference.listenedFor.map(([soundId]) => soundId))
  const fresh = targets.filter(({ soundId }) => !countedIds.has(soundId))
  const ofShortlist = fresh.filter(({ acquired }) => acquired).length
  const targetIds = new Set(targets.map(({ soundId }) => soundId))
  const added = found.stages.map((stage) => ({
    ...stage,
    soundCount: stage.name === 'shortlist' || stage.name === 'again' ? ofShortlist : fresh.length - ofShortlist,
  }))
  const isSame = (one: StageFacts, other: StageFacts): boolean =>
    one.name === other.name && one.otherSpeeds === other.otherSpeeds
  return {
    stages: [
      ...stages.map((stage) => ({
        ...stage,
        soundCount: stage.soundCount + (added.find((one) => isSame(one, stage))?.soundCount ?? 0),
      })),
      ...added.filter((one) => one.soundCount > 0 && !stages.some((stage) => isSame(one, stage))),
    ],
    sensitivity: [
      ...sensitivity.filter(([soundId]) => !targetIds.has(soundId)),
      ...sensitivityFacts(found.sensitivity, targets),
    ],
  }
}
