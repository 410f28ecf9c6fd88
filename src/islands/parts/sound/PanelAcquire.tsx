import { Download, FileAudio, ShoppingBag } from 'lucide-react'
import { type DragEvent, useState } from 'react'
import type { SoundDetail } from '../../../contract'
import { isUnderWay } from '../../api/job-list'
import { useJobOf, useJobs } from '../../api/jobs'
import { useBuy } from '../../api/papers-queries'
import { useDownload, useShell, useVideos } from '../../api/queries'

/** The way to a copy: download, buy in a tier, or the copy that is here. */
export function Acquire({ sound }: { sound: SoundDetail }) {
  return (
    <div className="space-y-3">
      {sound.copy && <CopyHere copy={sound.copy} />}
      {sound.tiers.length > 0 && <Tiers sound={sound} />}
      {sound.tiers.length === 0 && !sound.copy && sound.source.kind === 'library' && <DownloadButton sound={sound} />}
    </div>
  )
}

function CopyHere({ copy }: { copy: NonNullable<SoundDetail['copy']> }) {
  const { sha256, fileName, sizeBytes } = copy
  const address = `/api/copies/${sha256}`
  const drag = (event: DragEvent): void => {
    // Dragged out of the browser, it lands as a file under its sensible name.
    event.dataTransfer.setData('DownloadURL', `application/octet-stream:${fileName}:${new URL(address, location.href)}`)
    event.dataTransfer.setData('text/uri-list', String(new URL(address, location.href)))
  }
  return (
    <div className="rounded border ruled bg-base-100 p-3">
      <p className="font-semibold">A copy is here</p>
      <a
        href={address}
        download={fileName}
        draggable
        onDragStart={drag}
        className="mt-1 flex items-start gap-2 underline decoration-from-font underline-offset-2"
      >
        <FileAudio size={18} aria-hidden="true" className="mt-0.5 shrink-0" />
        <span className="min-w-0 break-words">{fileName}</span>
      </a>
      <p className="quiet mt-1 text-sm">{(sizeBytes / 1024).toFixed(0)} KB. Save it, or drag it into your cut.</p>
    </div>
  )
}

/** Downloads the sound; where its library offers several formats, the one that is chosen. */
function DownloadButton({ sound }: { sound: SoundDetail }) {
  const download = useDownload()
  // What was chosen for one sound is chosen for the next one that is offered like that, too.
  const [wanted, setWanted] = useState<string | null>(null)
  const format = sound.formats.find((one) => one === wanted) ?? sound.formats[0] ?? null
  const job = useJobOf('download', String(sound.id))
  const running = isUnderWay(job)
  const problem = job?.state === 'failed' ? job.message : download.error?.message
  return (
    <div>
      <button
        type="button"
        className="btn btn-primary w-full"
        disabled={running || download.isPending || sound.withdrawn}
        onClick={() => download.mutate({ id: sound.id, format: sound.formats.length > 1 ? format : null })}
      >
        <Download size={18} aria-hidden="true" />
        {running ? job.message : `Download · ${sound.cost}`}
      </button>
      {sound.formats.length > 1 && (
        <fieldset className="mt-1.5 flex flex-wrap items-center gap-x-4 text-sm" disabled={running}>
          <legend className="sr-only">Format</legend>
          {sound.formats.map((one) => (
            <label key={one} className="flex items-center gap-1.5">
              <input
                type="radio"
                className="radio radio-xs"
                name={`format-${sound.id}`}
                checked={one === format}
                onChange={() => setWanted(one)}
              />
              {one.toUpperCase()}
            </label>
          ))}
        </fieldset>
      )}
      <Problem message={problem} />
    </div>
  )
}

/** The tiers of a shop: each with its price. One press chooses, another pays: no single press spends money. */
function Tiers({ sound }: { sound: SoundDetail }) {
  const buy = useBuy(sound.id)
  const shell = useShell()
  const title = `Buying ${sound.title}`
  const job = useJobs().find((one) => one.kind === 'purchase' && one.title === title)
  const running = isUnderWay(job)
  const videoId = shell.data?.videoInHandId ?? null
  const video = useVideos().data?.videos.find(({ id }) => id === videoId)
  const [chosenKey, setChosenKey] = useState<string | null>(null)
  const chosen = sound.tiers.find(({ key }) => key === chosenKey) ?? null
  return (
    <section aria-label="Buy">
      <h3 className="mb-1.5 border-b ruled pb-1 text-base font-semibold">{sound.copy ? 'Buy again' : 'Buy'}</h3>
      <ul className="space-y-1">
        {sound.tiers.map(({ key, title: name, price }) => (
          <li key={key} className="flex items-center justify-between gap-2">
            <span className="min-w-0 leading-tight">{name}</span>
            <button
              type="button"
              className="btn btn-sm whitespace-nowrap"
              disabled={running || buy.isPending || sound.withdrawn}
              aria-label={`Choose “${name}” for ${price}`}
              aria-pressed={key === chosenKey}
              onClick={() => setChosenKey(key === chosenKey ? null : key)}
            >
              <ShoppingBag size={15} aria-hidden="true" /> {price}
            </button>
          </li>
        ))}
      </ul>
      {chosen && !running && (
        <div className="mt-2 rounded border ruled bg-base-100 p-3">
          <p>
            {sound.source.name} is paid {chosen.price} for “{sound.title}”, {chosen.title},{' '}
            {video ? `for “${video.title}”` : 'for no video yet'}.{sound.copy && ' A copy is here already.'}
          </p>
          <div className="mt-2 flex flex-wrap gap-2">
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={buy.isPending}
              onClick={() => {
                buy.mutate({ tier: chosen.key, priceMinor: chosen.priceMinor, videoId })
                setChosenKey(null)
              }}
            >
              <ShoppingBag size={15} aria-hidden="true" /> Pay {chosen.price}
            </button>
            <button type="button" className="btn btn-ghost btn-sm" onClick={() => setChosenKey(null)}>
              Leave it
            </button>
          </div>
        </div>
      )}
      {running && <p className="quiet mt-1 text-sm">{job.message}</p>}
      <Problem message={job?.state === 'failed' ? job.message : buy.error?.message} />
    </section>
  )
}

function Problem({ message }: { message: string | undefined }) {
  return message ? (
    <p role="alert" className="mt-2 text-error">
      {message}
    </p>
  ) : null
}
