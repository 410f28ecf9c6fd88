import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { isHere } from '../../../../server/copies/acquire'
import { notFound, ProblemError } from '../../../../server/problem-error'

const Wish = z.object({ format: z.string().max(8).nullable() })

/** Queues the download of a sound; one that is open already is not queued twice. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => {
  const id = idParam(params)
  const { format } = await jsonBody(request, Wish)
  const sound = await app.db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .select(['sounds.title', 'sounds.formats_json', 'sources.plan_until'])
    .where('sounds.id', '=', id)
    .executeTakeFirst()
  if (!sound) throw notFound('This sound')
  const sold = await app.db.selectFrom('sound_tiers').select('key').where('sound_id', '=', id).executeTakeFirst()
  if (sold) throw new ProblemError(409, 'choose-tier', 'This sound is sold. Choose one of its tiers first.')
  const formats = JSON.parse(sound.formats_json) as string[]
  if (format !== null && !formats.includes(format))
    throw new ProblemError(
      400,
      'not-offered',
      `This sound is offered as ${formats.join(' or ').toUpperCase() || 'its library has it'} only.`,
    )
  if (await isHere(app, id, sound.plan_until)) return { jobId: null, already: true }
  const { job, already } = await app.jobs.enqueue('download', String(id), `Downloading ${sound.title}`, format)
  return { jobId: job.id, already }
})
