import { messages } from '../../../messages'
import type { Upload } from '../../api/use-upload'

interface UploadNoticeProps {
  readonly upload: Upload
  readonly onStop: () => void
  readonly onDismiss: () => void
}

/** How far a file has come in, or why it could not. */
export function UploadNotice({ upload, onStop, onDismiss }: UploadNoticeProps) {
  return (
    <div className="mb-5 rounded border ruled p-4" role={upload.error ? 'alert' : 'status'}>
      {upload.error ? (
        <div className="flex items-center justify-between gap-4">
          <p className="text-error">{upload.error}</p>
          <button type="button" className="btn btn-sm" onClick={onDismiss}>
            {messages.common.dismiss}
          </button>
        </div>
      ) : (
        <div className="flex items-center gap-4">
          <span className="min-w-0 truncate">{messages.videos.uploading(upload.fileName)}</span>
          <progress
            className="progress progress-primary flex-1"
            value={upload.fraction}
            max={1}
            aria-label={messages.videos.upload}
          />
          <span>{Math.round(upload.fraction * 100)} %</span>
          <button type="button" className="btn btn-sm" onClick={onStop}>
            {messages.common.stop}
          </button>
        </div>
      )}
    </div>
  )
}
