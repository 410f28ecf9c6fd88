import { Undo2, X } from 'lucide-react'
import { messages } from '../../../messages'
import { useUndo } from '../../state/undo'

/** What was just done, with the way back. */
export function UndoStrip() {
  const { offered, offer } = useUndo()
  if (!offered) return null
  return (
    <div
      role="status"
      className="fixed bottom-20 left-4 z-30 flex items-center gap-3 rounded border ruled bg-base-200 px-3 py-2 shadow"
    >
      {offered.words}
      <button type="button" className="btn btn-sm" onClick={offered.undo}>
        <Undo2 size={16} aria-hidden="true" /> {messages.common.undo}
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={messages.common.close}
        onClick={() => offer(null)}
      >
        <X size={14} aria-hidden="true" />
      </button>
    </div>
  )
}
