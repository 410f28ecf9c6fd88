import { useCallback, useEffect, useRef, useState } from 'react'
import { messages } from '../../messages'
import { audioAddress } from '../audio/audio-cache'
import type { CutPlayer } from './use-cut-player'

/** The cut is heard from so long before the moment, s. */
const LEAD_S = 2
/** And so long after the sound has ended. */
const TAIL_S = 0.8
/** Level of the cut below a sound that is tried, when it is ducked. */
const DUCKED = 0.3

/** A sound that is tried. */
export interface TriedSound {
  readonly id: number
  readonly audioSha256: string | null
  readonly hitS: number | null
  readonly durationS: number
}

export interface InPlace {
  /** The sound that is heard now, or null. */
  readonly heardId: number | null
  readonly isDucked: boolean
  readonly problem: string | null
  setDucked(isDucked: boolean): void
  /** Plays the cut around a moment, with a sound whose hit meets it. */
  hear(sound: TriedSound, atS: number, gainDb: number): void
  stop(): void
}

/** Hears sounds against the cut at a place; nothing has to be downloaded for it. */
export function useInPlace(player: CutPlayer): InPlace {
  const [heardId, setHeardId] = useState<number | null>(null)
  const [isDucked, setDucked] = useState(false)
  const [problem, setProblem] = useState<string | null>(null)
  const contextRef = useRef<AudioContext | null>(null)
  const sourceRef = useRef<AudioBufferSourceNode | null>(null)
  const buffers = useRef(new Map<number, Promise<AudioBuffer>>())
  const live = useRef({ player, isDucked })
  live.current = { player, isDucked }

  const silence = useCallback(() => {
    sourceRef.current?.stop()
    sourceRef.current = null
    const media = live.current.player.mediaRef.current
    if (media) media.volume = live.current.player.level
    setHeardId(null)
  }, [])
  const stop = useCallback(() => {
    silence()
    live.current.player.stop()
  }, [silence])
  useEffect(() => silence, [silence])

  const hear = useCallback(
    (sound: TriedSound, atS: number, gainDb: number) => {
      silence()
      setProblem(null)
      setHeardId(sound.id)
      const context = contextRef.current ?? new AudioContext({ latencyHint: 'interactive' })
      contextRef.current = context
      void context.resume()
      const known = buffers.current.get(sound.id) ?? decoded(context, sound)
      buffers.current.set(sound.id, known)
      known.then(
        async (buffer) => {
          const media = live.current.player.mediaRef.current
          if (!media) return
          live.current.player.stop()
          live.current.player.seek(Math.max(0, atS - LEAD_S))
          if (live.current.isDucked) media.volume = DUCKED * live.current.player.level
          live.current.player.forwards()
          await playing(media)
          const source = context.createBufferSource()
          const gain = context.createGain()
          gain.gain.value = 10 ** (gainDb / 20)
          source.buffer = buffer
          source.connect(gain).connect(context.destination)
          // The hit meets the moment.
          const delayS = atS - (sound.hitS ?? 0) - media.currentTime
          source.start(context.currentTime + Math.max(0, delayS), Math.max(0, -delayS))
          source.onended = () => {
            if (sourceRef.current === source) setTimeout(() => sourceRef.current === source && stop(), TAIL_S * 1000)
          }
          sourceRef.current = source
        },
        () => {
          buffers.current.delete(sound.id)
          setHeardId(null)
          setProblem(messages.moments.theAudioOfThisSound)
        },
      )
    },
    [silence, stop],
  )
  return { heardId, isDucked, problem, setDucked, hear, stop }
}

async function decoded(context: AudioContext, sound: TriedSound): Promise<AudioBuffer> {
  const response = await fetch(audioAddress(sound))
  if (!response.ok) throw new Error('not here')
  return context.decodeAudioData(await response.arrayBuffer())
}

/** Resolves once a media element really plays. */
function playing(media: HTMLMediaElement): Promise<void> {
  if (!media.paused && !media.seeking && media.readyState >= 3) return Promise.resolve()
  return new Promise((resolve) => media.addEventListener('playing', () => resolve(), { once: true }))
}
