import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useRef, useState } from 'react'
import { UploadDone } from '../../contract'
import { RequestError, sendFile } from './client'

export interface Upload {
  readonly fileName: string
  readonly fraction: number
  readonly error: string | null
}

/** Sends finished videos to the page of a video, with progress and a way to stop. */
export function useUpload(videoId: number) {
  const client = useQueryClient()
  const [upload, setUpload] = useState<Upload | null>(null)
  const controllerRef = useRef<AbortController | null>(null)
  const start = useCallback(
    async (file: File) => {
      const controller = new AbortController()
      controllerRef.current = controller
      setUpload({ fileName: file.name, fraction: 0, error: null })
      try {
        await sendFile(`/api/videos/${videoId}/export?name=${encodeURIComponent(file.name)}`, file, UploadDone, {
          onProgress: (fraction) => setUpload({ fileName: file.name, fraction, error: null }),
          signal: controller.signal,
        })
        setUpload(null)
        await client.invalidateQueries({ queryKey: ['videos'] })
      } catch (error) {
        const stopped = error instanceof RequestError && error.code === 'aborted'
        setUpload(stopped ? null : { fileName: file.name, fraction: 0, error: (error as Error).message })
      }
    },
    [client, videoId],
  )
  const stop = useCallback(() => controllerRef.current?.abort(), [])
  const dismiss = useCallback(() => setUpload(null), [])
  return { upload, start, stop, dismiss }
}
