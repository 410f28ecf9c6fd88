import type { CheckReport } from '../contract'

/** The result of a check as a table for people. */
export function detectionTable(report: CheckReport, soundCount: number): string {
  const { detections, loudness, timing } = report
  const lufs = loudness.integratedLufs === null ? 'silent' : `${loudness.integratedLufs.toFixed(1)} LUFS`
  const peak = loudness.truePeakDbtp === null ? '' : `, true peak ${loudness.truePeakDbtp.toFixed(1)} dBTP`
  const head = `${report.media}: ${clock(report.durationS)}, ${lufs}${peak}`
  const times = `Listened for ${soundCount} sounds (decode ${timing.decodeS.toFixed(1)} s, index ${timing.indexS.toFixed(1)} s, search ${timing.searchS.toFixed(1)} s).`
  const partly = partlyWords(report)
  if (detections.length === 0) return [head, times, ...partly, 'None of them was heard.'].join('\n')
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
  const lines = tracks.flatMap(({ index, notListenedReason, missing, end }) => {
    const name = `track ${index + 1}`
    if (notListenedReason !== null) return [`  ${name} was not listened to: ${notListenedReason}`]
    const gaps = missing.map(
      ({ startS, endS }) => `  ${name} could not be decoded from ${clock(startS)} to ${clock(endS)}`,
    )
    return gaps.length > 0 || end === 'whole' ? gaps : [`  ${name} breaks off; how much is missing is not known`]
  })
  return ['PARTLY EXAMINED:', ...lines]
}

function treatmentWords({ treatment, speed, cutoffHz }: CheckReport['detections'][number]): string {
  const pace = `${Math.round(speed * 1000) / 10} % speed`
  if (treatment === 'muffled') return `muffled above ${cutoffHz} Hz`
  if (treatment === 'room') return 'in a room'
  if (treatment === 'speed') return pace
  return treatment === 'speed-pitch-kept' ? `${pace}, pitch kept` : 'no'
}

function clock(seconds: number): string {
  const minutes = Math.floor(seconds / 60)
  return `${minutes}:${(seconds - 60 * minutes).toFixed(3).padStart(6, '0')}`
}
