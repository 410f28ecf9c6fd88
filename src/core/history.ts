/** A change of a document, and the change that takes it back. */
export interface Invertible<Document, Edit> {
  readonly document: Document
  readonly inverse: Edit
}

/** Does a change. Applied to the result, the inverse gives the document back. It throws where the change cannot be done. */
export type Apply<Document, Edit> = (document: Document, edit: Edit) => Invertible<Document, Edit>

/** One thing that was done and can be undone. */
interface Step<Edit> {
  /** What was done, in words: "Add shutter slams". */
  readonly words: string
  readonly edit: Edit
  readonly inverse: Edit
}

/** A document with what can be undone and redone. */
export interface History<Document, Edit> {
  readonly document: Document
  /** The newest last. */
  readonly done: readonly Step<Edit>[]
  /** What was undone; the next to redo last. */
  readonly undone: readonly Step<Edit>[]
}

/** A history after one step, and the change that it took; null when there is none. */
export type OneStep<Document, Edit> = { readonly history: History<Document, Edit>; readonly edit: Edit } | null

/** So many steps can be undone. */
const STEPS_MAX = 500

export function historyOf<Document, Edit>(document: Document): History<Document, Edit> {
  return { document, done: [], undone: [] }
}

/** Does an edit. @throws What `apply` throws; the history is as it was. */
export function withEdit<Document, Edit>(
  history: History<Document, Edit>,
  apply: Apply<Document, Edit>,
  { edit, words }: { readonly edit: Edit; readonly words: string },
): History<Document, Edit> {
  const { document, inverse } = apply(history.document, edit)
  return { document, done: [...history.done, { words, edit, inverse }].slice(-STEPS_MAX), undone: [] }
}

/** Takes back what was done last. */
export function undoneOnce<Document, Edit>(
  history: History<Document, Edit>,
  apply: Apply<Document, Edit>,
): OneStep<Document, Edit> {
  const step = history.done[history.done.length - 1]
  if (!step) return null
  const { document } = apply(history.document, step.inverse)
  return {
    history: { document, done: history.done.slice(0, -1), undone: [...history.undone, step] },
    edit: step.inverse,
  }
}

/** Does again what was undone last. */
export function redoneOnce<Document, Edit>(
  history: History<Document, Edit>,
  apply: Apply<Document, Edit>,
): OneStep<Document, Edit> {
  const step = history.undone[history.undone.length - 1]
  if (!step) return null
  const { document } = apply(history.document, step.edit)
  return {
    history: { document, done: [...history.done, step], undone: history.undone.slice(0, -1) },
    edit: step.edit,
  }
}
