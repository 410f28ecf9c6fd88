import { Upload as UploadIcon } from 'lucide-react'
import { useDropzone } from 'react-dropzone'
import type { Video, VideoMoments } from '../../contract'
import { messages } from '../../messages'
import { useVideoMoments } from '../api/moments-queries'
import { isCaptionFile, useSetCaptions } from '../api/shelf-queries'
import { useUpload } from '../api/use-upload'
import { useMoments } from '../moments/use-moments'
import { CutProgress, CutVersions } from '../parts/moments/CutNotices'
import { CutPage } from '../parts/moments/CutPage'
import { SaveState } from '../parts/shared/SaveState'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { SpokenSounds } from '../parts/videos/SpokenSounds'
import { UploadNotice } from '../parts/videos/UploadNotice'

const ACCEPTED = messages.moments.mp4MovMkvWebmWav

/** Moments: what the cut needs, noted while it plays. */
export function MomentsStep({ video }: { video: Video }) {
  const query = useVideoMoments(video.id)
  if (query.isPending) return <Loading what={messages.moments.openingTheMoments} />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  return <OpenMoments video={video} loaded={query.data} />
}

function OpenMoments({ video, loaded }: { video: Video; loaded: VideoMoments }) {
  const { upload, start, stop, dismiss } = useUpload(video.id, 'cut')
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
  const desk = useMoments(video.id, loaded)
  const newest = loaded.versions[0]
  const { cut } = loaded
  return (
    <div {...drop.getRootProps()} className="relative">
      <input {...drop.getInputProps()} aria-label={messages.moments.roughCutFile} />
      {drop.isDragActive && (
        <div className="pointer-events-none absolute inset-0 z-20 grid place-items-center rounded border-4 border-dashed border-primary bg-base-100/90 p-8 text-center text-2xl font-semibold">
          {messages.moments.dropACutToReplace}
        </div>
      )}
      {upload && <UploadNotice upload={upload} onStop={stop} onDismiss={dismiss} />}
      {cut && captions.error && (
        <p role="alert" className="mb-3 text-error">
          {captions.error.message}
        </p>
      )}
      {newest && newest.id !== cut?.id && <CutProgress version={newest} videoId={video.id} />}
      <SaveState
        desk={desk}
        what={messages.moments.theseMoments}
        leftOver={(count) => messages.moments.changedInBothWaysBoth(messages.counts.moments(count))}
      />
      {cut ? (
        <CutPage
          key={cut.id}
          video={video}
          cut={cut}
          loaded={loaded}
          desk={desk}
          captions={captions}
          onBring={drop.open}
        />
      ) : (
        <>
          {!upload && !newest && (
            <Empty
              title={messages.moments.noCutYet}
              action={
                <button type="button" className="btn btn-primary" onClick={drop.open}>
                  <UploadIcon size={18} aria-hidden="true" /> {messages.moments.uploadARoughCut}
                </button>
              }
            >
              {messages.moments.dropTheCutAsIt(ACCEPTED)}
            </Empty>
          )}
          <SpokenSounds videoId={video.id} captions={captions} />
        </>
      )}
      <CutVersions versions={loaded.versions} shownId={cut?.id ?? null} />
    </div>
  )
}
