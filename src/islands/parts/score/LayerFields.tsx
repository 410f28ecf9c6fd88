import { type Layer, type LayerValues, NEW_DUCK, SCORE_LIMITS } from '../../../core/score'
import { messages } from '../../../messages'
import type { PlaceDesk } from '../../score/use-score-desk'
import { Check } from './Check'
import { DipField } from './DipField'
import { NumberField } from './NumberField'

/** What can be set for a layer. */
export function LayerFields({ layer, placeDesk }: { layer: Layer; placeDesk: PlaceDesk }) {
  const { edit, score, setLayerId } = placeDesk
  const at = score.layers.indexOf(layer)
  const moveTo = (toIndex: number): void => {
    edit(() => ({ do: 'move-layer', id: layer.id, toIndex }), messages.score.moveALayer)
  }
  const change = (to: Partial<LayerValues>, words: string): boolean =>
    edit(() => ({ do: 'change-layers', changes: [{ id: layer.id, to }] }), words)
  const isEmpty = !score.placements.some(({ layerId }) => layerId === layer.id)
  const { duck } = layer
  return (
    <section aria-label={messages.score.chosenLayer}>
      <h2 className="mb-2 text-lg font-semibold">{layer.name}</h2>
      {layer.role === 'cut' && <p className="quiet mb-2 text-sm">{messages.score.theSoundThatTheCut}</p>}
      <div className="grid grid-cols-3 gap-x-4 gap-y-2 max-lg:grid-cols-2">
        <NameField layer={layer} onChange={(name) => change({ name }, messages.score.nameALayer)} />
        <NumberField
          label={messages.score.levelDb}
          value={layer.levelDb}
          step={0.5}
          onChange={(levelDb) => change({ levelDb }, messages.score.levelOfALayer)}
        />
        <Check
          label={messages.score.mute}
          checked={layer.isMuted}
          onChange={(isMuted) => change({ isMuted }, messages.score.muteALayer)}
        />
        <Check
          label={messages.score.hearItAlone}
          checked={layer.isSolo}
          onChange={(isSolo) => change({ isSolo }, messages.score.hearALayerAlone)}
        />
        <Check
          label={messages.score.foldTheRow}
          checked={layer.isFolded}
          onChange={(isFolded) => change({ isFolded }, messages.score.foldALayer)}
        />
        <Check
          label={messages.score.duckUnderSpeech}
          checked={duck !== null}
          onChange={(on) => change({ duck: on ? NEW_DUCK : null }, messages.score.duckUnderSpeech)}
        />
        {duck && (
          <>
            <NumberField
              label={messages.score.byDb}
              value={duck.depthDb}
              step={1}
              onChange={(depthDb) => change({ duck: { ...duck, depthDb } }, messages.score.depthUnderSpeech)}
            />
            <NumberField
              label={messages.score.downInS}
              value={duck.attackS}
              step={0.05}
              onChange={(attackS) => change({ duck: { ...duck, attackS } }, messages.score.goingDown)}
            />
            <NumberField
              label={messages.score.holdS}
              value={duck.holdS}
              step={0.05}
              onChange={(holdS) => change({ duck: { ...duck, holdS } }, messages.score.stayingDown)}
            />
            <NumberField
              label={messages.score.upInS}
              value={duck.releaseS}
              step={0.05}
              onChange={(releaseS) => change({ duck: { ...duck, releaseS } }, messages.score.comingUp)}
            />
            <DipField
              duck={duck}
              placeDesk={placeDesk}
              onChange={(next) => change({ duck: next }, messages.score.oneDip)}
            />
          </>
        )}
      </div>
      <button type="button" className="btn btn-sm mt-3 mr-2" disabled={at <= 0} onClick={() => moveTo(at - 1)}>
        {messages.score.moveUp}
      </button>
      <button
        type="button"
        className="btn btn-sm mt-3 mr-2"
        disabled={at >= score.layers.length - 1}
        onClick={() => moveTo(at + 1)}
      >
        {messages.score.moveDown}
      </button>
      <button
        type="button"
        className="btn btn-sm mt-3"
        disabled={!isEmpty}
        onClick={() => {
          if (edit(() => ({ do: 'remove-layer', id: layer.id }), messages.score.removeALayer)) setLayerId(null)
        }}
      >
        {messages.score.removeTheLayer}
      </button>
      {!isEmpty && <span className="quiet ml-3 text-sm">{messages.score.thereAreSoundsOnIt}</span>}
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
      <span className="quiet block">{messages.common.name}</span>
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
