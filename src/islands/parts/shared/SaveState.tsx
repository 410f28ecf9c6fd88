import { useState } from 'react'
import { messages } from '../../../messages'
import type { DocumentDesk } from '../../state/use-document'

interface SaveStateProps<Document, Edit> {
  readonly desk: DocumentDesk<Document, Edit>
  /** "These moments". */
  readonly what: string
  /** What is said of so many things that could not be made one. */
  readonly leftOver: (count: number) => string
}

/** Whether all is saved; what another tab did meanwhile, with the offer to merge. */
export function SaveState<Document, Edit>({ desk, what, leftOver }: SaveStateProps<Document, Edit>) {
  const { state, store } = desk
  const [merged, setMerged] = useState<string | null>(null)
  if (state.clash) {
    const { added, changed, removed } = state.clash.counts
    const parts = [
      added > 0 && messages.shared.added(added),
      changed > 0 && messages.shared.changed(changed),
      removed > 0 && messages.shared.removed(removed),
    ]
    return (
      <div role="alert" className="mb-3 flex flex-wrap items-center gap-4 rounded border-2 border-primary px-4 py-2">
        <p className="flex-1">
          {messages.shared.wereChangedElsewhereMeanwhileWhat(
            what,
            parts.filter(Boolean).join(', ') || messages.shared.inTheirOrder,
          )}
        </p>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          onClick={() => {
            const count = store.merge()
            setMerged(count > 0 ? messages.shared.merged(leftOver(count)) : messages.shared.mergedNothingWasLost)
          }}
        >
          {messages.shared.mergeBoth}
        </button>
        <button type="button" className="btn btn-sm" onClick={() => store.takeTheirs()}>
          {messages.shared.useTheOtherVersion}
        </button>
      </div>
    )
  }
  if (state.problem)
    return (
      <div role="alert" className="mb-3 flex flex-wrap items-center gap-4 rounded border ruled px-4 py-2 text-error">
        <p className="flex-1">{messages.shared.notSavedYetItIs(state.problem)}</p>
        <button type="button" className="btn btn-sm" onClick={() => void store.flush()}>
          {messages.common.tryAgain}
        </button>
      </div>
    )
  return merged === null ? null : (
    <p role="status" className="mb-3">
      {merged}
    </p>
  )
}
