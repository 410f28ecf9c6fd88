import { type BreakPoint, type Placement, withMovedBreakPoint, withoutBreakPoint } from '../../../core/score'
import { messages } from '../../../messages'
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
  gainPoints: { name: messages.score.levelOverTime, unit: 'dB', step: 0.5 },
  panPoints: { name: messages.score.panOverTime, unit: messages.score.addedToItsPan, step: 0.1 },
} as const

function OneLine({ placement, actions, which }: LineFieldsProps & { which: PointLine }) {
  const { name, unit, step } = LINES[which]
  const points: readonly BreakPoint[] = placement[which]
  const line = lineBounds(placement, which)
  if (points.length === 0) return null
  const set = (make: () => BreakPoint[], words: string): boolean =>
    actions.changeStem(placement, () => ({ [which]: make() }), words)
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
              label={messages.score.atS(index + 1)}
              value={atS}
              step={0.05}
              onChange={(next) =>
                set(() => withMovedBreakPoint(points, index, { atS: next, value }, line), messages.score.moveAPoint)
              }
            />
          </span>
          <span className="w-20">
            <NumberField
              label={which === 'gainPoints' ? messages.score.db : messages.score.pan}
              value={value}
              step={step}
              onChange={(next) =>
                set(() => withMovedBreakPoint(points, index, { atS, value: next }, line), messages.score.moveAPoint)
              }
            />
          </span>
          <button
            type="button"
            className="btn btn-sm btn-square btn-ghost"
            aria-label={messages.score.removePointOf(index + 1, name.toLowerCase())}
            onClick={() => set(() => withoutBreakPoint(points, index), messages.score.removeAPoint)}
          >
            ×
          </button>
        </div>
      ))}
    </fieldset>
  )
}
