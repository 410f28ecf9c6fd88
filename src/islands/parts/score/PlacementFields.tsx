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
  placementLengthS,
  TREATMENT_KINDS,
  type TreatmentKind,
} from '../../../core/score'
import { CURVE_WORDS, TREATMENT_WORDS } from '../../format/score-words'
import { coverWords } from '../../score/cover-words'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'
import { SoundPicker } from '../shared/SoundPicker'
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
  const sound = placement.audio.soundId === null ? undefined : sounds.get(placement.audio.soundId)
  const { target } = placement
  const masked = placeDesk.masking.byId.get(placement.id)
  const cover = masked && coverWords(masked)
  const meets = meetsTarget(placement, { moments })
  const targetMoment = target?.kind === 'moment' ? moments.find(({ id }) => id === target.momentId) : undefined
  return (
    <section aria-label="Chosen sound">
      <header className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-lg font-semibold">{sound?.title ?? 'A sound that is not here'}</h2>
        <span className="quiet text-sm">
          {timecode(placement.startS)}, {placementLengthS(placement).toFixed(2)} s
        </span>
      </header>
      <p className="mb-1.5 text-sm" data-testid="lined-up">
        {targetMoment && meets && (
          <>
            {placement.hitS === null ? 'It begins with' : 'Its hit meets'} “{targetMoment.words || 'the moment'}”.
          </>
        )}
        {targetMoment && !meets && (
          <>
            {placement.hitS === null ? 'It does not begin with' : 'Its hit does not meet'} “
            {targetMoment.words || 'the moment'}” yet.{' '}
            <button type="button" className="link" onClick={actions.lineUp}>
              Line it up
            </button>
          </>
        )}
        {!targetMoment && 'It is not lined up with a moment.'}
        {cover && <span className="block text-error">It {cover}</span>}
      </p>
      <div className="mb-2 flex flex-wrap gap-1.5">
        <Action onClick={actions.mute} keys="M">
          {placement.isMuted ? 'Unmute' : 'Mute'}
        </Action>
        <Action onClick={() => actions.changeSafely(({ isReversed }) => ({ isReversed: !isReversed }), 'Reverse')}>
          {placement.isReversed ? 'Play forwards' : 'Reverse'}
        </Action>
        <Action onClick={actions.splitHere} keys="V">
          Split
        </Action>
        <Action onClick={actions.duplicate} keys="U">
          Duplicate
        </Action>
        <Action onClick={() => actions.addPoint('gainPoints')} keys="P">
          Level point
        </Action>
        <Action onClick={() => actions.addPoint('panPoints')}>Pan point</Action>
        <Action onClick={() => setIsReplacing(!isReplacing)}>{isReplacing ? 'Cancel replacing' : 'Replace …'}</Action>
        <Action onClick={actions.remove} keys="Del">
          Remove
        </Action>
      </div>
      {isReplacing && (
        <div className="mb-3 max-w-md">
          <SoundPicker
            sound={null}
            label="Replace it with"
            onPick={({ id }) => {
              setIsReplacing(false)
              void actions.replaceWith(id)
            }}
          />
        </div>
      )}
      <div className="grid grid-cols-6 gap-x-3 gap-y-1 max-lg:grid-cols-3">
        <TimeFields placement={placement} actions={actions} />
        <LevelFields placement={placement} actions={actions} />
        <FadeFields placement={placement} actions={actions} />
        <TreatmentFields placement={placement} actions={actions} />
        <LengthField placement={placement} actions={actions} />
        <SitField placement={placement} placeDesk={placeDesk} actions={actions} />
        <LineFields placement={placement} actions={actions} />
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

function TimeFields({ placement, actions }: PartProps) {
  const hitS = hitTimeS(placement)
  const hits = hitOffsetsS(placement).length
  return (
    <>
      <NumberField
        label={hitS === null ? 'Start (s)' : 'Hit (s)'}
        value={hitS ?? placement.startS}
        step={0.001}
        onChange={(atS) => actions.change((one) => ({ startS: placedAt(one, atS).startS }), 'Move')}
      />
      {hits > 1 && (
        <NumberField
          label={`Which hit (1 to ${hits})`}
          value={Math.min(placement.hitRepeat + 1, hits)}
          step={1}
          onChange={(which) => actions.meetWith(Math.min(hits, Math.max(1, Math.round(which))) - 1)}
        />
      )}
      <NumberField
        label="From (s)"
        value={placement.fromS}
        step={0.01}
        onChange={(fromS) => actions.changeSafely(() => ({ fromS }), 'Trim')}
      />
      <NumberField
        label="To (s)"
        value={placement.toS}
        step={0.01}
        onChange={(toS) => actions.changeSafely(() => ({ toS }), 'Trim')}
      />
    </>
  )
}

function LevelFields({ placement, actions }: PartProps) {
  return (
    <>
      <NumberField
        label="Level (dB)"
        value={placement.gainDb}
        step={0.5}
        onChange={(gainDb) => actions.change(() => ({ gainDb }), 'Set the level')}
      />
      <NumberField
        label="Pan (-1 to 1)"
        value={placement.pan}
        step={0.1}
        onChange={(pan) => actions.change(() => ({ pan }), 'Pan')}
      />
      <NumberField
        label="Speed"
        value={placement.rate}
        step={0.05}
        onChange={(next) =>
          actions.changeSafely((one) => {
            const atS = hitTimeS(one)
            const changed = { ...one, rate: next }
            return { rate: next, startS: atS === null ? one.startS : placedAt(changed, atS).startS }
          }, 'Set the speed')
        }
      />
      {placement.rate !== 1 && (
        <Check
          label="Keep the pitch"
          checked={placement.keepsPitch}
          onChange={(keepsPitch) => actions.change(() => ({ keepsPitch }), 'Keep the pitch')}
        />
      )}
    </>
  )
}

function FadeFields({ placement, actions }: PartProps) {
  const set = (which: 'fadeIn' | 'fadeOut', lengthS: number, curve: FadeCurve): boolean => {
    const fade: Fade | null = lengthS > 0 ? { lengthS, curve, isAutomatic: false } : null
    return actions.changeSafely(() => (which === 'fadeIn' ? { fadeIn: fade } : { fadeOut: fade }), 'Fade')
  }
  const { fadeIn, fadeOut } = placement
  const curve = fadeOut?.curve ?? fadeIn?.curve ?? 'equal-power'
  return (
    <>
      <NumberField
        label={fadeIn?.isAutomatic ? 'Fade in, auto (s)' : 'Fade in (s)'}
        value={fadeIn?.lengthS ?? 0}
        step={0.01}
        onChange={(lengthS) => set('fadeIn', lengthS, curve)}
      />
      <NumberField
        label={fadeOut?.isAutomatic ? 'Fade out, auto (s)' : 'Fade out (s)'}
        value={fadeOut?.lengthS ?? 0}
        step={0.01}
        onChange={(lengthS) => set('fadeOut', lengthS, curve)}
      />
      <label className="block text-sm">
        <span className="quiet block">Fade curve</span>
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
              'Change the curve',
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
        <span className="quiet block">Sounds as</span>
        <select
          className="select select-sm w-full"
          value={first?.kind ?? ''}
          onChange={({ target }) => {
            const kind = target.value as TreatmentKind | ''
            const treatments = kind ? [{ kind, amountFraction: first?.amountFraction ?? 0.6 }] : []
            actions.change(() => ({ treatments }), 'Treat')
          }}
        >
          <option value="">it is</option>
          {TREATMENT_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {TREATMENT_WORDS[kind]}
            </option>
          ))}
        </select>
      </label>
      {first && (
        <NumberField
          label="Amount (0 to 1)"
          value={first.amountFraction}
          step={0.1}
          onChange={(amountFraction) => actions.change(() => ({ treatments: [{ ...first, amountFraction }] }), 'Treat')}
        />
      )}
    </>
  )
}
