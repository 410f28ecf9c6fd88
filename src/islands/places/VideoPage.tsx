import { Pencil, RefreshCw, Trash2, Upload as UploadIcon } from 'lucide-react'
import { useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { useLocation } from 'wouter'
import type { Video } from '../../contract'
import { usesInWords } from '../../core/rights'
import { useJobOf } from '../api/jobs'
import { useCancelJob, useChangeShell, useCheck, useCheckAgain, useShell, useVideos } from '../api/queries'
import { useRemove } from '../api/room-queries'
import { isCaptionFile, useSetCaptions } from '../api/shelf-queries'
import { useUpload } from '../api/use-upload'
import { clock, dayWords } from '../format/words'
import { Clearance } from '../parts/clearance/Clearance'
import { Empty, Failed, Loading } from '../parts/shared/States'
import { SpokenSounds } from '../parts/videos/SpokenSounds'
import { VideoFilesList } from '../parts/videos/VideoFilesList'
import { VideoForm } from '../parts/videos/VideoForm'

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
  const shell = useShell()
  const change = useChangeShell()
  const again = useCheckAgain(video.id)
  const remove = useRemove('videos')
  const [, navigate] = useLocation()
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
  const inHand = shell.data?.videoInHandId === video.id
  return (
    <div {...drop.getRootProps()} className="relative h-full overflow-y-auto">
      <input {...drop.getInputProps()} aria-label="Finished video file" />
      {drop.isDragActive && (
        <div className="pointer-events-none absolute inset-3 z-20 grid place-items-center rounded border-4 border-dashed border-primary bg-base-100/90 p-8 text-center text-2xl font-semibold">
          Let go: a finished file is listened to, captions are read for words that want a sound
        </div>
      )}
      <div className="mx-auto max-w-[88rem] px-6 py-5">
        <header className="mb-5 flex flex-wrap items-start justify-between gap-x-6 gap-y-3">
          <div className="min-w-0">
            <h1 className="text-3xl font-semibold">{video.title}</h1>
            <p className="quiet mt-1 flex flex-wrap items-center gap-x-2">
              {usesInWords(video.uses)}
              {video.uses.publishOn ? ` · ${dayWords(video.uses.publishOn)}` : ' · no publish date'}
              <button type="button" className="btn btn-ghost btn-xs" onClick={() => setEditing(true)}>
                <Pencil size={14} aria-hidden="true" /> Change
              </button>
              {shell.data && !inHand && (
                <button
                  type="button"
                  className="btn btn-ghost btn-xs"
                  onClick={() => change.mutate({ videoInHandId: video.id })}
                >
                  Take it in hand
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
                remove.mutate(
                  { id: video.id, words: `“${video.title}” was removed.` },
                  { onSuccess: () => navigate('/videos') },
                )
              }
            >
              <Trash2 size={16} aria-hidden="true" /> Remove
            </button>
            {video.check && (
              <button
                type="button"
                className="btn btn-ghost btn-sm"
                disabled={again.isPending}
                onClick={() => again.mutate()}
              >
                <RefreshCw size={16} aria-hidden="true" /> Check again
              </button>
            )}
            <button type="button" className={`btn btn-sm ${video.check ? '' : 'btn-primary'}`} onClick={drop.open}>
              <UploadIcon size={16} aria-hidden="true" /> Bring a finished file
            </button>
          </div>
        </header>
        {upload && (
          <div className="mb-5 rounded border ruled p-4" role={upload.error ? 'alert' : 'status'}>
            {upload.error ? (
              <div className="flex items-center justify-between gap-4">
                <p className="text-error">{upload.error}</p>
                <button type="button" className="btn btn-sm" onClick={dismiss}>
                  Understood
                </button>
              </div>
            ) : (
              <div className="flex items-center gap-4">
                <span className="min-w-0 truncate">Bringing in {upload.fileName}</span>
                <progress
                  className="progress progress-primary flex-1"
                  value={upload.fraction}
                  max={1}
                  aria-label="Upload"
                />
                <span>{Math.round(upload.fraction * 100)} %</span>
                <button type="button" className="btn btn-sm" onClick={stop}>
                  Stop
                </button>
              </div>
            )}
          </div>
        )}
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

function Checked({ checkId, onBring }: { checkId: number; onBring: () => void }) {
  const query = useCheck(checkId)
  const job = useJobOf('check', String(checkId))
  const cancel = useCancelJob()
  if (query.isPending) return <Loading what="Opening the check" />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const check = query.data
  if (check.state === 'done') return <Clearance check={check} />
  if (check.state === 'failed' || check.state === 'cancelled')
    return (
      <Empty
        title={check.state === 'failed' ? `${check.fileName} could not be checked` : 'The check was stopped'}
        action={
          <button type="button" className="btn btn-primary" onClick={onBring}>
            Bring another file
          </button>
        }
      >
        <p>
          {check.state === 'failed'
            ? check.message
            : `Nothing is known about ${check.fileName} yet. Check it again when you like.`}
        </p>
      </Empty>
    )
  return (
    <div className="max-w-2xl p-8" role="status">
      <h2 className="mb-3 text-xl font-semibold">Listening to {check.fileName}</h2>
      <progress
        className="progress progress-primary w-full"
        value={job?.progressFraction ?? 0}
        max={1}
        aria-label="Check"
      />
      <div className="mt-2 flex items-center justify-between">
        <p className="quiet">{job?.message ?? 'Waiting'}</p>
        {check.jobId !== null && (
          <button type="button" className="btn btn-sm" onClick={() => cancel.mutate(check.jobId as number)}>
            Stop
          </button>
        )}
      </div>
      {check.findings.length > 0 && (
        <section aria-label="Heard so far" className="mt-6">
          <h3 className="font-semibold">Heard so far</h3>
          <ul className="mt-1">
            {check.findings.map((finding) => (
              <li key={finding.soundId} className="flex justify-between gap-4 border-t ruled py-1.5">
                <span className="min-w-0 truncate">{finding.title}</span>
                <span className="quiet whitespace-nowrap">
                  {finding.detections.map(({ startS }) => clock(startS)).join(', ')}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}
