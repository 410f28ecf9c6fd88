import { useQueryClient } from '@tanstack/react-query'
import type { VideoScore } from '../../contract'
import { rebased, type Score, type ScoreEdit, ScoreError, scoreChanges, scoreWithEdit } from '../../core/score'
import { sendScoreChange } from '../api/score-queries'
import { type DocumentKind, DocumentStore } from '../state/document-store'
import { type DocumentDesk, useDocument } from '../state/use-document'

/** What is placed in a video and what can be done with it. */
export type ScoreDesk = DocumentDesk<Score, ScoreEdit>

const SCORE: DocumentKind<Score, ScoreEdit> = {
  apply: scoreWithEdit,
  counts: scoreChanges,
  merged: ({ theirs, pending }) => {
    const { document, edits, leftOut } = rebased(theirs, pending)
    return { document, edits, count: leftOut }
  },
}

const isRefusal = (error: unknown): error is ScoreError => error instanceof ScoreError

/** Holds the score of a video while its page is open, and saves what is done to it. */
export function useScore(videoId: number, loaded: VideoScore): ScoreDesk {
  const client = useQueryClient()
  const make = (): DocumentStore<Score, ScoreEdit> =>
    new DocumentStore(
      SCORE,
      loaded.document,
      loaded.revision,
      (change) => sendScoreChange(videoId, change),
      (document, revision) =>
        client.setQueryData<VideoScore>(['score', videoId], (now) => now && { ...now, document, revision }),
    )
  return useDocument(loaded, make, isRefusal)
}
