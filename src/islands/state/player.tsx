import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react'
import type { SoundSummary } from '../../contract'

/** What the listening bar shows and what every place can do with it. */
export interface Player {
  readonly sound: SoundSummary | null
  readonly playing: boolean
  readonly timeS: number
  /** Why the sound cannot be heard, in a sentence; null when it can. */
  readonly error: string | null
  play(sound: SoundSummary, fromS?: number): void
  toggle(): void
  stop(): void
  seek(timeS: number): void
  /** Fetches audio that will probably be wanted next. */
  prefetch(ids: readonly number[]): void
}

const PlayerContext = createContext<Player | null>(null)

/** One audio element for the whole application, so that listening goes on from place to place. */
export function PlayerProvider({ children }: { children: ReactNode }) {
  const audioRef = useRef<HTMLAudioElement | null>(null)
  const fetchedRef = useRef(new Set<number>())
  const [sound, setSound] = useState<SoundSummary | null>(null)
  const [playing, setPlaying] = useState(false)
  const [timeS, setTimeS] = useState(0)
  const [error, setError] = useState<string | null>(null)
  useEffect(() => frameClock(audioRef, playing, setTimeS), [playing])

  const play = useCallback((next: SoundSummary, fromS = 0) => {
    const audio = audioRef.current
    if (!audio) return
    const address = `/api/sounds/${next.id}/audio`
    if (!audio.src.endsWith(address)) audio.src = address
    audio.currentTime = fromS
    setSound(next)
    setTimeS(fromS)
    setError(null)
    audio.play().catch((reason: unknown) => {
      // A newer play or a stop came in between: that is no failure.
      if (!(reason instanceof DOMException && reason.name === 'AbortError'))
        setError('This sound cannot be heard: its audio is not here. Synchronise its source.')
    })
  }, [])
  const stop = useCallback(() => audioRef.current?.pause(), [])
  const toggle = useCallback(() => {
    const audio = audioRef.current
    if (!audio?.src) return
    if (audio.paused) void audio.play().catch(() => setError('This sound cannot be heard.'))
    else audio.pause()
  }, [])
  const seek = useCallback((at: number) => {
    if (!audioRef.current) return
    audioRef.current.currentTime = at
    setTimeS(at)
  }, [])
  const prefetch = useCallback((ids: readonly number[]) => {
    for (const id of ids) {
      if (fetchedRef.current.has(id)) continue
      fetchedRef.current.add(id)
      void fetch(`/api/sounds/${id}/audio`, { priority: 'low' }).catch(() => fetchedRef.current.delete(id))
    }
  }, [])
  const player = useMemo(
    () => ({ sound, playing, timeS, error, play, toggle, stop, seek, prefetch }),
    [sound, playing, timeS, error, play, toggle, stop, seek, prefetch],
  )
  return (
    <PlayerContext value={player}>
      {children}
      {/* biome-ignore lint/a11y/useMediaCaption: sound effects have no words to caption */}
      <audio
        ref={audioRef}
        preload="auto"
        onPlay={() => setPlaying(true)}
        onPause={() => setPlaying(false)}
        onEnded={() => setPlaying(false)}
      />
    </PlayerContext>
  )
}

/** Follows the element's clock on every frame while it plays: its own event comes too seldom for a playhead. */
function frameClock(
  audioRef: { readonly current: HTMLAudioElement | null },
  playing: boolean,
  onTime: (timeS: number) => void,
): () => void {
  if (!playing) return () => {}
  let frame = requestAnimationFrame(function tick() {
    if (audioRef.current) onTime(audioRef.current.currentTime)
    frame = requestAnimationFrame(tick)
  })
  return () => cancelAnimationFrame(frame)
}

export function usePlayer(): Player {
  const player = useContext(PlayerContext)
  if (!player) throw new Error('usePlayer outside of PlayerProvider')
  return player
}
