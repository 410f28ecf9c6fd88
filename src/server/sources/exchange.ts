/** One request and its answer, ended when nothing comes for too long. It holds its signals, so that none is collected while it lasts. */
export class Exchange {
  private readonly controller = new AbortController()
  private timer: NodeJS.Timeout | null = null
  private readonly onOuterAbort = (): void => this.controller.abort(this.outer.reason)
  /** Whether it was ended because nothing came. */
  isStalled = false

  constructor(private readonly outer: AbortSignal) {
    if (outer.aborted) this.onOuterAbort()
    else outer.addEventListener('abort', this.onOuterAbort, { once: true })
  }

  get signal(): AbortSignal {
    return this.controller.signal
  }

  /** Something came: the next has as long again. */
  expectWithin(ms: number): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = setTimeout(() => {
      this.isStalled = true
      this.controller.abort(new Error(`nothing came for ${ms / 1000} s`))
    }, ms)
  }

  /** It is over, or not wanted any more. */
  end(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    this.outer.removeEventListener('abort', this.onOuterAbort)
  }
}
