import { Upload as UploadIcon } from 'lucide-react'
import { useState } from 'react'
import { useDropzone } from 'react-dropzone'
import type { Video } from '../../contract'
import { useVideos } from '../api/queries'
import { isCaptionFile, useSetCaptions } from '../api/shelf-queries'
import { useUpload } from '../api/use-upload'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { Checked } from '../parts/videos/Checked'
import { SpokenSounds } from '../parts/videos/SpokenSounds'
import { UploadNotice } from '../parts/videos/UploadNotice'
import { VideoFilesList } from '../parts/videos/VideoFilesList'
import { VideoForm } from '../parts/videos/VideoForm'
import { VideoHeader } from '../parts/videos/VideoHeader'

const ACCEPTED = 'MP4, MOV, MKV, WebM, WAV, MP3, FLAC or OGG, up to 4 GB'

/** One video: its uses, its finished file, the clearance and the credits. */
export function VideoPage({ id }: { id: number }) {
  const query = useVideos()
  if (query.isPending) return <Loading what="Opening the video" />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const video = query.data.videos.find((one) => one.id === id)
  if (!video) return <Failed error={new Error('This video is not here. Choose another under Videos.')} />
  return <OpenVideo video={video} />
}

function OpenVideo({ video }: { video: Video }) {
  const { upload, start, stop, dismiss } = useUpload(video.id)
  const [editing, setEditing] = useState(false)
  const captions = useSetCaptions(video.id)
  const drop = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDropAccepted: ([file]) => {
      if (!file) return
      if (isCaptionFile(file.name)) captions.mutate(file)
      else void start(file)
    },
  })
  return (
    <div {...drop.getRootProps()} className="relative h-full overflow-y-auto">
      <input {...drop.getInputProps()} aria-label="Finished video file" />
      {drop.isDragActive && (
        <div className="pointer-events-none absolute inset-3 z-20 grid place-items-center rounded border-4 border-dashed border-primary bg-base-100/90 p-8 text-center text-2xl font-semibold">
          Let go: a finished file is listened to, captions are read for words that want a sound
        </div>
      )}
      <div className="mx-auto max-w-[88rem] px-6 py-5">
        <VideoHeader video={video} onBring={drop.open} onChange={() => setEditing(true)} />
        {upload && <UploadNotice upload={upload} onStop={stop} onDismiss={dismiss} />}
        {video.check ? (
          <Checked checkId={video.check.id} onBring={drop.open} />
        ) : (
          !upload && (
            <Empty
              title="Not checked yet"
              action={
                <button type="button" className="btn btn-primary" onClick={drop.open}>
                  <UploadIcon size={18} aria-hidden="true" /> Bring the finished file
                </button>
              }
            >
              Drop the exported video anywhere on this page ({ACCEPTED}). It is listened to here, on this machine, and
              every sound of your libraries that is heard in it is weighed against the papers on file.
            </Empty>
          )
        )}
        <SpokenSounds videoId={video.id} captions={captions} />
        <VideoFilesList videoId={video.id} checkId={video.check?.id ?? null} />
      </div>
      {editing && <VideoForm video={video} onClose={() => setEditing(false)} />}
    </div>
  )
}
