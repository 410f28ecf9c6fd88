import type { CheckReport } from '../contract'
import { commands as messages } from '../messages/server/commands'

/** The result of a check as a table for people. */
export function detectionTable(report: CheckReport, soundCount: number): string {
  const { detections, loudness, timing } = report
  const lufs = loudness.integratedLufs === null ? 'silent' : `${loudness.integratedLufs.toFixed(1)} LUFS`
  const peak = loudness.truePeakDbtp === null ? '' : messages.truePeakDbtp(loudness.truePeakDbtp.toFixed(1))
  const head = `${report.media}: ${clock(report.durationS)}, ${lufs}${peak}`
  const times = messages.listenedForSoundsDecodeS(
    soundCount,
    timing.decodeS.toFixed(1),
    timing.indexS.toFixed(1),
    timing.searchS.toFixed(1),
  )
  const partly = partlyWords(report)
  if (detections.length === 0) return [head, times, ...partly, messages.noneOfThemWasHeard].join('\n')
  const several = report.tracks.length > 1
  const rows = [
    [...(several ? ['track'] : []), 'start', 'end', 'part', 'level', 'sure', 'treated', 'sound'],
    ...detections.map((find) => [
      ...(several ? [String(find.track + 1)] : []),
      clock(find.startS),
      clock(find.endS),
      `${find.fromS.toFixed(2)}–${find.toS.toFixed(2)} s`,
      `${find.gainDb >= 0 ? '+' : ''}${find.gainDb.toFixed(1)} dB`,
      find.certainty,
      treatmentWords(find),
      find.alternatives.length > 0 ? `${find.file} (or ${find.alternatives.join(', ')})` : find.file,
    ]),
  ]
  const widths = (rows[0] as string[]).map((_, column) =>
    Math.max(...rows.map((row) => (row[column] as string).length)),
  )
  const lines = rows.map((row) =>
    row
      .map((cell, column) => cell.padEnd(widths[column] as number))
      .join('  ')
      .trimEnd(),
  )
  return [head, times, ...partly, ...lines].join('\n')
}

/** What was not examined, a line each; nothing where all was. */
function partlyWords({ tracks, examined }: CheckReport): string[] {
  if (examined === 'whole') return []
  const lines = tracks.flatMap(({ index, notListenedReason, missing, opposed, partlyOpposed, end }) => {
    const name = `track ${index + 1}`
    if (notListenedReason !== null) return [messages.wasNotListenedTo(name, notListenedReason)]
    const gaps = missing.map(({ startS, endS }) => messages.couldNotBeDecodedFrom(name, clock(startS), clock(endS)))
    const cancelled = opposed.map(({ startS, endS }) => messages.cancelsItselfOut(name, clock(startS), clock(endS)))
    const partly = partlyOpposed.map(({ startS, endS }) =>
      messages.cancelsItselfOutInPart(name, clock(startS), clock(endS)),
    )
    return [
      ...(gaps.length > 0 || end === 'whole' ? gaps : [messages.breaksOffHowMuchMissing(name)]),
      ...cancelled,
      ...partly,
    ]
  })
  return ['PARTLY EXAMINED:', ...lines]
}

function treatmentWords({ treatment, speed, cutoffHz }: CheckReport['detections'][number]): string {
  const pace = messages.speed(Math.round(speed * 1000) / 10)
  if (treatment === 'muffled') return messages.muffledAboveHz(cutoffHz)
  if (treatment === 'room') return messages.inARoom
  if (treatment === 'speed') return pace
  return treatment === 'speed-pitch-kept' ? messages.pitchKept(pace) : 'no'
}

function clock(seconds: number): string {
  const minutes = Math.floor(seconds / 60)
  return `${minutes}:${(seconds - 60 * minutes).toFixed(3).padStart(6, '0')}`
}
