import { useCallback, useEffect, useRef, useState } from 'react'
import { messages } from '../../messages'
import { newId } from '../moments/new-id'
import type { CutPlayer } from '../moments/use-cut-player'
import { type Microphone, openMicrophone } from './microphone'
import { LONGEST_TAKE_S, peakOf, type Take, TakeRecording } from './take-recording'

/** Seconds that are counted down before it records. */
const COUNT_FROM = 3

/** What the recording does now. */
export type RecordingState =
  | { readonly is: 'ready' }
  | { readonly is: 'asking' }
  | { readonly is: 'counting'; readonly left: number }
  | { readonly is: 'recording'; readonly lengthS: number; readonly peak: number }

export interface KeptTake extends Take {
  readonly id: string
  readonly number: number
}

/** Records from the microphone while the cut plays; each time gives a take. */
export interface RecordingDesk {
  readonly state: RecordingState
  readonly problem: string | null
  readonly takes: readonly KeptTake[]
  start(): void
  /** Ends what is recorded, or gives up counting. */
  stop(): void
  remove(id: string): void
  /** Takes one back that was removed. */
  restore(take: KeptTake): void
}

/** Takes that nobody used or removed yet, by video: they are there again when one comes back to the step. */
const leftTakes = new Map<number, readonly KeptTake[]>()

export function useRecording(videoId: number, player: CutPlayer): RecordingDesk {
  const [state, setState] = useState<RecordingState>({ is: 'ready' })
  const [problem, setProblem] = useState<string | null>(null)
  const [takes, setTakes] = useState<readonly KeptTake[]>(() => leftTakes.get(videoId) ?? [])
  const number = useRef(Math.max(0, ...takes.map((take) => take.number)))
  const microphone = useRef<Microphone | null>(null)
  const recording = useRef<TakeRecording | null>(null)
  const timer = useRef<ReturnType<typeof setInterval> | undefined>(undefined)
  /** Grows with each start and stop: what was asked for before the last one is not begun any more. */
  const turn = useRef(0)

  const close = useCallback(() => {
    turn.current++
    clearInterval(timer.current)
    microphone.current?.close()
    microphone.current = null
    recording.current = null
    setState({ is: 'ready' })
  }, [])
  const stop = useCallback(() => {
    const ended = recording.current
    close()
    if (!ended) return
    player.stop()
    const take = ended.end()
    if (take) setTakes((before) => [...before, { ...take, id: newId(), number: ++number.current }])
    else setProblem(messages.score.nothingWasHeardLookWhether)
  }, [close, player])
  const record = useCallback(() => {
    const open = microphone.current
    if (!open) return
    recording.current = new TakeRecording(open.latencyS)
    setState({ is: 'recording', lengthS: 0, peak: 0 })
    player.forwards()
  }, [player])
  const start = useCallback(() => {
    setProblem(null)
    player.stop()
    setState({ is: 'asking' })
    const mine = ++turn.current
    openMicrophone((block) => {
      const [now, media, open] = [recording.current, player.mediaRef.current, microphone.current]
      if (!now || !media || media.paused || !open) return
      now.push(block, media.currentTime, open.context.currentTime)
      setState({ is: 'recording', lengthS: now.lengthS, peak: peakOf(block) })
      if (now.lengthS >= LONGEST_TAKE_S) stop()
    })
      .then((opened) => {
        if (turn.current !== mine) {
          opened.close()
          return
        }
        microphone.current = opened
        let left = COUNT_FROM
        setState({ is: 'counting', left })
        timer.current = setInterval(() => {
          left--
          if (left > 0) setState({ is: 'counting', left })
          else {
            clearInterval(timer.current)
            record()
          }
        }, 1000)
      })
      .catch((error: Error) => {
        if (turn.current !== mine) return
        close()
        setProblem(error.message)
      })
  }, [player, record, stop, close])
  useEffect(() => {
    const media = player.mediaRef.current
    if (!media || state.is !== 'recording') return
    // When the picture stands, there is nothing more to record to.
    media.addEventListener('pause', stop)
    media.addEventListener('ended', stop)
    return () => {
      media.removeEventListener('pause', stop)
      media.removeEventListener('ended', stop)
    }
  }, [player.mediaRef, state.is, stop])
  useEffect(() => close, [close])
  useEffect(() => {
    leftTakes.set(videoId, takes)
    if (takes.length === 0) return
    // Takes are kept nowhere else yet.
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault()
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [videoId, takes])
  const remove = useCallback((id: string) => setTakes((before) => before.filter((take) => take.id !== id)), [])
  const restore = useCallback(
    (take: KeptTake) => setTakes((before) => [...before, take].sort((a, b) => a.number - b.number)),
    [],
  )
  return { state, problem, takes, start, stop, remove, restore }
}
