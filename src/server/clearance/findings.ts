import type { Selectable } from 'kysely'
import { AccountWire, type CheckDetail, type DetectionWire, type FindingWire, TreatmentWire } from '../../contract'
import { creditsText } from '../../core/credits'
import { certaintyOf, SOUND_MIN_S } from '../../core/hearing'
import {
  type Decision,
  type DecisionContext,
  decide,
  decidedByTerms,
  fitOf,
  type Offer,
  type Verdict,
} from '../../core/rights'
import type { Services } from '../context'
import { todayIso } from '../database/open'
import type { Schema } from '../database/schema'
import { notFound } from '../problem-error'
import { getVideoRow, usesOfRow } from '../rows/video-rows'
import { offersFor } from './other-offers'
import { type FiledPapers, papersOf } from './papers-of'
import { offeredPapers, type TierOffer, tierOffers } from './weigh'

const WORST_FIRST: Readonly<Record<Verdict, number>> = { 'not-allowed': 0, 'no-papers': 1, 'owes-credit': 2, clear: 3 }

/** The findings of a check in the light of the uses and of the papers that are on file now, worst first. */
export async function findingsOf(
  services: Services,
  checkId: number,
  context: DecisionContext,
): Promise<FindingWire[]> {
  const detections = await services.db
    .selectFrom('detections')
    .selectAll()
    .where('check_id', '=', checkId)
    .orderBy('start_s')
    .execute()
  const heardIds = [...new Set(detections.map(({ sound_id }) => sound_id))]
  if (heardIds.length === 0) return []
  const recordings = await sameRecordings(services, heardIds)
  const alikeIds = detections.flatMap(({ alternatives_json }) => JSON.parse(alternatives_json) as number[])
  const everyId = [...new Set([...heardIds, ...alikeIds, ...[...recordings.values()].flat()])]
  const sounds = new Map((await soundRows(services, everyId)).map((sound) => [sound.id, sound]))
  const papers = await papersOf(services.db, everyId, context.videoId)
  const tiers = await tierOffers(services.db, everyId, context.videoId ?? null)
  const offers = new Map<number, readonly Offer[]>()
  for (const id of heardIds) {
    const own = { papers: (papers.get(id) ?? []).map((one) => one.papers), tiers: tiers.get(id) ?? [], context }
    offers.set(id, await offersFor(services, id, own))
  }
  const weighedAt = new Map<number, Weighed>()
  const weighedOf = (id: number): Weighed => {
    const filed = {
      papers: papers.get(id) ?? [],
      offers: offers.get(id) ?? tiers.get(id) ?? [],
      tiers: tiers.get(id) ?? [],
    }
    const known = weighedAt.get(id) ?? weighed(sounds.get(id) as SoundRow, filed, context)
    weighedAt.set(id, known)
    return known
  }
  /** Of the same recording, the one whose papers allow most: one set of papers for it is enough. */
  const standsFor = new Map<number, number>()
  for (const id of heardIds) {
    const members = [id, ...(recordings.get(id) ?? []).filter((other) => other !== id && sounds.has(other))]
    standsFor.set(
      id,
      members.reduce((best, other) => (better(weighedOf(other), weighedOf(best)) ? other : best), id),
    )
  }
  const findings = [...new Set(standsFor.values())].map((id): FindingWire => {
    const places = detections.filter(({ sound_id }) => standsFor.get(sound_id) === id)
    const same = new Set(recordings.get(id) ?? [])
    const others = new Set([
      ...same,
      ...places.flatMap((row) => [row.sound_id, ...(JSON.parse(row.alternatives_json) as number[])]),
    ])
    others.delete(id)
    return {
      ...weighedOf(id).wire,
      detections: places.map(detectionWire),
      alternatives: [...others].flatMap((other) => {
        const sound = sounds.get(other)
        if (!sound) return []
        const { title, source_name: sourceName } = sound
        return [{ soundId: other, title, sourceName, sameRecording: same.has(other) }]
      }),
    }
  })
  return findings.sort(
    (a, b) =>
      WORST_FIRST[a.verdict] - WORST_FIRST[b.verdict] ||
      (a.detections[0]?.startS ?? 0) - (b.detections[0]?.startS ?? 0),
  )
}

/** For each of some sounds that is not alone, all sounds that are the same recording. */
async function sameRecordings({ db }: Services, soundIds: readonly number[]): Promise<Map<number, number[]>> {
  const rows = await db
    .selectFrom('recording_groups as own')
    .innerJoin('recording_groups as other', 'other.group_id', 'own.group_id')
    .select(['own.sound_id as id', 'other.sound_id as other'])
    .where('own.sound_id', 'in', soundIds)
    .orderBy('other.sound_id')
    .execute()
  const groups = new Map<number, number[]>()
  for (const { id, other } of rows) groups.set(id, [...(groups.get(id) ?? []), other])
  for (const members of [...groups.values()]) for (const member of members) groups.set(member, members)
  return groups
}

function soundRows({ db }: Services, soundIds: readonly number[]) {
  return db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .innerJoin('terms', 'terms.id', 'sounds.terms_id')
    .select(['sounds.id', 'sounds.title', 'sounds.maker', 'sources.name as source_name', 'sources.plan'])
    .select(['sources.plan_from', 'sources.plan_until', 'terms.title as terms_title', 'terms.short_title'])
    .select(['terms.version', 'terms.spdx_id', 'terms.url', 'terms.duration', 'terms.clauses_json'])
    .where('sounds.id', 'in', soundIds)
    .execute()
}
type SoundRow = Awaited<ReturnType<typeof soundRows>>[number]

interface Weighed {
  readonly decision: Decision
  readonly wire: Omit<FindingWire, 'detections' | 'alternatives'>
}

/** What the papers on file say of a sound for these uses. */
function weighed(
  sound: SoundRow,
  {
    papers: filed,
    offers,
    tiers,
  }: { papers: readonly FiledPapers[]; offers: readonly Offer[]; tiers: readonly TierOffer[] },
  context: DecisionContext,
): Weighed {
  const decision = decide({ ...context, papers: filed.map((one) => one.papers), offers })
  const ifAcquired = decidedByTerms(
    offeredPapers({ ...sound, title: sound.terms_title }, context.videoId ?? null),
    context,
  )
  const missing = decision.verdict === 'no-papers'
  return {
    decision,
    wire: {
      soundId: sound.id,
      title: sound.title,
      maker: sound.maker,
      sourceName: sound.source_name,
      licence: sound.short_title,
      sold: tiers.length > 0,
      verdict: decision.verdict,
      // Without papers, the reasons are those of the terms that a download today would come under.
      reasons: [...(missing ? ifAcquired : decision).reasons],
      sentence: missing
        ? `Heard in the video and listed at ${sound.source_name}, but never acquired: nothing on file allows it.`
        : (decision.reasons[0]?.sentence ?? ''),
      settlements: missing
        ? settlementsWithoutPapers(ifAcquired, { sourceName: sound.source_name, decision, tiers })
        : decision.settlements.map(({ sentence }) => sentence),
      creditLine: decision.verdict === 'owes-credit' ? (filed.find((one) => one.creditLine)?.creditLine ?? null) : null,
    },
  }
}

function better(one: Weighed, other: Weighed): boolean {
  return WORST_FIRST[one.decision.verdict] > WORST_FIRST[other.decision.verdict]
}

function detectionWire(row: Selectable<Schema['detections']>): DetectionWire {
  return {
    id: row.id,
    soundId: row.sound_id,
    startS: row.start_s,
    endS: row.end_s,
    fromS: row.from_s,
    toS: row.to_s,
    gainDb: row.gain_db,
    confidence: row.confidence,
    certainty: certaintyOf(row.confidence),
    speed: row.speed,
    treatment: TreatmentWire.parse(row.treatment),
    cutoffHz: row.cutoff_hz,
    balance: row.balance,
    fadeInS: row.fade_in_s,
    fadeOutS: row.fade_out_s,
  }
}

/** Without papers: what a download or a purchase would settle, and a sound that would do as well. */
function settlementsWithoutPapers(
  ifAcquired: Decision,
  { sourceName, decision, tiers }: { sourceName: string; decision: Decision; tiers: readonly Offer[] },
): string[] {
  const offered = decision.settlements.map(({ sentence }) => sentence)
  if (tiers.length > 0)
    return offered.some((sentence) => sentence.startsWith('Buy'))
      ? offered
      : [...offered, `No tier of ${sourceName} allows this video.`]
  // Downloading is told in the next sentence, with the library's name.
  const others = offered.filter((sentence) => !sentence.startsWith('Download'))
  const fit = fitOf(ifAcquired)
  if (fit === 'fits') return [`Download it from ${sourceName}: its terms allow this video.`, ...others]
  if (fit === 'fits-with-credit')
    return [`Download it from ${sourceName} and give the credit: its terms allow this video then.`, ...others]
  return [...others, `Downloading it would not settle this: ${ifAcquired.reasons[0]?.sentence ?? ''}`]
}

/** Everything the clearance page shows. @throws {ProblemError} not-found. */
export async function checkDetail(services: Services, checkId: number): Promise<CheckDetail> {
  const { db } = services
  const row = await db.selectFrom('checks').selectAll().where('id', '=', checkId).executeTakeFirst()
  if (!row) throw notFound('This check')
  const video = await getVideoRow(db, row.video_id)
  const exported = await db
    .selectFrom('exports')
    .select(['id', 'file_name'])
    .where('id', '=', row.export_id)
    .executeTakeFirstOrThrow()
  const job = await db
    .selectFrom('jobs')
    .select('id')
    .where('kind', '=', 'check')
    .where('subject', '=', String(checkId))
    .orderBy('id', 'desc')
    .executeTakeFirst()
  const { audible } = await db
    .selectFrom('analyses')
    .select((eb) => eb.fn.countAll<number>().as('audible'))
    .where('duration_s', '>=', SOUND_MIN_S)
    .executeTakeFirstOrThrow()
  // What is heard so far shows while the rest is still listened for.
  const findings =
    row.state === 'done' || row.state === 'running'
      ? await findingsOf(services, checkId, { uses: usesOfRow(video), videoId: video.id, asOf: todayIso() })
      : []
  const lines = findings
    .filter(({ creditLine }) => creditLine !== null)
    .sort((a, b) => (a.detections[0]?.startS ?? 0) - (b.detections[0]?.startS ?? 0))
    .map(({ creditLine }) => creditLine as string)
  return {
    id: row.id,
    videoId: row.video_id,
    state: row.state as CheckDetail['state'],
    message: row.message,
    jobId: job?.id ?? null,
    fileName: exported.file_name,
    exportId: exported.id,
    hasPicture: row.has_picture === 1,
    createdAt: row.created_at,
    finishedAt: row.finished_at,
    track:
      row.duration_s !== null && row.waveform && row.momentary
        ? {
            durationS: row.duration_s,
            waveformBase64: row.waveform.toString('base64'),
            columns: row.waveform.length / 2,
            momentaryLufs: [...momentaryOf(row.momentary)].map((value) => Math.round(value * 10) / 10),
            integratedLufs: row.integrated_lufs,
            truePeakDbtp: row.true_peak_dbtp,
            loudnessRangeLu: row.loudness_range_lu,
            shortTermMaxLufs: row.short_term_max_lufs,
          }
        : null,
    findings,
    account: row.account_json ? AccountWire.parse(JSON.parse(row.account_json)) : null,
    sensitivity: await sensitivityOf(services, row.sensitivity_json),
    decoys: { listenedFor: row.decoy_count, heard: row.decoy_finds },
    listenedFor: row.listened_for,
    addedSince: row.state === 'done' ? Math.max(0, audible - row.listened_for) : 0,
    notExamined: JSON.parse(row.not_examined_json) as CheckDetail['notExamined'],
    credits: creditsText(lines),
  }
}

/** Sounds that were not heard, those that had to be loudest first. */
async function sensitivityOf({ db }: Services, json: string): Promise<CheckDetail['sensitivity']> {
  const levels = new Map(JSON.parse(json) as [number, number | null][])
  const titles = await db.selectFrom('sounds').select(['id', 'title']).execute()
  return titles
    .filter(({ id }) => levels.has(id))
    .map(({ id, title }) => ({ soundId: id, title, fromDb: levels.get(id) ?? null }))
    .sort((a, b) => (b.fromDb ?? 999) - (a.fromDb ?? 999))
}

function momentaryOf(blob: Buffer): Float32Array {
  return new Float32Array(blob.buffer.slice(blob.byteOffset, blob.byteOffset + blob.byteLength))
}
