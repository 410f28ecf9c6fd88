import { sql } from 'kysely'
import { FEATURES_VERSION, type RecordingRelations } from '../../core/hearing'
import { analysis as messages } from '../../messages/server/analysis'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/open'
import { TooLargeError } from '../files/store'
import type { JobContext } from '../jobs/jobs'
import { type Connector, SourceError } from '../ports/connector'
import { runTask } from '../workers/pool'
import type { GroupTask, SoundAnalysis, SumTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { forgetComparisons, knownComparisons, knownSum, rememberComparisons, rememberSum } from './comparisons'
import { storeDescription } from './describe-sounds'

/** Largest preview that is fetched, bytes. */
const MAX_PREVIEW_BYTES = 100 * 1024 * 1024
/** Previews fetched and analysed at the same time: polite to the library, enough for two cores. */
const PREVIEWS_AT_ONCE = 3
const SOUNDS_PER_ROUND = 500
/** Share of a sync that reading the catalogue is, for progress; listening is the rest. */
export const CATALOGUE_SHARE = 0.2

/** Fetches and analyses every sound of a library that has not been listened to. @returns How many there were. */
export async function listenToNew(services: Services, connector: Connector, context: JobContext): Promise<number> {
  const counts = (await services.countSounds('now')).get(connector.id)
  const count = counts ? counts.sounds - counts.current : 0
  let done = 0
  // Some at a time: a large catalogue is never held as a whole.
  for (let after = 0; ; ) {
    const queue = await unheardSounds(services.db, connector.id)
      .select(['sounds.id', 'sounds.preview_ref', 'sounds.title'])
      .where('sounds.id', '>', after)
      .orderBy('sounds.id')
      .limit(SOUNDS_PER_ROUND)
      .execute()
    const last = queue[queue.length - 1]
    if (!last) return done
    after = last.id
    const lane = async (): Promise<void> => {
      for (let next = queue.shift(); next; next = queue.shift()) {
        await listenToOne(services, connector, next, context.signal)
        done++
        const share = CATALOGUE_SHARE + (1 - CATALOGUE_SHARE) * Math.min(1, done / count)
        context.report(share, messages.listeningToOfNewSounds(done, count))
      }
    }
    await Promise.all(Array.from({ length: PREVIEWS_AT_ONCE }, lane))
  }
}

/** Sounds of a library that nobody has listened to in the way of today. */
function unheardSounds(db: Db, sourceId: string) {
  return (
    db
      .selectFrom('sounds')
      .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
      // The plus has the table read in the order of its rows, a piece at a time.
      .where(sql`+sounds.source_id`, '=', sourceId)
      .where('sounds.withdrawn_at', 'is', null)
      .where((eb) =>
        eb.or([eb('analyses.sound_id', 'is', null), eb('analyses.feature_version', '<', FEATURES_VERSION)]),
      )
  )
}

/** One sound that cannot be fetched or decoded does not stop the others: it is written down with the reason. */
export async function listenToOne(
  services: Services,
  connector: Connector,
  sound: { id: number; preview_ref: string; title: string },
  signal: AbortSignal,
): Promise<void> {
  try {
    const preview = await connector.preview(sound.preview_ref, signal)
    const stored = await services.store.storeStream(preview.body, { maxBytes: MAX_PREVIEW_BYTES, signal })
    await analyseInto(services, sound.id, stored.sha256, preview.mime, signal)
  } catch (error) {
    if (signal.aborted) throw error
    // A library that is down stays down: stop, and try the rest at the next sync.
    if (error instanceof SourceError && (error.code === 'down' || error.code === 'busy')) throw error
    const reason = error instanceof TooLargeError ? messages.previewFarTooLarge : services.explain(error)
    await services.db
      .insertInto('analysis_failures')
      .values({ sound_id: sound.id, reason, at: nowIso() })
      .onConflict((conflict) => conflict.column('sound_id').doUpdateSet({ reason, at: nowIso() }))
      .execute()
  }
}

const grouping = new WeakMap<Db, Promise<void>>()

/**
 * Looks through all sounds of all libraries for those that are the same recording or lie in another, and writes that down anew. One after another: of two at
 * once, the one that began with fewer sounds could be the last to write.
 */
export function groupRecordings(services: Services, signal: AbortSignal): Promise<void> {
  const before = grouping.get(services.db) ?? Promise.resolve()
  const own = before.catch(() => undefined).then(() => groupAnew(services, signal))
  grouping.set(services.db, own)
  return own
}

async function groupAnew({ db, store, pool }: Services, signal: AbortSignal): Promise<void> {
  signal.throwIfAborted()
  const rows = await db
    .selectFrom('analyses')
    .select(['sound_id', 'audio_sha256'])
    .where('feature_version', '=', FEATURES_VERSION)
    .orderBy('sound_id')
    .execute()
  const audio = rows.map(({ audio_sha256 }) => audio_sha256)
  const known = await knownComparisons(db, audio)
  const task: GroupTask = { paths: audio.map((sha256) => store.featurePath(sha256)), known }
  const { groups, pieces, compared } = await runTask<RecordingRelations>(pool, 'groupSounds', task, { signal })
  const idAt = (index: number): number => (rows[index] as (typeof rows)[number]).sound_id
  const wanted = groups.flatMap((group) => {
    const ids = group.map(idAt)
    return ids.map((id) => ({ sound_id: id, group_id: ids[0] as number }))
  })
  const sums = await findSums({ db, store, pool }, signal)
  await db.transaction().execute(async (trx) => {
    await rememberComparisons(trx, audio, compared)
    await writeGroups(trx, wanted)
    await trx.deleteFrom('recording_sums').execute()
    for (const sum of sums) await trx.insertInto('recording_sums').values(sum).execute()
    await trx.deleteFrom('recording_pieces').execute()
    for (const { whole, piece } of pieces)
      await trx
        .insertInto('recording_pieces')
        .values({ whole_id: idAt(whole), piece_id: idAt(piece) })
        .execute()
  })
}

/**
 * Entries that are what all of their stems add up to: that a library lists some stems does not make them all that there are. Of an entry with a stem that was
 * not listened to, nothing is known.
 */
async function findSums(
  { db, store, pool }: Pick<Services, 'db' | 'store' | 'pool'>,
  signal: AbortSignal,
): Promise<{ whole_id: number; stem_ids_json: string }[]> {
  const rows = await db
    .selectFrom('sounds as stem')
    .innerJoin('sounds as entry', (join) =>
      join.onRef('entry.source_id', '=', 'stem.source_id').onRef('entry.external_id', '=', 'stem.choice_of'),
    )
    .leftJoin('analyses as heard', (join) =>
      join.onRef('heard.sound_id', '=', 'stem.id').on('heard.feature_version', '=', FEATURES_VERSION),
    )
    .innerJoin('analyses as whole', 'whole.sound_id', 'entry.id')
    .select([
      'entry.id as whole_id',
      'stem.id as stem_id',
      'whole.audio_sha256 as whole_sha',
      'heard.audio_sha256 as stem_sha',
    ])
    .where('stem.choice_of', 'is not', null)
    .where('stem.choice_role', '=', 'stem')
    .where('whole.feature_version', '=', FEATURES_VERSION)
    .orderBy('stem.id')
    .execute()
  const entries = new Map<number, typeof rows>()
  for (const row of rows) entries.set(row.whole_id, [...(entries.get(row.whole_id) ?? []), row])
  const sums: { whole_id: number; stem_ids_json: string }[] = []
  for (const [whole_id, stems] of entries) {
    const whole = stems[0]?.whole_sha ?? ''
    const parts = stems.flatMap(({ stem_sha }) => (stem_sha === null ? [] : [stem_sha]))
    if (parts.length < stems.length) continue
    const task: SumTask = { whole: store.featurePath(whole), stems: parts.map((sha256) => store.featurePath(sha256)) }
    let isSum = await knownSum(db, whole, parts)
    if (isSum === null) {
      isSum = await runTask<boolean | null>(pool, 'addUp', task, { signal })
      if (isSum !== null) await rememberSum(db, whole, parts, isSum)
    }
    if (isSum) sums.push({ whole_id, stem_ids_json: JSON.stringify(stems.map(({ stem_id }) => stem_id)) })
  }
  return sums
}

/** Writes the groups down where they are not those that are there: what rests on them is decided anew after each change. */
async function writeGroups(trx: Db, wanted: readonly { sound_id: number; group_id: number }[]): Promise<void> {
  const inOrder = (rows: readonly { sound_id: number; group_id: number }[]): string =>
    rows
      .map(({ sound_id, group_id }) => `${sound_id} ${group_id}`)
      .sort()
      .join()
  const there = await trx.selectFrom('recording_groups').select(['sound_id', 'group_id']).execute()
  if (inOrder(there) === inOrder(wanted)) return
  await trx.deleteFrom('recording_groups').execute()
  for (const row of wanted) await trx.insertInto('recording_groups').values(row).execute()
}

/** Analyses a stored file as the audio of a sound and records print, loudness, hit and features. */
export async function analyseInto(
  services: Services,
  soundId: number,
  sha256: string,
  mime: string,
  signal: AbortSignal,
): Promise<void> {
  const task = { path: services.store.blobPath(sha256), featurePath: services.store.featurePath(sha256) }
  const analysis = await runWatchedTask<SoundAnalysis>(services.pool, 'analyseSound', task, { signal })
  const values = {
    sound_id: soundId,
    audio_sha256: sha256,
    audio_mime: mime,
    print_column_s: analysis.printColumnS,
    print_levels: Buffer.from(analysis.printLevels),
    loudness_lufs: analysis.loudnessLufs,
    hit_s: analysis.hitS,
    duration_s: analysis.durationS,
    feature_version: FEATURES_VERSION,
  }
  await services.db.transaction().execute(async (trx) => {
    await trx
      .insertInto('analyses')
      .values(values)
      .onConflict((conflict) => conflict.column('sound_id').doUpdateSet(values))
      .execute()
    await forgetComparisons(trx, sha256)
    await storeDescription(trx, soundId, analysis.description)
    await trx.deleteFrom('analysis_failures').where('sound_id', '=', soundId).execute()
  })
}
