import path from 'node:path'
import type { SoundDetail } from '../../contract'
import { type ClauseKey, type DecisionContext, USE_PLACES } from '../../core/rights'
import { sounds as messages } from '../../messages/server/sounds'
import { loadPapers } from '../clearance/papers-of'
import { decideFromPapersOrOffer, loadTierOffers } from '../clearance/weigh'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { listOrders } from '../orders/journal'
import { findOwnWords } from '../rows/own-words'
import { loadUsedIn } from '../rows/used-in'
import { findEntry, loadChoices } from './choices'
import { loadSummaries } from './search-sounds'

/** Points whose duty is met by doing something outside, which is then put on record. */
const MET_BY_RECORD: readonly ClauseKey[] = [...USE_PLACES, 'earning', 'registration']

/** A claimed length that is off by less is a matter of rounding and of the preview's codec, s. */
const LISTED_TOLERANCE_S = 0.5

/** Everything the side panel shows of a sound. @throws {DomainError} not-found. */
export async function getSoundDetail(
  services: Services,
  id: number,
  context: DecisionContext | null,
): Promise<SoundDetail> {
  const { db } = services
  const [summary] = await loadSummaries(services, [id], context)
  if (!summary) throw notFound(messages.thisSound)
  const row = await db.selectFrom('sound_rows').selectAll().where('id', '=', id).executeTakeFirstOrThrow()
  const videoId = context?.videoId ?? null
  const filed = (await loadPapers(db, [id], videoId)).get(id) ?? []
  const tiers = (await loadTierOffers(db, [id], videoId)).get(id) ?? []
  const decision = context ? decideFromPapersOrOffer(context, filed, row, tiers) : null
  const sha256 = summary.copySha256
  const own = await findOwnWords(db, id)
  const copy = sha256 ? await db.selectFrom('copies').selectAll().where('sha256', '=', sha256).executeTakeFirst() : null
  return {
    ...summary,
    choices:
      summary.choiceCount === 0 ? [] : await loadChoices(db, row, (ids) => loadSummaries(services, ids, context)),
    choiceOf: await findEntry(db, row),
    description: row.description,
    originalTitle: row.is_renamed ? row.original_title : null,
    tags: JSON.parse(row.tags_json) as string[],
    ownWords: own.words,
    ownCategory: own.category,
    listedDurationS:
      Math.abs(row.duration_s - summary.durationS) > LISTED_TOLERANCE_S && row.duration_s > 0 ? row.duration_s : null,
    tempoBpm: row.tempo_bpm,
    mood: row.mood,
    vocals: row.vocals === null ? null : row.vocals === 1,
    pageUrl: row.page_url,
    formats: JSON.parse(row.formats_json) as string[],
    folderFile: await findFolderFile(db, id),
    usedIn: (await loadUsedIn(db, [id])).get(id) ?? [],
    terms: { id: row.terms_id, title: row.terms_title, version: row.version, url: row.url, sha256: row.terms_sha256 },
    reasons: decision ? [...decision.reasons] : [],
    settlements: decision ? decision.settlements.map(({ sentence }) => sentence) : [],
    orders: await listOrders(db, { soundId: id, isOpen: true }),
    tiers: tiers.map(({ key, title, price, priceMinor, termsId }) => ({
      key,
      title,
      price: price ?? '',
      priceMinor,
      termsId,
    })),
    papers: filed.map((one) => ({
      grantId: one.grantId,
      kind: one.kind,
      acquiredAt: one.acquiredAt,
      licensee: one.licensee,
      grantTitle: one.papers.grantTitle,
      planFrom: one.papers.planFrom,
      planUntil: one.papers.planUntil,
      termsId: one.termsId,
      termsTitle: one.papers.terms.title,
      termsVersion: one.papers.terms.version,
      termsSha256: one.termsSha256,
      creditLine: one.creditLine,
      orderRef: one.orderRef,
      evidence: [...one.evidence],
      boundToVideo: videoId === null ? null : (one.papers.boundTo ?? []).includes(videoId),
      conditions: one.papers.terms.clauses
        .filter(({ key, answer }) => answer === 'duty' && MET_BY_RECORD.includes(key))
        .map(({ key }) => ({ key, met: one.papers.met?.includes(key) ?? false })),
      needsVideo: one.papers.terms.clauses.some(({ key, limit }) => key === 'projects' && limit?.kind === 'videos'),
    })),
    copy: copy
      ? {
          sha256: copy.sha256,
          fileName: copy.file_name,
          sizeBytes: copy.size_bytes,
          isHere: services.store.has(copy.sha256),
        }
      : null,
  }
}

async function findFolderFile(db: Services['db'], soundId: number): Promise<string | null> {
  const file = await db
    .selectFrom('folder_files')
    .innerJoin('sources', 'sources.id', 'folder_files.source_id')
    .select(['path', 'folder_path'])
    .where('sound_id', '=', soundId)
    .where('sources.kind', '=', 'folder')
    .executeTakeFirst()
  return file ? path.join(file.folder_path ?? '', file.path) : null
}
