import type { CheckDetail, FindingWire } from '../../contract'
import { creditsText } from '../../core/credits'
import { SOUND_MIN_S } from '../../core/hearing'
import { type Decision, decide, decidedByTerms, fitOf, settlements, type Uses, type Verdict } from '../../core/rights'
import { notFound } from '../problem-error'
import type { Services } from '../services'
import { papersOf } from '../sounds/papers-of'
import { offeredPapers } from '../sounds/weigh'
import { getVideoRow, usesOfRow } from '../videos/video-rows'

const WORST_FIRST: Readonly<Record<Verdict, number>> = { 'not-allowed': 0, 'no-papers': 1, 'owes-credit': 2, clear: 3 }

/** The findings of a check in the light of the uses and of the papers that are on file now, worst first. */
export async function findingsOf(services: Services, checkId: number, uses: Uses): Promise<FindingWire[]> {
  const detections = await services.db
    .selectFrom('detections')
    .selectAll()
    .where('check_id', '=', checkId)
    .orderBy('start_s')
    .execute()
  const soundIds = [...new Set(detections.map(({ sound_id }) => sound_id))]
  if (soundIds.length === 0) return []
  const sounds = await services.db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .innerJoin('terms', 'terms.id', 'sounds.terms_id')
    .select(['sounds.id', 'sounds.title', 'sounds.maker', 'sources.name as source_name', 'sources.plan'])
    .select(['sources.plan_from', 'sources.plan_until', 'terms.title as terms_title', 'terms.short_title'])
    .select(['terms.version', 'terms.spdx_id', 'terms.url', 'terms.duration', 'terms.clauses_json'])
    .where('sounds.id', 'in', soundIds)
    .execute()
  const papers = await papersOf(services.db, soundIds)
  const findings = sounds.map((sound): FindingWire => {
    const filed = papers.get(sound.id) ?? []
    const decision = decide({ uses, papers: filed.map((one) => one.papers) })
    const ifAcquired = decidedByTerms(uses, offeredPapers({ ...sound, title: sound.terms_title }))
    const missing = decision.verdict === 'no-papers'
    return {
      soundId: sound.id,
      title: sound.title,
      maker: sound.maker,
      sourceName: sound.source_name,
      licence: sound.short_title,
      verdict: decision.verdict,
      // Without papers, the reasons are those of the terms that a download today would come under.
      reasons: [...(missing ? ifAcquired : decision).reasons],
      sentence: missing
        ? `Heard in the video and listed at ${sound.source_name}, but never acquired: nothing on file allows it.`
        : (decision.reasons[0]?.sentence ?? ''),
      settlements: missing ? settlementsWithoutPapers(ifAcquired, sound.source_name) : settlements(decision, uses),
      creditLine: decision.verdict === 'owes-credit' ? (filed.find((one) => one.creditLine)?.creditLine ?? null) : null,
      detections: detections
        .filter(({ sound_id }) => sound_id === sound.id)
        .map((row) => ({
          id: row.id,
          soundId: row.sound_id,
          startS: row.start_s,
          endS: row.end_s,
          fromS: row.from_s,
          toS: row.to_s,
          gainDb: row.gain_db,
          confidence: row.confidence,
        })),
    }
  })
  return findings.sort(
    (a, b) =>
      WORST_FIRST[a.verdict] - WORST_FIRST[b.verdict] ||
      (a.detections[0]?.startS ?? 0) - (b.detections[0]?.startS ?? 0),
  )
}

function settlementsWithoutPapers(ifAcquired: Decision, sourceName: string): string[] {
  const fit = fitOf(ifAcquired)
  if (fit === 'fits') return [`Download it from ${sourceName}: its terms allow this video.`, 'Replace the sound.']
  if (fit === 'fits-with-credit')
    return [
      `Download it from ${sourceName} and give the credit: its terms allow this video then.`,
      'Replace the sound.',
    ]
  const bar = ifAcquired.reasons[0]?.sentence ?? ''
  return ['Replace the sound.', `Downloading it would not settle this: ${bar}`]
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
  const findings = row.state === 'done' ? await findingsOf(services, checkId, usesOfRow(video)) : []
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
          }
        : null,
    findings,
    listenedFor: row.listened_for,
    addedSince: row.state === 'done' ? Math.max(0, audible - row.listened_for) : 0,
    notExamined: JSON.parse(row.not_examined_json) as CheckDetail['notExamined'],
    credits: creditsText(lines),
  }
}

function momentaryOf(blob: Buffer): Float32Array {
  return new Float32Array(blob.buffer.slice(blob.byteOffset, blob.byteOffset + blob.byteLength))
}
