import type { MayIAnswer } from '../../contract'
import { type DecisionContext, decide } from '../../core/rights'
import { papers as messages } from '../../messages/server/papers'
import { findOffers } from '../clearance/other-offers'
import { loadPapers } from '../clearance/papers-of'
import { currentPapers, decideFromPapersOrOffer, loadTierOffers } from '../clearance/weigh'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { findVideoLengthS } from '../rows/check-facts'

/**
 * Whether a sound may be used in some way: by its papers, or while there are none by what a download today would give.
 *
 * @param asked What it is asked for; `videoId` is null for a general question. @throws {DomainError} not-found.
 */
export async function mayI(
  services: Pick<Services, 'db' | 'finder'>,
  soundId: number,
  asked: DecisionContext,
): Promise<MayIAnswer> {
  const { db } = services
  const videoId = asked.videoId ?? null
  const context = { ...asked, videoLengthS: videoId === null ? null : await findVideoLengthS(db, videoId) }
  const row = await db.selectFrom('sound_rows').selectAll().where('id', '=', soundId).executeTakeFirst()
  if (!row) throw notFound(messages.thisSound)
  const filed = (await loadPapers(db, [soundId], videoId)).get(soundId) ?? []
  const tiers = (await loadTierOffers(db, [soundId], videoId)).get(soundId) ?? []
  const papers = currentPapers(filed)
  const offers = await findOffers(services, soundId, { papers, tiers, context })
  const onFile = filed.length > 0
  const byPapers = decide({ ...context, papers, offers })
  const decision = onFile ? byPapers : decideFromPapersOrOffer(context, [], row, tiers)
  const ground = byPapers.restsOn === null ? null : filed.filter(({ isForCurrent }) => isForCurrent)[byPapers.restsOn]
  return {
    verdict: byPapers.verdict,
    onFile,
    reasons: [...decision.reasons],
    settlements: byPapers.settlements.map(({ sentence }) => sentence),
    duties: [...decision.duties],
    creditLine: ground?.creditLine ?? null,
    terms: ground
      ? { id: ground.termsId, title: ground.papers.terms.title, version: ground.papers.terms.version }
      : { id: row.terms_id, title: row.terms_title, version: row.version },
    declared: byPapers.declared,
  }
}
