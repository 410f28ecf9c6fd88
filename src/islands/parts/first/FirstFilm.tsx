import { useEffect, useRef, useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { Link } from 'wouter'
import { FRESH_USES, type Video } from '../../../contract'
import { messages } from '../../../messages'
import { useSaveVideo } from '../../api/queries'
import { useUpload } from '../../api/use-upload'
import { UsePlaces } from '../shared/UsePlaces'
import { UploadNotice } from '../videos/UploadNotice'
import { hasFailed } from './first-steps'

/** Takes a finished video with the two questions that decide most: where it goes, and whether it earns. */
export function FirstFilm({ isNow, video }: { isNow: boolean; video: Video | null }) {
  const [file, setFile] = useState<File | null>(null)
  const [title, setTitle] = useState('')
  const [uses, setUses] = useState(FRESH_USES)
  /** The video that was added, so that trying again adds no second one. */
  const [addedId, setAddedId] = useState<number | null>(null)
  const titleRef = useRef<HTMLInputElement>(null)
  // The form takes the place of the button that had the focus.
  useEffect(() => {
    if (file) titleRef.current?.focus()
  }, [file])
  const failed = video && hasFailed(video) ? video : null
  const save = useSaveVideo(addedId ?? failed?.id ?? null)
  const { upload, start, stop, dismiss } = useUpload(null)
  const drop = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDropAccepted: ([first]) => {
      if (!first) return
      setFile(first)
      // What was said of a video whose file failed stands, until it is said otherwise here.
      if (failed && addedId === null) setUses(failed.uses)
      setTitle(failed?.title ?? first.name.replace(/\.[^.]{1,5}$/, ''))
    },
  })
  if (video && !failed) return <p>{video.title}</p>
  const bring = async (): Promise<void> => {
    if (!file) return
    // Also where the video is there already: what is answered here is what the file is weighed for.
    const saved = await save.mutateAsync({ title, uses }).catch(() => null)
    if (!saved) return
    setAddedId(saved.id)
    await start(file, saved.id)
  }
  return (
    <>
      {failed && (
        <p role="alert" className="mt-1">
          {failed.check?.state === 'failed'
            ? messages.first.couldNotBeChecked(failed.title)
            : messages.first.theCheckWasStopped}{' '}
          {messages.first.orChooseAnotherFile(
            <Link href={`/videos/${failed.id}/clearance`} className="underline">
              {messages.first.seeWhy}
            </Link>,
          )}
        </p>
      )}
      <div
        {...drop.getRootProps()}
        className={`mt-2 rounded border border-dashed p-4 ${drop.isDragActive ? 'border-primary bg-base-200' : 'border-base-content/40'}`}
      >
        <input {...drop.getInputProps()} aria-label={messages.first.finishedVideoFile} />
        {file === null ? (
          <p className="flex flex-wrap items-center gap-3">
            <button type="button" className={`btn ${isNow ? 'btn-primary' : ''}`} onClick={drop.open}>
              {messages.first.chooseTheFile}
            </button>
            <span className="quiet">{messages.first.orDropItHereIt}</span>
          </p>
        ) : (
          <form
            className="space-y-3"
            onSubmit={(event) => {
              event.preventDefault()
              void bring()
            }}
          >
            <label className="block">
              <span className="small-label block">{messages.common.title}</span>
              <input
                ref={titleRef}
                className="input w-full"
                maxLength={200}
                value={title}
                onChange={({ target }) => setTitle(target.value)}
              />
            </label>
            <UsePlaces
              places={uses.places}
              columns="grid-cols-2 sm:grid-cols-4"
              onChange={(places) => setUses({ ...uses, places })}
            />
            <label className="flex items-center gap-3">
              <input
                type="checkbox"
                className="toggle toggle-sm"
                checked={uses.earns}
                onChange={({ target }) => setUses({ ...uses, earns: target.checked })}
              />
              <span>
                {messages.first.itEarns(<span className="quiet">{messages.first.advertsSponsorsMembersSale}</span>)}
              </span>
            </label>
            {save.error && (
              <p role="alert" className="text-error">
                {save.error.message}
              </p>
            )}
            {upload ? (
              <UploadNotice upload={upload} onStop={stop} onDismiss={dismiss} />
            ) : (
              <p className="flex gap-2">
                <button
                  type="submit"
                  className="btn btn-primary"
                  disabled={title.trim() === '' || uses.places.length === 0 || save.isPending}
                >
                  {messages.first.checkIt}
                </button>
                <button type="button" className="btn btn-ghost" onClick={() => setFile(null)}>
                  {messages.common.cancel}
                </button>
              </p>
            )}
          </form>
        )}
      </div>
    </>
  )
}
