import { type BreakPoint, type Placement, withMovedBreakPoint, withoutBreakPoint } from '../../../core/score'
import { lineBounds, type PointLine } from '../../score/print-handles'
import type { PlaceActions } from '../../score/use-place-actions'
import { NumberField } from './NumberField'

interface LineFieldsProps {
  readonly placement: Placement
  readonly actions: PlaceActions
}

/** The points of the level and of the pan of the chosen sound, with their numbers. */
export function LineFields(props: LineFieldsProps) {
  return (
    <>
      <OneLine {...props} which="gainPoints" />
      <OneLine {...props} which="panPoints" />
    </>
  )
}

const LINES = {
  gainPoints: { name: 'Level over time', unit: 'dB', step: 0.5 },
  panPoints: { name: 'Pan over time', unit: 'added to its pan', step: 0.1 },
} as const

function OneLine({ placement, actions, which }: LineFieldsProps & { which: PointLine }) {
  const { name, unit, step } = LINES[which]
  const points: readonly BreakPoint[] = placement[which]
  const line = lineBounds(placement, which)
  if (points.length === 0) return null
  const set = (make: () => BreakPoint[], words: string): boolean => actions.change(() => ({ [which]: make() }), words)
  return (
    <fieldset className="col-span-full flex flex-wrap items-end gap-2 text-sm">
      <legend className="quiet">
        {name} ({unit})
      </legend>
      {points.map(({ atS, value }, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a point is known by its place in the line
        <div key={index} className="flex items-end gap-1">
          <span className="w-20">
            <NumberField
              label={`${index + 1}: at (s)`}
              value={atS}
              step={0.05}
              onChange={(next) =>
                set(() => withMovedBreakPoint(points, index, { atS: next, value }, line), 'Move a point')
              }
            />
          </span>
          <span className="w-20">
            <NumberField
              label={which === 'gainPoints' ? 'dB' : 'pan'}
              value={value}
              step={step}
              onChange={(next) =>
                set(() => withMovedBreakPoint(points, index, { atS, value: next }, line), 'Move a point')
              }
            />
          </span>
          <button
            type="button"
            className="btn btn-sm btn-square btn-ghost"
            aria-label={`Remove point ${index + 1} of ${name.toLowerCase()}`}
            onClick={() => set(() => withoutBreakPoint(points, index), 'Remove a point')}
          >
            ×
          </button>
        </div>
      ))}
    </fieldset>
  )
}
