import { decide, decidedByTerms, isGround, type Offer, type Papers } from '../../core/rights'
import type { Db } from '../database/open'
import { type Asked, occasionOf, papersOf } from '../sounds/papers-of'
import { type OfferRow, offeredPapers } from '../sounds/weigh'

/** Sounds of the same category that are weighed in search of one that would do. */
const CANDIDATES = 40
/** A sound that is so much longer or shorter is no alternative. */
const LENGTH_RATIO_MAX = 2.5

/** What could settle a sound: its tiers; and only where its papers do not suffice, what else there is. */
export async function offersFor(
  db: Db,
  soundId: number,
  known: { readonly papers: readonly Papers[]; readonly tiers: readonly Offer[]; readonly asked: Asked },
): Promise<readonly Offer[]> {
  const { papers, tiers, asked } = known
  if (isGround(decide({ uses: asked.uses, papers, ...occasionOf(asked.videoId) }).verdict)) return tiers
  return [...tiers, ...(await otherOffers(db, soundId, asked))]
}

/** What else would settle a sound whose papers do not: today's terms of the same sound, or another sound of its kind. */
async function otherOffers(db: Db, soundId: number, asked: Asked): Promise<Offer[]> {
  const own = await soundRow(db, soundId)
  if (!own) return []
  const today = offeredPapers(own, asked.videoId)
  // What is sold has its tiers; what is withdrawn cannot be had again.
  const again = own.sold === 0 && own.withdrawn_at === null && own.kind === 'library' && asked.uses.places.length > 0
  const offers: Offer[] = again ? [{ kind: 'plan', title: own.plan || own.title, price: null, papers: today }] : []
  const alternative = await findAlternative(db, own, asked)
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
    .select(['sounds.id', 'sounds.title as sound_title', 'sounds.category', 'sounds.cost', 'sounds.withdrawn_at'])
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

/** The nearest in length of the same category that may be used: by its papers, or free of charge today. */
async function findAlternative(db: Db, own: SoundRow, asked: Asked): Promise<Offer | null> {
  const length = own.measured_s
  if (own.category === '' || length === null) return null
  const rows = await soundsWithTerms(db)
    .where('sounds.category', '=', own.category)
    .where('sounds.id', '!=', own.id)
    .where('sounds.withdrawn_at', 'is', null)
    .where('analyses.duration_s', '>', length / LENGTH_RATIO_MAX)
    .where('analyses.duration_s', '<', length * LENGTH_RATIO_MAX)
    .orderBy((eb) => eb.fn('abs', [eb('analyses.duration_s', '-', length)]))
    .limit(CANDIDATES)
    .execute()
  const filed = await papersOf(
    db,
    rows.map(({ id }) => id),
    asked.videoId,
  )
  for (const row of rows) {
    const papers = [...(filed.get(row.id) ?? []).map((one) => one.papers), ...freeToday(row, asked)]
    const best = papers.find((one) => isGround(decidedByTerms(asked.uses, one, occasionOf(asked.videoId)).verdict))
    if (best) return { kind: 'sound', title: `${row.sound_title} (${row.source_name})`, price: null, papers: best }
  }
  return null
}

function freeToday(row: OfferRow & { sold: number | null; kind: string }, { videoId }: Asked) {
  return row.sold === 0 && row.kind === 'library' ? [offeredPapers(row, videoId)] : []
}
