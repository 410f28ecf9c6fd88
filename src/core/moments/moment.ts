/** What kind of sound a moment wants. */
export const MOMENT_KINDS = ['hit', 'swell', 'spot', 'ambience', 'music', 'silence'] as const
export type MomentKind = (typeof MOMENT_KINDS)[number]

/** How much a moment matters. */
export const MOMENT_WEIGHTS = ['must', 'nice'] as const
export type MomentWeight = (typeof MOMENT_WEIGHTS)[number]

/** Places on the short list of a moment. */
export const SHORT_LIST_SLOTS = ['A', 'B', 'C', 'D', 'E', 'F'] as const
export type ShortListSlot = (typeof SHORT_LIST_SLOTS)[number]

/** A sound that may be the one for a moment. */
export interface ShortListed {
  readonly slot: ShortListSlot
  readonly soundId: number
  /** Why it is on the list, in the creator's words. */
  readonly reason: string
}

/** A time or span in a video that wants a sound, or silence. */
export interface Moment {
  /** Made once, never used for another. */
  readonly id: string
  /** When it is, or where its span begins, s. */
  readonly atS: number
  /** Where its span ends, s, not before `atS`; null for an instant. */
  readonly endS: number | null
  /** What is wanted: "shutter slams". Empty while it is only marked. */
  readonly words: string
  readonly kind: MomentKind
  readonly weight: MomentWeight
  readonly note: string
  readonly shortList: readonly ShortListed[]
  /** The sound that was picked for it, or null. */
  readonly soundId: number | null
  /** Set when a new cut lacks the place: where it was in the cut before, s. */
  readonly cutOutFromS: number | null
}

/** What can be changed of a moment. */
export type MomentValues = Omit<Moment, 'id'>

/** A suggestion that was put aside: none of its kind comes again at that place. */
export interface Dismissed {
  readonly kind: string
  readonly atS: number
}

/** All that is planned for one video. */
export interface MomentsDocument {
  readonly version: 1
  /** By time, then by id. */
  readonly moments: readonly Moment[]
  readonly dismissed: readonly Dismissed[]
  /** More effects a minute than this are called crowded. */
  readonly crowdedPerMinute: number
}

export const CROWDED_PER_MINUTE = 12

export const NO_MOMENTS: MomentsDocument = {
  version: 1,
  moments: [],
  dismissed: [],
  crowdedPerMinute: CROWDED_PER_MINUTE,
}

/** Bounds of what is taken. */
export const MOMENT_LIMITS = {
  moments: 5000,
  wordsLength: 200,
  noteLength: 2000,
  reasonLength: 300,
  dismissed: 10_000,
  /** Longer than any cut that is taken, s. */
  timeS: 24 * 3600,
} as const

/** A moment with nothing said of it. */
export function newMoment(id: string, atS: number, values: Partial<MomentValues> = {}): Moment {
  return {
    id,
    atS,
    endS: null,
    words: '',
    kind: 'spot',
    weight: 'must',
    note: '',
    shortList: [],
    soundId: null,
    cutOutFromS: null,
    ...values,
  }
}

/** Moments in their order: by time, then by id, so that it is the same everywhere. */
export function inOrder(moments: readonly Moment[]): Moment[] {
  return [...moments].sort((a, b) => a.atS - b.atS || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0))
}

/** The first free place on a short list, or null when all are taken. */
export function freeSlot(moment: Moment): ShortListSlot | null {
  const taken = new Set(moment.shortList.map(({ slot }) => slot))
  return SHORT_LIST_SLOTS.find((slot) => !taken.has(slot)) ?? null
}
