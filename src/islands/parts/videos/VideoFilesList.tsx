import { Trash2 } from 'lucide-react'
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
    <section aria-label="Files of this video" className="mt-6 border-t ruled pt-4">
      <h2 className="text-lg font-semibold">Files of this video</h2>
      <p className="quiet text-sm">The newest one counts. What is removed can be restored for 30 days.</p>
      <ul className="mt-1">
        {files.map(({ id, fileName, sizeBytes, broughtAt }, at) => (
          <li key={id} className="flex items-center gap-4 border-b ruled py-1.5">
            <span className="min-w-0 flex-1 truncate">
              {fileName} {at === 0 && <span className="quiet">(newest)</span>}
            </span>
            <span className="quiet whitespace-nowrap text-sm">
              {sizeWords(sizeBytes)}, {momentWords(broughtAt)}
            </span>
            {at === 0 && checkId !== null && (
              <button
                type="button"
                className="btn btn-ghost btn-xs"
                disabled={removeCheck.isPending}
                onClick={() => removeCheck.mutate({ id: checkId, words: `The check of ${fileName} was removed.` })}
              >
                Remove its check
              </button>
            )}
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Remove ${fileName}`}
              disabled={removeFile.isPending}
              onClick={() => removeFile.mutate({ id, words: `${fileName} was removed.` })}
            >
              <Trash2 size={14} aria-hidden="true" /> Remove
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
