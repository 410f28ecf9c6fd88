import { X } from 'lucide-react'
import { Link } from 'wouter'
import type { BasketLine } from '../../../contract'
import { messages } from '../../../messages'
import { useChangeLine, usePutIntoBasket, useTakeOut } from '../../api/money-queries'
import { useVideos } from '../../api/queries'
import { useOfferUndo } from '../../state/undo'

/** One line of the basket: the sound, its tier, the video that it is for, its price, and what should be known before it is paid. */
export function BasketRow({ line }: { line: BasketLine }) {
  const change = useChangeLine()
  const takeOut = useTakeOut()
  const putBack = usePutIntoBasket()
  const offerUndo = useOfferUndo()
  const videos = useVideos().data?.videos ?? []
  const { id, soundId, title, tier, tiers, videoId, price, notes, isOffered } = line
  const remove = (): void =>
    takeOut.mutate(id, {
      onSuccess: () =>
        offerUndo(messages.money.wasRemovedFromTheBasket(title), () => putBack.mutate({ soundId, tier, videoId })),
    })
  return (
    <li className="border-t ruled py-3 first:border-t-0">
      <div className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-start gap-x-4">
        <Link
          href={`/find?q=${encodeURIComponent(`"${title}"`)}`}
          className="min-w-0 break-words text-lg font-semibold underline-offset-4 hover:underline"
        >
          {title}
        </Link>
        <span className="pt-0.5 text-lg tabular-nums">{price}</span>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={messages.money.removeFromTheBasket(title)}
          disabled={takeOut.isPending}
          onClick={remove}
        >
          <X size={16} aria-hidden="true" />
        </button>
      </div>
      {isOffered && (
        <div className="mt-1 flex flex-wrap gap-x-5 gap-y-2">
          <label className="block">
            <span className="small-label block">{messages.money.tier}</span>
            <select
              className="select select-sm"
              value={tier}
              disabled={change.isPending}
              onChange={(event) => change.mutate({ id, tier: event.target.value })}
            >
              {tiers.map((one) => (
                <option key={one.key} value={one.key}>
                  {one.title} · {one.price}
                  {one.fits === false ? messages.money.doesNotAllowThisVideo : ''}
                </option>
              ))}
            </select>
          </label>
          <label className="block">
            <span className="small-label block">{messages.money.forTheVideo}</span>
            <select
              className="select select-sm"
              value={videoId ?? ''}
              disabled={change.isPending}
              onChange={(event) =>
                change.mutate({ id, videoId: event.target.value ? Number(event.target.value) : null })
              }
            >
              <option value="">{messages.money.noVideoYet}</option>
              {videos.map((video) => (
                <option key={video.id} value={video.id}>
                  {video.title}
                </option>
              ))}
            </select>
          </label>
        </div>
      )}
      {isOffered && tiers.find((one) => one.key === tier)?.fits === false && (
        <p className="mt-1.5 font-medium">{messages.money.thisTierDoesNotAllow}</p>
      )}
      {notes.map((note) => (
        <p key={note} className="mt-1.5">
          {note}
        </p>
      ))}
      {(change.error ?? takeOut.error) && (
        <p role="alert" className="mt-1.5 text-error">
          {(change.error ?? takeOut.error)?.message}
        </p>
      )}
    </li>
  )
}
