import { useEffect, useRef } from 'react'
import type { PlayClock } from '../../audio/play-clock'

interface PlayheadProps {
  readonly clock: PlayClock
  /** How long it takes over the width of what it lies in, s. */
  readonly widthS: number
}

/** Where the sound stands, over its picture. It is moved past React and in a layer of its own: nothing else is drawn anew with every frame. */
export function Playhead({ clock, widthS }: PlayheadProps) {
  const ref = useRef<HTMLSpanElement>(null)
  useEffect(() => {
    const move = (): void => {
      if (ref.current) ref.current.style.transform = `translateX(${((100 * clock.now()) / widthS).toFixed(3)}%)`
    }
    move()
    return clock.subscribe(move)
  }, [clock, widthS])
  return (
    <span ref={ref} className="pointer-events-none absolute inset-0 will-change-transform" data-playhead>
      <span className="absolute inset-y-0 left-0 w-0.5 bg-primary" />
    </span>
  )
}
