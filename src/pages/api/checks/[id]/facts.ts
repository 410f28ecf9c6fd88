import type { APIRoute } from 'astro'
import { endpoint, fileDownload, idParam } from '../../../../server/answer'
import { notFound } from '../../../../server/problem-error'

/** The facts of a check, byte for byte as the ledger names them by their hash. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const row = await app.db
    .selectFrom('checks')
    .innerJoin('check_facts', 'check_facts.sha256', 'checks.facts_sha256')
    .select(['check_facts.json', 'check_facts.sha256'])
    .where('checks.id', '=', idParam(params))
    .executeTakeFirst()
  if (!row) throw notFound('The facts of this check')
  return fileDownload({ mime: 'application/json', fileName: `facts-${row.sha256.slice(0, 12)}.json` }, row.json)
})
