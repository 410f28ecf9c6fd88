import type { FindingWire, TrackMap } from '../../../contract'

/** One heard place on the time map. */
export interface MapMark {
  readonly detectionId: number
  readonly finding: FindingWire
  readonly startS: number
  readonly endS: number
  readonly lane: number
}

/** Room that a mark's label needs, s of track on the map, so that labels of one lane do not run into each other. */
export interface LabelRoom {
  readonly secondsPerLetter: number
}

/** Lays heard places of one track into lanes from the top so that neither marks nor labels overlap; worst verdicts do not move. */
export function markLanes(
  findings: readonly FindingWire[],
  trackIndex: number,
  { secondsPerLetter }: LabelRoom,
): MapMark[] {
  const places = findings
    .flatMap((finding) =>
      finding.detections.filter((place) => place.trackIndex === trackIndex).map((place) => ({ finding, place })),
    )
    .sort((a, b) => a.place.startS - b.place.startS)
  const laneEnds: number[] = []
  return places.map(({ finding, place }) => {
    const labelEndS = place.startS + (finding.title.length + 4) * secondsPerLetter
    const endS = Math.max(place.endS, labelEndS)
    const free = laneEnds.findIndex((end) => end <= place.startS)
    const lane = free >= 0 ? free : laneEnds.length
    laneEnds[lane] = endS
    return { detectionId: place.id, finding, startS: place.startS, endS: place.endS, lane }
  })
}

/** Closed shape of the waveform as SVG path data, from its stored columns. */
export function waveformPath(track: TrackMap, box: { readonly widthPx: number; readonly heightPx: number }): string {
  const bytes = Uint8Array.from(atob(track.waveformBase64), (letter) => letter.charCodeAt(0))
  const samples = new Int8Array(bytes.buffer)
  const columns = Math.min(track.columns, Math.max(1, Math.floor(box.widthPx)))
  const middle = box.heightPx / 2
  const top: string[] = []
  const bottom: string[] = []
  // The tallest column fills the height: the picture is for finding places, the loudness line tells the level.
  const tallest = samples.reduce((most, value) => Math.max(most, Math.abs(value)), 1)
  for (let column = 0; column < columns; column++) {
    const from = Math.floor((column * track.columns) / columns)
    const to = Math.max(from + 1, Math.floor(((column + 1) * track.columns) / columns))
    let low = 127
    let high = -127
    for (let i = from; i < to; i++) {
      low = Math.min(low, samples[2 * i] ?? 0)
      high = Math.max(high, samples[2 * i + 1] ?? 0)
    }
    const x = ((column + 0.5) * box.widthPx) / columns
    top.push(`${x.toFixed(1)},${(middle - (middle * high) / tallest - 0.5).toFixed(1)}`)
    bottom.push(`${x.toFixed(1)},${(middle - (middle * low) / tallest + 0.5).toFixed(1)}`)
  }
  return `M${top.join('L')}L${bottom.reverse().join('L')}Z`
}
