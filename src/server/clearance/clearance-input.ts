import { sql } from 'kysely'
import {
  type CheckFacts,
  type ClearanceInput,
  type PapersOnFile,
  POINT_KINDS,
  type PointAnswer,
  type SoundOnFile,
} from '../../core/clearance'
import { FEATURES_VERSION, LONG_S, LONG_SOUNDS_SINCE, SOUND_MIN_S } from '../../core/hearing'
import type { Offer, Uses } from '../../core/rights'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { type Db, dayOf } from '../database/open'
import type { Schema } from '../database/schema'
import { findCurrentCheck, getFacts } from '../rows/check-facts'
import { findOwnSpeech } from '../rows/own-speech'
import { isListed, type Listed, loadListed } from './listed'
import { findOffers } from './other-offers'
import { type FiledPapers, loadPapers } from './papers-of'
import { loadTierOffers, offeredPapers, type TierOffer } from './weigh'

/** A preview that is shorter than its file by less than this leaves nothing out, s: coders add and take off a few milliseconds. */
const PREVIEW_SHORTER_S = 0.25

/** A video whose clearance is asked for. */
export interface AskedVideo {
  readonly id: number
  readonly uses: Uses
}

/**
 * Everything that the clearance of a video rests on, from the database.
 *
 * @param checkId A check that is asked for by itself; without it, the newest finished one of the newest file.
 * @param asOf Today, YYYY-MM-DD.
 * @param listed What is listed today, where it was read for many videos at once.
 * @param finder Looks for what would settle each open sound, which takes a search for each; left out where only the state is wanted.
 */
export async function loadClearanceInput(
  { db }: Pick<Services, 'db'>,
  video: AskedVideo,
  {
    asOf,
    checkId,
    finder,
    listed,
  }: {
    readonly asOf: string
    readonly checkId?: number
    readonly finder?: Services['finder']
    readonly listed?: Listed
  },
): Promise<ClearanceInput> {
  const current = await findCurrentCheck(db, video.id)
  const asked = checkId === undefined ? current : await findCheck(db, checkId)
  const context = { uses: video.uses, videoId: video.id, asOf }
  const base = {
    isChecking: checkId === undefined ? current.isChecking : asked.isChecking,
    context,
    answers: await loadAnswers(db, video.id),
    ownSpeech: await findOwnSpeech(db),
  }
  if (asked.factsSha256 === null) return { ...NOTHING_CHECKED, ...base }
  const facts = await getFacts(db, asked.factsSha256)
  const { heardIds, everyId } = await listSoundsOfFacts(db, facts)
  const tiers = await loadTierOffers(db, everyId, video.id)
  const filed = await loadPapers(db, everyId, video.id)
  const offers = new Map<number, readonly Offer[]>()
  if (finder)
    for (const id of heardIds) {
      const known = { papers: (filed.get(id) ?? []).map((one) => one.papers), tiers: tiers.get(id) ?? [], context }
      offers.set(id, await findOffers({ db, finder }, id, known))
    }
  const { unheard, inPart, unreadSources } = listed ?? (await loadListed(db))
  const unlisted = [...(await listUnlistedSounds(db, facts)), ...unheardSince(facts, unheard)]
  return {
    ...base,
    facts,
    sounds: await loadSoundsOnFile(db, everyId, { filed, tiers, videoId: video.id }),
    papers: [...filed.values()].flat().map(papersOnFile),
    offers,
    unlistedIds: [...new Set(unlisted.map(({ soundId }) => soundId))].sort((a, b) => a - b),
    inPartIds: listenedForBy(inPart, facts.reference).map(({ sound_id }) => sound_id),
    unreadSources,
  }
}

const NOTHING_CHECKED = {
  facts: null,
  sounds: new Map(),
  papers: [],
  offers: new Map(),
  unlistedIds: [],
  inPartIds: [],
  unreadSources: [],
}

/** Sounds that cannot be listened for, and that a check does not know of: they were listed since, or are another recording since. */
export function unheardSince(
  { reference }: Pick<CheckFacts, 'reference'>,
  unheard: Listed['unheard'],
): Listed['unheard'] {
  if (unheard.length === 0) return []
  const listened = new Set(reference.listenedFor.map(([soundId]) => soundId))
  const named = new Set(reference.notListenedFor.map(({ soundId }) => soundId))
  return unheard.filter(({ soundId, isReplaced }) => !named.has(soundId) && (isReplaced || !listened.has(soundId)))
}

async function findCheck(db: Db, checkId: number) {
  const row = await db
    .selectFrom('checks')
    .select(['state', 'facts_sha256'])
    .where('id', '=', checkId)
    .executeTakeFirst()
  return {
    factsSha256: row?.facts_sha256 ?? null,
    isChecking: row?.state === 'waiting' || row?.state === 'running',
  }
}

async function listSoundsOfFacts(db: Db, facts: CheckFacts): Promise<{ heardIds: number[]; everyId: number[] }> {
  const heardIds = [...new Set(facts.detections.map(({ soundId }) => soundId))]
  const placedIds = (facts.placed ?? []).map(({ soundId }) => soundId)
  const ownIds = [...new Set([...heardIds, ...placedIds])]
  if (ownIds.length === 0) return { heardIds, everyId: [] }
  const members = await db
    .selectFrom('recording_groups as own')
    .innerJoin('recording_groups as other', 'other.group_id', 'own.group_id')
    .select('other.sound_id as id')
    .where(isOneOf('own.sound_id', ownIds))
    .execute()
  const alike = facts.detections.flatMap(({ alternativeIds }) => alternativeIds)
  const family = await listFamilyIds(db, ownIds)
  return { heardIds, everyId: [...new Set([...ownIds, ...members.map(({ id }) => id), ...alike, ...family])] }
}

/** Entries of some sounds, and the choices of those and of the sounds themselves. */
async function listFamilyIds(db: Db, ids: readonly number[]): Promise<number[]> {
  const { rows } = await sql<{ id: number }>`WITH entries AS (
      SELECT DISTINCT source_id, coalesce(choice_of, external_id) AS external_id FROM sounds WHERE ${isOneOf('id', ids)}
    )
    SELECT choice.id AS id FROM entries JOIN sounds AS choice
      ON choice.source_id = entries.source_id AND choice.choice_of = entries.external_id
    UNION SELECT entry.id FROM entries JOIN sounds AS entry
      ON entry.source_id = entries.source_id AND entry.external_id = entries.external_id`.execute(db)
  return rows.map(({ id }) => id)
}

/** What each of some sounds is of an entry, by the entries and choices among them. */
async function loadChoiceFacts(
  db: Db,
  rows: readonly Pick<Schema['sound_rows'], 'id' | 'source_id' | 'external_id' | 'choice_of' | 'choice_role'>[],
): Promise<(row: (typeof rows)[number]) => Pick<SoundOnFile, 'stemIds' | 'wholeId'>> {
  const key = (source: string, external: string): string => JSON.stringify([source, external])
  const idOf = new Map(rows.map((row) => [key(row.source_id, row.external_id), row.id]))
  const ids = rows.map(({ id }) => id)
  const pieces = await db.selectFrom('recording_pieces').selectAll().where(isOneOf('piece_id', ids)).execute()
  const sums = await db.selectFrom('recording_sums').selectAll().where(isOneOf('whole_id', ids)).execute()
  const stems = new Map(sums.map(({ whole_id, stem_ids_json }) => [whole_id, JSON.parse(stem_ids_json) as number[]]))
  const liesIn = new Set(pieces.map(({ whole_id, piece_id }) => `${piece_id} ${whole_id}`))
  return ({ id, source_id, choice_of, choice_role }) => {
    const entryId = choice_of === null ? undefined : idOf.get(key(source_id, choice_of))
    return {
      stemIds: stems.get(id) ?? [],
      wholeId: entryId !== undefined && choice_role === 'part' && liesIn.has(`${id} ${entryId}`) ? entryId : null,
    }
  }
}

/** Sounds as the decision needs them. */
async function loadSoundsOnFile(
  db: Db,
  ids: readonly number[],
  {
    filed,
    tiers,
    videoId,
  }: {
    readonly filed: ReadonlyMap<number, readonly FiledPapers[]>
    readonly tiers: ReadonlyMap<number, readonly TierOffer[]>
    readonly videoId: number
  },
): Promise<Map<number, SoundOnFile>> {
  if (ids.length === 0) return new Map()
  const rows = await db
    .selectFrom('sound_rows')
    .leftJoin('analyses', 'analyses.sound_id', 'sound_rows.id')
    .selectAll('sound_rows')
    .select('analyses.audio_sha256')
    .where(isOneOf('sound_rows.id', ids))
    .execute()
  const groups = await db.selectFrom('recording_groups').selectAll().where(isOneOf('sound_id', ids)).execute()
  const changes = await db
    .selectFrom('audio_changes')
    .selectAll()
    .where(isOneOf('sound_id', ids))
    .where('from_sha256', 'is not', null)
    .where('to_sha256', 'is not', null)
    .orderBy('number')
    .execute()
  const choiceFacts = await loadChoiceFacts(db, rows)
  const groupOf = new Map(groups.map(({ sound_id, group_id }) => [sound_id, group_id]))
  return new Map(
    rows.map((row): [number, SoundOnFile] => {
      const group = groupOf.get(row.id)
      return [
        row.id,
        {
          soundId: row.id,
          title: row.shown_title,
          maker: row.maker,
          sourceName: row.source_name,
          isFromLibrary: row.source_kind === 'library',
          contentSha256: row.audio_sha256,
          // A file of the creator's own is here whether it has papers or not.
          hasCopy: row.source_kind !== 'library' || filed.has(row.id),
          sameRecordingIds: groups
            .filter(({ sound_id, group_id }) => group_id === group && sound_id !== row.id)
            .map(({ sound_id }) => sound_id)
            .sort((a, b) => a - b),
          ...choiceFacts(row),
          changes: changes.flatMap(({ sound_id, from_sha256, to_sha256, at }) =>
            sound_id === row.id && from_sha256 !== null && to_sha256 !== null && from_sha256 !== to_sha256
              ? [{ fromSha256: from_sha256, toSha256: to_sha256, on: dayOf(at) }]
              : [],
          ),
          offered: offeredPapers(row, videoId),
          isSold: tiers.has(row.id),
        },
      ]
    }),
  )
}

function papersOnFile({ grantId, soundId, contents, termsSha256, creditLine, papers }: FiledPapers): PapersOnFile {
  return { papersId: grantId, soundId, contents, termsSha256, creditLine, papers }
}

/** Answers of the creator that were not undone. */
async function loadAnswers(db: Db, videoId: number): Promise<PointAnswer[]> {
  const rows = await db
    .selectFrom('point_answers')
    .selectAll()
    .where('video_id', '=', videoId)
    .where('undone_at', 'is', null)
    .orderBy('id')
    .execute()
  return rows.flatMap((row) => {
    const pointKind = POINT_KINDS.find((kind) => kind === row.point_kind)
    if (!pointKind) return []
    return [
      {
        id: row.id,
        pointKind,
        fileSha256: row.file_sha256,
        trackIndex: row.track_index,
        places: JSON.parse(row.places_json) as PointAnswer['places'],
        soundIds: JSON.parse(row.sound_ids_json) as number[],
        kind: row.kind as PointAnswer['kind'],
        fromSoundId: row.from_sound_id,
        reason: row.reason,
        by: row.by_name,
        at: row.at,
      },
    ]
  })
}

/**
 * Sounds that can be listened for now and that a check did not listen for: they came since, their audio became another one, or it listened for less of them than is listened for now. A
 * library's file that is the same recording as the preview that was listened for, and no longer, is not another one. What a library that is searched answered since, and
 * nobody took, does not count: a whole check listens for it, and a search in Find changes no verdict.
 */
export async function listUnlistedSounds(
  db: Db,
  facts: Pick<CheckFacts, 'reference' | 'engine'>,
): Promise<UnlistedSound[]> {
  const inPart = await listHeardInPart(db, facts)
  const changed = await listChangedSounds(db, facts)
  const changedIds = new Set(changed.map(({ soundId }) => soundId))
  return [...changed, ...inPart.filter(({ soundId }) => !changedIds.has(soundId))]
}

interface UnlistedSound {
  readonly soundId: number
  readonly audioSha256: string
}

/** Those of some sounds that were listened for by the audio that they have now. */
function listenedForBy<Row extends Pick<Schema['analyses'], 'sound_id' | 'audio_sha256'>>(
  rows: readonly Row[],
  { listenedFor }: CheckFacts['reference'],
): Row[] {
  const listed = new Map(listenedFor)
  return rows.filter(({ sound_id, audio_sha256 }) => listed.get(sound_id) === audio_sha256)
}

/** Long sounds that an earlier version listened for by their loudest seconds alone. */
async function listHeardInPart(
  db: Db,
  { reference, engine }: Pick<CheckFacts, 'reference' | 'engine'>,
): Promise<UnlistedSound[]> {
  if (engine.featuresVersion >= LONG_SOUNDS_SINCE) return []
  const rows = await db
    .selectFrom('analyses')
    .select(['sound_id', 'audio_sha256'])
    .where('feature_version', '=', FEATURES_VERSION)
    .where('duration_s', '>', LONG_S)
    .orderBy('sound_id')
    .execute()
  return listenedForBy(rows, reference).map(({ sound_id, audio_sha256 }) => ({
    soundId: sound_id,
    audioSha256: audio_sha256,
  }))
}

async function listChangedSounds(db: Db, { reference }: Pick<CheckFacts, 'reference'>): Promise<UnlistedSound[]> {
  const rows = await db
    .selectFrom('audio_changes')
    .innerJoin('analyses', 'analyses.sound_id', 'audio_changes.sound_id')
    .select(['analyses.sound_id', 'analyses.audio_sha256', 'analyses.duration_s'])
    .distinct()
    .where('audio_changes.number', '>', reference.upToChange)
    .where('analyses.feature_version', '=', FEATURES_VERSION)
    .where('analyses.duration_s', '>=', SOUND_MIN_S)
    .where(isListed('analyses.sound_id'))
    .orderBy('analyses.sound_id')
    .execute()
  if (rows.length === 0) return []
  const listed = new Map(reference.listenedFor)
  const changed = rows.filter(({ sound_id, audio_sha256 }) => listed.get(sound_id) !== audio_sha256)
  const links = await db
    .selectFrom('grants')
    .select(['sound_id', 'served_sha256', 'heard_sha256', 'heard_duration_s'])
    .where(
      isOneOf(
        'sound_id',
        changed.map(({ sound_id }) => sound_id),
      ),
    )
    .where('heard_sha256', 'is not', null)
    .execute()
  return changed
    .filter(
      ({ sound_id, audio_sha256, duration_s }) =>
        !links.some(
          (link) =>
            link.sound_id === sound_id &&
            link.served_sha256 === audio_sha256 &&
            link.heard_sha256 === listed.get(sound_id) &&
            link.heard_duration_s !== null &&
            duration_s - link.heard_duration_s <= PREVIEW_SHORTER_S,
        ),
    )
    .map(({ sound_id, audio_sha256 }) => ({ soundId: sound_id, audioSha256: audio_sha256 }))
}
