import { LIKENESS_VERSION } from '../../core/likeness'
import { analysis as messages } from '../../messages/server/analysis'
import type { Services } from '../context'
import type { Db } from '../database/open'
import type { JobContext, Jobs } from '../jobs/jobs'
import type { DescribeTask, SoundDescription } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'

/** Writes down how a sound sounds. */
export async function storeDescription(db: Db, soundId: number, description: SoundDescription): Promise<void> {
  const { channels, loops, likeness } = description
  await db
    .updateTable('analyses')
    .set({ channels, loops: Number(loops) })
    .where('sound_id', '=', soundId)
    .execute()
  if (!likeness) return
  const values = {
    sound_id: soundId,
    version: LIKENESS_VERSION,
    vector: Buffer.from(new Uint8Array(likeness.vector.buffer)),
    traits_json: JSON.stringify(likeness.traits),
  }
  await db
    .insertInto('likeness')
    .values(values)
    .onConflict((conflict) => conflict.column('sound_id').doUpdateSet(values))
    .execute()
}

/** Sounds that were listened to before it was known how to describe them. Silence never gets a vector and is asked once. */
function undescribed(db: Db) {
  return db
    .selectFrom('analyses')
    .leftJoin('likeness', 'likeness.sound_id', 'analyses.sound_id')
    .select(['analyses.sound_id', 'analyses.audio_sha256'])
    .where((eb) =>
      eb.or([
        eb('analyses.channels', 'is', null),
        eb.and([eb('likeness.version', 'is not', null), eb('likeness.version', '<', LIKENESS_VERSION)]),
      ]),
    )
}

/** Queues what is left to describe, if anything is. */
export async function enqueueDescribing({ db, jobs }: { db: Db; jobs: Jobs }): Promise<void> {
  const first = await undescribed(db).limit(1).executeTakeFirst()
  if (first) await jobs.enqueue('describe', 'all', messages.comparingSounds)
}

/** Describes every sound that has audio and no description; one that cannot be read is left out. */
export async function describeSounds(services: Services, { signal, report }: JobContext): Promise<string> {
  const waiting = await undescribed(services.db).orderBy('analyses.sound_id').execute()
  let failed = 0
  for (const [at, { sound_id, audio_sha256 }] of waiting.entries()) {
    signal.throwIfAborted()
    report(at / waiting.length, messages.comparingSoundOf(at + 1, waiting.length))
    const task: DescribeTask = { path: services.store.blobPath(audio_sha256), range: null }
    try {
      const description = await runWatchedTask<SoundDescription>(services.pool, 'describeSound', task, { signal })
      await services.db.transaction().execute((trx) => storeDescription(trx, sound_id, description))
    } catch (error) {
      if (signal.aborted) throw error
      failed++
      // It is not tried again at every start.
      await services.db.updateTable('analyses').set({ channels: 0 }).where('sound_id', '=', sound_id).execute()
    }
  }
  const done = messages.soundsCanBeCompared(waiting.length - failed)
  return failed === 0 ? `${done}.` : `${done}, ${failed} cannot.`
}
