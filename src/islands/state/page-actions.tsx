import { createContext, type ReactNode, useContext, useEffect, useMemo, useRef } from 'react'

/** Something that can be done on the page as it is. */
export interface PageAction {
  readonly title: string
  /** The key that does it, as it is shown; null where there is none. */
  readonly keys: string | null
  readonly run: () => void
}

type Source = () => readonly PageAction[]

interface PageActions {
  add(source: Source): () => void
  list(): PageAction[]
}

const Context = createContext<PageActions | null>(null)

export function PageActionsProvider({ children }: { children: ReactNode }) {
  const value = useMemo((): PageActions => {
    const sources = new Set<Source>()
    return {
      add: (source) => {
        sources.add(source)
        return () => sources.delete(source)
      },
      list: () => [...sources].flatMap((source) => source()),
    }
  }, [])
  return <Context.Provider value={value}>{children}</Context.Provider>
}

/** What can be done where one is: asked for when the list of commands opens. */
export function usePageActionList(): () => PageAction[] {
  const actions = useContext(Context)
  if (!actions) throw new Error('PageActionsProvider is missing')
  return actions.list
}

/** Offers what a view can do in the list of commands, as long as the view is there. */
export function usePageActions(own: readonly PageAction[]): void {
  const actions = useContext(Context)
  const live = useRef(own)
  live.current = own
  useEffect(() => actions?.add(() => live.current), [actions])
}
