import type { PapersRow } from '../../contract'
import { decidedByTerms, USE_PLACES, type Uses } from '../../core/rights'
import { type FiledPapers, loadPapers } from '../clearance/papers-of'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { money } from '../money'
import { latestDetections } from '../rows/latest-detections'

/** Most sounds whose copies are listed at once. */
const SOUNDS_MAX = 20_000
const BATCH_SOUNDS = 500

/** A copy and what its papers allow, with the papers where there are any. */
export interface ListedPapers {
  readonly row: PapersRow
  readonly filed: FiledPapers | null
}

/** All copies and what their papers allow, the newest first; copies without papers stand before them. */
export async function listPapers(services: Pick<Services, 'db'>, today: string): Promise<PapersRow[]> {
  const rows: PapersRow[] = []
  for await (const batch of papersInBatches(services, today, SOUNDS_MAX)) rows.push(...batch.map(({ row }) => row))
  return rows.sort((a, b) => (b.acquiredAt ?? '9').localeCompare(a.acquiredAt ?? '9'))
}

/** All copies, some sounds at a time, the sounds that came last first: for what is too long to be held at once. */
export async function* papersInBatches(
  { db }: Pick<Services, 'db'>,
  today: string,
  soundsMax = Number.POSITIVE_INFINITY,
): AsyncGenerator<readonly ListedPapers[]> {
  let before = Number.MAX_SAFE_INTEGER
  for (let given = 0; given < soundsMax; ) {
    const sounds = await soundsWithCopies(db, before, Math.min(BATCH_SOUNDS, soundsMax - given))
    if (sounds.length === 0) return
    yield await listedPapers(db, sounds, today)
    given += sounds.length
    before = sounds.at(-1)?.id ?? 0
  }
}

/** What is on file of some sounds, whether they have papers or not. */
export async function papersOfSounds(
  { db }: Pick<Services, 'db'>,
  soundIds: readonly number[],
  today: string,
): Promise<readonly ListedPapers[]> {
  const sounds = await db
    .selectFrom('sound_rows')
    .select(['id', 'shown_title', 'maker', 'source_name'])
    .where(isOneOf('id', soundIds))
    .orderBy('shown_title')
    .execute()
  return listedPapers(db, sounds, today)
}

function soundsWithCopies(db: Services['db'], before: number, limit: number) {
  return (
    db
      .selectFrom('sound_rows')
      .leftJoin('grants', 'grants.sound_id', 'sound_rows.id')
      .select(['sound_rows.id', 'shown_title', 'maker', 'source_name'])
      // A file of the creator's own is a copy whether it has papers or not.
      .where((eb) => eb.or([eb('grants.id', 'is not', null), eb('source_kind', 'in', ['folder', 'elsewhere'])]))
      .where((eb) => eb.or([eb('grants.id', 'is not', null), eb('withdrawn_at', 'is', null)]))
      .where('sound_rows.id', '<', before)
      .groupBy('sound_rows.id')
      .orderBy('sound_rows.id', 'desc')
      .limit(limit)
      .execute()
  )
}

async function listedPapers(
  db: Services['db'],
  sounds: Awaited<ReturnType<typeof soundsWithCopies>>,
  today: string,
): Promise<ListedPapers[]> {
  const ids = sounds.map(({ id }) => id)
  const filed = await loadPapers(db, ids)
  const videos = await loadVideosBySound(db, ids)
  return sounds.flatMap((sound): ListedPapers[] => {
    const papers = filed.get(sound.id) ?? []
    const named = {
      soundId: sound.id,
      title: sound.shown_title,
      maker: sound.maker,
      sourceName: sound.source_name,
    }
    const videoTitles = videos.get(sound.id) ?? []
    if (papers.length === 0) return [{ row: { ...named, ...NONE, videoTitles }, filed: null }]
    return papers.map((one) => ({ row: { ...named, ...rowOf(one, today), videoTitles }, filed: one }))
  })
}

const NONE: Omit<PapersRow, 'soundId' | 'title' | 'maker' | 'sourceName' | 'videoTitles'> = {
  grantId: null,
  kind: 'none',
  grantTitle: '',
  declared: null,
  paid: null,
  termsId: null,
  termsTitle: '',
  termsVersion: '',
  acquiredAt: null,
  expiresOn: null,
  creditLine: null,
  evidence: [],
  marks: [...USE_PLACES, 'earning'].map(() => 'no-papers' as const),
}

function rowOf(
  filed: FiledPapers,
  today: string,
): Omit<PapersRow, 'soundId' | 'title' | 'maker' | 'sourceName' | 'videoTitles'> {
  const { papers, paidMinor, paidCurrency } = filed
  // Papers for one video are weighed for that video: the grid says what they are good for at all.
  const asked = { asOf: today, videoId: papers.boundTo?.[0] ?? null }
  const mark = (uses: Partial<Uses>) =>
    decidedByTerms(papers, { uses: { ...GENERAL, publishOn: today, ...uses }, ...asked }).verdict
  return {
    grantId: filed.grantId,
    kind: filed.kind,
    grantTitle: papers.grantTitle,
    declared: papers.declared ?? null,
    paid: paidMinor !== null && paidCurrency ? money(paidMinor, paidCurrency) : null,
    termsId: filed.termsId,
    termsTitle: papers.terms.title,
    termsVersion: papers.terms.version,
    acquiredAt: filed.acquiredAt,
    expiresOn: expiryOf(filed),
    creditLine: filed.creditLine,
    evidence: [...filed.evidence],
    marks: [...USE_PLACES.map((place) => mark({ places: [place] })), mark({ earns: true })],
  }
}

const GENERAL: Uses = { places: ['online'], earns: false, territory: 'worldwide', publishOn: null, videoLicence: null }

/** The last day on which a video may be first published under papers, or null where there is none. */
function expiryOf({ papers: { terms, planUntil } }: FiledPapers): string | null {
  if (terms.duration === 'published-while-active' || terms.duration === 'only-while-active') return planUntil
  const limit = terms.clauses.find(({ key }) => key === 'duration')?.limit
  return limit?.kind === 'until' ? limit.day : null
}

/** Titles of the videos in whose newest check each sound was heard. */
async function loadVideosBySound(db: Services['db'], soundIds: readonly number[]): Promise<Map<number, string[]>> {
  const bySound = new Map<number, string[]>()
  if (soundIds.length === 0) return bySound
  const rows = await latestDetections(db)
    .select(['detections.sound_id', 'videos.title'])
    .distinct()
    .where('detections.sound_id', 'in', soundIds)
    .execute()
  for (const { sound_id, title } of rows) bySound.set(sound_id, [...(bySound.get(sound_id) ?? []), title])
  return bySound
}
