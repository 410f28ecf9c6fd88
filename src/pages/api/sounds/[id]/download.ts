import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { findGrant } from '../../../../server/copies/acquire'
import { notFound } from '../../../../server/problem-error'

/** Queues the download of a sound; one that is open already is not queued twice. */
export const POST: APIRoute = endpoint(async (app, { params }) => {
  const id = idParam(params)
  const sound = await app.db.selectFrom('sounds').select('title').where('id', '=', id).executeTakeFirst()
  if (!sound) throw notFound('This sound')
  const source = await app.db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .select('sources.plan_until')
    .where('sounds.id', '=', id)
    .executeTakeFirst()
  const held = await findGrant(app.db, id)
  if (held && held.plan_until === source?.plan_until && app.store.has(held.copy_sha256))
    return { jobId: null, already: true }
  const { job, already } = await app.jobs.enqueue('download', String(id), `Downloading ${sound.title}`)
  return { jobId: job.id, already }
})
