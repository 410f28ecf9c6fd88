import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from 'react'

/** Something that was done and can be taken back. */
interface Undoable {
  readonly words: string
  undo(): void
}

interface UndoValue {
  readonly offered: Undoable | null
  offer(undoable: Undoable | null): void
}

const UndoContext = createContext<UndoValue>({ offered: null, offer: () => {} })

/** An offer to undo stays this long, ms. */
const OFFER_MS = 20_000

/** Remembers the last thing that can be undone, wherever one goes meanwhile. */
export function UndoProvider({ children }: { children: ReactNode }) {
  const [offered, offer] = useState<Undoable | null>(null)
  useEffect(() => {
    if (!offered) return
    const timer = setTimeout(() => offer(null), OFFER_MS)
    return () => clearTimeout(timer)
  }, [offered])
  const value = useMemo(() => ({ offered, offer }), [offered])
  return <UndoContext value={value}>{children}</UndoContext>
}

export function useUndo(): UndoValue {
  return useContext(UndoContext)
}

/** Offers to undo, and takes the offer away once it is taken. */
export function useOfferUndo(): (words: string, undo: () => void) => void {
  const { offer } = useUndo()
  return useCallback(
    (words, undo) =>
      offer({
        words,
        undo: () => {
          offer(null)
          undo()
        },
      }),
    [offer],
  )
}
