import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { TimeRange } from '../../core/time-range'
import { followMedia } from '../audio/follow-media'
import { PlayClock } from '../audio/play-clock'
import { usePlayer } from '../audio/player'
import type { FrameGrid } from './frames'

/** Speeds that the keys step through, forwards; backwards the same. */
const SPEEDS = [1, 1.5, 2, 4, 8]
/** Backwards is played by seeking this often, ms. */
const BACK_STEP_MS = 100

/** How the cut plays. */
export interface CutPlayer {
  readonly mediaRef: RefObject<HTMLVideoElement | null>
  readonly clock: PlayClock
  readonly isPlaying: boolean
  /** Negative for backwards; 0 while it stands. */
  readonly speed: number
  readonly level: number
  readonly isLooping: boolean
  toggle(): void
  /** Forwards; again: faster. */
  forwards(): void
  /** Backwards; again: faster. */
  backwards(): void
  stop(): void
  /** Goes to the frame that is shown at a time. */
  seek(timeS: number): void
  /** Goes on or back by frames, and stands. */
  step(frames: number): void
  setLevel(level: number): void
  /** How loud the cut's own sound is in the mix, 0 to 1: both count. */
  setOwnGain(gain: number): void
  setLooping(isLooping: boolean): void
}

/**
 * Plays a cut frame by frame, at several speeds, forwards and backwards, with a loop of the marked part.
 *
 * @param part What is looped, or null. @param ready Changes when another media element is there.
 */
export function useCutPlayer(frames: FrameGrid, part: TimeRange | null, ready: unknown): CutPlayer {
  const mediaRef = useRef<HTMLVideoElement>(null)
  const [clock] = useState(() => new PlayClock())
  const [speed, setSpeed] = useState(0)
  const [level, setLevelState] = useState(1)
  const [ownGain, setOwnGain] = useState(1)
  const [isLooping, setLooping] = useState(false)
  const sounds = usePlayer()
  const live = useRef({ frames, part, isLooping, speed, sounds })
  live.current = { frames, part, isLooping, speed, sounds }
  // biome-ignore lint/correctness/useExhaustiveDependencies: `ready` names the element that is followed
  useEffect(() => (mediaRef.current ? followMedia(mediaRef.current, clock) : undefined), [clock, ready])
  useEffect(() => {
    if (sounds.playing) mediaRef.current?.pause()
  }, [sounds.playing])

  const seek = useCallback(
    (timeS: number) => {
      const media = mediaRef.current
      const { frames: grid } = live.current
      if (!media) return
      // The middle of the frame: its start may be rounded to the one before.
      media.currentTime = grid.middleS(grid.at(Math.max(0, timeS)))
      clock.set(Math.max(0, timeS))
    },
    [clock],
  )
  const stop = useCallback(() => {
    mediaRef.current?.pause()
    setSpeed(0)
  }, [])
  const play = useCallback((rate: number) => {
    const media = mediaRef.current
    if (!media) return
    live.current.sounds.stop()
    setSpeed(rate)
    if (rate < 0) {
      media.pause()
      return
    }
    media.playbackRate = rate
    media.play().catch(() => setSpeed(0))
  }, [])
  useBackwards(mediaRef, speed, clock, stop)
  useLoop(clock, live, seek)
  useEffect(() => {
    if (mediaRef.current) mediaRef.current.volume = level * ownGain
  }, [level, ownGain])

  const actions = useMemo(
    () => ({
      toggle: () => (live.current.speed === 0 ? play(1) : stop()),
      forwards: () => play(nextSpeed(live.current.speed)),
      backwards: () => play(-nextSpeed(-live.current.speed)),
      stop,
      seek,
      step: (by: number) => {
        stop()
        const { frames: grid } = live.current
        seek(grid.startS(Math.max(0, grid.at(clock.now()) + by)))
      },
      setLevel: (next: number) => setLevelState(Math.max(0, Math.min(1, next))),
      setOwnGain,
      setLooping,
    }),
    [play, stop, seek, clock],
  )
  useEffect(() => {
    const media = mediaRef.current
    if (!media) return
    const onEnded = (): void => setSpeed(0)
    const onPause = (): void => setSpeed((now) => Math.min(0, now))
    media.addEventListener('ended', onEnded)
    media.addEventListener('pause', onPause)
    return () => {
      media.removeEventListener('ended', onEnded)
      media.removeEventListener('pause', onPause)
    }
  })
  return { mediaRef, clock, isPlaying: speed !== 0, speed, level, isLooping, ...actions }
}

/** From standing or the other way: 1; else the next of the speeds. */
function nextSpeed(speed: number): number {
  if (speed <= 0) return 1
  return SPEEDS.find((one) => one > speed) ?? (SPEEDS[SPEEDS.length - 1] as number)
}

/** No browser plays backwards: it is gone back step by step. */
function useBackwards(
  mediaRef: RefObject<HTMLVideoElement | null>,
  speed: number,
  clock: PlayClock,
  stop: () => void,
): void {
  useEffect(() => {
    if (speed >= 0) return
    const timer = setInterval(() => {
      const media = mediaRef.current
      if (!media) return
      // A frame that is still being looked for is waited for.
      if (media.seeking) return
      const next = clock.now() + (speed * BACK_STEP_MS) / 1000
      media.currentTime = Math.max(0, next)
      clock.set(Math.max(0, next))
      if (next <= 0) stop()
    }, BACK_STEP_MS)
    return () => clearInterval(timer)
  }, [mediaRef, speed, clock, stop])
}

/** At the end of the part that is looped it goes back to its start. */
function useLoop(
  clock: PlayClock,
  live: { readonly current: { part: TimeRange | null; isLooping: boolean; speed: number } },
  seek: (timeS: number) => void,
): void {
  useEffect(
    () =>
      clock.subscribe(() => {
        const { part, isLooping, speed } = live.current
        if (part && isLooping && speed > 0 && clock.now() >= part.endS) seek(part.startS)
      }),
    [clock, live, seek],
  )
}
