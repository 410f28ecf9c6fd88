import { type RefObject, useMemo } from 'react'
import type { SoundSummary } from '../../contract'
import type { TimeRange } from '../../core/time-range'
import { messages } from '../../messages'
import type { AudioDeck } from './audio-deck'
import { heardBefore, type ListeningOptions, listeningGainDb } from './listening-options'
import type { PlayClock } from './play-clock'

/** What is heard, what was, and what comes. */
export interface Listening {
  readonly sound: SoundSummary | null
  readonly playing: boolean
  readonly error: string | null
  readonly part: TimeRange | null
  readonly heard: readonly SoundSummary[]
  readonly upcoming: readonly SoundSummary[]
}

export const NOTHING_HEARD: Listening = {
  sound: null,
  playing: false,
  error: null,
  part: null,
  heard: [],
  upcoming: [],
}

/** The newest values, for what is called outside of a drawing. */
export type Live = Listening & { readonly options: ListeningOptions }

/** A change, or how one comes from what is there. */
export type Change = Partial<Listening> | ((now: Listening) => Partial<Listening>)

export function changed(change: Change, now: Listening): Partial<Listening> {
  return typeof change === 'function' ? change(now) : change
}

/** Play, stop, seek and what else moves the sound that is heard; the same functions as long as the page lives. */
export function useTransport(
  deck: AudioDeck,
  clock: PlayClock,
  live: RefObject<Live>,
  patch: (change: Change) => void,
) {
  return useMemo(() => {
    const seek = (at: number): void => {
      const audio = deck.current
      if (!audio) return
      const end = live.current.sound?.durationS ?? 0
      audio.currentTime = Math.max(0, Math.min(end - 0.01, at))
      clock.set(audio.currentTime)
    }
    const toggle = (): void => {
      const audio = deck.current
      if (!audio) return
      deck.graph?.wake()
      if (audio.paused) void audio.play().catch(() => patch({ error: messages.sound.thisSoundCannotBeHeard }))
      else audio.pause()
    }
    return {
      play: (sound: SoundSummary, fromS = 0) => startPlaying(deck, clock, live.current, patch, sound, fromS),
      toggle,
      stop: () => deck.current?.pause(),
      seek,
      skip: (byS: number) => seek((deck.current?.currentTime ?? 0) + byS),
      setPart: (part: TimeRange | null) => patch({ part }),
      setUpcoming: (upcoming: readonly SoundSummary[]) => patch({ upcoming }),
      prefetch: (sounds: readonly SoundSummary[]) => deck.prepare(sounds),
      peakDb: () => (deck.current ? deck.graph?.peakDb() : null) ?? Number.NEGATIVE_INFINITY,
    }
  }, [deck, clock, live, patch])
}

function startPlaying(
  deck: AudioDeck,
  clock: PlayClock,
  { options, sound: before }: Live,
  patch: (change: Change) => void,
  sound: SoundSummary,
  fromS: number,
): void {
  deck.graph?.wake()
  deck.graph?.setGain(listeningGainDb(sound.loudnessLufs, options.matched))
  deck.graph?.setMono(options.mono)
  const audio = deck.take(sound)
  if (!audio) return
  audio.playbackRate = options.rate
  // To go to where it stands already would only cost time.
  if (audio.currentTime !== fromS) audio.currentTime = fromS
  clock.set(fromS)
  patch(({ heard, part }) => ({
    sound,
    error: null,
    heard: heardBefore(heard, sound),
    part: before?.id === sound.id ? part : null,
  }))
  audio.play().catch((reason: unknown) => {
    // A newer play or a stop came in between: that is no failure.
    if (deck.current !== audio || (reason instanceof DOMException && reason.name === 'AbortError')) return
    patch({ playing: false, error: messages.sound.thisSoundCannotBeHeardItsAudio })
  })
}
