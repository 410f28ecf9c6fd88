import { type DecisionContext, decide, decidedByTerms, isPermitted, type Offer, type Papers } from '../../core/rights'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { DomainError } from '../domain-error'
import { loadPapers } from './papers-of'
import { type OfferRow, offeredPapers } from './weigh'

/** Sounds that are weighed in search of one that would do. */
const CANDIDATES = 40
/** What is less alike than this is no alternative. */
const ALIKE_MIN = 0.75

type Finding = Pick<Services, 'db' | 'finder'>

/** What could settle a sound: its tiers; and only where its papers do not suffice, what else there is. */
export async function findOffers(
  services: Finding,
  soundId: number,
  known: { readonly papers: readonly Papers[]; readonly tiers: readonly Offer[]; readonly context: DecisionContext },
): Promise<readonly Offer[]> {
  const { papers, tiers, context } = known
  if (isPermitted(decide({ ...context, papers }).verdict)) return tiers
  return [...tiers, ...(await findOtherOffers(services, soundId, context))]
}

/** What else would settle a sound whose papers do not: today's terms of the same sound, or another sound of its kind. */
async function findOtherOffers(services: Finding, soundId: number, context: DecisionContext): Promise<Offer[]> {
  const own = await soundRow(services.db, soundId)
  if (!own) return []
  const today = offeredPapers(own, context.videoId ?? null)
  // What is sold has its tiers; what is withdrawn cannot be had again.
  const again =
    own.sold === 0 && own.withdrawn_at === null && own.source_kind === 'library' && context.uses.places.length > 0
  const offers: Offer[] = again
    ? [{ kind: 'plan', title: own.plan || own.terms_title, price: null, papers: today }]
    : []
  const alternative = await findAlternative(services, own, context)
  return alternative ? [...offers, alternative] : offers
}

function soundRow(db: Db, soundId: number) {
  return soundsWithTerms(db).where('sound_rows.id', '=', soundId).executeTakeFirst()
}
type SoundRow = NonNullable<Awaited<ReturnType<typeof soundRow>>>

function soundsWithTerms(db: Db) {
  return db
    .selectFrom('sound_rows')
    .leftJoin('analyses', 'analyses.sound_id', 'sound_rows.id')
    .selectAll('sound_rows')
    .select('analyses.duration_s as measured_s')
    .select((eb) =>
      eb
        .selectFrom('sound_tiers')
        .select(eb.fn.countAll<number>().as('n'))
        .whereRef('sound_tiers.sound_id', '=', 'sound_rows.id')
        .as('sold'),
    )
}

/** What sounds most alike among those that may be used: by their papers, or free of charge today. */
async function findAlternative(
  { db, finder }: Finding,
  own: SoundRow,
  context: DecisionContext,
): Promise<Offer | null> {
  const ids = await alikeIds(finder, own.id)
  if (ids.length === 0) return null
  const rows = await soundsWithTerms(db).where('sound_rows.id', 'in', ids).execute()
  const byId = new Map(rows.map((row) => [row.id, row]))
  const filed = await loadPapers(db, ids, context.videoId ?? null)
  for (const id of ids) {
    const row = byId.get(id)
    if (!row) continue
    const papers = [...(filed.get(id) ?? []).map((one) => one.papers), ...freeToday(row, context)]
    const best = papers.find((one) => isPermitted(decidedByTerms(one, context).verdict))
    if (best) return { kind: 'sound', title: `${row.shown_title} (${row.source_name})`, price: null, papers: best }
  }
  return null
}

/** Sounds that are alike, the most alike first; none where the sound was not listened to. */
async function alikeIds(finder: Finding['finder'], soundId: number): Promise<number[]> {
  const task = { query: { parts: [], filters: [] }, sort: 'best', limit: CANDIDATES, offset: 0, fits: null } as const
  try {
    const { ids, likeness } = await finder.ask('find', { ...task, like: { kind: 'sound', id: soundId } })
    return ids.filter((_, at) => (likeness[at] ?? 0) >= ALIKE_MIN)
  } catch (error) {
    if (error instanceof DomainError && error.code === 'not-listened-to') return []
    throw error
  }
}

function freeToday(row: OfferRow & { sold: number | null; source_kind: string }, { videoId = null }: DecisionContext) {
  return row.sold === 0 && row.source_kind === 'library' ? [offeredPapers(row, videoId)] : []
}
