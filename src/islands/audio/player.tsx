import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react'
import type { SoundSummary } from '../../contract'
import type { TimeRange } from '../../core/time-range'
import { isTyping } from '../state/keys'
import { useDocumentKeys } from '../state/use-document-keys'
import { AudioDeck } from './audio-deck'
import {
  endedAt,
  type ListeningOptions,
  listeningGainDb,
  RATES,
  savedOptions,
  saveOptions,
  startedAt,
} from './listening-options'
import { PlayClock } from './play-clock'
import { type Change, changed, type Listening, type Live, NOTHING_HEARD, useTransport } from './use-transport'

/** What the listening bar shows and what every place can do with it. */
export interface Player {
  readonly sound: SoundSummary | null
  readonly playing: boolean
  /** Where it stands; followed by what shows it. */
  readonly clock: PlayClock
  /** Why the sound cannot be heard, in a sentence; null when it can. */
  readonly error: string | null
  readonly options: ListeningOptions
  /** The marked part of the sound, or null. */
  readonly part: TimeRange | null
  /** What was heard since the page was opened, the newest first. */
  readonly heard: readonly SoundSummary[]
  /** What comes next, where the list told it. */
  readonly next: SoundSummary | null
  play(sound: SoundSummary, fromS?: number): void
  toggle(): void
  stop(): void
  seek(timeS: number): void
  /** Moves by some seconds within the sound. */
  skip(byS: number): void
  setPart(part: TimeRange | null): void
  setOptions(change: Partial<ListeningOptions>): void
  /** Fetches audio that will probably be wanted next. */
  prefetch(sounds: readonly SoundSummary[]): void
  /** Tells what comes after the sound that plays. */
  setUpcoming(sounds: readonly SoundSummary[]): void
  /** Peak of what is heard now, dB below full scale. */
  peakDb(): number
}

const PlayerContext = createContext<Player | null>(null)

/** The sound that is heard belongs to the whole application: listening goes on from place to place. */
export function PlayerProvider({ children }: { children: ReactNode }) {
  const hostRef = useRef<HTMLDivElement | null>(null)
  const [deck] = useState(() => new AudioDeck())
  const [clock] = useState(() => new PlayClock())
  const [listening, setListening] = useState<Listening>(NOTHING_HEARD)
  const [options, setAllOptions] = useState<ListeningOptions>(() => savedOptions(localStorage))
  const live = useRef<Live>({ ...listening, options })
  live.current = { ...listening, options }
  const patch = useCallback((change: Change) => setListening((now) => ({ ...now, ...changed(change, now) })), [])
  const transport = useTransport(deck, clock, live, patch)
  const { playing, upcoming } = listening
  useEffect(
    () => frameClock(deck, playing, (at) => clock.set(looped(deck.current, at, live.current))),
    [deck, clock, playing],
  )
  const setOptions = useCallback(
    (change: Partial<ListeningOptions>) => {
      const next = { ...live.current.options, ...change }
      setAllOptions(next)
      saveOptions(localStorage, next)
      if (!deck.current) return
      deck.current.playbackRate = next.rate
      deck.graph?.setMono(next.mono)
      deck.graph?.setGain(listeningGainDb(live.current.sound?.loudnessLufs ?? null, next.matched))
    },
    [deck],
  )
  const { play } = transport
  const onEnded = useCallback(() => {
    const [next, ...rest] = live.current.upcoming
    const goesOn = live.current.options.playOn && next !== undefined
    patch(goesOn ? { playing: false, upcoming: rest } : { playing: false })
    if (goesOn) play(next)
  }, [play, patch])
  useEffect(() => {
    if (hostRef.current) deck.mount(hostRef.current, { onPlaying: (playing) => patch({ playing }), onEnded })
  }, [deck, onEnded, patch])
  useWaking(deck)
  const player = useMemo(
    (): Player => ({ ...listening, ...transport, clock, options, next: upcoming[0] ?? null, setOptions }),
    [listening, transport, clock, options, upcoming, setOptions],
  )
  useListeningKeys(player)
  return (
    <PlayerContext value={player}>
      {children}
      <div ref={hostRef} hidden />
    </PlayerContext>
  )
}

/** What the first key or click that comes may be for: the loudspeakers are opened, which takes its time. */
function useWaking(deck: AudioDeck): void {
  useEffect(() => {
    const wake = (): void => deck.graph?.wake()
    const events = ['pointerdown', 'keydown'] as const
    for (const event of events) document.addEventListener(event, wake, { once: true, capture: true })
    return () => {
      for (const event of events) document.removeEventListener(event, wake, { capture: true })
    }
  }, [deck])
}

/** At the end of a part that is looped, goes back to its start. */
function looped(
  audio: HTMLAudioElement | null,
  atS: number,
  { part, options }: { part: TimeRange | null; options: ListeningOptions },
): number {
  if (!audio || !part || !options.loopPart || atS < part.endS) return atS
  audio.currentTime = part.startS
  return part.startS
}

/** Follows the element's clock on every frame while it plays: its own event comes too seldom for a playhead. */
function frameClock(deck: AudioDeck, playing: boolean, onTime: (timeS: number) => void): () => void {
  if (!playing) return () => {}
  let frame = requestAnimationFrame(function tick() {
    if (deck.current) onTime(deck.current.currentTime)
    frame = requestAnimationFrame(tick)
  })
  return () => cancelAnimationFrame(frame)
}

const STEP_S = 0.5
const FINE_STEP_S = 0.05
const BACK_S = 2

/** Keys that work wherever nothing is typed and nothing else takes them. */
function useListeningKeys(player: Player): void {
  useDocumentKeys((event) => {
    if (event.defaultPrevented || isTyping(event) || onControl(event)) return
    const action = listeningAction(player, event)
    if (!action) return
    event.preventDefault()
    action()
  })
}

/** A control that has the focus takes the space bar and the arrows itself. */
function onControl(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null
  return ['BUTTON', 'A', 'SUMMARY'].includes(target?.tagName ?? '') && (event.key === ' ' || event.key === 'Enter')
}

/** What a key does to what is heard; null where it does nothing. */
export function listeningAction(player: Player, event: { key: string; shiftKey: boolean }): (() => void) | null {
  const { sound, clock, part, options } = player
  const stepS = event.shiftKey ? FINE_STEP_S : STEP_S
  if (!sound) return null
  switch (event.key.toLowerCase()) {
    case ' ':
      return player.toggle
    case 'arrowleft':
      return () => player.skip(-stepS)
    case 'arrowright':
      return () => player.skip(stepS)
    case 'j':
      return () => player.skip(-BACK_S)
    case 'k':
      return player.stop
    case 'l':
      return () => {
        if (player.playing) player.setOptions({ rate: nextRate(options.rate) })
        else player.toggle()
      }
    case 'i':
      return () => player.setPart(startedAt(part, clock.now(), sound.durationS))
    case 'o':
      return () => player.setPart(endedAt(part, clock.now()))
    case 'r':
      return () => player.setOptions({ loopPart: !options.loopPart })
    case 'x':
      return () => player.setPart(null)
    case 'm':
      return () => player.setOptions({ mono: !options.mono })
    default:
      return null
  }
}

function nextRate(rate: number): number {
  return RATES.find((one) => one > rate) ?? 1
}

export function usePlayer(): Player {
  const player = useContext(PlayerContext)
  if (!player) throw new Error('usePlayer outside of PlayerProvider')
  return player
}
