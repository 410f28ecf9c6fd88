import { Ear, History, Pause, Play, Repeat, X } from 'lucide-react'
import { useRef } from 'react'
import { messages } from '../../../messages'
import { listeningGainDb, RATES } from '../../audio/listening-options'
import { usePlayTime } from '../../audio/play-clock'
import { usePlayer } from '../../audio/player'
import { clock } from '../../format/words'
import { useWidth } from '../../state/use-width'
import { Menu } from '../shared/Menu'
import { PrintView } from '../shared/PrintView'
import { LevelMeter } from './LevelMeter'

/** The listening bar at the foot: what plays, its whole print, the marked part, its level, and what comes next. It stays from place to place. */
export function ListeningBar() {
  const player = usePlayer()
  const { sound, playing, error, part, next, toggle, play, seek } = player
  const boxRef = useRef<HTMLDivElement>(null)
  const widthPx = useWidth(boxRef, 100)
  return (
    <section
      aria-label={messages.shell.listening}
      className="flex h-16 items-center gap-3 border-t ruled bg-base-200 px-4"
    >
      <button
        type="button"
        className="btn btn-circle btn-sm"
        onClick={toggle}
        disabled={!sound}
        aria-label={playing ? messages.shell.stopListening : messages.shell.listen}
      >
        {playing ? <Pause size={16} aria-hidden="true" /> : <Play size={16} aria-hidden="true" />}
      </button>
      <div className="w-52 min-w-0 shrink-0 max-sm:w-32">
        <p className="truncate font-semibold leading-tight" data-testid="listening-title">
          {sound?.title ?? messages.shell.nothingIsPlaying}
        </p>
        <p className={`truncate text-sm leading-tight ${error ? 'text-error' : 'quiet'}`} data-testid="listening-next">
          {error ??
            (sound
              ? next
                ? messages.shell.next(next.title)
                : sound.source.name
              : messages.shell.moveThroughTheListTo)}
        </p>
      </div>
      <div ref={boxRef} className="min-w-0 flex-1 touch-none">
        {sound?.print && (
          <PrintView
            print={sound.print}
            durationS={sound.durationS}
            widthPx={widthPx}
            heightPx={44}
            clock={player.clock}
            part={part}
            onPick={(at) => (playing ? seek(at) : play(sound, at))}
            onScrub={seek}
          />
        )}
      </div>
      <div className="w-36 shrink-0 text-right text-sm max-sm:hidden">
        <TimeHeard />
        <Loudness />
        <LevelMeter />
      </div>
      <div className="flex shrink-0 items-center max-lg:hidden">
        <PartControls />
        <HowToListen />
        <HeardBefore />
      </div>
    </section>
  )
}

function TimeHeard() {
  const { clock: playClock, playing, sound } = usePlayer()
  const timeS = usePlayTime(playClock, 0.1)
  return (
    <p className="leading-tight" data-testid="listening-time" data-playing={playing}>
      {sound ? `${clock(timeS)} / ${clock(sound.durationS)}` : ''}
    </p>
  )
}

/** The true loudness, and how much it is changed for listening. */
function Loudness() {
  const { sound, options } = usePlayer()
  if (sound?.loudnessLufs == null) return <p className="h-4" />
  const gainDb = listeningGainDb(sound.loudnessLufs, options.matched)
  const sign = gainDb > 0 ? '+' : '−'
  return (
    <p className="quiet leading-tight" title={messages.shell.itsOwnLoudnessAndBy}>
      {messages.shell.lufs(sound.loudnessLufs.toFixed(1))}
      {gainDb !== 0 && messages.shell.db(sign, Math.abs(gainDb).toFixed(0))}
    </p>
  )
}

function PartControls() {
  const { sound, part, options, setOptions, setPart } = usePlayer()
  if (!sound || !part) return null
  return (
    <span className="flex items-center gap-0.5 text-sm" data-testid="marked-part">
      {part.startS.toFixed(2)}–{part.endS.toFixed(2)} s
      <button
        type="button"
        className={`btn btn-xs btn-square ${options.loopPart ? 'btn-neutral' : 'btn-ghost'}`}
        aria-pressed={options.loopPart}
        aria-label={messages.shell.loopThePart}
        onClick={() => setOptions({ loopPart: !options.loopPart })}
      >
        <Repeat size={14} aria-hidden="true" />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={messages.shell.clearThePart}
        onClick={() => setPart(null)}
      >
        <X size={14} aria-hidden="true" />
      </button>
    </span>
  )
}

const SWITCHES = [
  ['matched', messages.shell.allEquallyLoud],
  ['mono', messages.shell.inMonoOption],
  ['loopPart', messages.shell.loopTheMarkedPart],
  ['playOn', messages.shell.goOnToTheNext],
  ['hover', messages.shell.hearAPrintByPointing],
] as const

function HowToListen() {
  const { options, setOptions } = usePlayer()
  return (
    <Menu
      label={<Ear size={18} aria-hidden="true" />}
      name={messages.shell.howToListen}
      side="right"
      above
      className="btn btn-ghost btn-sm btn-square"
    >
      {() => (
        <div className="w-60 space-y-1.5">
          {SWITCHES.map(([key, words]) => (
            <label key={key} className="flex cursor-pointer items-center gap-2">
              <input
                type="checkbox"
                className="toggle toggle-sm"
                checked={options[key]}
                onChange={({ target }) => setOptions({ [key]: target.checked })}
              />
              {words}
            </label>
          ))}
          <label className="flex items-center gap-2">
            <span className="flex-1">{messages.shell.speed}</span>
            <select
              className="select select-sm w-24"
              value={options.rate}
              onChange={({ target }) => setOptions({ rate: Number(target.value) })}
            >
              {RATES.map((rate) => (
                <option key={rate} value={rate}>
                  {rate} ×
                </option>
              ))}
            </select>
          </label>
        </div>
      )}
    </Menu>
  )
}

function HeardBefore() {
  const { heard, play } = usePlayer()
  return (
    <Menu
      label={<History size={18} aria-hidden="true" />}
      name={messages.shell.heardInThisSession}
      side="right"
      above
      className="btn btn-ghost btn-sm btn-square"
    >
      {() =>
        heard.length === 0 ? (
          <p className="w-60">{messages.shell.whatYouHearIsListed}</p>
        ) : (
          <ol aria-label={messages.shell.heardInThisSession} className="w-72">
            {heard.map((sound) => (
              <li key={sound.id}>
                <button
                  type="button"
                  className="flex w-full items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-base-200"
                  onClick={() => play(sound)}
                >
                  <span className="min-w-0 flex-1 truncate">{sound.title}</span>
                  <span className="quiet text-sm">{sound.durationS.toFixed(1)} s</span>
                </button>
              </li>
            ))}
          </ol>
        )
      }
    </Menu>
  )
}
