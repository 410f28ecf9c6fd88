import { useEffect, useRef } from 'react'
import { usePlayer } from '../../audio/player'

const FLOOR_DB = -48
const FALL_DB_PER_FRAME = 1.2
const SILENT = { transform: 'scaleX(0)' }

/** Peak of what is heard. It is drawn past React: it moves with every frame. */
export function LevelMeter() {
  const { sound, playing, peakDb } = usePlayer()
  const barRef = useRef<HTMLSpanElement>(null)
  useEffect(() => {
    let shown = FLOOR_DB
    let frame = requestAnimationFrame(function draw() {
      shown = Math.max(playing ? peakDb() : FLOOR_DB, shown - FALL_DB_PER_FRAME, FLOOR_DB)
      if (barRef.current) barRef.current.style.transform = `scaleX(${(shown - FLOOR_DB) / -FLOOR_DB})`
      if (playing || shown > FLOOR_DB) frame = requestAnimationFrame(draw)
    })
    return () => cancelAnimationFrame(frame)
  }, [playing, peakDb])
  if (!sound) return null
  return (
    <span className="block h-1.5 w-full overflow-hidden rounded-sm bg-base-300" aria-hidden="true" data-meter>
      <span ref={barRef} className="block h-full origin-left bg-base-content will-change-transform" style={SILENT} />
    </span>
  )
}
