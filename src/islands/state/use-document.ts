import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from 'react'
import type { DocumentStore, StoreState } from './document-store'

/** A document and what can be done with it. */
export interface DocumentDesk<Document, Edit> {
  readonly state: StoreState<Document, Edit>
  readonly store: DocumentStore<Document, Edit>
  /** Does an edit. @returns Why it cannot be done, in a sentence, or null. */
  edit(edit: Edit, words: string): string | null
}

/**
 * Holds a document while its page is open, and saves what is done to it, at the latest when the page is left.
 *
 * @param make Makes its store, once. @param isRefusal Whether an error says that an edit cannot be done.
 */
export function useDocument<Document, Edit>(
  loaded: { readonly document: Document; readonly revision: number },
  make: () => DocumentStore<Document, Edit>,
  isRefusal: (error: unknown) => error is Error,
): DocumentDesk<Document, Edit> {
  const [store] = useState(make)
  const state = useSyncExternalStore(store.subscribe, store.now)
  useEffect(() => store.adopt(loaded.document, loaded.revision), [store, loaded])
  useEffect(() => {
    const save = (): void => void store.flush()
    const onHide = (): void => {
      if (document.visibilityState === 'hidden') save()
    }
    window.addEventListener('pagehide', save)
    document.addEventListener('visibilitychange', onHide)
    return () => {
      window.removeEventListener('pagehide', save)
      document.removeEventListener('visibilitychange', onHide)
      save()
      store.close()
    }
  }, [store])
  const edit = useCallback(
    (one: Edit, words: string): string | null => {
      try {
        store.edit(one, words)
        return null
      } catch (error) {
        if (isRefusal(error)) return error.message
        throw error
      }
    },
    [store, isRefusal],
  )
  return useMemo(() => ({ state, store, edit }), [state, store, edit])
}
