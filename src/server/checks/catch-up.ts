import { ABOUT_WHICH, type CheckFacts, type DetectionFacts, type TrackFacts } from '../../core/clearance'
import { FEATURES_VERSION, type Opposition } from '../../core/hearing'
import { coveredFraction, type TimeRange } from '../../core/time-range'
import { checks as messages } from '../../messages/server/checks'
import { listUnlistedSounds, unheardSince } from '../clearance/clearance-input'
import { listUnheard, type UnheardSound } from '../clearance/listed'
import { verdictsEntry } from '../clearance/verdicts-entry'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { type Db, nowIso, todayIso } from '../database/open'
import type { JobContext, Jobs } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import { MediaError } from '../media/decoder'
import { findCurrentCheck, getFacts, storeFacts } from '../rows/check-facts'
import { runTask } from '../workers/pool'
import type { StoredRestTask, TrackTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { findPlacedLater, writePlaced } from './placed-facts'
import { newestChange } from './reference-sounds'
import { writeDetections } from './run-check'
import { heardIn, loadStoredTracks, type StoredTracks, searchTracks, type Target } from './search-stored'

/** More new sounds than this would keep the machine at work for hours where there are many videos; the video says that its list has grown. */
const MAX_SOUNDS = 1000
/** A find that lies within another one of the same sound by this much is that one. */
const SAME_PLACE = 0.5

/** Queues the look for new sounds in every video that was checked before they came, or by a version that looked at less. */
export async function enqueueCatchUps({
  db,
  store,
  jobs,
}: Pick<Services, 'db' | 'store'> & { readonly jobs: Jobs }): Promise<void> {
  const unheard = await listUnheard(db)
  const videos = await db.selectFrom('videos').select(['id', 'title']).where('removed_at', 'is', null).execute()
  for (const { id, title } of videos) {
    const current = await findCurrentCheck(db, id)
    if (current.factsSha256 === null || current.isChecking) continue
    const facts = await getFacts(db, current.factsSha256)
    const targets = await findTargets(db, id, facts)
    if (targets.length > MAX_SOUNDS) continue
    if (targets.length > 0 || unheardForGood(facts, unheard).length > 0)
      await jobs.enqueue('catch-up', String(id), messages.lookingForNewSoundsIn(title))
    else if (
      facts.tracks.some(isRestUnknown) ||
      opposedUnknown(store, facts).length > 0 ||
      (await findPlacedLater(db, id, facts)) !== null
    )
      await jobs.enqueue('catch-up', String(id), messages.lookingOnceMoreAt(title))
  }
}

/** What the look for new sounds goes by: another one when a sound may be listened for, or was named for a stretch, since. */
export async function catchUpMark(db: Db): Promise<string> {
  const answer = await db
    .selectFrom('point_answers')
    .select((eb) => eb.fn.max('id').as('id'))
    .executeTakeFirst()
  return `${await newestChange(db)} ${Number(answer?.id ?? 0)}`
}

/** Sounds that were listed since a check and of which it is known that they cannot be listened for. */
function unheardForGood(facts: CheckFacts, unheard: readonly UnheardSound[]): UnheardSound[] {
  return unheardSince(facts, unheard).filter(({ isForGood }) => isForGood)
}

/** Whether nobody looked yet for what goes on beside heard sounds, as versions before that was done. */
function isRestUnknown({ notListenedReason, beyondHeard }: TrackFacts): boolean {
  return notListenedReason === null && beyondHeard === undefined
}

/** Tracks in which nobody looked yet whether left and right oppose each other, and whose file is there to look. */
function opposedUnknown(store: Services['store'], { tracks, file }: CheckFacts): TrackFacts[] {
  const unknown = tracks.filter(
    ({ notListenedReason, partlyOpposed, channelCount }) =>
      notListenedReason === null && partlyOpposed === undefined && channelCount > 1,
  )
  return unknown.length > 0 && store.has(file.sha256) ? unknown : []
}

/** Sounds to look for: those that came since, and those that the creator named and that were not looked for yet. */
async function findTargets(db: Db, videoId: number, facts: CheckFacts): Promise<Target[]> {
  const unlisted = await listUnlistedSounds(db, facts)
  const named = await db
    .selectFrom('point_answers')
    .innerJoin('analyses', 'analyses.sound_id', 'point_answers.from_sound_id')
    .select(['analyses.sound_id', 'analyses.audio_sha256'])
    .distinct()
    .where('video_id', '=', videoId)
    .where('point_kind', 'not in', ABOUT_WHICH)
    .where('undone_at', 'is', null)
    .execute()
  const claimed = named
    .filter(({ sound_id }) => !facts.reference.claimedIds.includes(sound_id))
    .map(({ sound_id, audio_sha256 }) => ({ soundId: sound_id, audioSha256: audio_sha256, isClaimed: true }))
  const claimedIds = new Set(claimed.map(({ soundId }) => soundId))
  return [
    ...claimed,
    ...unlisted.filter(({ soundId }) => !claimedIds.has(soundId)).map((one) => ({ ...one, isClaimed: false })),
  ]
}

/**
 * Looks for sounds that came after a check in the tracks that it stored, and carries its facts on. What the check found stays.
 *
 * Safe to run again: the facts are written once, at the end.
 */
export async function catchUp(services: Services, videoId: number, context: JobContext): Promise<string> {
  const { db } = services
  const { checkId, factsSha256, isChecking } = await findCurrentCheck(db, videoId)
  if (checkId === null || factsSha256 === null || isChecking) return messages.thereNoFinishedCheckCarry
  const upToChange = await newestChange(db)
  const facts = await getFacts(db, factsSha256)
  const wanted = await findTargets(db, videoId, facts)
  const targets = wanted.slice(0, MAX_SOUNDS)
  const stored = await loadStoredTracks(db, checkId)
  const found = await searchTracks(services, stored, facts, { targets, context })
  if (found === null) return messages.tracksAreNotStoredIn
  const hopeless = unheardForGood(facts, await listUnheard(db))
  const unheard = new Map([
    ...(await withoutSilent(db, found.unheard)),
    ...hopeless.map(({ soundId, reason }) => [soundId, reason] as const),
  ])
  const fresh = found.finds.filter((find) => !facts.detections.some((known) => isSamePlace(find, known)))
  const detections = [...found.known, ...fresh].sort((a, b) => a.trackIndex - b.trackIndex || a.startS - b.startS)
  const { signal } = context
  const opposed = await opposedInFile(services, facts, signal)
  const withRest = await tracksWithRest(services, stored, { facts, detections, fresh, signal })
  const tracks = withRest.map((track) => ({
    ...track,
    ...found.tracks.get(track.index),
    ...opposed.get(track.index),
  }))
  const placed = await findPlacedLater(db, videoId, facts)
  const isLookedAt = opposed.size > 0 || facts.tracks.some(isRestUnknown) || placed !== null
  if (targets.length === 0 && hopeless.length === 0 && !isLookedAt) return messages.lookedAtOnceMore
  const heard = { tracks, detections }
  const carried = carriedOn(placed ? { ...facts, placed } : facts, {
    factsSha256,
    targets,
    unheard,
    isAll: targets.length === wanted.length,
    heard,
    upToChange,
  })
  await db.transaction().execute(async (trx) => {
    await writeDetections(trx, checkId, carried.detections)
    if (placed) await writePlaced(trx, checkId, placed)
    const sha256 = await storeFacts(trx, checkId, carried)
    await appendToLedger(trx, 'checked', {
      checkId,
      fileSha256: facts.file.sha256,
      factsSha256: sha256,
      carriesOn: factsSha256,
      soundsListenedFor: carried.reference.listenedFor.length,
      placesHeard: carried.detections.length,
      ...(await verdictsEntry(trx, { checkId, videoId, asOf: todayIso() })),
    })
  })
  if (targets.length === 0) return messages.lookedAtOnceMore
  const places = carried.detections.length - facts.detections.length
  return messages.moreSoundsListenedForMore(targets.length, places)
}

/** What is silent cannot be in a video; what is not, and has nothing in its middle, may be. */
async function withoutSilent(db: Db, unheard: ReadonlyMap<number, string>): Promise<Map<number, string>> {
  if (unheard.size === 0) return new Map()
  const silent = await db
    .selectFrom('analyses')
    .select('sound_id')
    .where('loudness_lufs', 'is', null)
    .where(isOneOf('sound_id', [...unheard.keys()]))
    .execute()
  const silentIds = new Set(silent.map(({ sound_id }) => sound_id))
  return new Map([...unheard].filter(([soundId]) => !silentIds.has(soundId)))
}

function isSamePlace(find: DetectionFacts, known: DetectionFacts): boolean {
  return (
    known.trackIndex === find.trackIndex &&
    known.soundId === find.soundId &&
    known.audioSha256 === find.audioSha256 &&
    coveredFraction(find, [known]) >= SAME_PLACE
  )
}

/** Where left and right oppose each other, by index, in the tracks of which that is not known: what is stored of a track is its middle, so the file is decoded once more. */
async function opposedInFile(
  { store, pool }: Services,
  facts: CheckFacts,
  signal: AbortSignal,
): Promise<Map<number, Opposition>> {
  const found = new Map<number, Opposition>()
  for (const { index, end, durationS } of opposedUnknown(store, facts)) {
    const path = store.blobPath(facts.file.sha256)
    // What came to no end before is read as far as it was then.
    const task: Omit<TrackTask, 'pulse'> = { path, trackIndex: index, untilS: end === 'whole' ? null : durationS }
    try {
      found.set(index, await runWatchedTask<Opposition>(pool, 'findOpposed', task, { signal }))
    } catch (error) {
      // It stays unknown, and what is wrong with the file is said where files are gone through.
      if (signal.aborted || !(error instanceof MediaError)) throw error
    }
  }
  return found
}

/**
 * A sound that is heard later explains its place only where little is left without it, as in a check: tracks with such a find are looked at once more, and
 * those that were never looked at so.
 */
async function tracksWithRest(
  { store, pool }: Services,
  stored: StoredTracks,
  {
    facts,
    detections,
    fresh,
    signal,
  }: {
    readonly facts: CheckFacts
    readonly detections: readonly DetectionFacts[]
    readonly fresh: readonly DetectionFacts[]
    readonly signal: AbortSignal
  },
): Promise<TrackFacts[]> {
  return Promise.all(
    facts.tracks.map(async (track) => {
      const row = stored.find(({ track_index }) => track_index === track.index)
      const isChanged = fresh.some(({ trackIndex }) => trackIndex === track.index) || isRestUnknown(track)
      if (!row || !isChanged) return track
      const { detections: heard, paths } = heardIn({ detections }, track.index, store)
      const task: StoredRestTask = {
        bytes: row.bytes,
        heard,
        paths,
        speech: track.segments.filter(({ kind }) => kind === 'speech'),
      }
      return { ...track, beyondHeard: await runTask<TimeRange[]>(pool, 'findBeyondHeard', task, { signal }) }
    }),
  )
}

function carriedOn(
  facts: CheckFacts,
  {
    factsSha256,
    targets,
    unheard,
    isAll,
    heard,
    upToChange,
  }: {
    readonly factsSha256: string
    readonly targets: readonly Target[]
    /** Those of them that could not be listened for, and why. */
    readonly unheard: ReadonlyMap<number, string>
    /** Nothing is left that this version would listen for and the check did not. */
    readonly isAll: boolean
    readonly heard: Pick<CheckFacts, 'tracks' | 'detections'>
    readonly upToChange: number
  },
): CheckFacts {
  const looked = new Map(targets.map(({ soundId, audioSha256 }) => [soundId, audioSha256]))
  return {
    ...facts,
    ...heard,
    finishedAt: nowIso(),
    carriesOn: factsSha256,
    engine: isAll ? { ...facts.engine, featuresVersion: FEATURES_VERSION } : facts.engine,
    reference: {
      listenedFor: [
        ...facts.reference.listenedFor.filter(([soundId]) => !looked.has(soundId) && !unheard.has(soundId)),
        ...[...looked].filter(([soundId]) => !unheard.has(soundId)),
      ].sort(([a], [b]) => a - b),
      notListenedFor: [
        ...facts.reference.notListenedFor.filter(({ soundId }) => !looked.has(soundId)),
        ...[...unheard].map(([soundId, reason]) => ({ soundId, reason })),
      ],
      claimedIds: [
        ...facts.reference.claimedIds,
        ...targets.filter(({ isClaimed }) => isClaimed).map(({ soundId }) => soundId),
      ],
      upToChange,
    },
  }
}
