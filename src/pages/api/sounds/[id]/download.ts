import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { isHere } from '../../../../server/copies/acquire'
import { notFound, ProblemError } from '../../../../server/problem-error'

/** Queues the download of a sound; one that is open already is not queued twice. */
export const POST: APIRoute = endpoint(async (app, { params }) => {
  const id = idParam(params)
  const sound = await app.db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .select(['sounds.title', 'sources.plan_until'])
    .where('sounds.id', '=', id)
    .executeTakeFirst()
  if (!sound) throw notFound('This sound')
  const sold = await app.db.selectFrom('sound_tiers').select('key').where('sound_id', '=', id).executeTakeFirst()
  if (sold) throw new ProblemError(409, 'choose-tier', 'This sound is sold. Choose one of its tiers first.')
  if (await isHere(app, id, sound.plan_until)) return { jobId: null, already: true }
  const { job, already } = await app.jobs.enqueue('download', String(id), `Downloading ${sound.title}`)
  return { jobId: job.id, already }
})
