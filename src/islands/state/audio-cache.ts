/** Files of this many sounds are kept at hand. */
const KEPT = 32
/** Larger files are streamed instead. */
const MAX_BYTES = 12 * 1024 * 1024

/** Audio that was fetched ahead, so that it starts at the key press. */
export class AudioCache {
  private readonly urls = new Map<number, string>()
  private readonly coming = new Set<number>()

  /** Address of the audio of a sound: in memory where it was fetched ahead. */
  addressOf(id: number): string {
    const url = this.urls.get(id)
    if (!url) return `/api/sounds/${id}/audio`
    this.urls.delete(id)
    this.urls.set(id, url)
    return url
  }

  has(id: number): boolean {
    return this.urls.has(id)
  }

  /** Fetches the audio of a sound, unless it is here or on its way. What fails is fetched when it is played. */
  async fetch(id: number, playing: number | null): Promise<void> {
    if (this.urls.has(id) || this.coming.has(id)) return
    this.coming.add(id)
    try {
      const response = await fetch(`/api/sounds/${id}/audio`, { priority: 'low' })
      if (!response.ok || Number(response.headers.get('content-length') ?? 0) > MAX_BYTES) return
      this.urls.set(id, URL.createObjectURL(await response.blob()))
      for (const [oldest, url] of this.urls) {
        if (this.urls.size <= KEPT) break
        if (oldest === playing) continue
        URL.revokeObjectURL(url)
        this.urls.delete(oldest)
      }
    } catch {
      // It is fetched when it is played.
    } finally {
      this.coming.delete(id)
    }
  }
}
