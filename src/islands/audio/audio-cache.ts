import type { SoundSummary } from '../../contract'

/** Files of so many sounds stay at hand. */
const MAX_FILES = 32
/** Larger files are streamed instead. */
const MAX_BYTES = 12 * 1024 * 1024

/** Where the audio of a sound is. The address names its content: a sound whose audio became another one has another address. */
export function audioAddress({ id, audioSha256 }: Pick<SoundSummary, 'id' | 'audioSha256'>): string {
  return audioSha256 ? `/api/sounds/${id}/audio?content=${audioSha256}` : `/api/sounds/${id}/audio`
}

/** Audio that was fetched ahead, so that it starts at the key press. */
export class AudioCache {
  private readonly urls = new Map<string, string>()
  private readonly coming = new Map<string, Promise<boolean>>()

  /** @param inUse Whether an element holds the audio of an address: then it stays. */
  constructor(private readonly inUse: (address: string) => boolean) {}

  /** Where to play an address from: memory where it was fetched ahead. */
  urlOf(address: string): string {
    const url = this.urls.get(address)
    if (!url) return address
    this.urls.delete(address)
    this.urls.set(address, url)
    return url
  }

  /** Fetches audio, unless it is here or on its way. @returns Whether it is here then; if not, it is streamed when it is played. */
  fetch(address: string): Promise<boolean> {
    if (this.urls.has(address)) return Promise.resolve(true)
    const coming = this.coming.get(address) ?? this.fetched(address).finally(() => this.coming.delete(address))
    this.coming.set(address, coming)
    return coming
  }

  private async fetched(address: string): Promise<boolean> {
    try {
      const response = await fetch(address, { priority: 'low' })
      if (!response.ok || Number(response.headers.get('content-length') ?? 0) > MAX_BYTES) {
        await response.body?.cancel()
        return false
      }
      this.urls.set(address, URL.createObjectURL(await response.blob()))
    } catch {
      return false
    }
    for (const [oldest, url] of this.urls) {
      if (this.urls.size <= MAX_FILES) break
      if (oldest === address || this.inUse(oldest)) continue
      URL.revokeObjectURL(url)
      this.urls.delete(oldest)
    }
    return true
  }
}
