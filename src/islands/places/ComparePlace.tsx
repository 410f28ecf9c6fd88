import { Bookmark, Play, X } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link } from 'wouter'
import type { SoundSummary } from '../../contract'
import { messages } from '../../messages'
import { useShelf, useToggleKept } from '../api/shelf-queries'
import { listeningGainDb } from '../audio/listening-options'
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
        <h1 className="text-2xl font-semibold">{messages.common.compare}</h1>
        <p className="quiet flex-1">
          {sounds.length > 0 && (
            <>
              {messages.find.keys1ToPlayEach(Math.max(2, sounds.length))}
              {player.options.matched ? messages.find.allEquallyLoud : messages.find.asLoudAsTheyAre}.
            </>
          )}
        </p>
        <Link href="/find" className="underline">
          {messages.find.backToFind}
        </Link>
        {sounds.length > 0 && (
          <button type="button" className="btn btn-sm" onClick={clear}>
            {messages.find.clearAll}
          </button>
        )}
      </header>
      {sounds.length === 0 ? (
        <Empty
          title={messages.find.nothingIsPinned}
          action={
            <Link href="/find" className="btn">
              {messages.common.goToFind}
            </Link>
          }
        >
          {messages.find.pinTwoToSixSounds}
        </Empty>
      ) : (
        <div ref={boxRef}>
          <ol aria-label={messages.find.comparedSounds} className="space-y-2">
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
          aria-label={messages.find.play(sound.title)}
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
          {sound.loudnessLufs === null ? messages.find.notMeasured : messages.find.lufs(sound.loudnessLufs.toFixed(1))}
          {gainDb !== 0 && (
            <span className="quiet">
              {' '}
              ({gainDb > 0 ? '+' : '−'}
              {messages.find.playedDb(Math.abs(gainDb).toFixed(0))}
            </span>
          )}
        </span>
        <span className="w-32">
          <FitMark fit={sound.fit} condition={fitCondition(sound)} />
        </span>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={messages.find.keep(sound.title)}
          aria-pressed={kept}
          onClick={() => toggleKept({ id: sound.id, kept })}
        >
          <Bookmark size={16} fill={kept ? 'currentColor' : 'none'} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={messages.find.removeFromCompare(sound.title)}
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
          clock={current ? player.clock : null}
          part={current ? player.part : null}
          onPick={(at) => player.play(sound, at)}
          onScrub={player.seek}
        />
      )}
    </li>
  )
}
