import {
  type CheckFacts,
  type DetectionFacts,
  FACTS_VERSION,
  type PlacedFacts,
  type TrackFacts,
} from '../../core/clearance'
import { COMPACT_VERSION, FEATURES_VERSION } from '../../core/hearing'
import { checks as messages } from '../../messages/server/checks'
import { inspectWatched } from '../analysis/decode-watched'
import { listen } from '../analysis/listen'
import type { ListeningResult } from '../analysis/listening'
import { verdictsEntry } from '../clearance/verdicts-entry'
import type { Services } from '../context'
import { type Db, nowIso, todayIso } from '../database/open'
import { notFound } from '../domain-error'
import { bytesOf } from '../files/bytes-of'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import { type AudioTrack, MediaError } from '../media/decoder'
import { storeFacts } from '../rows/check-facts'
import { findScoreRow } from '../rows/score-rows'
import type { FileInspection } from '../workers/tasks'
import { completedStages } from './completed-stages'
import { detectionFacts, sensitivityFacts } from './facts-of'
import { placedFacts, writePlaced } from './placed-facts'
import { loadReferenceSounds, type ReferenceSounds, referenceSetOf } from './reference-sounds'

/** Version of the engine as the facts name it. */
const ENGINE_VERSION = '3'

interface CheckRow {
  readonly id: number
  readonly video_id: number
  readonly export_id: number
  readonly sha256: string
  readonly size_bytes: number
}

/** One track that was listened to, or the reason why it could not be. */
type TrackOutcome =
  | { readonly track: AudioTrack; readonly result: ListeningResult }
  | { readonly track: AudioTrack; readonly error: MediaError }

/**
 * Listens to every audio track of the exported file of a check for every sound of every source, and writes the facts down.
 *
 * Safe to run again: each finished stage stays until the check is over, and each result is written in one transaction.
 */
export async function runCheck(services: Services, checkId: number, context: JobContext): Promise<string> {
  const { db } = services
  const check = await db
    .selectFrom('checks')
    .innerJoin('exports', 'exports.id', 'checks.export_id')
    .select(['checks.id', 'checks.video_id', 'checks.export_id', 'exports.sha256', 'exports.size_bytes'])
    .where('checks.id', '=', checkId)
    .executeTakeFirst()
  if (!check) throw notFound(messages.thisCheck)
  await db
    .updateTable('checks')
    .set({ state: 'running', message: messages.listening })
    .where('id', '=', checkId)
    .execute()
  try {
    const reference = await loadReferenceSounds(services)
    const { media, outcomes } = await listenToTracks(services, check, reference, context)
    const { revision, document } = await findScoreRow(db, check.video_id)
    const planRevision = revision === 0 ? null : revision
    const facts = factsOf({ check, media, outcomes, reference, planRevision, placed: placedFacts(document) })
    await db.transaction().execute((trx) => writeResult(trx, check, facts, outcomes))
    return inWords(facts)
  } catch (error) {
    const cancelled = context.signal.aborted
    await db
      .updateTable('checks')
      .set({ state: cancelled ? 'cancelled' : 'failed', message: cancelled ? '' : services.explain(error) })
      .where('id', '=', checkId)
      .execute()
    throw error
  }
}

function inWords({ detections, reference, tracks }: CheckFacts): string {
  const partly = tracks.some(
    ({ notListenedReason, missing, end }) => notListenedReason || missing.length > 0 || end !== 'whole',
  )
  const heard = messages.placesHeardSoundsListenedFor(detections.length, reference.listenedFor.length)
  return partly ? messages.partlyExamined(heard) : heard
}

/** @throws {MediaError} when no track could be listened to. */
async function listenToTracks(
  services: Services,
  check: CheckRow,
  reference: ReferenceSounds,
  { signal, report }: JobContext,
): Promise<{ media: FileInspection; outcomes: TrackOutcome[] }> {
  const { db, store, pool } = services
  const path = store.blobPath(check.sha256)
  const media = await inspectWatched(pool, path, signal)
  const outcomes: TrackOutcome[] = []
  const heardBefore: DetectionFacts[] = []
  for (const track of media.tracks) {
    const { index } = track
    try {
      const result = await listen(pool, path, referenceSetOf(reference.audible), {
        trackIndex: index,
        signal,
        keep: true,
        onProgress: (fraction, doing) =>
          report((index + fraction) / media.tracks.length, trackWords(doing, index, media.tracks.length)),
        stages: completedStages(db, check.id, { trackIndex: index, reference }),
        onHeard: (heard) =>
          db
            .transaction()
            .execute((trx) =>
              writeDetections(trx, check.id, [...heardBefore, ...detectionFacts(heard, index, reference.audible)]),
            ),
      })
      outcomes.push({ track, result })
      heardBefore.push(...detectionFacts(result.detections, index, reference.audible))
    } catch (error) {
      if (signal.aborted || !(error instanceof MediaError)) throw error
      outcomes.push({ track, error })
    }
  }
  const failed = outcomes.flatMap((outcome) => ('error' in outcome ? [outcome.error] : []))
  if (failed.length === outcomes.length) throw failed[0]
  return { media, outcomes }
}

function trackWords(doing: string, index: number, count: number): string {
  return count === 1 ? doing : messages.trackOf(index + 1, count, doing)
}

function factsOf({
  check,
  media,
  outcomes,
  reference,
  planRevision,
  placed,
}: {
  check: CheckRow
  media: FileInspection
  outcomes: readonly TrackOutcome[]
  reference: ReferenceSounds
  planRevision: number | null
  placed: readonly PlacedFacts[]
}): CheckFacts {
  const results = outcomes.flatMap((outcome) => ('result' in outcome ? [outcome.result] : []))
  const unreadable = new Map(
    results.flatMap(({ unreadable: some }) =>
      some.flatMap(({ index, reason }) => {
        const sound = reference.audible[index]
        return sound && !sound.isSilent ? [[sound.soundId, reason] as const] : []
      }),
    ),
  )
  const listened = reference.audible.filter(({ soundId }) => !unreadable.has(soundId))
  return {
    version: FACTS_VERSION,
    finishedAt: nowIso(),
    file: { sha256: check.sha256, sizeBytes: check.size_bytes, hasPicture: media.hasPicture },
    decoder: media.decoder,
    engine: { version: ENGINE_VERSION, featuresVersion: FEATURES_VERSION },
    tracks: outcomes.map((outcome) => trackFacts(outcome, reference)),
    reference: {
      listenedFor: listened.map(({ soundId, audioSha256 }) => [soundId, audioSha256]),
      notListenedFor: [
        ...reference.inaudible,
        ...reference.audible.flatMap(({ soundId }) => {
          const reason = unreadable.get(soundId)
          return reason === undefined ? [] : [{ soundId, reason }]
        }),
      ],
      claimedIds: [],
      upToChange: reference.upToChange,
    },
    detections: outcomes.flatMap((outcome) =>
      'result' in outcome ? detectionFacts(outcome.result.detections, outcome.track.index, reference.audible) : [],
    ),
    carriesOn: null,
    planRevision,
    placed,
  }
}

const NOTHING: Pick<
  TrackFacts,
  | 'durationS'
  | 'end'
  | 'missing'
  | 'stages'
  | 'decoys'
  | 'sensitivity'
  | 'segments'
  | 'unexplained'
  | 'secondsOf'
  | 'explainedFraction'
  | 'loudness'
> = {
  durationS: 0,
  end: 'broke-off',
  missing: [],
  stages: [],
  decoys: { listenedFor: 0, heard: 0 },
  sensitivity: [],
  segments: [],
  unexplained: [],
  secondsOf: { speech: 0, music: 0, noise: 0, silence: 0, heard: 0, unexplained: 0 },
  explainedFraction: 0,
  loudness: null,
}

function trackFacts(outcome: TrackOutcome, { audible }: ReferenceSounds): TrackFacts {
  const { index, codec, language, channelCount, channelLayout, durationS: statedDurationS } = outcome.track
  const about = { index, codec, language, channelCount, channelLayout, statedDurationS }
  if ('error' in outcome) return { ...about, ...NOTHING, notListenedReason: outcome.error.message }
  const { track, breakdown, sensitivity, stages, decoyCount, decoyFinds } = outcome.result
  return {
    ...about,
    notListenedReason: null,
    durationS: track.durationS,
    end: track.end,
    missing: track.missing,
    stages,
    decoys: { listenedFor: decoyCount, heard: decoyFinds },
    sensitivity: sensitivityFacts(sensitivity, audible),
    segments: breakdown.segments,
    unexplained: breakdown.unexplained,
    beyondHeard: breakdown.beyondHeard,
    opposed: track.opposed,
    partlyOpposed: track.partlyOpposed,
    secondsOf: breakdown.secondsOf,
    explainedFraction: breakdown.explainedFraction,
    loudness: {
      integratedLufs: track.integratedLufs,
      truePeakDbtp: track.truePeakDbtp,
      rangeLu: track.loudnessRangeLu,
      shortTermMaxLufs: track.shortTermMaxLufs,
    },
  }
}

/** The facts, what the page draws, and the tracks as they are searched later, with their entry in the ledger. */
async function writeResult(
  trx: Db,
  check: CheckRow,
  facts: CheckFacts,
  outcomes: readonly TrackOutcome[],
): Promise<void> {
  await writeDetections(trx, check.id, facts.detections)
  await trx
    .deleteFrom('check_stages')
    .where('check_id', 'in', (eb) => eb.selectFrom('checks').select('id').where('export_id', '=', check.export_id))
    .execute()
  await trx.deleteFrom('track_maps').where('check_id', '=', check.id).execute()
  await writePlaced(trx, check.id, facts.placed ?? [])
  for (const outcome of outcomes) {
    if (!('result' in outcome)) continue
    const { track, compact } = outcome.result
    const key = { track_index: outcome.track.index }
    await trx
      .insertInto('track_maps')
      .values({
        ...key,
        check_id: check.id,
        momentary: bytesOf(track.momentaryLufs),
        waveform: bytesOf(track.waveform),
      })
      .execute()
    const stored = { ...key, export_id: check.export_id, version: COMPACT_VERSION, bytes: Buffer.from(compact ?? []) }
    await trx
      .insertInto('stored_tracks')
      .values(stored)
      .onConflict((conflict) => conflict.columns(['export_id', 'track_index']).doUpdateSet(stored))
      .execute()
  }
  const factsSha256 = await storeFacts(trx, check.id, facts)
  await trx
    .updateTable('checks')
    .set({ state: 'done', message: '', finished_at: facts.finishedAt })
    .where('id', '=', check.id)
    .execute()
  await appendToLedger(trx, 'checked', {
    checkId: check.id,
    fileSha256: check.sha256,
    factsSha256,
    tracks: facts.tracks.length,
    notListenedTo: facts.tracks.filter(({ notListenedReason }) => notListenedReason !== null).length,
    missing: facts.tracks.flatMap(({ index, missing }) => missing.map((range) => ({ track: index, ...range }))),
    soundsListenedFor: facts.reference.listenedFor.length,
    placesHeard: facts.detections.length,
    ...(await verdictsEntry(trx, { checkId: check.id, videoId: check.video_id, asOf: todayIso() })),
  })
}

/** Writes places down in place of those that were there, for what is looked up by sound. */
export async function writeDetections(trx: Db, checkId: number, detections: readonly DetectionFacts[]): Promise<void> {
  await trx.deleteFrom('detections').where('check_id', '=', checkId).execute()
  for (const find of detections)
    await trx
      .insertInto('detections')
      .values({
        check_id: checkId,
        sound_id: find.soundId,
        audio_sha256: find.audioSha256,
        track_index: find.trackIndex,
        start_s: find.startS,
        end_s: find.endS,
        from_s: find.fromS,
        to_s: find.toS,
        gain_db: find.gainDb,
        confidence: find.confidence,
        speed: find.speed,
        treatment: find.treatment,
        cutoff_hz: find.cutoffHz,
        balance: find.balance,
        fade_in_s: find.fadeInS,
        fade_out_s: find.fadeOutS,
        alternatives_json: JSON.stringify(find.alternativeIds),
      })
      .execute()
}
