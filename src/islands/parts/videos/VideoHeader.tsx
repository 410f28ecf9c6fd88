import { Pencil, RefreshCw, Trash2, Upload as UploadIcon } from 'lucide-react'
import { useLocation } from 'wouter'
import type { Video } from '../../../contract'
import { usesInWords } from '../../../core/rights'
import { messages } from '../../../messages'
import { useChangeShell, useCheckAgain, useShell } from '../../api/queries'
import { useRemove } from '../../api/room-queries'
import { dayWords } from '../../format/words'
import type { VideoStep } from './VideoSteps'

interface VideoHeaderProps {
  readonly video: Video
  readonly step: VideoStep
  readonly onBring: () => void
  readonly onChange: () => void
}

/** The title and uses of a video, with what can be done with it as a whole. */
export function VideoHeader({ video, step, onBring, onChange }: VideoHeaderProps) {
  const shell = useShell()
  const change = useChangeShell()
  const again = useCheckAgain(video.id)
  const remove = useRemove('videos')
  const [, navigate] = useLocation()
  const inHand = shell.data?.videoInHandId === video.id
  return (
    <header className="mb-2 flex flex-wrap items-start justify-between gap-x-6 gap-y-3">
      <div className="flex min-w-0 flex-wrap items-baseline gap-x-4">
        <h1 className="text-3xl font-semibold">{video.title}</h1>
        <p className="quiet flex flex-wrap items-center gap-x-2">
          {usesInWords(video.uses)}
          {video.uses.publishOn ? ` · ${dayWords(video.uses.publishOn)}` : messages.videos.noPublishDate}
          <button type="button" className="btn btn-ghost btn-xs" onClick={onChange}>
            <Pencil size={14} aria-hidden="true" /> {messages.videos.change}
          </button>
          {shell.data && !inHand && (
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              onClick={() => change.mutate({ videoInHandId: video.id })}
            >
              {messages.videos.takeItInHand}
            </button>
          )}
        </p>
      </div>
      <div className="flex gap-2">
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          disabled={remove.isPending}
          onClick={() =>
            remove.mutate({
              id: video.id,
              words: messages.videos.videoWasRemoved(video.title),
              onRemoved: () => navigate('/videos'),
            })
          }
        >
          <Trash2 size={16} aria-hidden="true" /> {messages.common.remove}
        </button>
        {step === 'clearance' && video.check && (
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            disabled={again.isPending}
            onClick={() => again.mutate()}
          >
            <RefreshCw size={16} aria-hidden="true" /> {messages.videos.checkAgain}
          </button>
        )}
        {step === 'clearance' && (
          <button type="button" className={`btn btn-sm ${video.check ? '' : 'btn-primary'}`} onClick={onBring}>
            <UploadIcon size={16} aria-hidden="true" /> {messages.videos.uploadTheFinishedVideo}
          </button>
        )}
      </div>
      {remove.error && (
        <p role="alert" className="w-full text-error">
          {remove.error.message}
        </p>
      )}
    </header>
  )
}
