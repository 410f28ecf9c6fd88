import { randomUUID } from 'node:crypto'
import path from 'node:path'
import { type RawBuilder, sql } from 'kysely'
import { SCORE_IMPORT_MAX_CHARS, type ScoreImport, type ScoreImported } from '../../contract'
import { PlacementSchema } from '../../contract/score'
import { DEFAULT_FRAME_RATE } from '../../core/formats/timecode'
import {
  clipsFromEdl,
  clipsFromOtio,
  type Layer,
  type ListedClip,
  newLayer,
  newPlacement,
  type PlacedAudio,
  type Placement,
  placementLengthS,
  SCORE_LIMITS,
  withSafeEnds,
} from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { DomainError } from '../domain-error'
import { getMoments } from '../moments/moments'
import { findScoreRow } from '../rows/score-rows'
import { loadSourceFacts } from './source-facts'

/** A length that differs by less is the same: lists count in frames, s. */
const SAME_LENGTH_S = 0.05

interface Match {
  readonly audio: PlacedAudio
  readonly how: 'own' | 'hash' | 'name'
}

/**
 * Reads a list of another program and says what of it can be placed. Nothing is changed.
 *
 * A clip is matched by what we wrote into the list ourselves, as long as its file or sound is still here, and else by the name of its file. Paths in the list are not followed.
 *
 * @throws {DomainError} not-found, too-large, not-a-list.
 */
export async function readScoreList(
  services: Pick<Services, 'db' | 'store'>,
  videoId: number,
  { text }: ScoreImport,
): Promise<ScoreImported> {
  if (text.length > SCORE_IMPORT_MAX_CHARS) throw new DomainError('too-large', messages.listLargerThan8Mb)
  const { cut } = await getMoments(services, videoId)
  const read = clipsFromOtio(text) ?? clipsFromEdl(text, cut?.picture?.frameRate ?? DEFAULT_FRAME_RATE)
  if (!read) throw new DomainError('not-a-list', messages.thisNeitherOpentimelineioFileOtio)
  const byName = await matchesByName(
    services.db,
    read.clips.map(({ fileName }) => fileName),
  )
  const { document } = await findScoreRow(services.db, videoId)
  const there = new Set(document.placements.map(({ id }) => id))
  const layers = new Map(document.layers.map((layer) => [layer.name, layer]))
  const added: Layer[] = []
  const placements: Placement[] = []
  /** Those that come back as they went out: their ends were settled here. */
  const wholeIds = new Set<string>()
  const matched: ScoreImported['matched'] = {}
  const unmatched: ScoreImported['unmatched'] = []
  const leftOut = [...read.leftOut]
  let already = 0
  for (const clip of read.clips) {
    const own = ownPlacement(clip)
    if (own && there.has(own.id)) {
      already++
      continue
    }
    const match = (await ownMatch(services, own)) ?? byName.get(clip.fileName.toLowerCase())
    if (!match) {
      unmatched.push({ name: clip.fileName, startS: clip.startS })
      continue
    }
    const layer = layers.get(clip.trackName) ?? newLayer(randomUUID(), layerNameOf(clip.trackName), 'free')
    if (!layers.has(clip.trackName)) {
      layers.set(clip.trackName, layer)
      added.push(layer)
    }
    const isWhole = own !== null && Math.abs(placementLengthS(own) - clip.lengthS) <= SAME_LENGTH_S
    const placement = placementOf(clip, own && { own, isWhole }, match, layer.id)
    if (!placement) leftOut.push(messages.atSTimesAreOut(clip.fileName, clip.startS.toFixed(2)))
    else {
      placements.push(placement)
      if (isWhole) wholeIds.add(placement.id)
      matched[placement.id] = match.how
    }
  }
  if (already > 0)
    leftOut.push(already === 1 ? messages.oneSoundWhichPlacedAlready : messages.soundsWhichArePlacedAlready(already))
  // An editing program's cut ends as if with a knife where nothing was faded there; here it does not.
  const sourceOf = await loadSourceFacts(
    services.db,
    placements.map(({ audio }) => audio),
  )
  const safe = placements.map((one) =>
    wholeIds.has(one.id) ? one : withSafeEnds(one, sourceOf(one.audio, { durationS: one.toS })),
  )
  return { layers: added, placements: safe, matched, unmatched, leftOut }
}

/** The placement that we wrote into the list, where it is still one. */
function ownPlacement({ own }: ListedClip): Placement | null {
  const read = PlacementSchema.safeParse(own)
  return read.success ? read.data : null
}

function layerNameOf(trackName: string): string {
  return (trackName.trim() || messages.fromAList).slice(0, SCORE_LIMITS.nameLength)
}

async function ownMatch({ db, store }: Pick<Services, 'db' | 'store'>, own: Placement | null): Promise<Match | null> {
  if (!own) return null
  const { audio } = own
  if (audio.kind === 'copy' && store.has(audio.sha256)) return { audio, how: 'hash' }
  if (audio.soundId !== null && (await hasSound(db, audio.soundId))) return { audio, how: 'own' }
  return null
}

async function hasSound(db: Db, soundId: number): Promise<boolean> {
  const row = await db.selectFrom('sounds').select('id').where('id', '=', soundId).executeTakeFirst()
  return row !== undefined
}

/**
 * Copies with these file names, or else sounds with these titles, by the name in lower case. None where several could be meant. Asked for all at once: names are not looked up by an index.
 */
async function matchesByName(db: Db, fileNames: readonly string[]): Promise<Map<string, Match>> {
  const names = [...new Set(fileNames.map((name) => name.toLowerCase()))]
  const copies = await db
    .selectFrom('active_grants')
    .innerJoin('copies', 'copies.sha256', 'active_grants.copy_sha256')
    .innerJoin('sound_rows', 'sound_rows.id', 'active_grants.sound_id')
    .select(['copies.sha256', 'active_grants.sound_id'])
    .select(({ fn }) => fn<string>('lower', ['copies.file_name']).as('name'))
    .where(isOneOfTexts(sql`lower(copies.file_name)`, names))
    .groupBy('copies.sha256')
    .execute()
  const sounds = await db
    .selectFrom('sound_rows')
    .select('id')
    .select(({ fn }) => fn<string>('lower', ['shown_title']).as('name'))
    .where(isOneOfTexts(sql`lower(shown_title)`, names.map(titleOf)))
    .execute()
  const byFile = new Map<string, Match | null>()
  for (const { name, sha256, sound_id } of copies)
    byFile.set(name, byFile.has(name) ? null : { audio: { kind: 'copy', sha256, soundId: sound_id }, how: 'name' })
  const byTitle = new Map<string, Match | null>()
  for (const { name, id } of sounds)
    byTitle.set(name, byTitle.has(name) ? null : { audio: { kind: 'preview', soundId: id }, how: 'name' })
  return new Map(
    names.flatMap((name) => {
      const match = byFile.has(name) ? byFile.get(name) : byTitle.get(titleOf(name))
      return match ? [[name, match] as const] : []
    }),
  )
}

/** The title that a file without papers here may have been named after. */
function titleOf(fileName: string): string {
  return path.parse(fileName).name.replace(/, preview$/, '')
}

function isOneOfTexts(column: RawBuilder<unknown>, texts: readonly string[]): RawBuilder<boolean> {
  return sql<boolean>`${column} IN (SELECT value FROM json_each(${JSON.stringify(texts)}))`
}

/** @returns Null where its times are none that can be placed. */
function placementOf(
  clip: ListedClip,
  before: { readonly own: Placement; readonly isWhole: boolean } | null,
  match: Match,
  layerId: string,
): Placement | null {
  const sourceS = clip.lengthS * clip.rate
  const part = { fromS: clip.fromS, toS: clip.fromS + sourceS }
  const fresh = newPlacement(
    randomUUID(),
    { layerId, audio: match.audio, startS: Math.max(0, clip.startS), toS: part.toS },
    {
      fromS: part.fromS,
      rate: clip.rate,
      gainDb: clip.gainDb ?? 0,
      fadeIn: fadeOf(clip.fadeInS, clip.lengthS / 2),
      fadeOut: fadeOf(clip.fadeOutS, clip.lengthS / 2),
    },
  )
  // What was only moved keeps all that we know of it; what was trimmed there keeps all but its part and its fades.
  const { startS, id } = fresh
  const kept = before && { ...before.own, id, layerId, startS, audio: match.audio, target: null }
  const placement = !kept
    ? fresh
    : before?.isWhole
      ? kept
      : { ...kept, ...part, assembly: null, fadeIn: null, fadeOut: null, gainPoints: [], panPoints: [] }
  return PlacementSchema.safeParse(placement).success ? placement : null
}

function fadeOf(lengthS: number | null, mostS: number): Placement['fadeIn'] {
  if (lengthS === null || !(lengthS > 0)) return null
  return { lengthS: Math.min(lengthS, mostS), curve: 'equal-power', isAutomatic: false }
}
