import { useQueryClient } from '@tanstack/react-query'
import type { VideoMoments } from '../../contract'
import { EditError, type MomentsDocument, type MomentsEdit } from '../../core/moments'
import { sendMomentsChange } from '../api/moments-queries'
import { type DocumentDesk, useDocument } from '../state/use-document'
import { MomentsStore } from './moments-store'

/** The moments of a video and what can be done with them. */
export type MomentsDesk = DocumentDesk<MomentsDocument, MomentsEdit>

const isRefusal = (error: unknown): error is EditError => error instanceof EditError

/** Holds the moments of a video while its page is open, and saves what is done to them. */
export function useMoments(videoId: number, loaded: VideoMoments): MomentsDesk {
  const client = useQueryClient()
  const make = (): MomentsStore =>
    new MomentsStore(
      loaded.document,
      loaded.revision,
      (change) => sendMomentsChange(videoId, change),
      // What else shows them, and what is suggested beside them, follows.
      (document, revision) =>
        client.setQueryData<VideoMoments>(['moments', videoId], (now) => now && { ...now, document, revision }),
    )
  return useDocument(loaded, make, isRefusal)
}
