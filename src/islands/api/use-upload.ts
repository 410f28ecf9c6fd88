import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useRef, useState } from 'react'
import { CutBrought, UploadDone } from '../../contract'
import { RequestError, sendFile } from './client'

export interface Upload {
  readonly fileName: string
  readonly fraction: number
  readonly error: string | null
}

/** What a file is for. */
const UPLOADS = {
  export: { schema: UploadDone, stale: 'videos' },
  cut: { schema: CutBrought, stale: 'moments' },
} as const

/**
 * Sends finished videos, or rough cuts, to the page of a video, with progress and a way to stop.
 *
 * @param videoId Null where the video is named with the file.
 */
export function useUpload(videoId: number | null, what: keyof typeof UPLOADS = 'export') {
  const client = useQueryClient()
  const [upload, setUpload] = useState<Upload | null>(null)
  const controllerRef = useRef<AbortController | null>(null)
  const start = useCallback(
    async (file: File, to: number | null = videoId) => {
      if (to === null) return
      const controller = new AbortController()
      controllerRef.current = controller
      setUpload({ fileName: file.name, fraction: 0, error: null })
      try {
        const { schema, stale } = UPLOADS[what]
        await sendFile<unknown>(`/api/videos/${to}/${what}?name=${encodeURIComponent(file.name)}`, file, schema, {
          onProgress: (fraction) => setUpload({ fileName: file.name, fraction, error: null }),
          signal: controller.signal,
        })
        setUpload(null)
        await client.invalidateQueries({ queryKey: [stale] })
      } catch (error) {
        const stopped = error instanceof RequestError && error.code === 'aborted'
        setUpload(stopped ? null : { fileName: file.name, fraction: 0, error: (error as Error).message })
      }
    },
    [client, videoId, what],
  )
  const stop = useCallback(() => controllerRef.current?.abort(), [])
  const dismiss = useCallback(() => setUpload(null), [])
  return { upload, start, stop, dismiss }
}
