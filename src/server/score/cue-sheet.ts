import { stringify } from 'csv-stringify/sync'
import type { VideoUsed } from '../../contract'
import { mayDropFrames, timecodeAt } from '../../core/formats/timecode'
import { audioKey, type Cue, cuesOf } from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import { loadListFrame } from './list-frame'
import { loadUsedSounds } from './used-sounds'

const HEADINGS = [
  messages.number,
  messages.start,
  'End',
  messages.startS,
  messages.lengthS,
  messages.hitS,
  messages.layer,
  messages.sound,
  messages.maker,
  messages.source,
  messages.file,
  messages.fromS,
  messages.toS,
  messages.levelDb,
  messages.speed,
  messages.heard,
  messages.licence,
  messages.credit,
  messages.open,
]

/**
 * What is placed in a video as a table: where, what, on which ground, and what is open of it.
 *
 * @param used All its sounds, where they were weighed already. @throws {DomainError} not-found.
 */
export async function loadCueSheet(
  services: Pick<Services, 'db' | 'store'>,
  videoId: number,
  used?: VideoUsed,
): Promise<{ readonly title: string; readonly text: string }> {
  const { title, document, rate } = await loadListFrame(services, videoId)
  const { sounds } = used ?? (await loadUsedSounds(services, videoId))
  const byKey = new Map(sounds.map((sound) => [sound.key, sound]))
  const cues = cuesOf(document, ({ audio }) => {
    const sound = byKey.get(audioKey(audio))
    if (!sound) throw new Error('a placed sound was not weighed')
    return sound
  })
  const code = (atS: number): string => timecodeAt(atS, rate, mayDropFrames(rate))
  const rows = cues.map((cue) => cells(cue, code))
  // Cells that a table program could take for a formula are made plain text.
  const text = stringify([HEADINGS, ...rows], { escape_formulas: true, bom: true, record_delimiter: '\r\n' })
  return { title, text }
}

function cells(cue: Cue, code: (atS: number) => string): string[] {
  const { placement } = cue
  return [
    String(cue.number),
    code(cue.startS),
    code(cue.endS),
    cue.startS.toFixed(3),
    cue.lengthS.toFixed(3),
    cue.hitS?.toFixed(3) ?? '',
    cue.layerName,
    cue.title,
    cue.maker,
    cue.sourceName,
    cue.fileName,
    placement.fromS.toFixed(3),
    placement.toS.toFixed(3),
    placement.gainDb.toFixed(1),
    String(placement.rate),
    cue.isHeard ? 'yes' : 'no',
    cue.licence,
    cue.creditLine ?? '',
    cue.open ?? '',
  ]
}
