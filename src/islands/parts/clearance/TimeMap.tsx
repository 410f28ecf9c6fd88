import { line, scaleLinear } from 'd3'
import { memo, type PointerEvent, useMemo, useRef } from 'react'
import type { FindingWire, TimeRangeWire, TrackBreakdownWire, TrackMap } from '../../../contract'
import type { TimeRange } from '../../../core/time-range'
import { clock, VERDICT_WORDS } from '../../format/words'
import { useWidth } from '../../state/use-width'
import { VerdictShape } from '../shared/VerdictMark'
import { type MapMark, markLanes, waveformPath } from './time-map-layout'

const WAVE_PX = 84
const LOUDNESS_PX = 52
const LOUDNESS_LABEL_PX = 16
/** Waveform and loudness together, and under them the strip that says what the track is. */
const MAP_PX = WAVE_PX + LOUDNESS_PX + 22
const KINDS_PX = 40
const KIND_WORD_MIN_PX = 46
const LANE_PX = 34
const LETTER_PX = 7.4
/** A pointer that moves less has clicked. */
const DRAG_MIN_PX = 4
const LOUDNESS_TOP_LUFS = -6
const LOUDNESS_LOW_LUFS = -50

interface TimeMapProps {
  readonly track: TrackMap
  readonly findings: readonly FindingWire[]
  readonly breakdown: TrackBreakdownWire | null
  /** Only places in this track are drawn. */
  readonly trackIndex: number
  /** What could not be decoded. */
  readonly missing: readonly TimeRangeWire[]
  readonly selectedId: number | null
  readonly timeS: number
  /** The part that is marked, or null. */
  readonly span: TimeRange | null
  readonly onPick: (detectionId: number, startS: number) => void
  readonly onSeek: (timeS: number) => void
  readonly onMark: (span: TimeRange) => void
}

/** The sound track over time: waveform, loudness, and every heard sound at its place. A click goes there, dragging marks a part. */
export function TimeMap(props: TimeMapProps) {
  const { track, findings, breakdown, selectedId, timeS, span, trackIndex, missing, onPick, onSeek, onMark } = props
  const boxRef = useRef<HTMLDivElement>(null)
  const widthPx = useWidth(boxRef, 280)
  // What is missing at the end is part of the map.
  const endS = Math.max(track.durationS, ...missing.map((range) => range.endS))
  const x = useMemo(() => scaleLinear([0, endS], [0, widthPx]), [endS, widthPx])
  const marks = useMemo(
    () => markLanes(findings, trackIndex, { secondsPerLetter: (LETTER_PX * endS) / widthPx }),
    [findings, trackIndex, endS, widthPx],
  )
  const lanes = marks.reduce((most, mark) => Math.max(most, mark.lane + 1), 1)
  const dragRef = useRef<{ fromPx: number; moved: boolean } | null>(null)
  const at = (px: number): number => Math.max(0, Math.min(endS, x.invert(px)))
  const onDown = (event: PointerEvent<SVGSVGElement>): void => {
    if (event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    dragRef.current = { fromPx: pxIn(event), moved: false }
  }
  const onMove = (event: PointerEvent<SVGSVGElement>): void => {
    const drag = dragRef.current
    const px = pxIn(event)
    if (!drag || (!drag.moved && Math.abs(px - drag.fromPx) < DRAG_MIN_PX)) return
    drag.moved = true
    onMark({ startS: at(Math.min(px, drag.fromPx)), endS: at(Math.max(px, drag.fromPx)) })
  }
  const onUp = (): void => {
    const drag = dragRef.current
    dragRef.current = null
    if (drag && !drag.moved) onSeek(at(drag.fromPx))
  }
  return (
    <section aria-label="Time map of the sound track" className="relative select-none" ref={boxRef}>
      <svg
        width={widthPx}
        height={MAP_PX + (breakdown ? KINDS_PX : 0)}
        className="block cursor-pointer touch-pan-y"
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={() => {
          dragRef.current = null
        }}
        data-testid="map-track"
        aria-hidden="true"
      >
        <Ruler endS={endS} widthPx={widthPx} />
        <Waveform track={track} widthPx={x(track.durationS)} />
        <Missing missing={missing} x={x} />
        <LoudnessLine track={track} widthPx={x(track.durationS)} outlined={(breakdown?.unexplained.length ?? 0) > 0} />
        {breakdown && <Kinds breakdown={breakdown} durationS={endS} widthPx={widthPx} />}
      </svg>
      <ul aria-label="Heard sounds" className="relative mt-1" style={{ height: lanes * LANE_PX }}>
        {marks.map((mark) => (
          <Mark
            key={mark.detectionId}
            mark={mark}
            leftPx={x(mark.startS)}
            widthPx={Math.max(4, x(mark.endS) - x(mark.startS))}
            roomPx={widthPx - x(mark.startS)}
            selected={mark.detectionId === selectedId}
            onPick={() => onPick(mark.detectionId, mark.startS)}
          />
        ))}
      </ul>
      {span && (
        <div
          className="pointer-events-none absolute top-0 border-primary border-x-2 bg-primary/20"
          style={{ left: x(span.startS), width: Math.max(2, x(span.endS) - x(span.startS)), height: MAP_PX }}
        />
      )}
      <div
        className="pointer-events-none absolute top-0 bottom-0 w-0.5 bg-primary"
        style={{ left: Math.min(widthPx - 2, x(timeS)) }}
        data-testid="map-playhead"
      />
    </section>
  )
}

/** Where the pointer is, px from the left edge of what it is over. */
function pxIn(event: PointerEvent<Element>): number {
  return event.clientX - event.currentTarget.getBoundingClientRect().left
}

function Mark(props: {
  mark: MapMark
  leftPx: number
  widthPx: number
  roomPx: number
  selected: boolean
  onPick: () => void
}) {
  const { mark, leftPx, widthPx, roomPx, selected, onPick } = props
  const { title, verdict } = mark.finding
  const labelPx = (title.length + 4) * LETTER_PX
  // Near the right edge the label stands before its place.
  const before = labelPx > roomPx
  return (
    <li className="absolute" style={{ left: leftPx, top: mark.lane * LANE_PX }}>
      <button
        type="button"
        className={`absolute top-0 block ${before ? 'right-0 text-right' : 'left-0 text-left'} ${selected ? 'font-semibold' : ''}`}
        style={{ ...(before ? { right: -widthPx } : {}) }}
        aria-pressed={selected}
        aria-label={`${title}, ${VERDICT_WORDS[verdict]}, ${clock(mark.startS)} to ${clock(mark.endS)}. Play there`}
        onClick={onPick}
      >
        <span
          className={`mark-${verdict} block h-2 ${selected ? 'outline-2 outline-offset-1 outline-primary' : ''} ${before ? 'ml-auto' : ''}`}
          style={{ width: widthPx }}
        />
        <span className="inline-flex items-center gap-1 whitespace-nowrap pt-0.5 text-[13px] leading-tight">
          <VerdictShape verdict={verdict} sizePx={10} />
          {title}
        </span>
      </button>
    </li>
  )
}

/** Stretches that could not be decoded: hatched, with the word where there is room. */
function Missing({ missing, x }: { missing: readonly TimeRangeWire[]; x: (timeS: number) => number }) {
  return (
    <>
      <defs>
        <pattern id="not-decoded" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="3" height="8" fill="var(--color-error)" opacity="0.5" />
        </pattern>
      </defs>
      {missing.map(({ startS, endS }) => (
        <g key={startS} data-testid="not-decoded">
          <rect
            x={x(startS)}
            y="18"
            width={Math.max(3, x(endS) - x(startS))}
            height={WAVE_PX}
            fill="url(#not-decoded)"
          />
          {x(endS) - x(startS) > 90 && (
            <text x={x(startS) + 4} y="34" fontSize="12" fontWeight="600" fill="var(--color-error)">
              not decoded
            </text>
          )}
        </g>
      ))}
    </>
  )
}

const Ruler = memo(function Ruler({ endS, widthPx }: { endS: number; widthPx: number }) {
  const x = scaleLinear([0, endS], [0, widthPx])
  const ticks = x.ticks(Math.max(2, Math.floor(widthPx / 110)))
  return ticks.map((tick) => (
    <g key={tick}>
      <line x1={x(tick)} x2={x(tick)} y1="0" y2={MAP_PX} stroke="var(--line)" />
      <text x={x(tick) + 4} y="13" fontSize="12" fill="var(--quiet)">
        {clock(tick).replace(/\.0$/, '')}
      </text>
    </g>
  ))
})

/** How thick the line of each kind is: what is louder in the ear weighs more in the eye. */
const KIND_THICKNESS_PX = { speech: 9, music: 6, noise: 3, silence: 1 } as const

/** Speech, music, noise and silence along the track, and what stands out of them unexplained. */
const Kinds = memo(function Kinds({
  breakdown,
  durationS,
  widthPx,
}: {
  breakdown: TrackBreakdownWire
  durationS: number
  widthPx: number
}) {
  const x = scaleLinear([0, durationS], [0, widthPx])
  return (
    <g transform={`translate(0 ${MAP_PX})`}>
      {breakdown.segments.map(({ kind, startS, endS }) => {
        const width = x(endS) - x(startS)
        const thick = KIND_THICKNESS_PX[kind]
        return (
          <g key={startS}>
            <rect
              x={x(startS)}
              y={10 - thick / 2}
              width={Math.max(0.5, width - 1)}
              height={thick}
              fill={`var(--band-${kind === 'speech' ? 2 : kind === 'music' ? 3 : 4})`}
            />
            {width > KIND_WORD_MIN_PX && (
              <text x={x(startS) + 2} y="28" fontSize="12" fill="var(--quiet)">
                {kind}
              </text>
            )}
          </g>
        )
      })}
      {breakdown.unexplained.map(({ startS, endS }) => (
        <rect
          key={startS}
          x={x(startS)}
          y="2"
          width={Math.max(2, x(endS) - x(startS))}
          height="17"
          fill="none"
          stroke="var(--color-primary)"
          strokeWidth="1.5"
        />
      ))}
    </g>
  )
})

const Waveform = memo(function Waveform({ track, widthPx }: { track: TrackMap; widthPx: number }) {
  const path = useMemo(() => waveformPath(track, { widthPx, heightPx: WAVE_PX }), [track, widthPx])
  return <path d={path} transform="translate(0 20)" fill="var(--band-2)" />
})

const LoudnessLine = memo(function LoudnessLine({
  track,
  widthPx,
  outlined,
}: {
  track: TrackMap
  widthPx: number
  outlined: boolean
}) {
  const { path, levelY } = useMemo(() => {
    const x = scaleLinear([0, track.durationS], [0, widthPx])
    const y = scaleLinear([LOUDNESS_TOP_LUFS, LOUDNESS_LOW_LUFS], [2, LOUDNESS_PX - LOUDNESS_LABEL_PX]).clamp(true)
    const draw = line<number>()
      .x((_value, index) => x(0.2 + index / 10))
      .y((value) => y(value))
    return { path: draw(track.momentaryLufs), levelY: track.integratedLufs === null ? null : y(track.integratedLufs) }
  }, [track, widthPx])
  return (
    <g transform={`translate(0 ${WAVE_PX + 22})`}>
      {levelY !== null && (
        <line x1="0" x2={widthPx} y1={levelY} y2={levelY} stroke="var(--band-3)" strokeDasharray="2 4" />
      )}
      <path d={path ?? ''} fill="none" stroke="var(--band-1)" strokeWidth="1.5" />
      <text x="4" y={LOUDNESS_PX - 3} fontSize="12" fill="var(--quiet)">
        momentary loudness
        {track.integratedLufs === null ? '' : `, dotted: ${track.integratedLufs.toFixed(1)} LUFS over all`}
        {outlined && '. Outlined below: unexplained'}
      </text>
    </g>
  )
})
