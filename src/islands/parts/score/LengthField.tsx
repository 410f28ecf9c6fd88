import type { LengthAnswer } from '../../../contract'
import { type Placement, placementLengthS, sourceLengthS } from '../../../core/score'
import { messages } from '../../../messages'
import { useFindLength } from '../../api/score-queries'
import type { PlaceActions } from '../../score/use-place-actions'
import { NumberField } from './NumberField'

/** Stretching is offered between these speeds: beyond, it is heard more than a seam. */
const STRETCH = { slowest: 0.5, fastest: 2 } as const

interface LengthFieldProps {
  readonly placement: Placement
  readonly actions: PlaceActions
}

/** How long the chosen sound is heard; another length is made from parts of it, and how well that is hidden is said. */
export function LengthField({ placement, actions }: LengthFieldProps) {
  const find = useFindLength()
  const lengthS = placementLengthS(placement)
  const make = (wantedS: number): boolean => {
    const { audio, fromS, toS, rate } = placement
    if (!(wantedS >= 0.1)) return false
    find.mutate(
      { audio, fromS, toS, wantedS: wantedS * rate },
      { onSuccess: ({ fitted }) => fitted && actions.setPieces(placement.id, fitted.pieces) },
    )
    return true
  }
  const stretched = (wantedS: number): number => (placement.toS - placement.fromS) / wantedS
  const wantedS = (find.variables?.wantedS ?? lengthS) / placement.rate
  const maySuitStretch = stretched(wantedS) >= STRETCH.slowest && stretched(wantedS) <= STRETCH.fastest
  return (
    <>
      <NumberField label={messages.score.lengthS} value={lengthS} step={0.1} onChange={make} />
      <div className="col-span-full text-sm" role="status" data-testid="length-found">
        {find.isPending && <span className="quiet">{messages.score.lookingForWhereItCan}</span>}
        {find.isError && <span className="text-error">{find.error.message}</span>}
        {find.data && !find.isPending && (
          <>
            {lengthWords(find.data, sourceLengthS(placement))}{' '}
            {find.data.fitted?.isGood !== true && maySuitStretch && (
              <button type="button" className="link" onClick={() => actions.stretchTo(placement.id, wantedS)}>
                {messages.score.stretchItInstead}
              </button>
            )}
          </>
        )}
      </div>
    </>
  )
}

function lengthWords({ fitted, barS }: LengthAnswer, nowS: number): string {
  if (!fitted) return messages.score.itHasNoPartThat
  if (fitted.seams === 0) return ''
  const bars = barS ? messages.score.itGoesByWholeBars(barS.toFixed(2), nowS.toFixed(2)) : ''
  const percent = messages.score.of100(Math.round(100 * fitted.quality))
  return fitted.isGood
    ? messages.score.hiddenWell(messages.counts.seams(fitted.seams), percent, bars)
    : messages.score.thatMayBeHeardThis(messages.counts.seams(fitted.seams), percent, bars)
}
