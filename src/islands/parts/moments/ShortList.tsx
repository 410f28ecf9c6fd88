import { useQueries } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { SoundDetail } from '../../../contract'
import { type Moment, meetingS, type PlaceForSound, placeFit, type ShortListed } from '../../../core/moments'
import { messages } from '../../../messages'
import { ask } from '../../api/client'
import { fitCondition } from '../../format/words'
import type { InPlace } from '../../moments/use-in-place'
import { FitMark } from '../shared/VerdictMark'

interface ShortListProps {
  readonly moment: Moment
  readonly place: PlaceForSound
  readonly inPlace: InPlace
  readonly onPick: (soundId: number | null) => void
  readonly onRemove: (soundId: number) => void
  readonly onReason: (soundId: number, reason: string) => void
  /** Given the way to hear each, for the number keys. */
  readonly onHearable: (hear: readonly (() => void)[]) => void
}

/** The sounds that may be the one for a moment, A to F: heard against each other in the cut by the number keys. */
export function ShortList({ moment, place, inPlace, onPick, onRemove, onReason, onHearable }: ShortListProps) {
  const { shortList } = moment
  const queries = useQueries({
    queries: shortList.map(({ soundId }) => ({
      queryKey: ['sound', soundId],
      queryFn: ({ signal }: { signal: AbortSignal }) => ask(`/api/sounds/${soundId}`, SoundDetail, { signal }),
    })),
  })
  const sounds = queries.map(({ data }) => data ?? null)
  const hearAt = (index: number): void => {
    const sound = sounds[index]
    if (!sound) return
    const { gainDb } = placeFit(sound, place)
    inPlace.hear(sound, meetingS(moment), Math.min(12, gainDb ?? 0))
  }
  const live = useRef(hearAt)
  live.current = hearAt
  const count = shortList.length
  useEffect(
    () => onHearable(Array.from({ length: count }, (_, index) => () => live.current(index))),
    [count, onHearable],
  )
  return (
    <section aria-label={messages.moments.shortList} className="border-t ruled px-3 py-2">
      <header className="flex items-center gap-3 text-sm">
        <h3 className="flex-1 font-semibold">{messages.moments.shortList}</h3>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={inPlace.isDucked}
            onChange={({ target }) => inPlace.setDucked(target.checked)}
          />
          {messages.moments.lowerTheCutMeanwhile}
        </label>
      </header>
      {shortList.length === 0 && <p className="quiet text-sm">{messages.moments.nothingOnItYetFind}</p>}
      <ul>
        {shortList.map((one, index) => (
          <Candidate
            key={one.soundId}
            candidate={one}
            number={index + 1}
            sound={sounds[index] ?? null}
            place={place}
            isHeard={inPlace.heardId === one.soundId}
            isPicked={moment.soundId === one.soundId}
            onHear={() => (inPlace.heardId === one.soundId ? inPlace.stop() : hearAt(index))}
            onPick={() => onPick(moment.soundId === one.soundId ? null : one.soundId)}
            onRemove={() => onRemove(one.soundId)}
            onReason={(reason) => onReason(one.soundId, reason)}
          />
        ))}
      </ul>
      {inPlace.problem && (
        <p role="alert" className="text-error text-sm">
          {inPlace.problem}
        </p>
      )}
    </section>
  )
}

interface CandidateProps {
  readonly candidate: ShortListed
  readonly number: number
  readonly sound: SoundDetail | null
  readonly place: PlaceForSound
  readonly isHeard: boolean
  readonly isPicked: boolean
  readonly onHear: () => void
  readonly onPick: () => void
  readonly onRemove: () => void
  readonly onReason: (reason: string) => void
}

function Candidate(props: CandidateProps) {
  const { candidate, number, sound, place, isHeard, isPicked, onHear, onPick, onRemove, onReason } = props
  const fit = sound ? placeFit(sound, place) : null
  const title = sound?.title ?? messages.moments.thisSound
  return (
    <li className="flex items-center gap-2 border-t ruled py-1 text-sm">
      <span className="w-4 font-display font-semibold">{candidate.slot}</span>
      <button
        type="button"
        className={`btn btn-xs ${isHeard ? 'btn-neutral' : ''}`}
        aria-label={messages.moments.hearInTheCutKey(title, number)}
        aria-pressed={isHeard}
        disabled={!sound}
        onClick={onHear}
      >
        {isHeard ? messages.common.stop : messages.moments.hear(number)}
      </button>
      <span className="min-w-0 flex-1 leading-tight">
        <span className={`block truncate ${isPicked ? 'font-semibold' : ''}`}>{sound?.title ?? '…'}</span>
        {fit && (
          <span className="quiet block truncate text-xs">
            {fit.lengthWords} · {fit.hitWords}
            {fit.gainDb !== null && messages.moments.db(fit.gainDb > 0 ? '+' : '', fit.gainDb)}
          </span>
        )}
      </span>
      <ReasonField key={candidate.soundId} reason={candidate.reason} title={title} onReason={onReason} />
      {sound?.fit && <FitMark fit={sound.fit} condition={fitCondition(sound)} />}
      <button
        type="button"
        className={`btn btn-xs ${isPicked ? 'btn-neutral' : ''}`}
        aria-pressed={isPicked}
        onClick={onPick}
      >
        {isPicked ? messages.moments.picked : messages.moments.pick}
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        aria-label={messages.moments.takeOffTheList(title)}
        onClick={onRemove}
      >
        ×
      </button>
    </li>
  )
}

function ReasonField({
  reason,
  title,
  onReason,
}: {
  reason: string
  title: string
  onReason: (reason: string) => void
}) {
  const [text, setText] = useState(reason)
  useEffect(() => setText(reason), [reason])
  return (
    <input
      className="input input-xs w-60 max-lg:w-28"
      aria-label={messages.moments.why(title)}
      placeholder={messages.moments.whyQuestion}
      maxLength={300}
      value={text}
      onChange={({ target }) => setText(target.value)}
      onBlur={() => {
        if (text !== reason) onReason(text)
      }}
    />
  )
}
