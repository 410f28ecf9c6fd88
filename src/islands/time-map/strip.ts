/** The small pictures along a track. */
export interface StripSource {
  /** When each is, s, ascending. */
  readonly timesS: readonly number[]
  /** The picture with an index, else the nearest that is here; null while there is none. What is not here is fetched, and told of. */
  image(index: number): CanvasImageSource | null
  subscribe(listener: () => void): () => void
}

/** Pictures that are fetched at once. */
const MAX_CONCURRENT = 6
/** Pictures that wait for it: what was looked at before those is no longer in view. */
const MAX_WAITING = 48
/** They are fetched when nothing new was looked at for so long, ms: not while the map is on the move. */
const REST_MS = 80
/** Another picture stands in for one that is not here when it is at most so many away. */
const STAND_IN_MAX = 60
/** Pictures that are held. */
const MAX_HELD = 600

/** Small pictures that are fetched as they are looked at, what was looked at last first. */
export class RemoteStrip implements StripSource {
  private readonly images = new Map<number, CanvasImageSource>()
  private readonly fetching = new Set<number>()
  private waiting: number[] = []
  private timer: ReturnType<typeof setTimeout> | undefined
  private readonly listeners = new Set<() => void>()

  constructor(
    readonly timesS: readonly number[],
    /** Rejects when it cannot be had. */
    private readonly fetchImage: (index: number) => Promise<CanvasImageSource>,
  ) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  image(index: number): CanvasImageSource | null {
    const known = this.images.get(index)
    if (known) return known
    if (!this.fetching.has(index)) this.ask(index)
    return this.standIn(index)
  }

  private ask(index: number): void {
    const isNew = !this.waiting.includes(index)
    this.waiting = [...this.waiting.filter((one) => one !== index), index].slice(-MAX_WAITING)
    if (!isNew) return
    clearTimeout(this.timer)
    this.timer = setTimeout(() => {
      for (let free = MAX_CONCURRENT - this.fetching.size; free > 0; free--) this.fetchNext()
    }, REST_MS)
  }

  private standIn(index: number): CanvasImageSource | null {
    for (let away = 1; away <= STAND_IN_MAX; away++) {
      const image = this.images.get(index - away) ?? this.images.get(index + away)
      if (image) return image
    }
    return null
  }

  /** Call where fewer are fetched than may be. */
  private fetchNext(): void {
    const index = this.waiting.pop()
    if (index === undefined) return
    this.fetching.add(index)
    this.fetchImage(index).then(
      (image) => {
        if (this.images.size >= MAX_HELD) this.images.delete(this.images.keys().next().value as number)
        this.images.set(index, image)
        this.ended(index)
        for (const listener of this.listeners) listener()
      },
      // It is asked for again when it is looked at next.
      () => this.ended(index),
    )
  }

  private ended(index: number): void {
    this.fetching.delete(index)
    this.fetchNext()
  }
}
