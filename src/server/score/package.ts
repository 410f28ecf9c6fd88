import type { Readable } from 'node:stream'
import { ZipFile } from 'yazl'
import { creditsText } from '../../core/credits'
import { type PlacedAudio, usedSounds } from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import { archiveNames } from '../copies/archive-names'
import { DomainError } from '../domain-error'
import { namePart } from '../files/file-name'
import { tended } from '../files/web-stream'
import { findScoreRow } from '../rows/score-rows'
import { loadCueSheet } from './cue-sheet'
import { addPapers } from './package-papers'
import { findCopies } from './placed-audio'
import { loadScoreList } from './score-list'
import { loadUsedSounds } from './used-sounds'

/**
 * Everything that an editing program needs of what is placed, as one archive that is made while it is read: the copies that are here, the lists, the cue sheet with what
 * is open, credits, the papers of each sound.
 *
 * @throws {DomainError} not-found, nothing-to-do.
 */
export async function getScorePackage(
  services: Pick<Services, 'db' | 'store'>,
  videoId: number,
): Promise<{ readonly fileName: string; readonly body: Readable }> {
  const { store, db } = services
  const { document } = await findScoreRow(db, videoId)
  const used = await loadUsedSounds(services, videoId)
  const { sounds } = used
  if (sounds.length === 0) throw new DomainError('nothing-to-do', messages.nothingIsPlacedYet)
  const sheet = await loadCueSheet(services, videoId, used)
  const name = namePart(sheet.title) || 'video'
  const archive = new ZipFile()
  const freeName = archiveNames()
  const missing: string[] = []
  for (const { key, audio } of usedSounds(document)) {
    const sound = sounds.find((one) => one.key === key)
    const sha256 = await copySha256(services, audio)
    if (sha256 !== null && store.has(sha256))
      archive.addFile(store.blobPath(sha256), `sounds/${freeName(sound?.fileName ?? key)}`, { compress: false })
    else missing.push(sound?.title ?? key)
  }
  for (const format of ['otio', 'edl'] as const) {
    const { text } = await loadScoreList(services, videoId, format)
    archive.addBuffer(Buffer.from(text), `${name}.${format}`)
  }
  archive.addBuffer(Buffer.from(sheet.text), 'cue sheet.csv')
  const credits = creditsText(sounds.flatMap(({ creditLine }) => (creditLine === null ? [] : [creditLine])))
  if (credits) archive.addBuffer(Buffer.from(`${credits}\n`), 'credits.txt')
  const lost = await addPapers(
    services,
    archive,
    sounds.flatMap(({ soundId }) => (soundId === null ? [] : [soundId])),
  )
  const open = sounds.flatMap((sound) => (sound.open === null ? [] : [sound.open]))
  archive.addBuffer(Buffer.from(openText(open, missing, lost)), 'what is open.txt')
  archive.end()
  return {
    fileName: messages.placedSoundsZip(name),
    body: tended(archive.outputStream as unknown as Readable),
  }
}

/** The file of a placed sound that may go out; null where there is only a preview. */
async function copySha256({ db }: Pick<Services, 'db'>, audio: PlacedAudio): Promise<string | null> {
  if (audio.kind === 'copy') return (await findCopies(db, [audio.sha256])).has(audio.sha256) ? audio.sha256 : null
  const row = await db
    .selectFrom('active_grants')
    .select('copy_sha256')
    .where('sound_id', '=', audio.soundId)
    .orderBy('id', 'desc')
    .executeTakeFirst()
  return row?.copy_sha256 ?? null
}

function openText(open: readonly string[], missing: readonly string[], lost: readonly string[]): string {
  if (open.length + missing.length + lost.length === 0) return messages.nothingOpenPapersOnFile
  const files = missing.map((title) => messages.notAmongFilesThereNo(title))
  return `${[messages.whatIsOpen, ...[...open, ...files, ...lost].map((line) => `• ${line}`)].join('\n')}\n`
}
