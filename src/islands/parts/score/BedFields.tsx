import { useState } from 'react'
import type { SoundDetail } from '../../../contract'
import type { Placement } from '../../../core/score'
import { partsInOrder } from '../../../core/sound-choices'
import { messages } from '../../../messages'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'
import { NumberField } from './NumberField'

/** How far a stem goes down by itself, dB, until another value is set. */
const DEPTH_DB = 9

interface BedFieldsProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
}

/** The stems or parts of a chosen bed: the level of each, and how it goes down and comes up over time. */
export function BedFields({ placeDesk, actions }: BedFieldsProps) {
  const { chosen, stem, setStemId, sounds, speech } = placeDesk
  const [depthDb, setDepthDb] = useState(DEPTH_DB)
  if (!stem?.bed) return null
  const isStems = stem.bed.kind === 'stems'
  const nameOf = (one: Placement): string => {
    const sound = one.audio.soundId === null ? undefined : sounds.get(one.audio.soundId)
    return sound?.choiceOf?.name ?? sound?.title ?? messages.score.notHere
  }
  return (
    <fieldset className="col-span-full mb-2 border-b ruled pb-2 text-sm">
      <legend className="quiet">{isStems ? messages.score.stems : messages.score.parts}</legend>
      <ul className="grid grid-cols-3 gap-x-3 gap-y-1 max-lg:grid-cols-2">
        {chosen.map((one) => (
          <li key={one.id} data-stem={nameOf(one)}>
            <label className={`flex items-center gap-2 ${one.id === stem.id ? 'font-semibold' : ''}`}>
              <input
                type="radio"
                name="stem"
                className="radio radio-xs"
                checked={one.id === stem.id}
                onChange={() => setStemId(one.id)}
              />
              {nameOf(one)}
            </label>
            <div className="flex items-end gap-2">
              <span className="w-24">
                <NumberField
                  label={messages.score.levelDb}
                  value={one.gainDb}
                  step={0.5}
                  onChange={(gainDb) => actions.changeStem(one, () => ({ gainDb }), messages.score.setTheLevel)}
                />
              </span>
              <button
                type="button"
                className="btn btn-sm"
                aria-pressed={one.isMuted}
                onClick={() =>
                  actions.changeStem(
                    one,
                    () => ({ isMuted: !one.isMuted }),
                    one.isMuted ? messages.score.unmute : messages.score.mute,
                  )
                }
              >
                {one.isMuted ? messages.score.unmute : messages.score.mute}{' '}
                <span className="sr-only">{nameOf(one)}</span>
              </button>
            </div>
          </li>
        ))}
      </ul>
      <div className="mt-1.5 flex flex-wrap items-end gap-2">
        <span className="w-24">
          <NumberField
            label={messages.score.byDb}
            value={depthDb}
            step={1}
            onChange={(db) => db > 0 && setDepthDb(db)}
          />
        </span>
        <button
          type="button"
          className="btn btn-sm"
          disabled={speech.length === 0}
          title={speech.length === 0 ? messages.score.noSpeechWasFoundIn : undefined}
          onClick={() => actions.bed.thinner(stem, depthDb)}
        >
          {messages.score.thinnerUnderSpeechOf(nameOf(stem))}
        </button>
        <button type="button" className="btn btn-sm" onClick={() => actions.bed.fuller(stem, depthDb)}>
          {messages.score.fullerFromThePlayhead(nameOf(stem))}
        </button>
      </div>
    </fieldset>
  )
}

interface BedChoicesProps {
  readonly placement: Placement
  /** The sound that it is the whole of. */
  readonly entry: SoundDetail | undefined
  readonly lengthS: number
  readonly actions: PlaceActions
}

/** The ways in which music can be placed: as one sound, in stems, in its library's own parts. */
export function BedChoices({ placement, entry, lengthS, actions }: BedChoicesProps) {
  if (!entry) return null
  const stems = entry.choices.filter(({ role }) => role === 'stem')
  const kind = placement.bed?.kind ?? null
  return (
    <>
      {kind === null && stems.length > 1 && (
        <button type="button" className="btn btn-sm px-2.5" onClick={() => void actions.bed.inStems(placement, entry)}>
          {messages.score.inStems(stems.length)}
        </button>
      )}
      {kind === null && partsInOrder(entry.choices) && (
        <button type="button" className="btn btn-sm px-2.5" onClick={() => void actions.bed.inParts(entry, lengthS)}>
          {messages.score.inParts}
        </button>
      )}
      {kind !== null && (
        <button type="button" className="btn btn-sm px-2.5" onClick={() => void actions.bed.asOneSound(entry)}>
          {messages.score.asOneSound}
        </button>
      )}
    </>
  )
}
