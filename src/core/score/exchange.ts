import { oneLine } from '../formats/markers'
import { timeRange } from '../formats/otio'
import { type FrameRate, frameAt, framesPerS, mayDropFrames, timecodeOf } from '../formats/timecode'
import type { Placement, Score } from './score'
import { placementEndS, placementLengthS, sourceLengthS } from './timing'
import { isHeard } from './usage'

/** What a list of placements needs besides the score. */
export interface ScoreListContext {
  readonly title: string
  readonly rate: FrameRate
  readonly drop: boolean
  /** Name of the file that a placement is taken from. */
  readonly fileNameOf: (placement: Placement) => string
  /** Length of that file, s. */
  readonly fileLengthS: (placement: Placement) => number
}

/** Where our own values lie among the metadata of a clip. */
export const METADATA_KEY = 'good_thud'
/** Positions in sound files are told in samples of this rate. */
const SAMPLE_RATE_HZ = 48_000
const NUMBER_DIGITS = 3
const TITLE_MAX = 70

/** Placements that do not lie over each other, in order of time. */
interface Lane {
  readonly name: string
  readonly placements: readonly Placement[]
}

/** The placements of each layer in as few lanes as they need: what overlaps stands in another. What is not heard is left out. */
export function lanesOf({ layers, placements }: Score): Lane[] {
  return layers.flatMap((layer) => {
    const lanes: Placement[][] = []
    for (const placement of placements) {
      if (placement.layerId !== layer.id || !isHeard(placement, layers)) continue
      const free = lanes.find((lane) => placementEndS(lane[lane.length - 1] as Placement) <= placement.startS + 1e-9)
      if (free) free.push(placement)
      else lanes.push([placement])
    }
    return lanes.map((lane, at) => ({ name: at === 0 ? layer.name : `${layer.name} ${at + 1}`, placements: lane }))
  })
}

/** A range at whole samples. */
function range(startS: number, durationS: number) {
  const whole = (timeS: number): number => Math.round(timeS * SAMPLE_RATE_HZ) / SAMPLE_RATE_HZ
  return timeRange(whole(startS), whole(durationS), SAMPLE_RATE_HZ)
}

/**
 * A score as a timeline of OpenTimelineIO (JSON): a track for each lane, a clip for each placement, at the sample. What the format has no word for, level, pan, fades,
 * treatments, lies whole among the metadata.
 */
export function scoreToOtio(score: Score, { title, fileNameOf, fileLengthS }: ScoreListContext): string {
  const tracks = lanesOf(score).map(({ name, placements }) => {
    const children: object[] = []
    let atS = 0
    for (const placement of placements) {
      if (placement.startS > atS)
        children.push({
          OTIO_SCHEMA: 'Gap.1',
          name: '',
          source_range: range(0, placement.startS - atS),
          effects: [],
          markers: [],
          metadata: {},
        })
      children.push(clipOf(placement, fileNameOf(placement), fileLengthS(placement)))
      atS = placementEndS(placement)
    }
    return {
      OTIO_SCHEMA: 'Track.1',
      name,
      kind: 'Audio',
      source_range: null,
      effects: [],
      markers: [],
      metadata: {},
      children,
    }
  })
  const timeline = {
    OTIO_SCHEMA: 'Timeline.1',
    name: title,
    global_start_time: null,
    metadata: {},
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'tracks',
      source_range: null,
      effects: [],
      markers: [],
      metadata: {},
      children: tracks,
    },
  }
  return `${JSON.stringify(timeline, null, 2)}\n`
}

function clipOf(placement: Placement, fileName: string, fileLengthS: number): object {
  const { fromS, rate, assembly } = placement
  const effects =
    rate === 1
      ? []
      : [{ OTIO_SCHEMA: 'LinearTimeWarp.1', name: '', effect_name: 'LinearTimeWarp', time_scalar: rate, metadata: {} }]
  return {
    OTIO_SCHEMA: 'Clip.2',
    name: fileName,
    // Put together from parts it is longer than its file: it begins with the first of them.
    source_range: range(assembly?.[0]?.fromS ?? fromS, placementLengthS(placement)),
    effects,
    markers: [],
    active_media_reference_key: 'DEFAULT_MEDIA',
    media_references: {
      DEFAULT_MEDIA: {
        OTIO_SCHEMA: 'ExternalReference.1',
        name: fileName,
        target_url: encodeURIComponent(fileName),
        available_range: range(0, fileLengthS),
        available_image_bounds: null,
        metadata: {},
      },
    },
    metadata: { [METADATA_KEY]: placement },
  }
}

/**
 * A score as an edit decision list (CMX 3600): an event for each placement on an audio channel of its lane, with file, level and fades in comment lines.
 * Times are those of whole frames, as the format has them.
 */
export function scoreToEdl(score: Score, { title, rate, drop, fileNameOf }: ScoreListContext): string {
  const drops = drop && mayDropFrames(rate)
  const code = (frame: number): string => timecodeOf(frame, rate, drops)
  const channelOf = new Map<string, number>()
  for (const [lane, { placements }] of lanesOf(score).entries())
    for (const { id } of placements) channelOf.set(id, lane + 1)
  const events = score.placements
    .filter(({ id }) => channelOf.has(id))
    .map((placement, index) => {
      const from = frameAt(placement.startS, rate)
      const to = Math.max(from + 1, Math.round(placementEndS(placement) * framesPerS(rate)))
      const sourceFrom = frameAt(placement.assembly?.[0]?.fromS ?? placement.fromS, rate)
      const sourceTo = sourceFrom + Math.max(1, Math.round(sourceLengthS(placement) * framesPerS(rate)))
      const channel = channelOf.get(placement.id) ?? 1
      const times = [sourceFrom, sourceTo, from, to].map(code).join(' ')
      const number = String(index + 1).padStart(NUMBER_DIGITS, '0')
      const speed =
        placement.rate === 1
          ? []
          : [`M2   AX       ${(placement.rate * framesPerS(rate)).toFixed(1)}    ${code(sourceFrom)}`]
      return [
        `${number}  AX       ${channel === 1 ? 'A ' : `A${channel}`}    C        ${times}`,
        ...speed,
        `* FROM CLIP NAME: ${oneLine(fileNameOf(placement))}`,
        `* LEVEL: ${placement.gainDb.toFixed(1)} DB`,
        ...(placement.fadeIn ? [`* FADE IN: ${placement.fadeIn.lengthS.toFixed(3)} S`] : []),
        ...(placement.fadeOut ? [`* FADE OUT: ${placement.fadeOut.lengthS.toFixed(3)} S`] : []),
      ].join('\n')
    })
  return [
    `TITLE: ${oneLine(title).slice(0, TITLE_MAX)}`,
    `FCM: ${drops ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
    '',
    ...events,
    '',
  ].join('\n')
}
