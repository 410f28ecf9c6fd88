import { Trash2 } from 'lucide-react'
import { messages } from '../../../messages'
import { useRemove, useVideoFiles } from '../../api/room-queries'
import { momentWords, sizeWords } from '../../format/words'

interface VideoFilesListProps {
  readonly videoId: number
  /** The check that is shown, if any. */
  readonly checkId: number | null
}

/** The finished files that were brought for a video. The state of the video is that of the newest. */
export function VideoFilesList({ videoId, checkId }: VideoFilesListProps) {
  const query = useVideoFiles(videoId)
  const removeFile = useRemove('exports')
  const removeCheck = useRemove('checks')
  const files = query.data?.files ?? []
  if (files.length === 0) return null
  const error = removeFile.error ?? removeCheck.error
  return (
    <section aria-label={messages.videos.filesOfThisVideo} className="mt-6 border-t ruled pt-4">
      <h2 className="text-lg font-semibold">{messages.videos.filesOfThisVideo}</h2>
      <p className="quiet text-sm">{messages.videos.theNewestOneCountsWhat}</p>
      <ul className="mt-1">
        {files.map(({ id, fileName, sizeBytes, broughtAt }, at) => (
          <li key={id} className="flex items-center gap-4 border-b ruled py-1.5">
            <span className="min-w-0 flex-1 truncate">
              {fileName} {at === 0 && <span className="quiet">{messages.videos.newest}</span>}
            </span>
            <span className="quiet whitespace-nowrap text-sm">
              {sizeWords(sizeBytes)}, {momentWords(broughtAt)}
            </span>
            {at === 0 && checkId !== null && (
              <button
                type="button"
                className="btn btn-ghost btn-xs"
                disabled={removeCheck.isPending}
                onClick={() =>
                  removeCheck.mutate({ id: checkId, words: messages.videos.theCheckOfWasRemoved(fileName) })
                }
              >
                {messages.videos.removeItsCheck}
              </button>
            )}
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={messages.videos.remove(fileName)}
              disabled={removeFile.isPending}
              onClick={() => removeFile.mutate({ id, words: messages.videos.wasRemoved(fileName) })}
            >
              <Trash2 size={14} aria-hidden="true" /> {messages.common.remove}
            </button>
          </li>
        ))}
      </ul>
      {error && (
        <p role="alert" className="text-error">
          {error.message}
        </p>
      )}
    </section>
  )
}
