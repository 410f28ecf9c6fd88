import { Upload as UploadIcon } from 'lucide-react'
import { useRef } from 'react'
import type { Moment } from '../../../core/moments'
import { messages } from '../../../messages'
import type { CutActions, CutDesk } from '../../moments/use-cut-desk'
import { MomentDetails } from './MomentDetails'
import { MomentList } from './MomentList'
import { NoteLine } from './NoteLine'

interface MomentsPanelProps {
  readonly cutDesk: CutDesk
  readonly actions: CutActions
  readonly onExchange: () => void
  readonly onBring: () => void
}

/** The list of moments, with the line for the one that was just noted and what is said of the chosen ones. */
export function MomentsPanel({ cutDesk, actions, onExchange, onBring }: MomentsPanelProps) {
  const { moments, chosen, chosenIds, currentId, notingId, setNotingId, timecode, loaded, desk } = cutDesk
  const noteRef = useRef<HTMLInputElement>(null)
  const noted = moments.find(({ id }) => id === notingId) ?? null
  const [first] = chosen
  return (
    <section
      aria-label={messages.moments.momentsOfTheCut}
      className="flex h-[22rem] min-h-0 flex-col rounded border ruled"
    >
      <PanelHead cutDesk={cutDesk} onExchange={onExchange} onBring={onBring} />
      {noted && (
        <div className="px-3 py-1.5">
          <NoteLine
            key={noted.id}
            moment={noted}
            time={timecode(noted.atS)}
            inputRef={noteRef}
            onWords={(words) => {
              actions.change([noted.id], () => ({ words }), messages.moments.writeWords)
              // They come at most so often as they may be lost.
              void desk.store.flush()
            }}
            onDone={() => {
              setNotingId(null)
              noteRef.current?.blur()
            }}
            onNext={actions.note}
            onDrop={() => {
              setNotingId(null)
              desk.edit({ do: 'remove', ids: [noted.id] }, messages.moments.takeBack)
            }}
          />
        </div>
      )}
      {moments.length === 0 ? (
        <p className="quiet p-4">{messages.moments.nothingNotedYetPlayThe}</p>
      ) : (
        <MomentList
          moments={moments}
          chosenIds={chosenIds}
          currentId={currentId}
          soundTitles={loaded.soundTitles}
          timecode={timecode}
          onChoose={cutDesk.choose}
          onWords={(id, words) => actions.change([id], () => ({ words }), messages.moments.writeWords)}
          onRemove={actions.remove}
        />
      )}
      {first && (
        <MomentDetails
          moments={chosen}
          timecode={timecode}
          findAddress={actions.findAddressOf(first as Moment)}
          onChange={(to, words) => actions.change([...chosenIds], () => to, words)}
          onNudge={actions.nudge}
          onRemove={() => actions.remove(chosenIds)}
          onShiftAfter={(byS) => actions.shiftAfter(first.atS, byS)}
        />
      )}
    </section>
  )
}

function PanelHead({ cutDesk, onExchange, onBring }: Omit<MomentsPanelProps, 'actions'>) {
  const { desk } = cutDesk
  const { history, isDirty } = desk.state
  return (
    <header className="flex items-center gap-2 border-b ruled px-3 py-1.5">
      <h2 className="flex-1 font-display text-lg font-semibold">{messages.common.moments}</h2>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        disabled={history.done.length === 0}
        onClick={() => desk.store.undo()}
      >
        {messages.common.undo}
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        disabled={history.undone.length === 0}
        onClick={() => desk.store.redo()}
      >
        {messages.moments.redo}
      </button>
      <button type="button" className="btn btn-xs" onClick={onExchange}>
        {messages.moments.importAndExport}
      </button>
      <button type="button" className="btn btn-xs" onClick={onBring}>
        <UploadIcon size={13} aria-hidden="true" /> {messages.moments.newCut}
      </button>
      <span className="quiet w-16 text-right text-xs" role="status" data-testid="save-state">
        {isDirty ? messages.moments.saving : messages.moments.saved}
      </span>
    </header>
  )
}
