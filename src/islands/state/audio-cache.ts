/** Files of this many sounds are kept at hand. */
const KEPT = 32
/** Larger files are streamed instead. */
const MAX_BYTES = 12 * 1024 * 1024

/** Audio that was fetched ahead, so that it starts at the key press. */
export class AudioCache {
  private readonly urls = new Map<number, string>()
  private readonly coming = new Map<number, Promise<boolean>>()

  /** @param inUse Whether an element holds a sound: then its audio stays. */
  constructor(private readonly inUse: (id: number) => boolean) {}

  /** Address of the audio of a sound: in memory where it was fetched ahead. */
  addressOf(id: number): string {
    const url = this.urls.get(id)
    if (!url) return `/api/sounds/${id}/audio`
    this.urls.delete(id)
    this.urls.set(id, url)
    return url
  }

  /** Fetches the audio of a sound, unless it is here or on its way. @returns Whether it is here then; if not, it is streamed when it is played. */
  fetch(id: number): Promise<boolean> {
    if (this.urls.has(id)) return Promise.resolve(true)
    const coming = this.coming.get(id) ?? this.fetched(id).finally(() => this.coming.delete(id))
    this.coming.set(id, coming)
    return coming
  }

  private async fetched(id: number): Promise<boolean> {
    try {
      const response = await fetch(`/api/sounds/${id}/audio`, { priority: 'low' })
      if (!response.ok || Number(response.headers.get('content-length') ?? 0) > MAX_BYTES) {
        await response.body?.cancel()
        return false
      }
      this.urls.set(id, URL.createObjectURL(await response.blob()))
    } catch {
      return false
    }
    for (const [oldest, url] of this.urls) {
      if (this.urls.size <= KEPT) break
      if (oldest === id || this.inUse(oldest)) continue
      URL.revokeObjectURL(url)
      this.urls.delete(oldest)
    }
    return true
  }
}
