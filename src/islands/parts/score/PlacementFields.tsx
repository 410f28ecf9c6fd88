import { type ReactNode, useState } from 'react'
import {
  FADE_CURVES,
  type Fade,
  type FadeCurve,
  hitOffsetsS,
  hitTimeS,
  meetsTarget,
  type Placement,
  placedAt,
  placementEndS,
  TREATMENT_KINDS,
  type TreatmentKind,
} from '../../../core/score'
import { messages } from '../../../messages'
import { CURVE_WORDS, TREATMENT_WORDS } from '../../format/score-words'
import { coverWords } from '../../score/cover-words'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'
import { SoundPicker } from '../shared/SoundPicker'
import { BedChoices, BedFields } from './BedFields'
import { Check } from './Check'
import { LengthField } from './LengthField'
import { LineFields } from './LineFields'
import { NumberField } from './NumberField'
import { SitField } from './SitField'

interface FieldsProps {
  readonly placement: Placement
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
}

/** The exact values of the chosen sound. */
export function PlacementFields({ placement, placeDesk, actions }: FieldsProps) {
  const { sounds, moments, timecode } = placeDesk
  const [isReplacing, setIsReplacing] = useState(false)
  const own = placement.audio.soundId === null ? undefined : sounds.get(placement.audio.soundId)
  // A bed goes by the name of its whole.
  const sound = placement.bed ? sounds.get(placement.bed.soundId) : own
  const { target, bed } = placement
  const line = placeDesk.stem ?? placement
  const endS = Math.max(...placeDesk.chosen.map(placementEndS))
  const lengthS = endS - placement.startS
  const masked = placeDesk.masking.byId.get(placement.id)
  const cover = masked && coverWords(masked)
  const meets = meetsTarget(placement, { moments })
  const targetMoment = target?.kind === 'moment' ? moments.find(({ id }) => id === target.momentId) : undefined
  const targetWords = targetMoment?.words || messages.score.theMoment
  return (
    <section aria-label={messages.score.chosenSound}>
      <header className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-lg font-semibold">{sound?.title ?? messages.score.aSoundThatIsNot}</h2>
        <span className="quiet text-sm">
          {timecode(placement.startS)}, {lengthS.toFixed(2)} s
          {bed && messages.score.in(placeDesk.chosen.length, bed.kind)}
        </span>
      </header>
      <p className="mb-1.5 text-sm" data-testid="lined-up">
        {targetMoment &&
          meets &&
          (placement.hitS === null ? messages.score.itBeginsWith : messages.score.itsHitMeets)(targetWords)}
        {targetMoment && !meets && (
          <>
            {(placement.hitS === null ? messages.score.itDoesNotBeginWith : messages.score.itsHitDoesNotMeet)(
              targetWords,
            )}{' '}
            <button type="button" className="link" onClick={actions.lineUp}>
              {messages.score.lineItUp}
            </button>
          </>
        )}
        {!targetMoment && messages.score.itIsNotLinedUp}
        {cover && <span className="block text-error">{messages.score.it(cover)}</span>}
      </p>
      <div className="mb-2 flex flex-wrap gap-1.5">
        <Action onClick={actions.mute} keys="M">
          {placement.isMuted ? messages.score.unmute : messages.score.mute}
        </Action>
        <Action
          onClick={() =>
            actions.changeSafely(({ isReversed }) => ({ isReversed: !isReversed }), messages.score.reverse)
          }
        >
          {placement.isReversed ? messages.score.playForwards : messages.score.reverse}
        </Action>
        <Action onClick={actions.splitHere} keys="V">
          {messages.score.split}
        </Action>
        <Action onClick={actions.duplicate} keys="U">
          {messages.score.duplicate}
        </Action>
        <Action onClick={() => actions.addPoint('gainPoints')} keys="P">
          {messages.score.levelPoint}
        </Action>
        <Action onClick={() => actions.addPoint('panPoints')}>{messages.score.panPoint}</Action>
        <BedChoices placement={placement} entry={sound} lengthS={lengthS} actions={actions} />
        <Action onClick={() => setIsReplacing(!isReplacing)}>
          {isReplacing ? messages.score.cancelReplacing : messages.score.replace}
        </Action>
        <Action onClick={actions.remove} keys="Del">
          {messages.common.remove}
        </Action>
      </div>
      {isReplacing && (
        <div className="mb-3 max-w-md">
          <SoundPicker
            sound={null}
            label={messages.score.replaceItWith}
            onPick={({ id }) => {
              setIsReplacing(false)
              void actions.replaceWith(id)
            }}
          />
        </div>
      )}
      <div className="grid grid-cols-6 gap-x-3 gap-y-1 max-lg:grid-cols-3">
        {bed && <BedFields placeDesk={placeDesk} actions={actions} />}
        <TimeFields placement={placement} placeDesk={placeDesk} actions={actions} />
        <LevelFields placement={placement} actions={actions} />
        <FadeFields placement={placement} actions={actions} />
        <TreatmentFields placement={placement} actions={actions} />
        {bed?.kind === 'parts' ? (
          <NumberField
            label={messages.score.lengthInWholeLoopsS}
            value={lengthS}
            step={1}
            onChange={(wantedS) => sound && void actions.bed.inParts(sound, wantedS)}
          />
        ) : (
          <LengthField placement={placement} actions={actions} />
        )}
        {!bed && <SitField placement={placement} placeDesk={placeDesk} actions={actions} />}
        <LineFields placement={line} actions={actions} />
      </div>
    </section>
  )
}

function Action({ onClick, keys, children }: { onClick: () => void; keys?: string; children: ReactNode }) {
  return (
    <button type="button" className="btn btn-sm px-2.5" onClick={onClick}>
      {children} {keys && <kbd className="kbd kbd-xs">{keys}</kbd>}
    </button>
  )
}

type PartProps = Pick<FieldsProps, 'placement' | 'actions'>

function TimeFields({ placement, placeDesk, actions }: FieldsProps) {
  const hitS = hitTimeS(placement)
  const hits = hitOffsetsS(placement).length
  return (
    <>
      <NumberField
        label={hitS === null ? messages.score.startS : messages.score.hitS}
        value={hitS ?? placement.startS}
        step={0.001}
        onChange={(atS) => actions.move(placeDesk.chosen, atS - (hitS ?? placement.startS))}
      />
      {hits > 1 && (
        <NumberField
          label={messages.score.whichHit1To(hits)}
          value={Math.min(placement.hitRepeat + 1, hits)}
          step={1}
          onChange={(which) => actions.meetWith(Math.min(hits, Math.max(1, Math.round(which))) - 1)}
        />
      )}
      {placement.bed?.kind !== 'parts' && (
        <>
          <NumberField
            label={messages.score.fromS}
            value={placement.fromS}
            step={0.01}
            onChange={(fromS) => actions.changeSafely(() => ({ fromS }), messages.score.trim)}
          />
          <NumberField
            label={messages.score.toS}
            value={placement.toS}
            step={0.01}
            onChange={(toS) => actions.changeSafely(() => ({ toS }), messages.score.trim)}
          />
        </>
      )}
    </>
  )
}

function LevelFields({ placement, actions }: PartProps) {
  return (
    <>
      {!placement.bed && (
        <NumberField
          label={messages.score.levelDb}
          value={placement.gainDb}
          step={0.5}
          onChange={(gainDb) => actions.change(() => ({ gainDb }), messages.score.setTheLevel)}
        />
      )}
      <NumberField
        label={messages.score.pan1To1}
        value={placement.pan}
        step={0.1}
        onChange={(pan) => actions.change(() => ({ pan }), messages.score.panField)}
      />
      {placement.bed?.kind !== 'parts' && <SpeedFields placement={placement} actions={actions} />}
    </>
  )
}

function SpeedFields({ placement, actions }: PartProps) {
  return (
    <>
      <NumberField
        label={messages.score.speed}
        value={placement.rate}
        step={0.05}
        onChange={(next) =>
          actions.changeSafely((one) => {
            const atS = hitTimeS(one)
            const changed = { ...one, rate: next }
            return { rate: next, startS: atS === null ? one.startS : placedAt(changed, atS).startS }
          }, messages.score.setTheSpeed)
        }
      />
      {placement.rate !== 1 && (
        <Check
          label={messages.score.keepThePitch}
          checked={placement.keepsPitch}
          onChange={(keepsPitch) => actions.change(() => ({ keepsPitch }), messages.score.keepThePitch)}
        />
      )}
    </>
  )
}

function FadeFields({ placement, actions }: PartProps) {
  const set = (which: 'fadeIn' | 'fadeOut', lengthS: number, curve: FadeCurve): boolean => {
    const fade: Fade | null = lengthS > 0 ? { lengthS, curve, isAutomatic: false } : null
    return actions.changeSafely(() => (which === 'fadeIn' ? { fadeIn: fade } : { fadeOut: fade }), messages.score.fade)
  }
  const { fadeIn, fadeOut } = placement
  const curve = fadeOut?.curve ?? fadeIn?.curve ?? 'equal-power'
  return (
    <>
      <NumberField
        label={fadeIn?.isAutomatic ? messages.score.fadeInAutoS : messages.score.fadeInS}
        value={fadeIn?.lengthS ?? 0}
        step={0.01}
        onChange={(lengthS) => set('fadeIn', lengthS, curve)}
      />
      <NumberField
        label={fadeOut?.isAutomatic ? messages.score.fadeOutAutoS : messages.score.fadeOutS}
        value={fadeOut?.lengthS ?? 0}
        step={0.01}
        onChange={(lengthS) => set('fadeOut', lengthS, curve)}
      />
      <label className="block text-sm">
        <span className="quiet block">{messages.score.fadeCurve}</span>
        <select
          className="select select-sm w-full"
          value={curve}
          disabled={!fadeIn && !fadeOut}
          onChange={({ target }) => {
            const next = target.value as FadeCurve
            actions.change(
              (one) => ({
                fadeIn: one.fadeIn && { ...one.fadeIn, curve: next },
                fadeOut: one.fadeOut && { ...one.fadeOut, curve: next },
              }),
              messages.score.changeTheCurve,
            )
          }}
        >
          {FADE_CURVES.map((one) => (
            <option key={one} value={one}>
              {CURVE_WORDS[one]}
            </option>
          ))}
        </select>
      </label>
    </>
  )
}

function TreatmentFields({ placement, actions }: PartProps) {
  const [first] = placement.treatments
  return (
    <>
      <label className="block text-sm">
        <span className="quiet block">{messages.score.soundsAs}</span>
        <select
          className="select select-sm w-full"
          value={first?.kind ?? ''}
          onChange={({ target }) => {
            const kind = target.value as TreatmentKind | ''
            const treatments = kind ? [{ kind, amountFraction: first?.amountFraction ?? 0.6 }] : []
            actions.change(() => ({ treatments }), messages.score.treat)
          }}
        >
          <option value="">{messages.score.itIs}</option>
          {TREATMENT_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {TREATMENT_WORDS[kind]}
            </option>
          ))}
        </select>
      </label>
      {first && (
        <NumberField
          label={messages.score.amount0To1}
          value={first.amountFraction}
          step={0.1}
          onChange={(amountFraction) =>
            actions.change(() => ({ treatments: [{ ...first, amountFraction }] }), messages.score.treat)
          }
        />
      )}
    </>
  )
}
