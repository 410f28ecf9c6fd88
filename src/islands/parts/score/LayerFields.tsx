import { type Layer, type LayerValues, NEW_DUCK, SCORE_LIMITS } from '../../../core/score'
import type { PlaceDesk } from '../../score/use-score-desk'
import { Check } from './Check'
import { DipField } from './DipField'
import { NumberField } from './NumberField'

/** What can be set for a layer. */
export function LayerFields({ layer, placeDesk }: { layer: Layer; placeDesk: PlaceDesk }) {
  const { edit, score, setLayerId } = placeDesk
  const at = score.layers.indexOf(layer)
  const moveTo = (toIndex: number): void => {
    edit(() => ({ do: 'move-layer', id: layer.id, toIndex }), 'Move a layer')
  }
  const change = (to: Partial<LayerValues>, words: string): boolean =>
    edit(() => ({ do: 'change-layers', changes: [{ id: layer.id, to }] }), words)
  const isEmpty = !score.placements.some(({ layerId }) => layerId === layer.id)
  const { duck } = layer
  return (
    <section aria-label="Chosen layer">
      <h2 className="mb-2 text-lg font-semibold">{layer.name}</h2>
      {layer.role === 'cut' && (
        <p className="quiet mb-2 text-sm">
          The sound that the cut came with. It is part of the mix as long as this layer is there; while it plays here it
          is never louder than in its file.
        </p>
      )}
      <div className="grid grid-cols-3 gap-x-4 gap-y-2 max-lg:grid-cols-2">
        <NameField layer={layer} onChange={(name) => change({ name }, 'Name a layer')} />
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
          label="Fold the row"
          checked={layer.isFolded}
          onChange={(isFolded) => change({ isFolded }, 'Fold a layer')}
        />
        <Check
          label="Duck under speech"
          checked={duck !== null}
          onChange={(on) => change({ duck: on ? NEW_DUCK : null }, 'Duck under speech')}
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
            <DipField duck={duck} placeDesk={placeDesk} onChange={(next) => change({ duck: next }, 'One way down')} />
          </>
        )}
      </div>
      <button type="button" className="btn btn-sm mt-3 mr-2" disabled={at <= 0} onClick={() => moveTo(at - 1)}>
        Move up
      </button>
      <button
        type="button"
        className="btn btn-sm mt-3 mr-2"
        disabled={at >= score.layers.length - 1}
        onClick={() => moveTo(at + 1)}
      >
        Move down
      </button>
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

/** The name is kept when the field is left, or by Enter. */
function NameField({ layer, onChange }: { layer: Layer; onChange: (name: string) => void }) {
  const keep = (typed: string): void => {
    const name = typed.trim()
    if (name !== '' && name !== layer.name) onChange(name)
  }
  return (
    <label className="block text-sm">
      <span className="quiet block">Name</span>
      <input
        key={layer.name}
        className="input input-sm w-full"
        defaultValue={layer.name}
        maxLength={SCORE_LIMITS.nameLength}
        onBlur={({ target }) => keep(target.value)}
        onKeyDown={({ key, currentTarget }) => {
          if (key === 'Enter') keep(currentTarget.value)
        }}
      />
    </label>
  )
}
