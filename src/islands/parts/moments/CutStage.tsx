import type { Cut } from '../../../contract'
import { shortTimecode } from '../../../core/formats/timecode'
import { messages } from '../../../messages'
import { usePlayTime } from '../../audio/play-clock'
import { cutDrops, cutRate } from '../../moments/cut-view'
import type { CutPlayer } from '../../moments/use-cut-player'

interface CutStageProps {
  readonly cut: Cut
  readonly player: CutPlayer
}

/** The picture of the cut, with what it plays. */
export function CutStage({ cut, player }: CutStageProps) {
  const { mediaRef, level, setLevel, speed } = player
  const hasPicture = cut.picture !== null || cut.wantsPicture
  return (
    <div>
      {/* biome-ignore lint/a11y/useMediaCaption: the creator's own cut is played as it is */}
      <video
        ref={mediaRef}
        src={`/api/cuts/${cut.id}`}
        preload="auto"
        playsInline
        aria-label={cut.fileName}
        className={`w-full rounded bg-black ${hasPicture ? 'aspect-video' : 'h-16'}`}
        onClick={player.toggle}
      />
      <div className="mt-1.5 flex items-center gap-3">
        <button type="button" className="btn btn-sm w-20" onClick={player.toggle}>
          {player.isPlaying ? messages.moments.pause : messages.moments.play}
        </button>
        <TimeNow cut={cut} player={player} />
        <span className="quiet text-sm" aria-live="off">
          {speed === 0 || speed === 1 ? '' : speed < 0 ? messages.moments.backwards(-speed) : `${speed}×`}
        </span>
        <label className="ml-auto flex items-center gap-2 text-sm">
          <span className="quiet">{messages.moments.level}</span>
          <input
            type="range"
            className="range range-xs w-16"
            min={0}
            max={1}
            step={0.05}
            value={level}
            onChange={({ target }) => setLevel(Number(target.value))}
          />
        </label>
      </div>
    </div>
  )
}

/** Where the cut stands. */
function TimeNow({ cut, player }: CutStageProps) {
  const timeS = usePlayTime(player.clock)
  return (
    <span className="text-xl font-semibold tabular-nums" data-testid="timecode">
      {shortTimecode(timeS, cutRate(cut), cutDrops(cut))}
    </span>
  )
}
