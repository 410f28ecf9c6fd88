import { Bookmark, Play, X } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link } from 'wouter'
import type { SoundSummary } from '../../contract'
import { useShelf, useToggleKept } from '../api/shelf-queries'
import { listeningGainDb } from '../audio/listening-options'
import { usePlayTime } from '../audio/play-clock'
import { usePlayer } from '../audio/player'
import { fitCondition, lengthWords } from '../format/words'
import { PrintView } from '../parts/shared/PrintView'
import { Empty } from '../parts/shared/States'
import { FitMark } from '../parts/shared/VerdictMark'
import { useCompare } from '../state/compare'
import { isTyping } from '../state/keys'
import { useDocumentKeys } from '../state/use-document-keys'
import { useWidth } from '../state/use-width'

/** Two to six sounds, one under the other on one time scale, heard by the keys 1 to 6 at the same loudness. */
export function ComparePlace() {
  const { sounds, clear } = useCompare()
  const player = usePlayer()
  const { play, prefetch } = player
  const boxRef = useRef<HTMLDivElement>(null)
  const widthPx = useWidth(boxRef, 400)
  useEffect(() => prefetch(sounds), [sounds, prefetch])
  useDocumentKeys((event) => {
    const sound = sounds[Number(event.key) - 1]
    if (!sound || isTyping(event)) return
    event.preventDefault()
    play(sound)
  })
  const longestS = Math.max(0.2, ...sounds.map(({ durationS }) => durationS))
  return (
    <div className="h-full overflow-y-auto px-6 py-5">
      <header className="mb-4 flex items-baseline gap-4">
        <h1 className="text-2xl font-semibold">Compare</h1>
        <p className="quiet flex-1">
          Keys 1 to {Math.max(2, sounds.length)} play each from its start
          {player.options.matched ? ', all equally loud' : ', as loud as they are'}.
        </p>
        <Link href="/find" className="underline">
          Back to Find
        </Link>
        {sounds.length > 0 && (
          <button type="button" className="btn btn-sm" onClick={clear}>
            Clear all
          </button>
        )}
      </header>
      {sounds.length === 0 ? (
        <Empty
          title="Nothing is pinned"
          action={
            <Link href="/find" className="btn">
              Go to Find
            </Link>
          }
        >
          Pin two to six sounds in Find, with the key C or the button in a row, to hear them against each other.
        </Empty>
      ) : (
        <div ref={boxRef}>
          <ol aria-label="Compared sounds" className="space-y-2">
            {sounds.map((sound, index) => (
              <Row key={sound.id} sound={sound} number={index + 1} widthPx={widthPx} scaleS={longestS} />
            ))}
          </ol>
        </div>
      )}
    </div>
  )
}

const PRINT_PX = 84

function Row({
  sound,
  number,
  widthPx,
  scaleS,
}: {
  sound: SoundSummary
  number: number
  widthPx: number
  scaleS: number
}) {
  const player = usePlayer()
  const compare = useCompare()
  const toggleKept = useToggleKept()
  // What was pinned is as it was then; the Shelf knows what is kept now.
  const kept = useShelf().data?.sounds.find(({ id }) => id === sound.id)?.kept ?? false
  const current = player.sound?.id === sound.id
  const timeS = usePlayTime(player.clock, current)
  const gainDb = listeningGainDb(sound.loudnessLufs, player.options.matched)
  return (
    <li
      className={`border-b ruled pb-2 ${current ? 'shadow-[inset_4px_0_0_var(--color-primary)]' : ''}`}
      aria-current={current}
    >
      <div className="flex items-center gap-3 px-3 py-1">
        <button
          type="button"
          className="btn btn-sm"
          aria-label={`Play ${sound.title}`}
          onClick={() => player.play(sound)}
        >
          <Play size={14} aria-hidden="true" /> <kbd>{number}</kbd>
        </button>
        <span className="min-w-0 flex-1">
          <span className="block truncate font-semibold leading-tight">{sound.title}</span>
          <span className="quiet block truncate text-sm leading-tight">
            {[sound.maker, sound.source.name, sound.cost].filter(Boolean).join(' · ')}
          </span>
        </span>
        <span className="w-16 text-right">{lengthWords(sound.durationS)}</span>
        <span className="w-44 text-right">
          {sound.loudnessLufs === null ? 'not measured' : `${sound.loudnessLufs.toFixed(1)} LUFS`}
          {gainDb !== 0 && (
            <span className="quiet">
              {' '}
              ({gainDb > 0 ? '+' : '−'}
              {Math.abs(gainDb).toFixed(0)} dB)
            </span>
          )}
        </span>
        <span className="w-32">
          <FitMark fit={sound.fit} condition={fitCondition(sound)} />
        </span>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Keep ${sound.title}`}
          aria-pressed={kept}
          onClick={() => toggleKept({ id: sound.id, kept })}
        >
          <Bookmark size={16} fill={kept ? 'currentColor' : 'none'} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Remove ${sound.title}`}
          onClick={() => compare.toggle(sound)}
        >
          <X size={16} aria-hidden="true" />
        </button>
      </div>
      {sound.print && (
        <PrintView
          print={sound.print}
          durationS={sound.durationS}
          widthPx={widthPx}
          heightPx={PRINT_PX}
          pxPerS={widthPx / scaleS}
          timeS={timeS}
          part={current ? player.part : null}
          onPick={(at) => player.play(sound, at)}
          onScrub={player.seek}
        />
      )}
    </li>
  )
}
