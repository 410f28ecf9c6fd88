import type { MomentsChange, MomentsChanged } from '../../contract'
import {
  applied,
  changeCounts,
  editsBetween,
  type MomentsDocument,
  type MomentsEdit,
  mergedDocuments,
} from '../../core/moments'
import { type Clash as AnyClash, type DocumentKind, DocumentStore, type StoreState } from '../state/document-store'

/** What another tab did meanwhile. */
export type Clash = AnyClash<MomentsDocument>

export type MomentsState = StoreState<MomentsDocument, MomentsEdit>

const MOMENTS: DocumentKind<MomentsDocument, MomentsEdit> = {
  apply: applied,
  counts: changeCounts,
  merged: ({ saved, mine, theirs }) => {
    const { document, doubled } = mergedDocuments(saved, mine, theirs)
    return { document, edits: editsBetween(theirs, document), count: doubled.length }
  },
}

/** The moments of a video in one tab. Merging tells how many moments both changed, which then stand there twice. */
export class MomentsStore extends DocumentStore<MomentsDocument, MomentsEdit> {
  constructor(
    document: MomentsDocument,
    revision: number,
    send: (change: MomentsChange) => Promise<MomentsChanged>,
    onSaved?: (document: MomentsDocument, revision: number) => void,
  ) {
    super(MOMENTS, document, revision, send, onSaved)
  }
}
