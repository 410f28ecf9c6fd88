import { Download, FileAudio, ShoppingBasket } from 'lucide-react'
import { type DragEvent, useState } from 'react'
import { Link } from 'wouter'
import type { SoundDetail } from '../../../contract'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { useBasket, useFetchAgain, usePutIntoBasket } from '../../api/money-queries'
import { useDownload, useShell, useVideos } from '../../api/queries'
import { OrderState } from '../money/OrderRow'

/** The way to a copy: download, buy in a tier, or the copy that is here. */
export function Acquire({ sound }: { sound: SoundDetail }) {
  return (
    <div className="space-y-3">
      {sound.copy?.isHere && <CopyHere copy={sound.copy} />}
      {sound.copy && !sound.copy.isHere && <CopyLost sound={sound} />}
      {sound.orders.length > 0 && <OpenOrders sound={sound} />}
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
      <p className="font-semibold">{messages.common.aCopyIsHere}</p>
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
      <p className="quiet mt-1 text-sm">{messages.sound.kbSaveItOrDrag((sizeBytes / 1024).toFixed(0))}</p>
    </div>
  )
}

/** A copy whose file is gone: its papers hold, and it can be had again. */
function CopyLost({ sound }: { sound: SoundDetail }) {
  const fetchAgain = useFetchAgain(sound.id)
  const isLibrary = sound.source.kind === 'library'
  return (
    <div className="rounded border-2 border-error bg-base-100 p-3">
      <p className="font-semibold">{messages.sound.theFileOfThisCopy}</p>
      <p className="quiet mt-1 text-sm">
        {isLibrary ? messages.sound.itsPapersHold : messages.sound.itsPapersHoldPutThe}
      </p>
      {isLibrary && (
        <button
          type="button"
          className="btn btn-primary btn-sm mt-2"
          disabled={fetchAgain.isPending}
          onClick={() => fetchAgain.mutate()}
        >
          <Download size={15} aria-hidden="true" /> {messages.sound.downloadItAgain}
        </button>
      )}
      <Problem message={fetchAgain.error?.message} />
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
        {running ? job.message : messages.sound.downloadAtCost(sound.cost)}
      </button>
      {sound.formats.length > 1 && (
        <fieldset className="mt-1.5 flex flex-wrap items-center gap-x-4 text-sm" disabled={running}>
          <legend className="sr-only">{messages.sound.format}</legend>
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

/** The tiers of a shop: a press puts one into the basket, for the video in hand. Nothing is paid here. */
function Tiers({ sound }: { sound: SoundDetail }) {
  const put = usePutIntoBasket()
  const basket = useBasket().data
  const videoId = useShell().data?.videoInHandId ?? null
  const video = useVideos().data?.videos.find(({ id }) => id === videoId)
  const inBasket = basket?.lines.filter(({ soundId }) => soundId === sound.id) ?? []
  const isIn = (key: string): boolean => inBasket.some((line) => line.tier === key && line.videoId === videoId)
  return (
    <section aria-label={messages.sound.buy}>
      <h3 className="mb-1.5 border-b ruled pb-1 text-base font-semibold">
        {sound.copy ? messages.sound.buyAgain : messages.sound.buy}
      </h3>
      <p className="quiet mb-1.5 text-sm">
        {messages.sound.for} {video ? `“${video.title}”` : messages.sound.noVideoYet}
      </p>
      <ul className="space-y-1">
        {sound.tiers.map(({ key, title: name, price }) => (
          <li key={key} className="flex items-center justify-between gap-2">
            <span className="min-w-0 leading-tight">{name}</span>
            <button
              type="button"
              className="btn btn-sm whitespace-nowrap"
              disabled={put.isPending || sound.withdrawn || isIn(key)}
              aria-label={
                isIn(key)
                  ? messages.sound.forIsInTheBasket(name, price)
                  : messages.sound.putForIntoTheBasket(name, price)
              }
              onClick={() => put.mutate({ soundId: sound.id, tier: key, videoId })}
            >
              <ShoppingBasket size={15} aria-hidden="true" /> {isIn(key) ? messages.sound.inTheBasket : price}
            </button>
          </li>
        ))}
      </ul>
      {inBasket.length > 0 && (
        <Link href="/basket" className="btn btn-primary btn-sm mt-2 w-full">
          {messages.sound.goToTheBasket}
        </Link>
      )}
      <Problem message={put.error?.message} />
    </section>
  )
}

/** Orders of this sound that are not over: what was paid is said until it is here. */
function OpenOrders({ sound }: { sound: SoundDetail }) {
  return (
    <ul className="space-y-2">
      {sound.orders.map((order) => (
        <li key={order.id} className="rounded border ruled bg-base-100 p-3">
          <OrderState order={order} />
        </li>
      ))}
    </ul>
  )
}

function Problem({ message }: { message: string | undefined }) {
  return message ? (
    <p role="alert" className="mt-2 text-error">
      {message}
    </p>
  ) : null
}
