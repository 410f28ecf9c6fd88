import { Search } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'wouter'
import {
  MOMENT_KINDS,
  MOMENT_WEIGHTS,
  type Moment,
  type MomentKind,
  type MomentValues,
  type MomentWeight,
} from '../../../core/moments'
import { messages } from '../../../messages'
import { KIND_WORDS, WEIGHT_WORDS } from '../../format/moment-words'

interface MomentDetailsProps {
  /** The chosen ones, at least one. */
  readonly moments: readonly Moment[]
  readonly timecode: (timeS: number) => string
  readonly findAddress: string
  readonly onChange: (to: Partial<MomentValues>, words: string) => void
  readonly onNudge: (frames: number) => void
  readonly onRemove: () => void
  /** Moves all moments from this one on. */
  readonly onShiftAfter: (byS: number) => void
}

/** What is said of the chosen moments, and what can be done with them. */
export function MomentDetails(props: MomentDetailsProps) {
  const { moments, timecode, findAddress, onChange, onNudge, onRemove, onShiftAfter } = props
  const [first] = moments as [Moment]
  const several = moments.length > 1
  const same = <T,>(read: (moment: Moment) => T): T | '' =>
    moments.every((moment) => read(moment) === read(first)) ? read(first) : ''
  return (
    <section aria-label={messages.moments.chosenMoment} className="border-t ruled px-3 py-2">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <span className="min-w-0 flex-1 truncate font-semibold">
          {several
            ? messages.moments.momentCount(moments.length)
            : first.words || messages.moments.momentAt(timecode(first.atS))}
        </span>
        <fieldset className="flex items-center gap-1" aria-label={messages.moments.moveByFrames}>
          <button
            type="button"
            className="btn btn-xs"
            aria-label={messages.moments.oneFrameEarlier}
            onClick={() => onNudge(-1)}
          >
            −1
          </button>
          <button
            type="button"
            className="btn btn-xs"
            aria-label={messages.moments.oneFrameLater}
            onClick={() => onNudge(1)}
          >
            +1
          </button>
        </fieldset>
        {!several && (
          <Link href={findAddress} className="btn btn-neutral btn-xs" aria-keyshortcuts="f">
            <Search size={13} aria-hidden="true" /> {messages.moments.findSounds}
          </Link>
        )}
        <button type="button" className="btn btn-ghost btn-xs" onClick={onRemove}>
          {messages.common.remove}
        </button>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <label className="flex items-center gap-1.5">
          <span className="quiet">{messages.common.kind}</span>
          <select
            className="select select-xs w-32"
            value={same(({ kind }) => kind)}
            onChange={({ target }) => onChange({ kind: target.value as MomentKind }, messages.moments.changeTheKind)}
          >
            {same(({ kind }) => kind) === '' && <option value="">{messages.moments.several}</option>}
            {MOMENT_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {KIND_WORDS[kind]}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5">
          <span className="quiet">{messages.moments.matters}</span>
          <select
            className="select select-xs w-28"
            value={same(({ weight }) => weight)}
            onChange={({ target }) =>
              onChange({ weight: target.value as MomentWeight }, messages.moments.changeHowMuchItMatters)
            }
          >
            {same(({ weight }) => weight) === '' && <option value="">{messages.moments.several}</option>}
            {MOMENT_WEIGHTS.map((weight) => (
              <option key={weight} value={weight}>
                {WEIGHT_WORDS[weight]}
              </option>
            ))}
          </select>
        </label>
        {!several && (
          <NoteField
            key={first.id}
            note={first.note}
            onNote={(note) => onChange({ note }, messages.moments.changeTheNote)}
          />
        )}
        {!several && <ShiftAfter onShift={onShiftAfter} />}
      </div>
    </section>
  )
}

function NoteField({ note, onNote }: { note: string; onNote: (note: string) => void }) {
  const [text, setText] = useState(note)
  useEffect(() => setText(note), [note])
  return (
    <label className="flex min-w-40 flex-1 items-center gap-1.5">
      <span className="quiet">{messages.common.note}</span>
      <input
        className="input input-xs w-full"
        maxLength={2000}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && text !== note) onNote(text)
        }}
        onBlur={() => {
          if (text !== note) onNote(text)
        }}
      />
    </label>
  )
}

/** After a re-cut: this and everything behind it by so much. */
function ShiftAfter({ onShift }: { onShift: (byS: number) => void }) {
  const [seconds, setSeconds] = useState('')
  const byS = Number(seconds.replace(',', '.'))
  const isUsable = seconds.trim() !== '' && Number.isFinite(byS) && byS !== 0
  return (
    <form
      className="flex items-center gap-1.5"
      onSubmit={(event) => {
        event.preventDefault()
        if (!isUsable) return
        onShift(byS)
        setSeconds('')
        // What was typed is done: the next undo is of the moments.
        if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
      }}
    >
      <label className="flex items-center gap-1.5">
        <span className="quiet">{messages.moments.fromHereOnBy}</span>
        <input
          className="input input-xs w-16"
          inputMode="decimal"
          placeholder="−1.5"
          aria-label={messages.moments.moveThisAndAllLater}
          value={seconds}
          onChange={({ target }) => setSeconds(target.value)}
        />
        <span className="quiet">s</span>
      </label>
      <button type="submit" className="btn btn-xs" disabled={!isUsable}>
        {messages.moments.move}
      </button>
    </form>
  )
}
