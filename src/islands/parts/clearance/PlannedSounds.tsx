import { Link } from 'wouter'
import type { CheckDetail } from '../../../contract'
import { usePlannedHeard } from '../../api/score-queries'
import { clock, counted } from '../../format/words'

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
    <section aria-label="Planned and heard" data-testid="planned-sounds">
      <h2 className="mb-1 text-2xl font-semibold">Planned and heard</h2>
      <p className="text-sm">
        {both.length} of {counted(placed, 'placed sound')} {both.length === 1 ? 'was' : 'were'} heard.
        {mutedCount > 0 && ` ${counted(mutedCount, 'placed sound is', 'placed sounds are')} muted and not looked for.`}
        {isSamePlan === false && ' What is placed was changed after this check.'}
        {isSamePlan === null && ' This check does not tell what was placed when it was made.'}{' '}
        <Link className="link" href={`/videos/${check.videoId}/in-place`}>
          What is placed
        </Link>
      </p>
      <Places
        title="Heard as planned"
        places={both.map(({ title, plannedS, laterS }) => ({ title, atS: plannedS + laterS }))}
        onSeek={onSeek}
      />
      <Places
        title="Planned and not heard"
        places={plannedOnly.map(({ title, plannedS }) => ({ title, atS: plannedS }))}
        onSeek={onSeek}
      />
      <Places
        title="Heard and not planned"
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
