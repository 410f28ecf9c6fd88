import { type DecisionContext, decide, decidedByTerms, isPermitted, type Offer, type Papers } from '../../core/rights'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { DomainError } from '../domain-error'
import { papersOf } from './papers-of'
import { type OfferRow, offeredPapers } from './weigh'

/** Sounds that are weighed in search of one that would do. */
const CANDIDATES = 40
/** What is less alike than this is no alternative. */
const ALIKE_MIN = 0.75

type Finding = Pick<Services, 'db' | 'finder'>

/** What could settle a sound: its tiers; and only where its papers do not suffice, what else there is. */
export async function offersFor(
  services: Finding,
  soundId: number,
  known: { readonly papers: readonly Papers[]; readonly tiers: readonly Offer[]; readonly context: DecisionContext },
): Promise<readonly Offer[]> {
  const { papers, tiers, context } = known
  if (isPermitted(decide({ ...context, papers }).verdict)) return tiers
  return [...tiers, ...(await otherOffers(services, soundId, context))]
}

/** What else would settle a sound whose papers do not: today's terms of the same sound, or another sound of its kind. */
async function otherOffers(services: Finding, soundId: number, context: DecisionContext): Promise<Offer[]> {
  const own = await soundRow(services.db, soundId)
  if (!own) return []
  const today = offeredPapers(own, context.videoId ?? null)
  // What is sold has its tiers; what is withdrawn cannot be had again.
  const again = own.sold === 0 && own.withdrawn_at === null && own.kind === 'library' && context.uses.places.length > 0
  const offers: Offer[] = again ? [{ kind: 'plan', title: own.plan || own.title, price: null, papers: today }] : []
  const alternative = await findAlternative(services, own, context)
  return alternative ? [...offers, alternative] : offers
}

function soundRow(db: Db, soundId: number) {
  return soundsWithTerms(db).where('sounds.id', '=', soundId).executeTakeFirst()
}
type SoundRow = NonNullable<Awaited<ReturnType<typeof soundRow>>>

function soundsWithTerms(db: Db) {
  return db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .innerJoin('terms', 'terms.id', 'sounds.terms_id')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .select((eb) => eb.fn.coalesce('sounds.own_title', 'sounds.title').as('sound_title'))
    .select(['sounds.id', 'sounds.category', 'sounds.cost', 'sounds.withdrawn_at'])
    .select(['sources.name as source_name', 'sources.kind', 'sources.plan', 'sources.plan_from', 'sources.plan_until'])
    .select(['terms.title', 'terms.short_title', 'terms.version', 'terms.spdx_id', 'terms.url', 'terms.duration'])
    .select(['terms.clauses_json', 'analyses.duration_s as measured_s'])
    .select((eb) =>
      eb
        .selectFrom('sound_tiers')
        .select(eb.fn.countAll<number>().as('n'))
        .whereRef('sound_tiers.sound_id', '=', 'sounds.id')
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
  const rows = await soundsWithTerms(db).where('sounds.id', 'in', ids).execute()
  const byId = new Map(rows.map((row) => [row.id, row]))
  const filed = await papersOf(db, ids, context.videoId ?? null)
  for (const id of ids) {
    const row = byId.get(id)
    if (!row) continue
    const papers = [...(filed.get(id) ?? []).map((one) => one.papers), ...freeToday(row, context)]
    const best = papers.find((one) => isPermitted(decidedByTerms(one, context).verdict))
    if (best) return { kind: 'sound', title: `${row.sound_title} (${row.source_name})`, price: null, papers: best }
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

function freeToday(row: OfferRow & { sold: number | null; kind: string }, { videoId = null }: DecisionContext) {
  return row.sold === 0 && row.kind === 'library' ? [offeredPapers(row, videoId)] : []
}
