import type { UsedSoundWire, VideoUsed } from '../../contract'
import { type DecisionContext, decide, type Fit, fitOf } from '../../core/rights'
import { type PlacedAudio, usedSounds } from '../../core/score'
import { score as messages } from '../../messages/server/score'
import { type FiledPapers, loadPapers } from '../clearance/papers-of'
import type { Services } from '../context'
import { todayIso } from '../database/open'
import { money } from '../money'
import { planBatch } from '../orders/batches'
import { findScoreRow } from '../rows/score-rows'
import { findDecisionContext, getVideoRow } from '../rows/video-rows'
import { loadSummaries } from '../sounds/search-sounds'
import { fileNameOf } from './placed-audio'

type Weighed = Omit<UsedSoundWire, 'open'>

/**
 * Every sound that is placed in a video, weighed for that video whatever is in hand: whether it may be used, what it owes, what would have to be got.
 *
 * @throws {DomainError} not-found.
 */
export async function loadUsedSounds(services: Pick<Services, 'db' | 'store'>, videoId: number): Promise<VideoUsed> {
  const { db } = services
  await getVideoRow(db, videoId)
  const { revision, document } = await findScoreRow(db, videoId)
  const context = await findDecisionContext(db, { named: videoId, asOf: todayIso() })
  const used = usedSounds(document)
  const ids = used.flatMap(({ audio }) => (audio.soundId === null ? [] : [audio.soundId]))
  const summaries = new Map((await loadSummaries(services, ids, context)).map((one) => [one.id, one]))
  const papers = await loadPapers(db, ids, videoId)
  const known = [...new Set(ids)].filter((id) => summaries.has(id))
  const plan = await planBatch(services, known, context)
  const sounds: UsedSoundWire[] = []
  for (const { key, audio } of used) {
    const sound = audio.soundId === null ? undefined : summaries.get(audio.soundId)
    const line = plan.lines.find(({ soundId }) => soundId === audio.soundId)
    // Papers of the file that was there before are none for the one that is placed.
    const filed = (papers.get(audio.soundId ?? -1) ?? []).filter(({ contents, isForCurrent }) =>
      audio.kind === 'copy' ? contents.includes(audio.sha256) : isForCurrent,
    )
    const weighed: Weighed = {
      key,
      soundId: audio.soundId,
      title: sound?.title ?? messages.soundThatNotHereAnyMore,
      maker: sound?.maker ?? '',
      sourceName: sound?.source.name ?? '',
      kind: sound ? (sound.kind === 'music' ? 'music' : 'effect') : null,
      licence: sound?.licence ?? '',
      fileName: await fileNameOf(db, audio, sound?.title),
      how: isFileHere(services, audio, sound?.copySha256 ?? null) ? 'here' : (line?.how ?? 'not'),
      price: line?.how === 'buy' && line.currency ? money(line.priceMinor, line.currency) : null,
      tierTitle: line?.how === 'buy' ? line.tierTitle : null,
      fit: audio.kind === 'copy' ? fitByPapers(context, filed) : (sound?.fit ?? null),
      onFile: filed.length > 0,
      creditLine: filed.find(({ creditLine }) => creditLine !== null)?.creditLine ?? null,
    }
    sounds.push({ ...weighed, open: openOf(weighed) })
  }
  return { revision, sounds, total: plan.total }
}

/** What stands against the use of a sound in its video; null only where papers on file allow it and its file is here. */
function openOf({ title, how, fit, onFile, kind }: Weighed): string | null {
  if (kind === null) return messages.nothingIsKnownOfIt(title)
  if (fit === 'does-not-fit') return messages.notAllowedInThisVideo(title)
  if (fit === 'not-stated') return messages.whetherMayBeUsedIn(title)
  if (!onFile || fit === null) return messages.hasNoPapersYetFor(title)
  if (how !== 'here') return messages.placedAsPreviewFileNot(title)
  return null
}

/** Whether a file may be used by its own papers; null where it has none. */
function fitByPapers(context: DecisionContext | null, filed: readonly FiledPapers[]): Fit | null {
  if (!context || filed.length === 0) return null
  return fitOf(decide({ ...context, papers: filed.map(({ papers }) => papers) }))
}

function isFileHere({ store }: Pick<Services, 'store'>, audio: PlacedAudio, copySha256: string | null): boolean {
  const sha256 = audio.kind === 'copy' ? audio.sha256 : copySha256
  return sha256 !== null && store.has(sha256)
}
