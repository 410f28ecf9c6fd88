import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { Cut } from '../../contract'

/** Cuts whose picture is being read in this tab. */
const underWay = new Set<number>()

/** Reads the picture of a cut in a worker of the browser, where the application has no program for it, and sends what is seen. */
export function usePictureByBrowser(cut: Cut, videoId: number): void {
  const client = useQueryClient()
  const { id, wantsPicture } = cut
  useEffect(() => {
    if (!wantsPicture || underWay.has(id)) return
    underWay.add(id)
    const worker = new Worker(new URL('./picture-worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = () => {
      worker.terminate()
      void client.invalidateQueries({ queryKey: ['moments', videoId] })
      void client.invalidateQueries({ queryKey: ['suggestions', videoId] })
    }
    worker.onerror = () => worker.terminate()
    worker.postMessage({ cutId: id, origin: location.origin })
    return () => {
      worker.terminate()
      underWay.delete(id)
    }
  }, [id, wantsPicture, videoId, client])
}
