import { useState } from 'react'
import { gainToSit, loudnessBeside } from '../../../core/mix'
import { type Placement, placementEndS } from '../../../core/score'
import { messages } from '../../../messages'
import { useMeasurePlaced } from '../../api/score-queries'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'

interface SitFieldProps {
  readonly placement: Placement
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
}

/** What sits under the voice by so much, LU, as a first try. */
const USUAL_LU = -6
const MOST_LU = 40

/** Sets the level of the chosen sound by what is heard beside it: the voice, or the cut where nobody speaks. */
export function SitField({ placement, placeDesk, actions }: SitFieldProps) {
  const { content, speech, score } = placeDesk
  const measure = useMeasurePlaced()
  const [text, setText] = useState(String(USUAL_LU))
  const [words, setWords] = useState<string | null>(null)
  const offsetLu = Number(text)
  const isNumber = text.trim() !== '' && Math.abs(offsetLu) <= MOST_LU
  const beside = loudnessBeside(content.momentaryLufs, speech, {
    startS: placement.startS,
    endS: placementEndS(placement),
  })
  const sit = (): void => {
    if (!beside || !isNumber) return
    setWords(null)
    measure.mutate(placement, {
      onSuccess: ({ lufs }) => {
        if (lufs === null) {
          setWords(messages.score.itIsTooShortOr)
          return
        }
        const layerDb = score.layers.find(({ id }) => id === placement.layerId)?.levelDb ?? 0
        const gainDb = gainToSit(lufs + layerDb, beside.lufs, offsetLu)
        if (!actions.change(() => ({ gainDb }), messages.score.sitToTheVoice)) return
        const reached = lufs + layerDb + gainDb - beside.lufs
        setWords(
          messages.score.itSitsThere(
            sitWords(reached),
            beside.what === 'voice' ? messages.score.theVoice : messages.score.theCut,
          ),
        )
      },
    })
  }
  return (
    <form
      className="col-span-full flex flex-wrap items-end gap-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault()
        sit()
      }}
    >
      <label className="block">
        <span className="quiet block">
          {beside?.what === 'cut' ? messages.score.toTheCutLu : messages.score.toTheVoiceLu}
        </span>
        <input
          type="number"
          className="input input-sm w-24 tabular-nums"
          step={1}
          min={-MOST_LU}
          max={MOST_LU}
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
      </label>
      <button type="submit" className="btn btn-sm" disabled={!beside || !isNumber || measure.isPending}>
        {measure.isPending ? messages.score.measuring : messages.score.setTheLevelByIt}
      </button>
      <span role="status" data-testid="sits">
        {!beside && <span className="quiet">{messages.score.nothingIsHeardInThe}</span>}
        {measure.isError && <span className="text-error">{measure.error.message}</span>}
        {words}
      </span>
    </form>
  )
}

/** "6.0 LU under", "2.5 LU over", "as loud as". */
function sitWords(lu: number): string {
  if (Math.abs(lu) < 0.05) return messages.score.asLoudAs
  return `${Math.abs(lu).toFixed(1)} LU ${lu < 0 ? messages.score.under : messages.score.over}`
}
