import { useCallback, useEffect, useRef, useState } from 'react'
import type { TimeRange } from '../../../core/time-range'
import { followMedia } from '../../audio/follow-media'
import { PlayClock } from '../../audio/play-clock'
import { usePlayer } from '../../audio/player'

/** Seconds of run-up before a heard sound when it is played in the video. */
const RUN_UP_S = 0.4

/** Plays the finished video from places and up to ends; listening to a sound stops it, and the other way round. */
export function useVideoPlayback() {
  const mediaRef = useRef<HTMLVideoElement>(null)
  const player = usePlayer()
  const [clock] = useState(() => new PlayClock())
  const [isPlaying, setIsPlaying] = useState(false)
  useEffect(() => (mediaRef.current ? followMedia(mediaRef.current, clock) : undefined), [clock])
  // Two sounds at once would fool the ear.
  useEffect(() => {
    if (player.playing) mediaRef.current?.pause()
  }, [player.playing])
  // What is played up to its end: a marked part, until something else is played.
  const upToRef = useRef<TimeRange | null>(null)
  const playAt = useCallback(
    (startS: number) => {
      const media = mediaRef.current
      if (!media) return
      upToRef.current = null
      media.currentTime = Math.max(0, startS - RUN_UP_S)
      media.play().catch(() => clock.set(startS))
    },
    [clock],
  )
  const playPart = useCallback(
    (part: TimeRange): void => {
      const media = mediaRef.current
      if (!media) return
      upToRef.current = part
      media.currentTime = part.startS
      media.play().catch(() => clock.set(part.startS))
      requestAnimationFrame(function watch() {
        if (upToRef.current !== part || media.paused) return
        if (media.currentTime < part.endS) requestAnimationFrame(watch)
        else media.pause()
      })
    },
    [clock],
  )
  return { mediaRef, clock, isPlaying, setIsPlaying, playAt, playPart, stopSounds: player.stop }
}
