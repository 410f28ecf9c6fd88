import { type Layer, type LayerValues, NEW_DUCK } from '../../../core/score'
import type { PlaceDesk } from '../../score/use-score-desk'
import { NumberField } from './NumberField'

/** What can be set for a layer. */
export function LayerFields({ layer, placeDesk }: { layer: Layer; placeDesk: PlaceDesk }) {
  const { edit, score, setLayerId } = placeDesk
  const change = (to: Partial<LayerValues>, words: string): boolean =>
    edit(() => ({ do: 'change-layers', changes: [{ id: layer.id, to }] }), words)
  const isEmpty = !score.placements.some(({ layerId }) => layerId === layer.id)
  const { duck } = layer
  return (
    <section aria-label="Chosen layer">
      <h2 className="mb-2 text-lg font-semibold">{layer.name}</h2>
      <div className="grid grid-cols-3 gap-x-4 gap-y-2 max-lg:grid-cols-2">
        <NumberField
          label="Level (dB)"
          value={layer.levelDb}
          step={0.5}
          onChange={(levelDb) => change({ levelDb }, 'Level of a layer')}
        />
        <Check label="Mute" checked={layer.isMuted} onChange={(isMuted) => change({ isMuted }, 'Mute a layer')} />
        <Check
          label="Hear it alone"
          checked={layer.isSolo}
          onChange={(isSolo) => change({ isSolo }, 'Hear a layer alone')}
        />
        <Check
          label="Go down under speech"
          checked={duck !== null}
          onChange={(on) => change({ duck: on ? NEW_DUCK : null }, 'Go down under speech')}
        />
        {duck && (
          <>
            <NumberField
              label="By (dB)"
              value={duck.depthDb}
              step={1}
              onChange={(depthDb) => change({ duck: { ...duck, depthDb } }, 'Depth under speech')}
            />
            <NumberField
              label="Down in (s)"
              value={duck.attackS}
              step={0.05}
              onChange={(attackS) => change({ duck: { ...duck, attackS } }, 'Going down')}
            />
            <NumberField
              label="Hold (s)"
              value={duck.holdS}
              step={0.05}
              onChange={(holdS) => change({ duck: { ...duck, holdS } }, 'Staying down')}
            />
            <NumberField
              label="Up in (s)"
              value={duck.releaseS}
              step={0.05}
              onChange={(releaseS) => change({ duck: { ...duck, releaseS } }, 'Coming up')}
            />
          </>
        )}
      </div>
      <button
        type="button"
        className="btn btn-sm mt-3"
        disabled={!isEmpty}
        onClick={() => {
          if (edit(() => ({ do: 'remove-layer', id: layer.id }), 'Remove a layer')) setLayerId(null)
        }}
      >
        Remove the layer
      </button>
      {!isEmpty && <span className="quiet ml-3 text-sm">There are sounds on it.</span>}
    </section>
  )
}

function Check({ label, checked, onChange }: { label: string; checked: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-end gap-2 pb-1.5 text-sm">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={checked}
        onChange={({ target }) => onChange(target.checked)}
      />
      {label}
    </label>
  )
}
