import { area, curveMonotoneX, line, max, scaleLinear } from 'd3'
import { useMemo, useRef } from 'react'
import type { PacePoint, Pacing } from '../../../core/moments'
import { messages } from '../../../messages'
import { useWidth } from '../../state/use-width'

const HEIGHT_PX = 110
const FOOT_PX = 18
const LEFT_PX = 28

interface PacingChartProps {
  readonly pacing: Pacing
  readonly durationS: number
  readonly crowdedPerMinute: number
  readonly timecode: (timeS: number) => string
  readonly onGo: (timeS: number) => void
  readonly onCrowded: (perMinute: number) => void
}

/** Effects a minute over time: in the cut already, and with what is planned; and what is to be said of it. */
export function PacingChart({ pacing, durationS, crowdedPerMinute, timecode, onGo, onCrowded }: PacingChartProps) {
  const boxRef = useRef<HTMLDivElement>(null)
  const widthPx = useWidth(boxRef, 260)
  const shapes = useMemo(() => {
    const all = (point: PacePoint): number => point.plannedPerMinute + point.presentPerMinute
    const most = Math.max(crowdedPerMinute * 1.2, max(pacing.points, all) ?? 0)
    const x = scaleLinear([0, durationS], [LEFT_PX, widthPx - 4])
    const y = scaleLinear([0, most], [HEIGHT_PX - FOOT_PX, 6])
    const present = area<PacePoint>()
      .x(({ timeS }) => x(timeS))
      .y0(y(0))
      .y1(({ presentPerMinute }) => y(presentPerMinute))
      .curve(curveMonotoneX)
    const total = line<PacePoint>()
      .x(({ timeS }) => x(timeS))
      .y((point) => y(all(point)))
      .curve(curveMonotoneX)
    return { x, y, present: present(pacing.points) ?? '', total: total(pacing.points) ?? '', ticks: y.ticks(3) }
  }, [pacing, durationS, crowdedPerMinute, widthPx])
  const { x, y, present, total, ticks } = shapes
  return (
    <section aria-labelledby="pacing" ref={boxRef}>
      <header className="mb-1 flex flex-wrap items-center gap-3">
        <h2 id="pacing" className="flex-1 text-lg font-semibold">
          {messages.moments.pacing}
        </h2>
        <label className="flex items-center gap-1.5 text-sm">
          <span className="quiet">{messages.moments.crowdedFrom}</span>
          <input
            type="number"
            className="input input-xs w-16"
            min={1}
            max={600}
            defaultValue={crowdedPerMinute}
            key={crowdedPerMinute}
            onBlur={({ target }) => {
              const value = Number(target.value)
              if (value >= 1 && value <= 600 && value !== crowdedPerMinute) onCrowded(value)
            }}
          />
          <span className="quiet">{messages.moments.aMinute}</span>
        </label>
      </header>
      <svg width={widthPx} height={HEIGHT_PX} role="img" aria-label={messages.moments.effectsAMinuteOverThe}>
        {ticks.map((tick) => (
          <g key={tick}>
            <line x1={LEFT_PX} x2={widthPx - 4} y1={y(tick)} y2={y(tick)} stroke="var(--line)" />
            <text x={LEFT_PX - 6} y={y(tick) + 4} fontSize="12" fill="var(--quiet)" textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
        <path d={present} fill="var(--band-4)" />
        <path d={total} fill="none" stroke="var(--band-1)" strokeWidth="1.5" />
        <line
          x1={LEFT_PX}
          x2={widthPx - 4}
          y1={y(crowdedPerMinute)}
          y2={y(crowdedPerMinute)}
          stroke="var(--band-2)"
          strokeDasharray="2 4"
        />
        {x.ticks(5).map((tick) => (
          <text key={tick} x={x(tick)} y={HEIGHT_PX - 4} fontSize="12" fill="var(--quiet)">
            {timecode(tick).slice(0, -3)}
          </text>
        ))}
      </svg>
      <p className="quiet text-sm">{messages.moments.filledEffectsAMinuteIn}</p>
      {pacing.notes.length > 0 && (
        <ul aria-label={messages.moments.aboutThePacing} className="mt-2 text-sm">
          {pacing.notes.map(({ words, startS }) => (
            <li key={words} className="border-t ruled py-1">
              <button
                type="button"
                className="text-left underline-offset-2 hover:underline"
                onClick={() => onGo(startS)}
              >
                {words}
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
