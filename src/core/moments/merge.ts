import type { MomentsEdit } from './edits'
import { inOrder, type Moment, type MomentsDocument, type MomentValues } from './moment'

/** Two documents made one. */
export interface Merged {
  readonly document: MomentsDocument
  /** Moments that both changed differently: mine stays, the other one stands beside it under an id of its own. */
  readonly doubled: readonly { readonly mine: Moment; readonly theirs: Moment }[]
}

/** What another tab changed, for the offer to merge. */
export interface ChangeCounts {
  readonly added: number
  readonly changed: number
  readonly removed: number
}

const KEYS = [
  'atS',
  'endS',
  'words',
  'kind',
  'weight',
  'note',
  'shortList',
  'soundId',
  'cutOutFromS',
] as const satisfies readonly (keyof MomentValues)[]

function isEqual(a: unknown, b: unknown): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b)
}

function byId(document: MomentsDocument): Map<string, Moment> {
  return new Map(document.moments.map((moment) => [moment.id, moment]))
}

/** Moments of two documents that are not the same in both. */
function momentsApart(
  from: MomentsDocument,
  to: MomentsDocument,
): { readonly added: Moment[]; readonly changed: Moment[]; readonly removed: Moment[] } {
  const [before, after] = [byId(from), byId(to)]
  return {
    added: to.moments.filter(({ id }) => !before.has(id)),
    changed: to.moments.filter((moment) => before.has(moment.id) && !isEqual(before.get(moment.id), moment)),
    removed: from.moments.filter(({ id }) => !after.has(id)),
  }
}

/** How a document differs from the one that it was made of. */
export function changeCounts(from: MomentsDocument, to: MomentsDocument): ChangeCounts {
  const { added, changed, removed } = momentsApart(from, to)
  return { added: added.length, changed: changed.length, removed: removed.length }
}

/** Edits that make one document of another. */
export function editsBetween(from: MomentsDocument, to: MomentsDocument): MomentsEdit[] {
  const { added, changed, removed } = momentsApart(from, to)
  const edits: MomentsEdit[] = []
  const changes = changed.map(({ id, ...values }) => ({ id, to: values }))
  if (removed.length > 0) edits.push({ do: 'remove', ids: removed.map(({ id }) => id) })
  if (added.length > 0) edits.push({ do: 'add', moments: added })
  if (changes.length > 0) edits.push({ do: 'change', changes })
  const isIn = (list: MomentsDocument['dismissed'], one: MomentsDocument['dismissed'][number]): boolean =>
    list.some(({ kind, atS }) => kind === one.kind && atS === one.atS)
  const dismissed = to.dismissed.filter((one) => !isIn(from.dismissed, one))
  const recalled = from.dismissed.filter((one) => !isIn(to.dismissed, one))
  if (recalled.length > 0) edits.push({ do: 'recall', suggestions: recalled })
  if (dismissed.length > 0) edits.push({ do: 'dismiss', suggestions: dismissed })
  if (from.crowdedPerMinute !== to.crowdedPerMinute) edits.push({ do: 'crowded-from', perMinute: to.crowdedPerMinute })
  return edits
}

/**
 * Makes one of two documents that were changed apart from each other. Nothing that either added or changed is lost: what one removed and
 * the other changed stays, what both changed in different ways stands there twice.
 *
 * @param base What both began with.
 */
export function mergedDocuments(base: MomentsDocument, mine: MomentsDocument, theirs: MomentsDocument): Merged {
  const [from, own, other] = [byId(base), byId(mine), byId(theirs)]
  const moments: Moment[] = []
  const doubled: { mine: Moment; theirs: Moment }[] = []
  const ids = new Set([...own.keys(), ...other.keys()])
  for (const id of ids) {
    const [was, a, b] = [from.get(id), own.get(id), other.get(id)]
    if (a && b) {
      const merged = mergedMoment(was, a, b)
      moments.push(merged ?? a)
      if (merged) continue
      const apart = { ...b, id: freeId(id, ids) }
      moments.push(apart)
      doubled.push({ mine: a, theirs: apart })
    } else if (a) {
      // They removed it: it goes, unless it is new here or was changed here.
      if (!was || !isEqual(was, a)) moments.push(a)
    } else if (b && (!was || !isEqual(was, b))) moments.push(b)
  }
  const dismissed = [...mine.dismissed, ...theirs.dismissed].filter(
    (one, at, all) => all.findIndex((same) => same.kind === one.kind && same.atS === one.atS) === at,
  )
  // What one of both took out of the list of dismissals is out.
  const recalled = base.dismissed.filter(
    (one) => !mine.dismissed.some((same) => isEqual(same, one)) || !theirs.dismissed.some((same) => isEqual(same, one)),
  )
  return {
    document: {
      version: 1,
      moments: inOrder(moments),
      dismissed: dismissed.filter((one) => !recalled.some((gone) => isEqual(gone, one))),
      crowdedPerMinute:
        mine.crowdedPerMinute === base.crowdedPerMinute ? theirs.crowdedPerMinute : mine.crowdedPerMinute,
    },
    doubled,
  }
}

/** A moment with the changes of both, or null where both changed the same value in different ways. */
function mergedMoment(was: Moment | undefined, a: Moment, b: Moment): Moment | null {
  if (isEqual(a, b)) return a
  if (!was) return null
  const values: Partial<Record<keyof MomentValues, unknown>> = {}
  for (const key of KEYS) {
    if (isEqual(a[key], b[key]) || isEqual(b[key], was[key])) values[key] = a[key]
    else if (isEqual(a[key], was[key])) values[key] = b[key]
    else return null
  }
  const merged = { ...a, ...values } as Moment
  // One moved its start behind the end that the other set.
  return merged.endS !== null && merged.endS < merged.atS ? null : merged
}

function freeId(id: string, taken: ReadonlySet<string>): string {
  for (let number = 2; ; number++) {
    const candidate = `${id.slice(0, 58)}-${number}`
    if (!taken.has(candidate)) return candidate
  }
}
