import type { UsedSoundWire } from '../../../contract'
import type { Moment } from '../../../core/moments'
import { audioKey, type Placement, placementsByMoment } from '../../../core/score'
import { messages } from '../../../messages'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'

interface UsedByMomentProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
  readonly weighed: ReadonlyMap<string, UsedSoundWire>
}

/** What is placed, by the moments that it is placed for: those that have nothing yet are told too. */
export function UsedByMoment({ placeDesk, actions, weighed }: UsedByMomentProps) {
  const { score, moments, timecode } = placeDesk
  const { byMoment, others } = placementsByMoment(score, moments)
  const wanting = byMoment.filter(({ moment, placements }) => moment.kind !== 'silence' && placements.length === 0)
  return (
    <>
      <table className="table table-sm" data-testid="used-by-moment">
        <thead className="text-base-content">
          <tr>
            <th>{messages.score.moment}</th>
            <th>{messages.common.sounds}</th>
          </tr>
        </thead>
        <tbody>
          {byMoment.map(({ moment, placements }) => (
            <tr key={moment.id}>
              <td>
                <span className="tabular-nums">{timecode(moment.atS)}</span> {moment.words}
              </td>
              <td>
                {placements.length > 0 ? (
                  <Sounds placements={placements} weighed={weighed} actions={actions} placeDesk={placeDesk} />
                ) : (
                  <span className="quiet">{nothingWords(moment)}</span>
                )}
              </td>
            </tr>
          ))}
          {others.length > 0 && (
            <tr>
              <td className="quiet">{messages.score.forNoMoment}</td>
              <td>
                <Sounds placements={others} weighed={weighed} actions={actions} placeDesk={placeDesk} />
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {wanting.length > 0 && (
        <p className="mt-2 text-sm">{messages.score.withoutASoundYet(messages.counts.moments(wanting.length))}</p>
      )}
    </>
  )
}

function nothingWords({ kind, weight }: Moment): string {
  if (kind === 'silence') return messages.score.silenceOnPurpose
  return weight === 'must' ? messages.score.nothingYetAndItMust : messages.score.nothingYet
}

function Sounds({
  placements,
  weighed,
  actions,
  placeDesk: { sounds },
}: UsedByMomentProps & { readonly placements: readonly Placement[] }) {
  return (
    <ul>
      {placements.map((placement) => {
        const { audio, isMuted, id } = placement
        const known = weighed.get(audioKey(audio))
        const title = (audio.soundId === null ? undefined : sounds.get(audio.soundId)?.title) ?? known?.title
        return (
          <li key={id}>
            <button
              type="button"
              className="link no-underline"
              title={messages.score.chooseItAndGoThere}
              onClick={() => actions.focusOn([placement])}
            >
              {title ?? messages.score.aSoundThatIsNot}
            </button>
            {isMuted && <span className="quiet"> {messages.score.mutedMark}</span>}
            {known?.open && <span className="quiet text-xs"> {known.open}</span>}
          </li>
        )
      })}
    </ul>
  )
}
