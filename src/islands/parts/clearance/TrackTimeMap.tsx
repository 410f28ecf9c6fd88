import { useMemo } from 'react'
import type { FindingWire, TimeRangeWire, TrackBreakdownWire, TrackMap, VerdictWire } from '../../../contract'
import type { TimeRange } from '../../../core/time-range'
import { messages } from '../../../messages'
import type { PlayClock } from '../../audio/play-clock'
import { clock as clockWords, VERDICT_WORDS } from '../../format/words'
import type { MarkLook } from '../../time-map/draw-marks'
import { MapMarks, type ShownMark } from '../../time-map/MapMarks'
import { LocalPeaks } from '../../time-map/peaks'
import { TimeMap, useFollow, useMapView } from '../../time-map/TimeMap'
import { VERDICT_SHAPES, VerdictShape } from '../shared/VerdictMark'

/** Rows for heard sounds; more of them are told without their labels. */
const LANES_MAX = 8
const COLUMNS_PER_S = 100

interface TrackTimeMapProps {
  readonly track: TrackMap
  readonly findings: readonly FindingWire[]
  readonly breakdown: TrackBreakdownWire | null
  /** Only places in this track are shown. */
  readonly trackIndex: number
  /** What could not be decoded. */
  readonly missing: readonly TimeRangeWire[]
  readonly selectedId: number | null
  readonly clock: PlayClock
  readonly isPlaying: boolean
  readonly span: TimeRange | null
  readonly onPick: (detectionId: number, startS: number) => void
  readonly onSeek: (timeS: number) => void
  readonly onMark: (span: TimeRange) => void
}

/** The sound track of a finished video over time, with every heard sound at its place. */
export function TrackTimeMap(props: TrackTimeMapProps) {
  const { track, findings, breakdown, selectedId, clock, isPlaying, span, trackIndex, missing } = props
  // What is missing at the end is part of the map.
  const durationS = Math.max(track.durationS, ...missing.map(({ endS }) => endS))
  const store = useMapView(durationS)
  useFollow(store, clock, durationS, isPlaying)
  const peaks = useMemo(() => {
    const bytes = Uint8Array.from(atob(track.waveformBase64), (letter) => letter.charCodeAt(0))
    return new LocalPeaks(new Int8Array(bytes.buffer), COLUMNS_PER_S)
  }, [track])
  const content = useMemo(
    () => ({
      strip: null,
      aspect: 1,
      peaks,
      momentaryLufs: track.momentaryLufs,
      integratedLufs: track.integratedLufs,
      segments: breakdown?.segments ?? [],
      unexplained: breakdown?.unexplained ?? [],
      missing,
      shotChangesS: [],
    }),
    [peaks, track, breakdown, missing],
  )
  const marks = useMemo(() => heardMarks(findings, trackIndex), [findings, trackIndex])
  const marksS = useMemo(() => marks.map(({ startS }) => startS), [marks])
  const chosenIds = useMemo(() => new Set(selectedId === null ? [] : [String(selectedId)]), [selectedId])
  return (
    <div>
      <TimeMap
        {...{ durationS, content, clock, span, marksS, store }}
        wavePx={84}
        onSeek={props.onSeek}
        onMark={props.onMark}
      >
        {(map) => (
          <MapMarks
            {...map}
            marks={marks}
            lanesMax={LANES_MAX}
            chosenIds={chosenIds}
            label={messages.clearance.heardSounds}
            onPick={({ id, startS }) => props.onPick(Number(id), startS)}
          />
        )}
      </TimeMap>
      <p className="quiet mt-1 text-sm">
        {messages.clearance.lineMomentaryLoudness}
        {track.integratedLufs === null ? '' : messages.clearance.dottedLufsOverAll(track.integratedLufs.toFixed(1))}
        {(breakdown?.unexplained.length ?? 0) > 0 && messages.clearance.outlinedUnexplained}
        {messages.clearance.theWheelZoomsWithShift}
      </p>
    </div>
  )
}

/** As the styles of the verdicts have them. */
const VERDICT_LOOKS: Readonly<Record<VerdictWire, Omit<MarkLook, 'symbol'>>> = {
  clear: { pattern: 'solid', ink: 'success' },
  'owes-credit': { pattern: 'half', ink: 'warning' },
  'no-papers': { pattern: 'dashed', ink: 'error' },
  'not-allowed': { pattern: 'slanted', ink: 'error' },
}

/** Heard places of one track, by time. */
export function heardMarks(findings: readonly FindingWire[], trackIndex: number): ShownMark[] {
  return findings
    .flatMap(({ title, verdict, detections }) =>
      detections
        .filter((place) => place.trackIndex === trackIndex)
        .map(
          ({ id, startS, endS }): ShownMark => ({
            id: String(id),
            startS,
            endS,
            label: title,
            barClass: `mark-${verdict}`,
            look: { ...VERDICT_LOOKS[verdict], symbol: VERDICT_SHAPES[verdict] },
            symbol: <VerdictShape verdict={verdict} sizePx={10} />,
            spoken: messages.clearance.toPlayThere(title, VERDICT_WORDS[verdict], clockWords(startS), clockWords(endS)),
          }),
        ),
    )
    .sort((a, b) => a.startS - b.startS)
}
