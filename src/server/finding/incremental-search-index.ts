import { sql } from 'kysely'
import { Finder, parsedVocabulary, SegmentBuilder } from '../../core/finding'
import { finding as messages } from '../../messages/server/finding'
import type { Db } from '../database/db'
import {
  type FinderCall,
  type FinderCalls,
  type FinderSize,
  type LikeWhat,
  type OfferList,
  VERY_MANY_CHANGED,
} from '../ports/finder-messages'
import { eachSound, loadSomeSounds } from './load-sounds'

/** So many changed sounds are always looked through beside the large index; more make a new one, if they are a tenth of it. */
const CHANGES_MAX = 2000
const CHANGED_SHARE_MAX = 0.1
/** When taking in changes costs more than this, it is done at most once in so many times as long. */
const COSTLY_MS = 50
const COSTLY_PAUSE = 10
/** While another index is made to take the place of this one, whoever asked may ask again after this. */
const OUTDATED_PAUSE_MS = 2000
/** An index of so many sounds is made in about a second. */
const BUILT_IN_PLACE_MAX = 20_000

/** A sound that cannot be compared with others. */
class NoVectorError extends Error {
  override readonly name = 'NoVectorError'
  readonly code = 'not-listened-to'
}

/** The search over the sounds of a database: made when first asked, and following every change from then on. */
export class IncrementalSearchIndex {
  private readonly finder: Finder
  private built = false
  /** Number of the last change that is in the large index, and of the last that is taken in at all. */
  private baseNumber = 0
  private seenNumber = 0
  private builtMs = 0
  private pauseUntilMs = 0
  /** There are changes that it did not take in, because it pauses. */
  private isPausing = false
  /** So much has changed that another index should take the place of this one. */
  isOutdated = false

  constructor(
    private readonly db: Db,
    vocabulary: string,
    /** What taking in changes may cost before it is done less often, ms. */
    private readonly costlyMs = COSTLY_MS,
    /** With more sounds than this the index is not made anew while others wait for an answer. */
    private readonly builtInPlaceMax = BUILT_IN_PLACE_MAX,
  ) {
    this.finder = new Finder(parsedVocabulary(vocabulary).vocabulary)
  }

  async answer({ name, task }: FinderCall): Promise<FinderCalls[keyof FinderCalls]['result']> {
    if (name === 'learn') {
      this.finder.learn(parsedVocabulary(task as string).vocabulary)
      return null
    }
    await this.follow()
    switch (name) {
      case 'find': {
        const { like, ...rest } = task as FinderCalls['find']['task']
        return { ...this.finder.find({ ...rest, ...this.compared(like) }), behindMs: this.behindMs() }
      }
      case 'count': {
        const { like, kinds, ...rest } = task as FinderCalls['count']['task']
        return { counts: this.finder.counts({ ...rest, ...this.compared(like) }, kinds), behindMs: this.behindMs() }
      }
      case 'half-met':
        return { met: this.finder.halfMet(task as FinderCalls['half-met']['task']), behindMs: this.behindMs() }
      case 'offers':
        return { offers: this.offers(), behindMs: this.behindMs() }
      default:
        return this.size()
    }
  }

  private compared(like: LikeWhat | null): { like: Float32Array | null; except: number | null } {
    if (like === null) return { like: null, except: null }
    if (like.kind === 'vector') return { like: like.vector, except: null }
    const vector = this.finder.vectorOf(like.id)
    if (!vector) throw new NoVectorError(messages.thisSoundHasNotBeen)
    return { like: vector, except: like.id }
  }

  /** After how long what it does not know yet will be in its answers, ms; null when it knows everything. */
  private behindMs(): number | null {
    if (this.isOutdated) return OUTDATED_PAUSE_MS
    return this.isPausing ? Math.max(1, Math.ceil(this.pauseUntilMs - performance.now())) : null
  }

  private size(): FinderSize {
    const { finder, builtMs } = this
    return { sounds: finder.count, words: finder.wordCount, bytes: finder.sizeBytes, builtMs }
  }

  private offers(): OfferList {
    return this.finder.offers().map(({ offer, id }) => ({ offer, soundId: id }))
  }

  /** Takes in what changed since the last question. */
  private async follow(): Promise<void> {
    const number = await findLastChange(this.db)
    if (!this.built) return this.build(number)
    this.isPausing = number !== this.seenNumber && performance.now() < this.pauseUntilMs
    if (number === this.seenNumber || this.isPausing) return
    const startMs = performance.now()
    const rows = await this.db
      .selectFrom('find_changes')
      .select('sound_id')
      .distinct()
      .where('number', '>', this.baseNumber)
      .execute()
    const ids = rows.map(({ sound_id }) => sound_id)
    const isMany = ids.length > CHANGES_MAX && ids.length > CHANGED_SHARE_MAX * this.finder.count
    if (isMany || ids.includes(VERY_MANY_CHANGED)) {
      const { count } = await this.db
        .selectFrom('sounds')
        .select((eb) => eb.fn.countAll<number>().as('count'))
        .executeTakeFirstOrThrow()
      if (count <= this.builtInPlaceMax) return this.build(number)
      // Made anew beside this one, which answers meanwhile as it is.
      this.isOutdated = true
      this.seenNumber = number
      return
    }
    const segment = new SegmentBuilder(this.finder.names)
    for (const sound of await loadSomeSounds(this.db, ids)) segment.add(sound)
    this.finder.change(segment.finish(), ids)
    this.seenNumber = number
    const costMs = performance.now() - startMs
    if (costMs > this.costlyMs) this.pauseUntilMs = performance.now() + COSTLY_PAUSE * costMs
  }

  private async build(number: number): Promise<void> {
    const startMs = performance.now()
    const segment = new SegmentBuilder(this.finder.names)
    await eachSound(this.db, (sound) => segment.add(sound))
    this.finder.replace(segment.finish())
    this.built = true
    this.baseNumber = number
    this.seenNumber = number
    this.builtMs = performance.now() - startMs
  }
}

async function findLastChange(db: Db): Promise<number> {
  const { rows } = await sql<{ last: number | null }>`SELECT max(number) AS last FROM find_changes`.execute(db)
  return rows[0]?.last ?? 0
}
