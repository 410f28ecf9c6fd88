import { useState } from 'react'
import { dipsUnder, withDip } from '../../../core/mix'
import type { DuckRule } from '../../../core/score'
import { messages } from '../../../messages'
import type { PlaceDesk } from '../../score/use-score-desk'
import { NumberField } from './NumberField'

interface DipFieldProps {
  readonly duck: DuckRule
  readonly placeDesk: PlaceDesk
  readonly onChange: (duck: DuckRule) => boolean
}

/** Each way down of a layer by itself: one after the other, the playhead goes along. */
export function DipField({ duck, placeDesk: { speech, player, timecode }, onChange }: DipFieldProps) {
  const [at, setAt] = useState(0)
  const dips = dipsUnder(duck, speech)
  const dip = dips[Math.min(at, dips.length - 1)]
  if (!dip) return <p className="quiet col-span-full text-sm">{messages.score.nobodySpeaksInThisCut}</p>
  const go = (by: number): void => {
    const next = (Math.min(at, dips.length - 1) + by + dips.length) % dips.length
    setAt(next)
    player.seek(dips[next]?.downFromS ?? 0)
  }
  const isByHand = dip.depthDb !== duck.depthDb
  return (
    <fieldset className="col-span-full flex flex-wrap items-end gap-2 text-sm" aria-label={messages.score.oneDip}>
      <button type="button" className="btn btn-sm" onClick={() => go(-1)} aria-label={messages.score.theDipBefore}>
        ‹
      </button>
      <span className="pb-1.5 tabular-nums" data-testid="dip">
        {messages.score.ofAt(Math.min(at, dips.length - 1) + 1, dips.length, timecode(dip.speechS))}
      </span>
      <button type="button" className="btn btn-sm" onClick={() => go(1)} aria-label={messages.score.theDipAfter}>
        ›
      </button>
      <span className="w-28">
        <NumberField
          label={messages.score.thisDipByDb}
          value={dip.depthDb}
          step={1}
          onChange={(depthDb) => onChange(withDip(duck, dip.speechS, depthDb))}
        />
      </span>
      {isByHand && (
        <button type="button" className="link pb-1.5" onClick={() => onChange(withDip(duck, dip.speechS, null))}>
          {messages.score.likeTheOthers}
        </button>
      )}
    </fieldset>
  )
}
