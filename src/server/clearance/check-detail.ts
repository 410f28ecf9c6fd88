import type { Selectable } from 'kysely'
import { sql } from 'kysely'
import type { CheckDetail, CheckedTrackWire, DetectionWire, FindingWire, PointWire, RelativeWire } from '../../contract'
import {
  type CheckFacts,
  type Clearance,
  clearance,
  type DetectionFacts,
  type Finding,
  type TrackFacts,
  trackName,
} from '../../core/clearance'
import { creditsText } from '../../core/credits'
import { certaintyOf } from '../../core/hearing'
import { clearance as messages } from '../../messages/server/clearance'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import type { Schema } from '../database/schema'
import { notFound } from '../domain-error'
import { findOwnSpeech } from '../rows/own-speech'
import { getVideoRow, usesOfRow } from '../rows/video-rows'
import { loadClearanceInput } from './clearance-input'
import { listUnknownParts } from './unknown-parts'

/** Sounds of a point that are named; more are only counted. */
const NAMED_MAX = 20
/** Longer and shorter recordings that are named, of all heard sounds together. */
const RELATIVES_MAX = 200

/** Everything the clearance page shows of a check, decided for the video as it is today. @throws {DomainError} not-found. */
export async function getCheckDetail(
  services: Pick<Services, 'db' | 'finder'>,
  checkId: number,
  asOf: string,
): Promise<CheckDetail> {
  const { db } = services
  const row = await db.selectFrom('checks').selectAll().where('id', '=', checkId).executeTakeFirst()
  if (!row) throw notFound(messages.thisCheck)
  const video = await getVideoRow(db, row.video_id)
  const exported = await db
    .selectFrom('exports')
    .select(['id', 'file_name'])
    .where('id', '=', row.export_id)
    .executeTakeFirstOrThrow()
  const asked = { id: video.id, uses: usesOfRow(video) }
  const input = await loadClearanceInput(services, asked, { asOf, checkId, finder: services.finder })
  const decided = clearance(input)
  const { facts } = input
  const names = await loadSoundNames(db, facts, decided)
  const relatives = await loadRelatives(db, decided)
  const findings = facts
    ? decided.findings.map((finding) =>
        findingWire(finding, facts, { names, relatives: relatives.get(finding.soundId) ?? [] }),
      )
    : await loadHeardSoFar(db, row)
  return {
    id: row.id,
    videoId: row.video_id,
    state: row.state as CheckDetail['state'],
    message: row.message,
    jobId: await findJob(db, checkId),
    fileName: exported.file_name,
    exportId: exported.id,
    hasPicture: facts?.file.hasPicture ?? false,
    createdAt: row.created_at,
    finishedAt: row.finished_at,
    factsSha256: row.facts_sha256,
    videoState: decided.state,
    tracks: facts ? await loadTrackWires(db, checkId, facts, names) : [],
    findings,
    points: decided.points.map((point) => pointWire(point, names)),
    conflicts: decided.conflicts.map(({ soundIds, sentence }) => ({ soundIds: [...soundIds], sentence })),
    ownSpeech: await findOwnSpeech(db),
    listenedFor: facts?.reference.listenedFor.length ?? 0,
    notExamined: (facts?.reference.notListenedFor ?? []).map(({ soundId, reason }) => ({
      soundId,
      title: names.get(soundId)?.title ?? messages.sound(soundId),
      reason,
    })),
    ...(await listUnknownParts(db)),
    credits: creditsOf(findings),
  }
}

function creditsOf(findings: readonly FindingWire[]): string {
  const lines = findings
    .filter(({ creditLine }) => creditLine !== null)
    .sort((a, b) => (a.detections[0]?.startS ?? 0) - (b.detections[0]?.startS ?? 0))
    .map(({ creditLine }) => creditLine as string)
  return creditsText(lines)
}

async function findJob(db: Db, checkId: number): Promise<number | null> {
  const job = await db
    .selectFrom('jobs')
    .select('id')
    .where('kind', '=', 'check')
    .where('subject', '=', String(checkId))
    .orderBy('id', 'desc')
    .executeTakeFirst()
  return job?.id ?? null
}

interface SoundName {
  readonly title: string
  readonly maker: string
  readonly sourceName: string
  readonly licence: string
  readonly isSold: boolean
  readonly groupId: number | null
}
type SoundNames = ReadonlyMap<number, SoundName>

/** How every sound that the page names is shown. */
async function loadSoundNames(db: Db, facts: CheckFacts | null, decided: Clearance): Promise<SoundNames> {
  const ids = new Set<number>()
  for (const { soundId, alternativeIds } of facts?.detections ?? [])
    for (const id of [soundId, ...alternativeIds]) ids.add(id)
  for (const { reason: _, soundId } of facts?.reference.notListenedFor ?? []) ids.add(soundId)
  for (const { soundIds, answer } of decided.points)
    for (const id of [...soundIds.slice(0, NAMED_MAX), ...(answer?.fromSoundId ? [answer.fromSoundId] : [])])
      ids.add(id)
  for (const { ground } of decided.findings) if (ground) ids.add(ground.soundId)
  for (const track of facts?.tracks ?? []) for (const [soundId] of track.sensitivity) ids.add(soundId)
  if (ids.size === 0) return new Map()
  const rows = await db
    .selectFrom('sound_rows')
    .leftJoin('recording_groups', 'recording_groups.sound_id', 'sound_rows.id')
    .select(['sound_rows.id', 'shown_title', 'maker', 'source_name', 'short_title', 'group_id'])
    .select((eb) =>
      eb
        .exists(eb.selectFrom('sound_tiers').select('sound_id').whereRef('sound_id', '=', 'sound_rows.id'))
        .as('is_sold'),
    )
    .where(isOneOf('sound_rows.id', [...ids]))
    .execute()
  return new Map(
    rows.map((row) => [
      row.id,
      {
        title: row.shown_title,
        maker: row.maker,
        sourceName: row.source_name,
        licence: row.short_title,
        isSold: Boolean(row.is_sold),
        groupId: row.group_id,
      },
    ]),
  )
}

/** Sounds that lie in a heard one, and those that it lies in. */
async function loadRelatives(db: Db, { findings }: Clearance): Promise<Map<number, RelativeWire[]>> {
  const heardIds = findings.map(({ soundId }) => soundId)
  const relatives = new Map<number, RelativeWire[]>()
  if (heardIds.length === 0) return relatives
  const rows = (own: 'whole_id' | 'piece_id', other: 'whole_id' | 'piece_id') =>
    db
      .selectFrom('recording_pieces')
      .innerJoin('sound_rows', 'sound_rows.id', `recording_pieces.${other}`)
      .innerJoin('sounds as own_sound', 'own_sound.id', `recording_pieces.${own}`)
      // Choices of one entry belong together: what their papers are for is decided with them.
      .where(
        sql<boolean>`NOT (own_sound.source_id = sound_rows.source_id AND coalesce(own_sound.choice_of, own_sound.external_id)
          = coalesce(sound_rows.choice_of, sound_rows.external_id))`,
      )
      .select([`recording_pieces.${own} as ownId`, 'sound_rows.id as soundId', 'shown_title as title', 'source_name'])
      .where(isOneOf(`recording_pieces.${own}`, heardIds))
      .orderBy('sound_rows.id')
      .limit(RELATIVES_MAX)
      .execute()
  const add = (found: Awaited<ReturnType<typeof rows>>, relation: RelativeWire['relation']): void => {
    for (const { ownId, soundId, title, source_name: sourceName } of found)
      relatives.set(ownId, [...(relatives.get(ownId) ?? []), { soundId, title, sourceName, relation }])
  }
  add(await rows('whole_id', 'piece_id'), 'lies-in-it')
  add(await rows('piece_id', 'whole_id'), 'holds-it')
  return relatives
}

function findingWire(
  finding: Finding,
  facts: CheckFacts,
  { names, relatives }: { readonly names: SoundNames; readonly relatives: readonly RelativeWire[] },
): FindingWire {
  const { soundId, ground } = finding
  const own = names.get(soundId)
  const places = finding.places.map((index) => ({ index, place: facts.detections[index] as DetectionFacts }))
  const others = new Set(places.flatMap(({ place }) => place.alternativeIds))
  others.delete(soundId)
  return {
    soundId,
    title: own?.title ?? messages.sound(soundId),
    maker: own?.maker ?? '',
    sourceName: own?.sourceName ?? '',
    licence: own?.licence ?? '',
    sold: own?.isSold ?? false,
    verdict: finding.verdict,
    reasons: [...finding.reasons],
    sentence: finding.sentence,
    settlements: [...finding.settlements],
    ground: ground && {
      papersId: ground.papersId,
      title: names.get(ground.soundId)?.title ?? '',
      termsSha256: ground.termsSha256,
      quotes: [...ground.quotes],
      why: ground.why,
      declared: ground.declared,
    },
    creditLine: finding.creditLine,
    detections: places.map(({ index, place }) => detectionWire(index, place)),
    alternatives: [...others].flatMap((other) => {
      const name = names.get(other)
      if (!name) return []
      const sameRecording = own?.groupId != null && name.groupId === own.groupId
      return [{ soundId: other, title: name.title, sourceName: name.sourceName, sameRecording }]
    }),
    relatives: [...relatives],
    stems: finding.stemIds.flatMap((id) => names.get(id)?.title ?? []),
  }
}

/** A place as the page shows it. @param id Names it within the check. */
function detectionWire(id: number, { audioSha256: _, alternativeIds: __, ...place }: DetectionFacts): DetectionWire {
  return { id, ...place, certainty: certaintyOf(place.confidence) }
}

/** What is heard while the rest is still listened for: places without a verdict of any weight. */
async function loadHeardSoFar(db: Db, check: Selectable<Schema['checks']>): Promise<FindingWire[]> {
  if (check.state !== 'running') return []
  const rows = await db
    .selectFrom('detections')
    .innerJoin('sound_rows', 'sound_rows.id', 'detections.sound_id')
    .selectAll('detections')
    .select(['shown_title', 'maker', 'source_name', 'short_title'])
    .where('check_id', '=', check.id)
    .orderBy('start_s')
    .execute()
  const bySound = new Map<number, FindingWire>()
  for (const row of rows) {
    const known = bySound.get(row.sound_id)
    const place = detectionWire(row.id, detectionOfRow(row))
    if (known) known.detections.push(place)
    else
      bySound.set(row.sound_id, {
        soundId: row.sound_id,
        title: row.shown_title,
        maker: row.maker,
        sourceName: row.source_name,
        licence: row.short_title,
        sold: false,
        verdict: 'no-papers',
        reasons: [],
        sentence: '',
        settlements: [],
        ground: null,
        creditLine: null,
        detections: [place],
        alternatives: [],
        relatives: [],
        stems: [],
      })
  }
  return [...bySound.values()]
}

function detectionOfRow(row: Selectable<Schema['detections']>): DetectionFacts {
  return {
    trackIndex: row.track_index,
    soundId: row.sound_id,
    audioSha256: row.audio_sha256,
    startS: row.start_s,
    endS: row.end_s,
    fromS: row.from_s,
    toS: row.to_s,
    gainDb: row.gain_db,
    confidence: row.confidence,
    speed: row.speed,
    treatment: row.treatment as DetectionFacts['treatment'],
    cutoffHz: row.cutoff_hz,
    balance: row.balance,
    fadeInS: row.fade_in_s,
    fadeOutS: row.fade_out_s,
    alternativeIds: JSON.parse(row.alternatives_json) as number[],
  }
}

async function loadTrackWires(
  db: Db,
  checkId: number,
  facts: CheckFacts,
  names: SoundNames,
): Promise<CheckedTrackWire[]> {
  const maps = await db.selectFrom('track_maps').selectAll().where('check_id', '=', checkId).execute()
  return facts.tracks.map((track) => {
    const map = maps.find(({ track_index }) => track_index === track.index)
    return {
      index: track.index,
      name: trackName(track, facts.tracks.length),
      codec: track.codec,
      durationS: track.durationS,
      notListenedReason: track.notListenedReason,
      missing: [...track.missing],
      end: track.end,
      map: map ? trackMap(track, map) : null,
      breakdown: {
        segments: [...track.segments],
        unexplained: [...track.unexplained],
        secondsOf: track.secondsOf,
        explainedFraction: track.explainedFraction,
      },
      sensitivity: track.sensitivity
        .map(([soundId, fromDb, kind = null]) => ({ soundId, title: names.get(soundId)?.title ?? '', fromDb, kind }))
        .sort((a, b) => (b.fromDb ?? 999) - (a.fromDb ?? 999)),
      decoys: track.decoys,
      otherSpeeds: otherSpeedsOf(track),
    }
  })
}

/** How many sounds were searched for at other speeds, and how. Checks of older versions looked none up. */
function otherSpeedsOf({ stages }: TrackFacts): CheckedTrackWire['otherSpeeds'] {
  const countOf = (wanted: (stage: TrackFacts['stages'][number]) => boolean): number =>
    stages.filter(wanted).reduce((sum, { soundCount }) => sum + soundCount, 0)
  const all = countOf(({ name }) => name === 'shortlist' || name === 'catalogue')
  const inFull = countOf(({ name, otherSpeeds }) => name !== 'looked-up' && otherSpeeds)
  const lookedUp = countOf(({ name }) => name === 'looked-up')
  return { inFull, lookedUp, not: Math.max(0, all - inFull - lookedUp) }
}

function trackMap(
  { durationS, loudness }: TrackFacts,
  { waveform, momentary }: { readonly waveform: Buffer; readonly momentary: Buffer },
): NonNullable<CheckedTrackWire['map']> {
  return {
    durationS,
    waveformBase64: waveform.toString('base64'),
    columns: waveform.length / 2,
    momentaryLufs: [...floatsOf(momentary)].map((value) => Math.round(value * 10) / 10),
    integratedLufs: loudness?.integratedLufs ?? null,
    truePeakDbtp: loudness?.truePeakDbtp ?? null,
    loudnessRangeLu: loudness?.rangeLu ?? null,
    shortTermMaxLufs: loudness?.shortTermMaxLufs ?? null,
  }
}

function floatsOf(blob: Buffer): Float32Array {
  return new Float32Array(blob.buffer.slice(blob.byteOffset, blob.byteOffset + blob.byteLength))
}

function pointWire(point: Clearance['points'][number], names: SoundNames): PointWire {
  const { kind, trackIndex, places, soundIds, sentence, answerKinds, answer, isOpen, isUnexamined } = point
  const fromTitle = answer?.fromSoundId ? (names.get(answer.fromSoundId)?.title ?? null) : null
  return {
    kind,
    trackIndex,
    places: [...places],
    soundIds: [...soundIds],
    sentence,
    answerKinds: [...answerKinds],
    answer: answer && {
      id: answer.id,
      kind: answer.kind,
      fromSoundId: answer.fromSoundId,
      fromTitle,
      reason: answer.reason,
      by: answer.by,
      at: answer.at,
    },
    isOpen,
    isUnexamined,
    soundTitles: soundIds.slice(0, NAMED_MAX).flatMap((soundId) => {
      const name = names.get(soundId)
      return name ? [{ soundId, title: name.title, sourceName: name.sourceName }] : []
    }),
  }
}
