import { type Apply, type History, historyOf, redoneOnce, undoneOnce, withEdit } from '../../core/history'

/** Edits are sent this long after they were made, ms: what is lost when everything dies. */
const SAVE_AFTER_MS = 300
const RETRY_MS = 2000

/** How many things another tab added, changed and removed. */
export interface TheirChanges {
  readonly added: number
  readonly changed: number
  readonly removed: number
}

/** What another tab did meanwhile. */
export interface Clash<Document> {
  readonly revision: number
  readonly theirs: Document
  /** What they changed since both were the same. */
  readonly counts: TheirChanges
}

export interface StoreState<Document, Edit> {
  readonly history: History<Document, Edit>
  /** Whether something was not saved yet. */
  readonly isDirty: boolean
  /** Why saving failed, in a sentence; it is tried again by itself. */
  readonly problem: string | null
  readonly clash: Clash<Document> | null
}

/** Edits of one tab, made on a revision. */
export interface Change<Edit> {
  readonly revision: number
  readonly edits: Edit[]
}

/** What came of sending them. */
export type ChangeAnswer<Document> =
  | { readonly outcome: 'saved'; readonly revision: number }
  | { readonly outcome: 'changed-meanwhile'; readonly revision: number; readonly document: Document }

/** What is particular to a kind of document. */
export interface DocumentKind<Document, Edit> {
  readonly apply: Apply<Document, Edit>
  counts(from: Document, to: Document): TheirChanges
  /** Makes one of what is here and what another tab did. `count`: what could not be made one, as the document tells it. */
  merged(all: {
    readonly saved: Document
    readonly mine: Document
    readonly theirs: Document
    readonly pending: readonly Edit[]
  }): { readonly document: Document; readonly edits: readonly Edit[]; readonly count: number }
}

/** A document in one tab: edits are done at once, saved one by one, undone and redone. */
export class DocumentStore<Document, Edit> {
  private state: StoreState<Document, Edit>
  /** As it was saved last. */
  private saved: Document
  private pending: Edit[] = []
  private isSending = false
  private timer: ReturnType<typeof setTimeout> | null = null
  private readonly listeners = new Set<() => void>()

  constructor(
    private readonly kind: DocumentKind<Document, Edit>,
    document: Document,
    private revision: number,
    private readonly send: (change: Change<Edit>) => Promise<ChangeAnswer<Document>>,
    /** Told of what was saved. */
    private readonly onSaved: (document: Document, revision: number) => void = () => {},
  ) {
    this.saved = document
    this.state = { history: historyOf(document), isDirty: false, problem: null, clash: null }
  }

  readonly now = (): StoreState<Document, Edit> => this.state

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  /** @throws What the kind's `apply` throws when it cannot be done; then nothing is. */
  edit(edit: Edit, words: string): void {
    this.done(withEdit(this.state.history, this.kind.apply, { edit, words }), edit)
  }

  undo(): void {
    const undone = undoneOnce(this.state.history, this.kind.apply)
    if (undone) this.done(undone.history, undone.edit)
  }

  redo(): void {
    const redone = redoneOnce(this.state.history, this.kind.apply)
    if (redone) this.done(redone.history, redone.edit)
  }

  /** Takes over what the server has, where nothing here waits to be saved. */
  adopt(document: Document, revision: number): void {
    if (revision <= this.revision || this.pending.length > 0 || this.isSending) return
    this.revision = revision
    this.saved = document
    // What was done before cannot be undone on another document.
    this.set({ history: historyOf(document), isDirty: false, clash: null })
  }

  /** Makes one of what is here and what another tab did. @returns How much of it could not be made one. */
  merge(): number {
    const { clash, history } = this.state
    if (!clash) return 0
    const { theirs, revision } = clash
    const { pending, saved } = this
    const { document, edits, count } = this.kind.merged({ saved, mine: history.document, theirs, pending })
    this.saved = theirs
    this.revision = revision
    this.pending = [...edits]
    this.set({ history: historyOf(document), clash: null, isDirty: this.pending.length > 0 })
    this.saveSoon(0)
    return count
  }

  /** Gives up what was not saved here, for what another tab did. */
  takeTheirs(): void {
    const { clash } = this.state
    if (!clash) return
    this.pending = []
    this.saved = clash.theirs
    this.revision = clash.revision
    this.set({ history: historyOf(clash.theirs), clash: null, isDirty: false, problem: null })
  }

  /** Saves what waits now. */
  async flush(): Promise<void> {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    if (this.isSending || this.pending.length === 0 || this.state.clash) return
    const edits = this.pending
    const { document } = this.state.history
    this.pending = []
    this.isSending = true
    try {
      const answer = await this.send({ revision: this.revision, edits })
      if (answer.outcome === 'saved') {
        this.revision = answer.revision
        this.saved = document
        this.set({ isDirty: this.pending.length > 0, problem: null })
        this.onSaved(document, answer.revision)
      } else {
        this.pending = [...edits, ...this.pending]
        const counts = this.kind.counts(this.saved, answer.document)
        this.set({ clash: { revision: answer.revision, theirs: answer.document, counts }, problem: null })
      }
    } catch (error) {
      this.pending = [...edits, ...this.pending]
      this.set({ problem: (error as Error).message })
      this.saveSoon(RETRY_MS)
    } finally {
      this.isSending = false
    }
    if (this.pending.length > 0 && !this.state.clash && !this.timer) this.saveSoon(SAVE_AFTER_MS)
  }

  /** Ends the timer. */
  close(): void {
    if (this.timer) clearTimeout(this.timer)
  }

  private done(history: History<Document, Edit>, edit: Edit): void {
    this.pending = [...this.pending, edit]
    this.set({ history, isDirty: true })
    this.saveSoon(SAVE_AFTER_MS)
  }

  private saveSoon(afterMs: number): void {
    if (this.timer) return
    this.timer = setTimeout(() => void this.flush(), afterMs)
  }

  private set(change: Partial<StoreState<Document, Edit>>): void {
    this.state = { ...this.state, ...change }
    for (const listener of this.listeners) listener()
  }
}
