import { Link } from 'wouter'
import type { CheckDetail } from '../../../contract'
import { messages } from '../../../messages'
import { usePlannedHeard } from '../../api/score-queries'
import { clock } from '../../format/words'

interface PlannedSoundsProps {
  readonly check: CheckDetail
  readonly onSeek: (timeS: number) => void
}

/** What was placed in the cut, held against what this check heard. Nothing is said where nothing is placed. */
export function PlannedSounds({ check, onSeek }: PlannedSoundsProps) {
  const found = usePlannedHeard(check.videoId, check.id)
  if (!found.data || found.data.checkId !== check.id) return null
  const { both, heardOnly, plannedOnly, isSamePlan, mutedCount } = found.data
  const placed = both.length + plannedOnly.length
  if (placed === 0) return null
  return (
    <section aria-label={messages.clearance.plannedAndHeard} data-testid="planned-sounds">
      <h2 className="mb-1 text-2xl font-semibold">{messages.clearance.plannedAndHeard}</h2>
      <p className="text-sm">
        {messages.clearance.placedAndHeard(both.length, messages.counts.placedSounds(placed))}
        {mutedCount > 0 && messages.clearance.mutedAndNotLookedFor(messages.counts.placedSoundsAre(mutedCount))}
        {isSamePlan === false && messages.clearance.whatIsPlacedWasChanged}
        {isSamePlan === null && messages.clearance.thisCheckDoesNotTell}{' '}
        <Link className="link" href={`/videos/${check.videoId}/in-place`}>
          {messages.clearance.whatIsPlaced}
        </Link>
      </p>
      <Places
        title={messages.clearance.heardAsPlanned}
        places={both.map(({ title, plannedS, laterS }) => ({ title, atS: plannedS + laterS }))}
        onSeek={onSeek}
      />
      <Places
        title={messages.clearance.plannedAndNotHeard}
        places={plannedOnly.map(({ title, plannedS }) => ({ title, atS: plannedS }))}
        onSeek={onSeek}
      />
      <Places
        title={messages.clearance.heardAndNotPlanned}
        places={heardOnly.map(({ title, startS }) => ({ title, atS: startS }))}
        onSeek={onSeek}
      />
    </section>
  )
}

interface PlacesProps {
  readonly title: string
  readonly places: readonly { readonly title: string; readonly atS: number }[]
  readonly onSeek: (timeS: number) => void
}

function Places({ title, places, onSeek }: PlacesProps) {
  if (places.length === 0) return null
  return (
    <details className="border-b ruled py-1.5 text-sm" open={places.length <= 8}>
      <summary className="cursor-pointer">
        {title} <span className="quiet">{places.length}</span>
      </summary>
      <ul className="mt-1 max-h-56 overflow-y-auto">
        {places.map((place) => (
          <li key={`${place.atS} ${place.title}`}>
            <button type="button" className="link tabular-nums no-underline" onClick={() => onSeek(place.atS)}>
              {clock(place.atS)}
            </button>{' '}
            {place.title}
          </li>
        ))}
      </ul>
    </details>
  )
}
