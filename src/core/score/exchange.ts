import { type Marker, oneLine, otioMarkers } from '../formats/markers'
import { OTIO_METADATA_KEY, otioTimeline, rational, timeRange } from '../formats/otio'
import { type FrameRate, frameAt, framesPerS, mayDropFrames, timecodeOf } from '../formats/timecode'
import type { Fade, Placement, Score } from './score'
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
  /** The moments that it was made for. */
  readonly markers: readonly Marker[]
}

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

const wholeSampleS = (timeS: number): number => Math.round(timeS * SAMPLE_RATE_HZ) / SAMPLE_RATE_HZ

/** A range at whole samples. */
function range(startS: number, durationS: number) {
  return timeRange(wholeSampleS(startS), wholeSampleS(durationS), SAMPLE_RATE_HZ)
}

/** A fade out of or into silence: a transition that lies over the sound alone, and takes nothing of what is beside it. */
function fadeOf({ lengthS, curve, isAutomatic }: Fade, end: 'in' | 'out'): object {
  const [none, whole] = [0, wholeSampleS(lengthS)].map((timeS) => rational(timeS, SAMPLE_RATE_HZ))
  return {
    OTIO_SCHEMA: 'Transition.1',
    name: end === 'in' ? 'Fade in' : 'Fade out',
    transition_type: 'SMPTE_Dissolve',
    in_offset: end === 'in' ? none : whole,
    out_offset: end === 'in' ? whole : none,
    metadata: { [OTIO_METADATA_KEY]: { curve, isAutomatic } },
  }
}

/**
 * A score as a timeline of OpenTimelineIO (JSON): a track for each lane, a clip for each placement, at the sample, with transitions at its ends where it is
 * faded; the moments are markers of the whole. What the format has no word for, level, pan, treatments, lies whole among the metadata.
 */
export function scoreToOtio(score: Score, { title, rate, markers, fileNameOf, fileLengthS }: ScoreListContext): string {
  const tracks = lanesOf(score).map(({ name, placements }) => {
    const children: object[] = []
    let atS = 0
    let isFaded = false
    for (const placement of placements) {
      // A fade goes to silence also where the next sound begins at once: beside a clip its transition would mean a mix of the two.
      const fadesAtSeam = isFaded || placement.fadeIn !== null
      if (placement.startS > atS || (children.length > 0 && fadesAtSeam))
        children.push({
          OTIO_SCHEMA: 'Gap.1',
          name: '',
          source_range: range(0, Math.max(0, placement.startS - atS)),
          effects: [],
          markers: [],
          metadata: {},
        })
      if (placement.fadeIn) children.push(fadeOf(placement.fadeIn, 'in'))
      children.push(clipOf(placement, fileNameOf(placement), fileLengthS(placement)))
      if (placement.fadeOut) children.push(fadeOf(placement.fadeOut, 'out'))
      isFaded = placement.fadeOut !== null
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
  return otioTimeline(title, { rangeOfAll: null, markers: otioMarkers(markers, rate), tracks })
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
        // Half of a letter, as a cut-off name may end in, has no place in an address.
        target_url: encodeURIComponent(fileName.replace(/\p{Surrogate}/gu, '\uFFFD')),
        available_range: range(0, fileLengthS),
        available_image_bounds: null,
        metadata: {},
      },
    },
    metadata: { [OTIO_METADATA_KEY]: placement },
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
