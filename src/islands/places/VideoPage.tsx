import { Upload as UploadIcon } from 'lucide-react'
import { useState } from 'react'
import { useDropzone } from 'react-dropzone'
import type { Video } from '../../contract'
import { messages } from '../../messages'
import { useVideos } from '../api/queries'
import { useUpload } from '../api/use-upload'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { Checked } from '../parts/videos/Checked'
import { UploadNotice } from '../parts/videos/UploadNotice'
import { VideoFilesList } from '../parts/videos/VideoFilesList'
import { VideoForm } from '../parts/videos/VideoForm'
import { VideoHeader } from '../parts/videos/VideoHeader'
import { VIDEO_STEPS, type VideoStep, VideoSteps } from '../parts/videos/VideoSteps'
import { CreditsStep } from './CreditsStep'
import { InPlaceStep } from './InPlaceStep'
import { MomentsStep } from './MomentsStep'

const ACCEPTED = messages.videos.mp4MovMkvWebmWav

/** One video, in its steps: what the cut needs, the clearance of the finished file, credits and proof. */
export function VideoPage({ id, step }: { id: number; step: string | undefined }) {
  const query = useVideos()
  if (query.isPending) return <Loading what={messages.videos.openingTheVideo} />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const video = query.data.videos.find((one) => one.id === id)
  if (!video) return <Failed error={new Error(messages.videos.thisVideoIsNotHere)} />
  return <OpenVideo video={video} step={VIDEO_STEPS.find((one) => one === step) ?? 'clearance'} />
}

function OpenVideo({ video, step }: { video: Video; step: VideoStep }) {
  const [editing, setEditing] = useState(false)
  const { upload, start, stop, dismiss } = useUpload(video.id)
  const drop = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    noDrag: step === 'moments' || step === 'in-place',
    onDropAccepted: ([file]) => {
      if (file) void start(file)
    },
  })
  return (
    <div {...drop.getRootProps()} className="relative h-full overflow-y-auto">
      <input {...drop.getInputProps()} aria-label={messages.videos.finishedVideoFile} />
      {drop.isDragActive && (
        <div className="pointer-events-none absolute inset-3 z-20 grid place-items-center rounded border-4 border-dashed border-primary bg-base-100/90 p-8 text-center text-2xl font-semibold">
          {messages.videos.dropTheFinishedVideoTo}
        </div>
      )}
      <div className="mx-auto max-w-[88rem] px-6 py-4">
        <VideoHeader video={video} step={step} onBring={drop.open} onChange={() => setEditing(true)} />
        <VideoSteps video={video} step={step} />
        {upload && <UploadNotice upload={upload} onStop={stop} onDismiss={dismiss} />}
        {step === 'moments' && <MomentsStep video={video} />}
        {step === 'in-place' && <InPlaceStep video={video} />}
        {step === 'credits' && <CreditsStep video={video} />}
        {step === 'clearance' && <ClearanceStep video={video} isBringing={upload !== null} onBring={drop.open} />}
      </div>
      {editing && <VideoForm video={video} onClose={() => setEditing(false)} />}
    </div>
  )
}

interface ClearanceStepProps {
  readonly video: Video
  readonly isBringing: boolean
  readonly onBring: () => void
}

function ClearanceStep({ video, isBringing, onBring }: ClearanceStepProps) {
  return (
    <>
      {video.check ? (
        <Checked checkId={video.check.id} onBring={onBring} />
      ) : (
        !isBringing && (
          <Empty
            title={messages.videos.notCheckedYet}
            action={
              <button type="button" className="btn btn-primary" onClick={onBring}>
                <UploadIcon size={18} aria-hidden="true" /> {messages.videos.uploadTheFinishedVideo}
              </button>
            }
          >
            {messages.videos.dropTheExportedVideoAnywhere(ACCEPTED)}
          </Empty>
        )
      )}
      <VideoFilesList videoId={video.id} checkId={video.check?.id ?? null} />
    </>
  )
}
