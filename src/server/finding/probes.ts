import type { Readable } from 'node:stream'
import type { Probe } from '../../contract'
import type { TimeRange } from '../../core/time-range'
import { finding as messages } from '../../messages/server/finding'
import type { Services } from '../context'
import { nowIso } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import { plainFileName } from '../files/file-name'
import { takeWithinLimit } from '../files/within-limit'
import { requireRange } from '../media/range-limits'
import type { DescribeTask, SoundDescription } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'

/** So many are kept; the oldest make room. */
const PROBES_KEPT = 200

/** Describes a file, or a range of its sound track, so that sounds like it can be looked for. The file itself is not kept. */
export async function probeFile(
  services: Services,
  file: { name: string; body: Readable; range: TimeRange | null; signal: AbortSignal },
): Promise<Probe> {
  const { store } = services
  const temporary = store.temporaryPath('probe')
  try {
    await takeWithinLimit((maxBytes) => store.writeTemporary(temporary, file.body, { maxBytes, signal: file.signal }))
    return await describeProbe(services, {
      path: temporary,
      range: file.range,
      title: plainFileName(file.name),
      signal: file.signal,
    })
  } finally {
    await store.removeTemporary(temporary)
  }
}

/** Describes a part of a sound. @throws {DomainError} not-found, bad-range. */
export async function probeSound(
  services: Services,
  soundId: number,
  range: TimeRange,
  signal: AbortSignal,
): Promise<Probe> {
  const sound = await services.db
    .selectFrom('sound_rows')
    .innerJoin('analyses', 'analyses.sound_id', 'sound_rows.id')
    .select(['shown_title', 'audio_sha256'])
    .where('sound_rows.id', '=', soundId)
    .executeTakeFirst()
  if (!sound) throw notFound(messages.theAudioOfThisSound)
  const title = `${sound.shown_title}, ${rangeWords(range)}`
  return describeProbe(services, { path: services.store.blobPath(sound.audio_sha256), range, title, signal })
}

/** Keeps the description of a range of the newest finished file of a video. @throws {DomainError} not-found, bad-range, silent. */
export async function probeVideo(
  services: Services,
  videoId: number,
  range: TimeRange,
  signal: AbortSignal,
): Promise<Probe> {
  const { likeness, videoTitle } = await describeVideoPart(services, videoId, range, signal)
  return keepProbe(services, `${videoTitle}, ${rangeWords(range)}`, likeness)
}

/** Describes a range of the newest finished file of a video. @throws {DomainError} not-found, bad-range. */
export async function describeVideoPart(
  services: Services,
  videoId: number,
  range: TimeRange,
  signal: AbortSignal,
): Promise<{ readonly likeness: SoundDescription['likeness']; readonly videoTitle: string }> {
  const file = await services.db
    .selectFrom('exports')
    .innerJoin('videos', 'videos.id', 'exports.video_id')
    .select(['exports.sha256', 'videos.title'])
    .where('video_id', '=', videoId)
    .where('exports.removed_at', 'is', null)
    .where('videos.removed_at', 'is', null)
    .orderBy('exports.id', 'desc')
    .executeTakeFirst()
  if (!file) throw notFound(messages.finishedFileThisVideo)
  const likeness = await describeFile(services, { path: services.store.blobPath(file.sha256), range, signal })
  return { likeness, videoTitle: file.title }
}

async function describeProbe(
  services: Services,
  { title, ...file }: FileToDescribe & { title: string },
): Promise<Probe> {
  return keepProbe(services, title, await describeFile(services, file))
}

interface FileToDescribe {
  readonly path: string
  readonly range: TimeRange | null
  readonly signal: AbortSignal
}

async function describeFile(
  { interactivePool }: Pick<Services, 'interactivePool'>,
  { path, range, signal }: FileToDescribe,
): Promise<SoundDescription['likeness']> {
  if (range) requireRange(range)
  const task: DescribeTask = { path, range }
  const { likeness } = await runWatchedTask<SoundDescription>(interactivePool, 'describeSound', task, { signal })
  return likeness
}

async function keepProbe(
  { db }: Pick<Services, 'db'>,
  title: string,
  likeness: SoundDescription['likeness'],
): Promise<Probe> {
  if (!likeness) throw new DomainError('silent', messages.thereOnlySilenceInNothing)
  const { id } = await db
    .insertInto('probes')
    .values({
      title,
      vector: Buffer.from(new Uint8Array(likeness.vector.buffer)),
      traits_json: JSON.stringify(likeness.traits),
      created_at: nowIso(),
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  await db
    .deleteFrom('probes')
    .where('id', '<=', id - PROBES_KEPT)
    .execute()
  return { id, title }
}

function rangeWords({ startS, endS }: TimeRange): string {
  return `${startS.toFixed(1)} to ${endS.toFixed(1)} s`
}
