import { z } from 'zod'
import { type Notice, ORDER_STATE_WORDS } from '../../contract'
import { stateInWords } from '../../core/clearance'
import { dayWords } from '../../core/day-words'
import { CLAUSE_KEYS, CLAUSE_WORDS, decidedByTerms, isPermitted, type Uses } from '../../core/rights'
import { desk as messages } from '../../messages/server/desk'
import { type FiledPapers, loadPapers } from '../clearance/papers-of'
import type { Services } from '../context'
import { nowIso } from '../database/open'
import { findDoctorReport } from '../doctor/doctor-job'
import { freeRoom } from '../files/disk-full'
import { listOpenProposals } from '../folders/folders'
import { listOrders } from '../orders/journal'
import { latestDetections } from '../rows/latest-detections'
import { usesOfRow } from '../rows/video-rows'
import { listMisfitLabels } from '../terms/misfit-labels'
import { termsOfRow } from '../terms/terms-store'
import { listVideos } from '../videos/videos'

/** A plan is spoken of this long before it ends, days. */
const PLAN_AHEAD_DAYS = 30
const READINGS_SHOWN = 20
/** With less room than this the Desk speaks of it, bytes. */
const ROOM_LOW = 1024 ** 3
/** What the ledger says of terms that were read again. */
const ReadAgain = z.object({
  termsId: z.number(),
  title: z.string(),
  changes: z.array(z.object({ key: z.enum(CLAUSE_KEYS) })),
})

/** What wants attention, the urgent first; and what was put away. */
export async function loadDesk(services: Services, today: string): Promise<{ notices: Notice[]; seen: Notice[] }> {
  // Asked for by two kinds of notices, and only where there is something to tell.
  let loaded: Promise<Heard[]> | null = null
  const heard = (): Promise<Heard[]> => {
    loaded ??= loadHeardWithPapers(services)
    return loaded
  }
  const all = [
    ...(await loadVideoNotices(services, today)),
    ...(await loadHeardSinceNotices(services)),
    ...(await loadPlanNotices(services, heard, today)),
    ...(await loadTermsNotices(services, heard, today)),
    ...(await loadReadingNotices(services, heard)),
    ...(await loadWithdrawnNotices(services)),
    ...(await loadSourceNotices(services)),
    ...(await loadLabelNotices(services)),
    ...(await loadProposalNotices(services)),
    ...(await loadRoomNotices(services, today)),
    ...(await loadOrderNotices(services)),
    ...(await loadDamageNotices(services)),
  ].sort((a, b) => Number(b.urgent) - Number(a.urgent))
  const rows = await services.db.selectFrom('notices_seen').select('key').execute()
  const putAway = new Set(rows.map(({ key }) => key))
  return { notices: all.filter(({ key }) => !putAway.has(key)), seen: all.filter(({ key }) => putAway.has(key)) }
}

/** Puts a notice away, or brings it back. */
export async function markSeen({ db }: Pick<Services, 'db'>, key: string, seen: boolean): Promise<void> {
  if (!seen) await db.deleteFrom('notices_seen').where('key', '=', key).execute()
  else
    await db
      .insertInto('notices_seen')
      .values({ key, at: nowIso() })
      .onConflict((conflict) => conflict.doNothing())
      .execute()
}

/** What was paid and is not here, or was charged otherwise than was agreed. */
async function loadOrderNotices({ db }: Services): Promise<Notice[]> {
  return (await listOrders(db, { isOpen: true })).map(
    ({ id, title, sourceName, state, message, paid, soundId }): Notice => ({
      key: `order ${id} ${state}`,
      kind: 'order',
      urgent: state !== 'receipt-to-come',
      title: messages.from(title, sourceName, ORDER_STATE_WORDS[state]),
      sentence: `${paid ? messages.werePaid(paid) : ''}${message || messages.takenUpAgainByItself}`,
      href: `/papers/orders?sound=${soundId}`,
      videos: [],
    }),
  )
}

/** Files that are damaged or missing, as the last examination found them. */
async function loadDamageNotices({ db }: Services): Promise<Notice[]> {
  const report = await findDoctorReport(db)
  const damages = report?.damages.filter(({ kind }) => kind !== 'unused') ?? []
  const [first] = damages
  if (!report || !first) return []
  return [
    {
      key: `damage ${report.at}`,
      kind: 'room',
      urgent: true,
      title: messages.damagedOrMissing(damages.length),
      sentence: messages.sourcesTellsRestAndRepairs(first.sentence),
      href: '/sources',
      videos: [],
    },
  ]
}

/** A disk that fills up stops everything; it is told again each day. */
async function loadRoomNotices({ store }: Services, today: string): Promise<Notice[]> {
  const freeBytes = await freeRoom(store.dataDir)
  if (freeBytes >= ROOM_LOW) return []
  return [
    {
      key: `room ${today}`,
      kind: 'room',
      urgent: true,
      title: messages.diskNearlyFullMbAre(Math.floor(freeBytes / 1024 ** 2)),
      sentence: messages.downloadsChecksAndPurchasesStop,
      href: '/sources',
      videos: [],
    },
  ]
}

async function loadVideoNotices(services: Services, today: string): Promise<Notice[]> {
  return (await listVideos(services, today)).flatMap(({ id, title, state }): Notice[] => {
    const base = { kind: 'video' as const, href: `/videos/${id}`, videos: [] }
    const key = `video ${id} ${JSON.stringify(state)}`
    if (state.kind === 'partly-examined' || state.kind === 'points-open') {
      const sentence = upperFirst(`${stateInWords(state)}${owed(state.credits)}.`)
      return [{ ...base, key, urgent: true, title: messages.isNotReady(title), sentence }]
    }
    if (state.kind !== 'ready' || state.credits === 0) return []
    return [
      {
        ...base,
        key,
        urgent: false,
        title: messages.owesCredits(title),
        sentence: upperFirst(`${stateInWords(state)}.`),
      },
    ]
  })
}

function owed(credits: number): string {
  return credits === 0 ? '' : `, ${credits} ${credits === 1 ? 'credit' : 'credits'} owed`
}

function upperFirst(text: string): string {
  return text.replace(/^./, (letter) => letter.toUpperCase())
}

/** Sounds that came to the sources after a check, and were then heard in the video. */
async function loadHeardSinceNotices({ db }: Services): Promise<Notice[]> {
  const rows = await db
    .selectFrom('checks')
    .innerJoin('check_facts', 'check_facts.sha256', 'checks.facts_sha256')
    .innerJoin('check_facts as before', 'before.sha256', 'check_facts.carries_on')
    .innerJoin('videos', 'videos.id', 'checks.video_id')
    .select(['videos.id', 'videos.title', 'check_facts.sha256'])
    .select(['check_facts.place_count as now', 'before.place_count as earlier'])
    .where('check_facts.carries_on', 'is not', null)
    .where('videos.removed_at', 'is', null)
    .execute()
  return rows.flatMap(({ id, title, sha256, now, earlier }): Notice[] =>
    now <= earlier
      ? []
      : [
          {
            key: `heard ${sha256}`,
            kind: 'heard',
            urgent: false,
            title: messages.moreIsHeardIn(title),
            sentence: messages.soundThatCameIsHeard(now - earlier),
            href: `/videos/${id}`,
            videos: [],
          },
        ],
  )
}

/** Sounds with papers that are heard in the newest check of a video, with what each stands under. */
async function loadHeardWithPapers({ db }: Services): Promise<Heard[]> {
  const rows = await latestDetections(db)
    .select(['detections.sound_id', 'videos.id', 'videos.title', 'videos.uses_json'])
    .distinct()
    .execute()
  const filed = await loadPapers(db, [...new Set(rows.map(({ sound_id }) => sound_id))])
  const usesById = new Map<number, Uses>()
  return rows.flatMap((row) => {
    const uses = usesById.get(row.id) ?? usesOfRow(row)
    usesById.set(row.id, uses)
    return (filed.get(row.sound_id) ?? []).map((one) => ({ id: row.id, title: row.title, uses, filed: one }))
  })
}

/** A sound with papers that is heard in a video. */
interface Heard {
  readonly id: number
  readonly title: string
  readonly uses: Uses
  readonly filed: FiledPapers
}

async function loadPlanNotices(
  services: Services,
  loadHeard: () => Promise<Heard[]>,
  today: string,
): Promise<Notice[]> {
  const soon = new Date(Date.parse(today) + PLAN_AHEAD_DAYS * 86_400_000).toISOString().slice(0, 10)
  const sources = await services.db
    .selectFrom('sources')
    .select(['id', 'name', 'plan', 'plan_until'])
    .where('plan_until', 'is not', null)
    .where('plan_until', '<=', soon)
    .execute()
  if (sources.length === 0) return []
  const heard = await loadHeard()
  return sources.map(({ id, name, plan, plan_until }): Notice => {
    const until = plan_until as string
    const ended = until < today
    const under = heard.filter(({ filed }) => filed.papers.planUntil === until && filed.papers.grantTitle === plan)
    return {
      key: `plan ${id} ${until}`,
      kind: 'plan',
      urgent: true,
      title: (ended ? messages.planEnded : messages.planEnds)(plan, name, dayWords(until)),
      sentence: ended ? messages.nothingNewCanBeCleared : messages.videosThatUseSoundsHave,
      href: '/sources',
      videos: uniqueVideos(under, ({ uses, filed }) =>
        uses.publishOn === null
          ? messages.notClearedWithoutDate
          : isPermitted(decidedByTerms(filed.papers, { uses, asOf: today }).verdict)
            ? messages.publishedOnItStaysCleared(dayWords(uses.publishOn))
            : messages.notClearedFor(dayWords(uses.publishOn)),
      ),
    }
  })
}

/** Terms of which a newer version came after papers were taken under an older one. */
async function loadTermsNotices({ db }: Services, loadHeard: () => Promise<Heard[]>, today: string): Promise<Notice[]> {
  const rows = await db
    .selectFrom('terms')
    .innerJoin('sources', 'sources.id', 'terms.source_id')
    .selectAll('terms')
    .select('sources.name')
    .orderBy('terms.id')
    .execute()
  const series = new Map<string, typeof rows>()
  for (const row of rows) {
    const key = `${row.source_id} ${row.key}`
    series.set(key, [...(series.get(key) ?? []), row])
  }
  const changed = [...series.values()].filter((versions) => versions.length > 1)
  if (changed.length === 0) return []
  const heard = await loadHeard()
  return changed.map((versions): Notice => {
    const newest = versions[versions.length - 1] as (typeof rows)[number]
    const older = new Set(versions.slice(0, -1).map(({ id }) => id))
    const terms = termsOfRow(newest)
    return {
      key: `terms ${newest.id}`,
      kind: 'terms',
      urgent: false,
      title: messages.changed(newest.name, newest.title),
      sentence: messages.versionWasFirstSeenOn(newest.version, dayWords(newest.seen_at)),
      href: `/papers/terms/${newest.id}`,
      videos: uniqueVideos(
        heard.filter(({ filed }) => older.has(filed.termsId)),
        ({ id, uses, filed }) => {
          const now = decidedByTerms({ ...filed.papers, terms }, { uses, videoId: id, asOf: today })
          const keeps = messages.keepsVersion(filed.papers.terms.version)
          return isPermitted(now.verdict)
            ? messages.newOneWouldAllowToo(keeps)
            : messages.soundDownloadedNowWouldNot(keeps, now.reasons[0]?.sentence ?? '')
        },
      ),
    }
  })
}

/** Terms that are read otherwise than when papers were taken under them, with the videos that it bears on. */
async function loadReadingNotices({ db }: Services, loadHeard: () => Promise<Heard[]>): Promise<Notice[]> {
  const rows = await db
    .selectFrom('ledger')
    .select(['number', 'body_json'])
    .where('kind', '=', 'terms-read-again')
    .orderBy('number', 'desc')
    .limit(READINGS_SHOWN)
    .execute()
  const changed = rows
    .map(({ number, body_json }) => ({ number, ...ReadAgain.parse(JSON.parse(body_json)) }))
    .filter(({ changes }) => changes.length > 0)
  if (changed.length === 0) return []
  const heard = await loadHeard()
  return changed.map(({ number, termsId, title, changes }): Notice => {
    const points = changes.map(({ key }) => CLAUSE_WORDS[key].toLowerCase()).join(', ')
    return {
      key: `reading ${number}`,
      kind: 'terms',
      urgent: false,
      title: messages.isReadMoreCarefullyNow(title),
      sentence: messages.doesNotSayWhatWas(points),
      href: `/papers/terms/${termsId}`,
      videos: uniqueVideos(
        heard.filter(({ filed }) => filed.termsId === termsId),
        () => messages.lookAtItsPointsAgain,
      ),
    }
  })
}

/** Sounds that a library withdrew and of which a copy is here. */
async function loadWithdrawnNotices({ db }: Services): Promise<Notice[]> {
  const rows = await db
    .selectFrom('sound_rows')
    .innerJoin('active_grants', 'active_grants.sound_id', 'sound_rows.id')
    .select(['sound_rows.id', 'shown_title as title', 'withdrawn_at', 'source_name'])
    .distinct()
    .where('withdrawn_at', 'is not', null)
    .where('source_kind', '=', 'library')
    .execute()
  return rows.map(
    ({ id, title, withdrawn_at, source_name }): Notice => ({
      key: `withdrawn ${id} ${withdrawn_at}`,
      kind: 'withdrawn',
      urgent: false,
      title: messages.noLongerOffers(source_name, title),
      sentence: messages.yourCopyAndPapersStay,
      href: `/papers?q=${encodeURIComponent(title)}`,
      videos: [],
    }),
  )
}

async function loadSourceNotices({ db }: Services): Promise<Notice[]> {
  const rows = await db
    .selectFrom('sources')
    .select(['id', 'name', 'last_error'])
    .where('last_error', 'is not', null)
    .execute()
  return rows.map(
    ({ id, name, last_error }): Notice => ({
      key: `source ${id} ${last_error}`,
      kind: 'source',
      urgent: false,
      title: messages.couldNotBeSynchronised(name),
      sentence: last_error as string,
      href: '/sources',
      videos: [],
    }),
  )
}

/** Libraries whose label of a licence does not fit the text that they serve with it. */
async function loadLabelNotices({ db }: Services): Promise<Notice[]> {
  return (await listMisfitLabels(db)).map(
    ({ sourceId, sourceName, title }): Notice => ({
      key: `label ${sourceId} ${title}`,
      kind: 'source',
      urgent: false,
      title: messages.licenceLabelThatDoesNot(sourceName),
      sentence: messages.whatServedSaysMoreOr(title),
      href: '/papers/terms',
      videos: [],
    }),
  )
}

async function loadProposalNotices(services: Services): Promise<Notice[]> {
  return (await listOpenProposals(services)).map(
    ({ id, sourceName, path, soundCount }): Notice => ({
      key: `proposal ${id}`,
      kind: 'proposal',
      urgent: false,
      title: messages.inSpeaksOfRights(path, sourceName),
      sentence: messages.mayBePapers(soundCount),
      href: '/sources',
      videos: [],
    }),
  )
}

/** Each video once; where several sounds say different things of it, the worst is said. */
function uniqueVideos(heard: readonly Heard[], meaning: (one: Heard) => string): Notice['videos'] {
  const byId = new Map<number, Notice['videos'][number]>()
  for (const one of heard) {
    const sentence = meaning(one)
    const worse = /not be allowed|^Not cleared/.test(sentence)
    if (!byId.has(one.id) || worse) byId.set(one.id, { id: one.id, title: one.title, meaning: sentence })
  }
  return [...byId.values()]
}
