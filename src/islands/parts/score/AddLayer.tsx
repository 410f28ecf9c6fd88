import { cutLayer, LAYER_ROLES, type LayerRole, layerName, newLayer } from '../../../core/score'
import { messages } from '../../../messages'
import { newId } from '../../moments/new-id'
import type { PlaceDesk } from '../../score/use-score-desk'

/** Adds a layer for some kind of sound, or the one that the cut's own sound lies on. */
export function AddLayer({ placeDesk: { score, edit, setChosenIds, setLayerId } }: { placeDesk: PlaceDesk }) {
  // A cut has one sound.
  const roles = LAYER_ROLES.filter((role) => role !== 'cut' || !cutLayer(score))
  const add = (role: LayerRole): void => {
    const layer = newLayer(newId(), layerName(role), role)
    if (!edit(() => ({ do: 'add-layer', layer, atIndex: score.layers.length }), messages.score.addALayer)) return
    setChosenIds(new Set())
    setLayerId(layer.id)
  }
  return (
    <label className="inline-block text-sm">
      <span className="sr-only">{messages.score.addALayer}</span>
      <select
        className="select select-sm"
        value=""
        onChange={({ target }) => {
          if (target.value !== '') add(target.value as LayerRole)
        }}
      >
        <option value="">{messages.score.addALayerChoice}</option>
        {roles.map((role) => (
          <option key={role} value={role}>
            {layerName(role)}
          </option>
        ))}
      </select>
    </label>
  )
}
