import type { SoundSummary } from '../../contract'
import { AudioCache, audioAddress } from './audio-cache'
import { type AudioGraph, audioGraph } from './audio-graph'

type Heard = Pick<SoundSummary, 'id' | 'audioSha256'>

/** Sounds that stand ready, the one that is heard among them. */
const ELEMENTS = 8

/** What happens to the sound that is heard. */
export interface DeckEvents {
  onPlaying(playing: boolean): void
  onEnded(): void
}

/**
 * Audio elements of which each holds a sound that will probably be wanted next, read as far as its first moment: a key is heard at once.
 * One of them is the current one; only that one plays.
 */
export class AudioDeck {
  /** Elements by the address of the audio that they hold; the one that was wanted longest ago comes first. */
  private readonly ready = new Map<string, HTMLAudioElement>()
  private readonly cache = new AudioCache((address) => this.ready.has(address))
  private host: HTMLElement | null = null
  private events: DeckEvents = { onPlaying: () => {}, onEnded: () => {} }
  private made: AudioGraph | null = null
  current: HTMLAudioElement | null = null

  /** Puts the elements into the page. */
  mount(host: HTMLElement, events: DeckEvents): void {
    this.host = host
    this.events = events
  }

  /** What the sound goes through. Made when it is first asked for: browsers want the page to be used before. */
  get graph(): AudioGraph | null {
    if (this.made) return this.made
    this.made = audioGraph()
    for (const element of this.ready.values()) this.made?.connect(element)
    return this.made
  }

  /** Fetches the audio of some sounds and lets elements stand ready for them. */
  prepare(sounds: readonly Heard[]): void {
    for (const address of sounds.slice(0, ELEMENTS - 1).map(audioAddress))
      void this.cache.fetch(address).then((here) => {
        if (here) this.elementOf(address)
      })
  }

  /** Makes the element of a sound the current one; the one before it falls silent and goes back to its start. */
  take(sound: Heard): HTMLAudioElement | null {
    const before = this.current
    const element = this.elementOf(audioAddress(sound))
    if (!element || element === before) return element
    this.current = element
    element.dataset.current = 'true'
    if (before) {
      delete before.dataset.current
      before.pause()
      before.currentTime = 0
    }
    return element
  }

  private elementOf(address: string): HTMLAudioElement | null {
    const ready = this.ready.get(address)
    const element = ready ?? this.free()
    if (!element) return null
    this.ready.delete(address)
    this.ready.set(address, element)
    if (ready && !ready.error) return ready
    element.src = this.cache.urlOf(address)
    return element
  }

  /** An element that holds no sound any more: a new one, or that of the sound that was wanted longest ago. */
  private free(): HTMLAudioElement | null {
    if (this.ready.size === ELEMENTS) {
      const oldest = [...this.ready].find(([, element]) => element !== this.current)
      if (oldest) this.ready.delete(oldest[0])
      return oldest?.[1] ?? null
    }
    if (!this.host) return null
    const element = document.createElement('audio')
    element.preload = 'auto'
    const ifCurrent = (act: () => void) => () => this.current === element && act()
    element.addEventListener(
      'play',
      ifCurrent(() => this.events.onPlaying(true)),
    )
    element.addEventListener(
      'pause',
      ifCurrent(() => this.events.onPlaying(false)),
    )
    element.addEventListener(
      'ended',
      ifCurrent(() => this.events.onEnded()),
    )
    this.host.append(element)
    this.made?.connect(element)
    return element
  }
}
