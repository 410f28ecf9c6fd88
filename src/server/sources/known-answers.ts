/** A longer answer is not kept. */
const MAX_LENGTH = 512 * 1024
const MAX_KEPT_LENGTH = 4 * 1024 * 1024

interface KnownAnswer {
  readonly tag: string
  readonly text: string
  readonly headers: Headers
}

/**
 * Answers that a library may confirm instead of sending them again (RFC 9110, entity tags): its terms and its account are asked for at every sync. The
 * oldest go when there are many.
 */
export class KnownAnswers {
  private readonly answers = new Map<string, KnownAnswer>()
  private keptLength = 0

  find(url: string): KnownAnswer | null {
    return this.answers.get(url) ?? null
  }

  /** Keeps an answer that has a tag; one without takes the place of what was kept. */
  keep(url: string, text: string, headers: Headers): void {
    this.forget(url)
    const tag = headers.get('etag')
    if (tag === null || tag.length > 200 || text.length > MAX_LENGTH) return
    this.answers.set(url, { tag, text, headers })
    this.keptLength += text.length
    for (const [oldest] of this.answers) {
      if (this.keptLength <= MAX_KEPT_LENGTH) break
      this.forget(oldest)
    }
  }

  private forget(url: string): void {
    this.keptLength -= this.answers.get(url)?.text.length ?? 0
    this.answers.delete(url)
  }
}
