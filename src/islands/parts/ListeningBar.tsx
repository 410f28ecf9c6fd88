import { Pause, Play } from 'lucide-react'
import { useRef } from 'react'
import { usePlayer } from '../state/player'
import { useWidth } from '../state/use-width'
import { clock } from '../state/words'
import { PrintView } from './PrintView'

/** The listening bar at the foot: what plays, its whole print, and where it stands. It stays from place to place. */
export function ListeningBar() {
  const { sound, playing, timeS, error, toggle, play } = usePlayer()
  const boxRef = useRef<HTMLDivElement>(null)
  const widthPx = useWidth(boxRef, 100)
  return (
    <section aria-label="Listening" className="flex h-16 items-center gap-4 border-t ruled bg-base-200 px-4">
      <button
        type="button"
        className="btn btn-circle btn-sm"
        onClick={toggle}
        disabled={!sound}
        aria-label={playing ? 'Stop listening' : 'Listen'}
      >
        {playing ? <Pause size={16} aria-hidden="true" /> : <Play size={16} aria-hidden="true" />}
      </button>
      <div className="w-56 min-w-0 shrink-0 max-sm:w-32">
        <p className="truncate font-semibold leading-tight" data-testid="listening-title">
          {sound?.title ?? 'Nothing is playing'}
        </p>
        <p className={`truncate text-sm leading-tight ${error ? 'text-error' : 'quiet'}`}>
          {error ??
            (sound ? [sound.maker, sound.source.name].filter(Boolean).join(', ') : 'Move through the list to hear')}
        </p>
      </div>
      <div ref={boxRef} className="min-w-0 flex-1">
        {sound?.print && (
          <PrintView
            print={sound.print}
            durationS={sound.durationS}
            widthPx={widthPx}
            heightPx={44}
            timeS={timeS}
            onPick={(at) => play(sound, at)}
          />
        )}
      </div>
      <div className="w-40 shrink-0 text-right text-sm max-sm:hidden">
        <p className="leading-tight" data-testid="listening-time" data-playing={playing}>
          {sound ? `${clock(timeS)} / ${clock(sound.durationS)}` : ''}
        </p>
        <p className="quiet leading-tight">
          {sound?.loudnessLufs != null ? `${sound.loudnessLufs.toFixed(1)} LUFS` : ''}
        </p>
      </div>
    </section>
  )
}
