import { Pause, Play } from 'lucide-react'
import { useDeferredValue, useMemo, useState } from 'react'
import type { SoundSummary } from '../../../contract'
import { messages } from '../../../messages'
import { useSounds } from '../../api/find-queries'
import { useShell } from '../../api/queries'
import { useShelf } from '../../api/shelf-queries'
import { usePlayer } from '../../audio/player'
import { fitCondition, lengthWords } from '../../format/words'
import { SOUND_DRAG_TYPE } from '../../score/sound-drag'
import type { PlaceActions } from '../../score/use-place-actions'
import { fromQuestion } from '../../state/find-state'
import { shelfSounds } from '../../state/shelf-view'
import { Failed } from '../shared/States'
import { FitMark } from '../shared/VerdictMark'
import { Choice } from './Choice'

/** So many are offered; a longer word finds fewer. */
const SHOWN = 20
const WHERE = { find: messages.score.allSounds, shelf: messages.score.keptSoundsAndCopies } as const
type Where = keyof typeof WHERE

/** Sounds by their words, to be dragged onto a layer or placed at the playhead, without any moment. */
export function AddSound({ videoId, actions }: { videoId: number; actions: PlaceActions }) {
  const [text, setText] = useState('')
  const [where, setWhere] = useState<Where>('find')
  const q = useDeferredValue(text.trim())
  const { sounds, isLoading, error, retry } = useOffered(where, q)
  // What may be used is told for the video in hand only.
  const isInHand = useShell().data?.videoInHandId === videoId
  return (
    <section aria-label={messages.score.addASound} className="mt-6">
      <h2 className="text-lg font-semibold">{messages.score.addASound}</h2>
      <div className="mt-1 flex flex-wrap gap-2">
        <input
          type="search"
          aria-label={messages.score.wordsOfTheSound}
          className="input input-sm w-64"
          placeholder={messages.score.wordsOfTheSoundHint}
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
        <Choice name={messages.score.lookIn} value={where} values={WHERE} onChange={setWhere} />
      </div>
      {error && <Failed error={error} onRetry={retry} />}
      {sounds.length > 0 && (
        <>
          <p className="quiet mt-1 text-xs">{messages.score.dragOneOntoALayer}</p>
          <ul className="mt-1 max-h-64 overflow-y-auto">
            {sounds.map((sound) => (
              <Offered key={sound.id} sound={sound} actions={actions} isInHand={isInHand} />
            ))}
          </ul>
        </>
      )}
      {q === '' && where === 'find' && <p className="quiet mt-1 text-sm">{messages.score.typeAWordOrLook}</p>}
      {isLoading && <p className="quiet mt-1 text-sm">{messages.score.looking}</p>}
      {!error && !isLoading && (q !== '' || where === 'shelf') && sounds.length === 0 && (
        <p className="quiet mt-1 text-sm">{messages.score.noSoundHereHasAll}</p>
      )}
    </section>
  )
}

interface Offer {
  readonly sounds: readonly SoundSummary[]
  readonly isLoading: boolean
  readonly error: Error | null
  readonly retry: () => void
}

function useOffered(where: Where, q: string): Offer {
  const found = useSounds(useMemo(() => fromQuestion(q), [q]))
  const shelf = useShelf()
  const query = where === 'find' ? found : shelf
  // What was found for the words before would be placed by mistake.
  const isLoading = (where === 'shelf' || q !== '') && (query.isPending || query.isPlaceholderData)
  const offered = (): readonly SoundSummary[] => {
    if (isLoading || (where === 'find' && q === '')) return []
    if (where === 'find') return found.data?.pages[0]?.sounds ?? []
    return shelf.data ? shelfSounds(shelf.data, { kind: 'all' }, q) : []
  }
  return { sounds: offered().slice(0, SHOWN), isLoading, error: query.error, retry: () => void query.refetch() }
}

interface OfferedProps {
  readonly sound: SoundSummary
  readonly actions: PlaceActions
  readonly isInHand: boolean
}

function Offered({ sound, actions, isInHand }: OfferedProps) {
  const player = usePlayer()
  const isHeard = player.playing && player.sound?.id === sound.id
  return (
    <li
      draggable
      className="flex cursor-grab items-center gap-3 border-b ruled py-1 text-sm"
      data-sound={sound.id}
      onDragStart={({ dataTransfer }) => {
        dataTransfer.setData(SOUND_DRAG_TYPE, String(sound.id))
        dataTransfer.effectAllowed = 'copy'
      }}
    >
      <button
        type="button"
        className="btn btn-sm btn-square btn-ghost"
        aria-label={isHeard ? messages.score.stop(sound.title) : messages.score.hear(sound.title)}
        onClick={() => (isHeard ? player.stop() : player.play(sound))}
      >
        {isHeard ? <Pause className="size-4" aria-hidden="true" /> : <Play className="size-4" aria-hidden="true" />}
      </button>
      <span className="min-w-0 flex-1 truncate">
        {sound.title} <span className="quiet">{lengthWords(sound.durationS)}</span>
      </span>
      <span className="w-36 shrink-0 truncate">
        {isInHand ? (
          <FitMark fit={sound.fit} condition={fitCondition(sound)} />
        ) : (
          <span className="quiet">{sound.source.name}</span>
        )}
      </span>
      <button
        type="button"
        className="btn btn-sm"
        aria-label={messages.score.placeAtThePlayhead(sound.title)}
        onClick={() => void actions.placeSound(sound.id)}
      >
        {messages.score.place}
      </button>
    </li>
  )
}
