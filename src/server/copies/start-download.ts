import { copies as messages } from '../../messages/server/copies'
import type { App } from '../context'
import { DomainError, notFound } from '../domain-error'
import { isHere } from './acquire'

/**
 * Queues the download of a sound; one that is open already is not queued twice, and nothing is queued for a copy that is here.
 *
 * @param format One of the formats that the sound is offered in; null leaves it to its library.
 * @throws {DomainError} not-found, own, choose-tier, not-offered.
 */
export async function startDownload(
  app: App,
  id: number,
  format: string | null,
): Promise<{ jobId: number | null; already: boolean }> {
  const sound = await app.db
    .selectFrom('sound_rows')
    .select(['shown_title', 'formats_json', 'source_kind', 'plan_until'])
    .where('id', '=', id)
    .executeTakeFirst()
  if (!sound) throw notFound(messages.thisSound)
  if (sound.source_kind !== 'library') throw new DomainError('own', messages.thisSoundYourOwnHere)
  const sold = await app.db.selectFrom('sound_tiers').select('key').where('sound_id', '=', id).executeTakeFirst()
  if (sold) throw new DomainError('choose-tier', messages.thisSoundSoldChooseOne)
  const formats = JSON.parse(sound.formats_json) as string[]
  if (format !== null && !formats.includes(format)) {
    const offered = formats.join(' or ').toUpperCase() || messages.itsLibraryHasIt
    throw new DomainError('not-offered', messages.thisSoundOfferedAsOnly(offered))
  }
  if (await isHere(app, id, sound.plan_until)) return { jobId: null, already: true }
  const { job, already } = await app.jobs.enqueue(
    'download',
    String(id),
    messages.downloading(sound.shown_title),
    format,
  )
  return { jobId: job.id, already }
}
