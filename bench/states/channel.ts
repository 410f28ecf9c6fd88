import { type CheckFacts, type DetectionFacts, FACTS_VERSION, type TrackFacts } from '../../src/core/clearance'
import { type Db, nowIso, openDatabase } from '../../src/server/database/open'
import { sha256Of } from '../../src/server/ledger/ledger'
import { storeFacts } from '../../src/server/rows/check-facts'
import { knownTerms } from '../../src/server/terms/known-terms'
import { storeTerms } from '../../src/server/terms/terms-store'
import { detectionOf } from '../../test/detection'

/** How large a made-up channel is. */
export interface ChannelSize {
  readonly videos: number
  readonly heardPerVideo: number
  readonly papers: number
}

const LICENCES = ['CC0-1.0', 'CC-BY-4.0', 'CC-BY-NC-4.0', 'CC-BY-SA-4.0'] as const
const USES = {
  places: ['online'],
  earns: true,
  territory: 'worldwide',
  publishOn: '2026-12-01',
  videoLicence: null,
  platforms: [],
  audience: null,
}

/** Fills a data folder with a channel: as many sounds as papers, videos with checked files, every eleventh heard sound without papers. */
export async function makeChannel(dataDir: string, size: ChannelSize): Promise<void> {
  const db = await openDatabase(dataDir)
  try {
    await db.transaction().execute((trx) => fill(trx, size))
  } finally {
    await db.destroy()
  }
}

async function fill(trx: Db, { videos, heardPerVideo, papers }: ChannelSize): Promise<void> {
  await trx
    .insertInto('sources')
    .values({ id: 'bench', name: 'A library', about: '', connected: 1, plan: 'Free' })
    .execute()
  const terms: number[] = []
  for (const spdxId of LICENCES) terms.push(await storeTerms(trx, 'bench', knownTerms(spdxId)))
  const sounds: [number, string][] = []
  for (let index = 0; index < papers; index++)
    sounds.push(await insertSound(trx, index, terms[index % terms.length] as number))
  for (let index = 0; index < videos; index++) await insertVideo(trx, index, { sounds, heardPerVideo })
}

async function insertSound(trx: Db, index: number, termsId: number): Promise<[number, string]> {
  const sha256 = sha256Of(`sound ${index}`)
  const { id } = await trx
    .insertInto('sounds')
    .values({
      source_id: 'bench',
      external_id: String(index),
      title: `Sound number ${index}`,
      maker: 'Brae',
      description: '',
      tags_json: '[]',
      category: 'Effects',
      duration_s: 1,
      formats_json: '["wav"]',
      cost: 'free',
      page_url: null,
      preview_ref: '',
      terms_id: termsId,
      withdrawn_at: null,
      updated_at: nowIso(),
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  await trx
    .insertInto('analyses')
    .values({
      sound_id: id,
      audio_sha256: sha256,
      audio_mime: 'audio/wav',
      print_column_s: 0.02,
      print_levels: Buffer.alloc(200),
      loudness_lufs: -20,
      hit_s: 0.1,
      duration_s: 1,
      feature_version: 0,
      channels: 1,
      loops: 0,
    })
    .execute()
  await trx
    .insertInto('copies')
    .values({ sha256, size_bytes: 1, mime: 'audio/wav', file_name: `${index}.wav`, created_at: nowIso() })
    .execute()
  if (index % 11 !== 0)
    await trx
      .insertInto('grants')
      .values({
        sound_id: id,
        copy_sha256: sha256,
        served_sha256: sha256,
        terms_id: termsId,
        title: 'Open licence',
        plan_from: null,
        plan_until: null,
        order_ref: `order ${index}`,
        licensee: 'The channel',
        credit_line: `Sound number ${index} by Brae`,
        acquired_at: nowIso(),
        heard_sha256: null,
      })
      .execute()
  return [id, sha256]
}

async function insertVideo(
  trx: Db,
  index: number,
  { sounds, heardPerVideo }: { sounds: readonly [number, string][]; heardPerVideo: number },
): Promise<void> {
  const { id: videoId } = await trx
    .insertInto('videos')
    .values({ title: `Film ${index}`, uses_json: JSON.stringify(USES), created_at: nowIso() })
    .returning('id')
    .executeTakeFirstOrThrow()
  const film = sha256Of(`film ${index}`)
  const { id: exportId } = await trx
    .insertInto('exports')
    .values({
      video_id: videoId,
      sha256: film,
      size_bytes: 1,
      file_name: 'film.mp4',
      mime: 'video/mp4',
      created_at: nowIso(),
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  const { id: checkId } = await trx
    .insertInto('checks')
    .values({ video_id: videoId, export_id: exportId, state: 'done', message: '', created_at: nowIso() })
    .returning('id')
    .executeTakeFirstOrThrow()
  const heard = Array.from(
    { length: heardPerVideo },
    (_, at) => sounds[(index * 17 + at * 29) % sounds.length] as [number, string],
  )
  const detections = heard.map(([soundId, audioSha256], at) => place(soundId, audioSha256, at))
  for (const { soundId, audioSha256, startS, endS } of detections)
    await trx
      .insertInto('detections')
      .values({
        check_id: checkId,
        sound_id: soundId,
        audio_sha256: audioSha256,
        start_s: startS,
        end_s: endS,
        from_s: 0,
        to_s: 1,
        gain_db: -9,
        confidence: 1,
        cutoff_hz: null,
      })
      .execute()
  await storeFacts(trx, checkId, factsOf(film, sounds, detections))
}

function place(soundId: number, audioSha256: string, at: number): DetectionFacts {
  return detectionOf(soundId, at * 10, at * 10 + 1, { audioSha256 })
}

function factsOf(film: string, sounds: readonly [number, string][], detections: readonly DetectionFacts[]): CheckFacts {
  const track: TrackFacts = {
    index: 0,
    codec: 'aac',
    language: null,
    channelCount: 2,
    channelLayout: 'stereo',
    statedDurationS: 600,
    notListenedReason: null,
    durationS: 600,
    end: 'whole',
    missing: [],
    stages: [],
    decoys: { listenedFor: 24, heard: 0 },
    sensitivity: sounds.slice(0, 400).map(([id]) => [id, -30] as const),
    segments: Array.from({ length: 60 }, (_, at) => ({
      kind: at % 2 === 0 ? ('speech' as const) : ('silence' as const),
      startS: at * 10,
      endS: at * 10 + 10,
    })),
    unexplained: [],
    secondsOf: { speech: 300, music: 0, noise: 0, silence: 300, heard: 40, unexplained: 0 },
    explainedFraction: 1,
    loudness: null,
  }
  return {
    version: FACTS_VERSION,
    finishedAt: nowIso(),
    file: { sha256: film, sizeBytes: 1, hasPicture: true },
    decoder: { name: 'embedded', version: '1' },
    engine: { version: '2', featuresVersion: 1 },
    tracks: [track],
    reference: { listenedFor: sounds, notListenedFor: [], claimedIds: [], upToChange: sounds.length },
    detections,
    carriesOn: null,
  }
}
