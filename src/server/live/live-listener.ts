import { listenToOne } from '../analysis/listen-to-sounds'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { REPLACED_VERSION } from '../database/replaced'
import type { ListensLive } from '../ports/live'
import { isSearched } from './live-search'

/** Fetched and analysed at the same time: somebody looks at the list, and the library is asked politely. */
const AT_ONCE = 2
/** Of what was shown and is not looked at any more the oldest is let go. */
const MAX_WAITING = 60
/** Recordings are compared once nothing was listened to for so long: each search would start it anew otherwise, ms. */
const QUIET_MS = 20_000
/** What could not be heard is not asked for again so soon, ms. */
const NOT_AGAIN_MS = 2 * 60_000

/** Sounds of libraries that are searched: of what is shown the previews are fetched and analysed, and of nothing else. */
export class LiveListener implements ListensLive {
  private readonly waiting: number[] = []
  private readonly underWay = new Map<number, Promise<void>>()
  private readonly failedMs = new Map<number, number>()
  private readonly ending = new AbortController()
  private heard = 0
  private quiet: NodeJS.Timeout | null = null

  /** @param onHeard Called when some were heard and nothing more was for a while. */
  constructor(
    private readonly services: Services,
    private readonly onHeard: () => void,
    private readonly nowMs: () => number = Date.now,
  ) {}

  async want(ids: readonly number[]): Promise<number> {
    const wanted = await this.unheard(ids)
    for (const id of wanted.toReversed()) {
      const at = this.waiting.indexOf(id)
      if (at >= 0) this.waiting.splice(at, 1)
      if (!this.underWay.has(id)) this.waiting.unshift(id)
    }
    this.waiting.splice(MAX_WAITING)
    this.goOn()
    return wanted.length
  }

  async hearNow(id: number): Promise<void> {
    if ((await this.want([id])) === 0) return
    await (this.underWay.get(id) ?? this.start(id))
  }

  async close(): Promise<void> {
    this.waiting.length = 0
    if (this.quiet) clearTimeout(this.quiet)
    this.ending.abort()
    await Promise.all(this.underWay.values())
  }

  /** Those of some sounds that belong to a library that is searched, have not been listened to and can be. */
  private async unheard(ids: readonly number[]): Promise<number[]> {
    if (ids.length === 0) return []
    const { db, accounts } = this.services
    const rows = await db
      .selectFrom('sounds')
      .innerJoin('sources', 'sources.id', 'sounds.source_id')
      .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
      .select(['sounds.id', 'sounds.source_id'])
      .where(isOneOf('sounds.id', ids))
      .where(({ or, eb }) =>
        or([eb('analyses.sound_id', 'is', null), eb('analyses.feature_version', '=', REPLACED_VERSION)]),
      )
      .where('sounds.withdrawn_at', 'is', null)
      .where('sources.kind', '=', 'library')
      .where('sources.connected', '=', 1)
      .execute()
    const able = new Set(
      rows
        .filter(({ id, source_id }) => isSearched(accounts.connector(source_id)) && !this.failedLately(id))
        .map(({ id }) => id),
    )
    return ids.filter((id) => able.has(id))
  }

  private failedLately(id: number): boolean {
    return this.nowMs() - (this.failedMs.get(id) ?? Number.NEGATIVE_INFINITY) < NOT_AGAIN_MS
  }

  private goOn(): void {
    while (this.underWay.size < AT_ONCE) {
      const id = this.waiting.shift()
      if (id === undefined) break
      void this.start(id)
    }
    if (this.quiet) clearTimeout(this.quiet)
    this.quiet = null
    if (this.underWay.size > 0 || this.heard === 0) return
    this.quiet = setTimeout(() => {
      this.heard = 0
      this.onHeard()
    }, QUIET_MS)
    this.quiet.unref()
  }

  private start(id: number): Promise<void> {
    const at = this.waiting.indexOf(id)
    if (at >= 0) this.waiting.splice(at, 1)
    const work = this.listenTo(id).finally(() => {
      this.underWay.delete(id)
      if (!this.ending.signal.aborted) this.goOn()
    })
    this.underWay.set(id, work)
    return work
  }

  private async listenTo(id: number): Promise<void> {
    const { db, accounts } = this.services
    try {
      const sound = await db
        .selectFrom('sounds')
        .select(['id', 'source_id', 'preview_ref', 'title'])
        .where('id', '=', id)
        .executeTakeFirstOrThrow()
      await listenToOne(this.services, accounts.connector(sound.source_id), sound, this.ending.signal)
      const analysed = await db.selectFrom('analyses').select('sound_id').where('sound_id', '=', id).executeTakeFirst()
      if (analysed) this.heard++
      else this.failedMs.set(id, this.nowMs())
    } catch {
      // A library that is down is asked again later; what is shown says that it has no print.
      this.failedMs.set(id, this.nowMs())
    }
  }
}
