import type { SoundDetail } from '../../../contract'
import type { Moment } from '../../../core/moments'
import type { Placement } from '../../../core/score'
import { messages } from '../../../messages'
import { KIND_WORDS } from '../../format/moment-words'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'

/** The moments of the cut, each with its sound: placed already, to be placed, or still to be found. */
export function PlaceMoments({ placeDesk, actions }: { placeDesk: PlaceDesk; actions: PlaceActions }) {
  const { moments, timecode, player } = placeDesk
  const wanted = moments.filter(({ kind }) => kind !== 'silence')
  const firstId = wanted.find((moment) => soundFor(moment, placeDesk) && !placementFor(moment, placeDesk))?.id
  return (
    <section aria-label={messages.score.momentsToPlaceSoundsFor}>
      <h2 className="mb-1 text-lg font-semibold">{messages.common.moments}</h2>
      {wanted.length === 0 && <p className="quiet text-sm">{messages.score.noMomentIsNotedYet}</p>}
      <ul>
        {wanted.map((moment) => (
          <li key={moment.id} className="flex items-center gap-3 border-b ruled py-1.5 text-sm">
            <button
              type="button"
              className="link w-16 tabular-nums no-underline"
              onClick={() => player.seek(moment.atS)}
            >
              {timecode(moment.atS)}
            </button>
            <span className="min-w-0 flex-1 truncate">
              {moment.words || KIND_WORDS[moment.kind]} <span className="quiet">{KIND_WORDS[moment.kind]}</span>
            </span>
            <PlaceState moment={moment} placeDesk={placeDesk} actions={actions} isFirst={moment.id === firstId} />
          </li>
        ))}
      </ul>
    </section>
  )
}

interface PlaceStateProps {
  readonly moment: Moment
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
  /** The first that is still to be placed: what to do next. */
  readonly isFirst: boolean
}

function PlaceState({ moment, placeDesk, actions, isFirst }: PlaceStateProps) {
  const { video } = placeDesk
  const placed = placementFor(moment, placeDesk)
  if (placed)
    return (
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => actions.choose(placed.id)}>
        {messages.score.placed}
      </button>
    )
  const sound = soundFor(moment, placeDesk)
  if (!sound)
    return (
      <a className="btn btn-ghost btn-xs" href={`/videos/${video.id}/moments?moment=${encodeURIComponent(moment.id)}`}>
        {messages.common.findASound}
      </a>
    )
  return (
    <button
      type="button"
      className={`btn btn-xs max-w-64 ${isFirst ? 'btn-primary' : ''}`}
      onClick={() => actions.place(moment, sound)}
      aria-label={messages.score.placeFor(sound.title, moment.words || KIND_WORDS[moment.kind])}
    >
      <span className="truncate">{messages.score.placeSound(sound.title)}</span>
    </button>
  )
}

function placementFor(moment: Moment, { score }: PlaceDesk): Placement | undefined {
  return score.placements.find(({ target }) => target?.kind === 'moment' && target.momentId === moment.id)
}

/** The sound that was picked for a moment, else the first of its short list. */
function soundFor({ soundId, shortList }: Moment, { sounds }: PlaceDesk): SoundDetail | undefined {
  const candidates = [soundId, ...shortList.map((one) => one.soundId)]
  return candidates.map((id) => (id === null ? undefined : sounds.get(id))).find(Boolean)
}
