import { scaleLinear } from 'd3'
import { messages } from '../../../messages'

interface BinRangeProps {
  readonly name: string
  /** Lower edges of the bins, the first 0; the last bin has no upper edge. */
  readonly edges: readonly number[]
  /** One for each bin. */
  readonly counts: readonly number[]
  /** Null: no limit on that side. */
  readonly from: number | null
  readonly to: number | null
  readonly words: (from: number | null, to: number | null) => string
  readonly onChange: (from: number | null, to: number | null) => void
}

const WIDTH_PX = 240
const HEIGHT_PX = 56

/** A range on a histogram. The lower end cannot pass the upper, so that longer and shorter are never mixed up. */
export function BinRange({ name, edges, counts, from, to, words, onChange }: BinRangeProps) {
  const last = edges.length
  const start = from === null ? 0 : nearestEdge(edges, from)
  const end = to === null ? last : Math.max(start + 1, nearestEdge(edges, to))
  const height = scaleLinear([0, Math.sqrt(Math.max(1, ...counts))], [0, HEIGHT_PX])
  const barPx = WIDTH_PX / edges.length
  const set = (nextStart: number, nextEnd: number): void =>
    onChange(
      nextStart === 0 ? null : (edges[nextStart] as number),
      nextEnd === last ? null : (edges[nextEnd] as number),
    )
  const whole = from === null && to === null
  return (
    <fieldset className="mb-2" style={{ width: WIDTH_PX }}>
      <legend className="small-label">{name}</legend>
      <p className="mb-1 flex justify-between font-semibold">
        <span>{whole ? messages.find.anyStep : words(from, to)}</span>
        {!whole && (
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => onChange(null, null)}>
            {messages.find.anyTitle}
          </button>
        )}
      </p>
      <svg width={WIDTH_PX} height={HEIGHT_PX} role="img" aria-label={messages.find.howManySoundsThereAre(name)}>
        {edges.map((edge, bin) => {
          const barHeight = height(Math.sqrt(counts[bin] ?? 0))
          return (
            <rect
              key={edge}
              x={bin * barPx + 0.5}
              y={HEIGHT_PX - barHeight}
              width={barPx - 1}
              height={barHeight}
              fill={bin >= start && bin < end ? 'var(--color-base-content)' : 'var(--color-base-300)'}
            />
          )
        })}
      </svg>
      <p className="small-label flex justify-between" aria-hidden="true">
        {[0, Math.floor(last / 3), Math.floor((2 * last) / 3)].map((index) => (
          <span key={index}>{words(edges[index] as number, null).replace('over ', '')}</span>
        ))}
        <span>{messages.find.more}</span>
      </p>
      <div className="relative h-6">
        {(
          [
            [messages.find.lowerEnd, start, 0, (value: number) => set(Math.min(value, end - 1), end)],
            [messages.find.upperEnd, end, 1, (value: number) => set(start, Math.max(value, start + 1))],
          ] as const
        ).map(([side, value, layer, change]) => (
          <input
            key={side}
            type="range"
            className="two-ended absolute inset-x-0 w-full"
            style={{ zIndex: layer }}
            min={0}
            max={last}
            value={value}
            aria-label={`${name}, ${side}`}
            aria-valuetext={value === last ? messages.find.noLimit : String(edges[value])}
            onChange={({ target }) => change(Number(target.value))}
          />
        ))}
      </div>
    </fieldset>
  )
}

function nearestEdge(edges: readonly number[], value: number): number {
  let nearest = 0
  for (const [index, edge] of edges.entries())
    if (Math.abs(edge - value) < Math.abs((edges[nearest] as number) - value)) nearest = index
  return nearest
}
