import { type ChangeById, changedById } from '../changed-by-id'
import { moments as messages } from '../wording/moments'
import {
  type Dismissed,
  inOrder,
  MOMENT_LIMITS,
  type Moment,
  type MomentsDocument,
  type MomentValues,
  SHORT_LIST_SLOTS,
} from './moment'

/** One change of what is planned, as data. */
export type MomentsEdit =
  | { readonly do: 'add'; readonly moments: readonly Moment[] }
  | { readonly do: 'remove'; readonly ids: readonly string[] }
  | { readonly do: 'change'; readonly changes: readonly ChangeById<MomentValues>[] }
  | { readonly do: 'dismiss'; readonly suggestions: readonly Dismissed[] }
  | { readonly do: 'recall'; readonly suggestions: readonly Dismissed[] }
  | { readonly do: 'crowded-from'; readonly perMinute: number }
  | { readonly do: 'all'; readonly edits: readonly MomentsEdit[] }

export const EDIT_ERROR_CODES = [
  'unknown-moment',
  'moment-twice',
  'bad-time',
  'bad-value',
  'too-many',
  'too-deep',
] as const

/** An edit that cannot be done. The document is as it was. */
export class EditError extends Error {
  override readonly name = 'EditError'
  constructor(
    readonly code: (typeof EDIT_ERROR_CODES)[number],
    message: string,
  ) {
    super(message)
  }
}

/** A document after an edit, and the edit that takes it back. */
export interface Edited {
  readonly document: MomentsDocument
  readonly inverse: MomentsEdit
}

const DEEPEST = 4

/**
 * A document with an edit done. The inverse, applied to the result, gives the document back.
 *
 * @throws {EditError} when it names a moment that is not there, or a value is out of bounds; nothing of it is done then.
 */
export function applied(document: MomentsDocument, edit: MomentsEdit, depth = 0): Edited {
  switch (edit.do) {
    case 'add':
      return withAdded(document, edit.moments)
    case 'remove':
      return withRemoved(document, edit.ids)
    case 'change':
      return withChanged(document, edit.changes)
    case 'dismiss':
      return withDismissed(document, edit.suggestions)
    case 'recall':
      return withRecalled(document, edit.suggestions)
    case 'crowded-from':
      if (!(edit.perMinute >= 1 && edit.perMinute <= 600))
        throw new EditError('bad-value', messages.between1And600Effects)
      return {
        document: { ...document, crowdedPerMinute: edit.perMinute },
        inverse: { do: 'crowded-from', perMinute: document.crowdedPerMinute },
      }
    case 'all': {
      if (depth >= DEEPEST) throw new EditError('too-deep', messages.changeNestedTooDeeply)
      let now = document
      const inverses: MomentsEdit[] = []
      for (const one of edit.edits) {
        const { document: next, inverse } = applied(now, one, depth + 1)
        now = next
        inverses.unshift(inverse)
      }
      return { document: now, inverse: { do: 'all', edits: inverses } }
    }
  }
}

function withAdded(document: MomentsDocument, added: readonly Moment[]): Edited {
  const ids = new Set(document.moments.map(({ id }) => id))
  for (const moment of added) {
    if (ids.has(moment.id)) throw new EditError('moment-twice', messages.theMomentIsThereAlready(moment.words))
    ids.add(moment.id)
    checkMoment(moment)
  }
  if (ids.size > MOMENT_LIMITS.moments)
    throw new EditError('too-many', messages.videoHasAtMostMoments(MOMENT_LIMITS.moments))
  return {
    document: { ...document, moments: inOrder([...document.moments, ...added]) },
    inverse: { do: 'remove', ids: added.map(({ id }) => id) },
  }
}

function withRemoved(document: MomentsDocument, ids: readonly string[]): Edited {
  const wanted = new Set(ids)
  const removed = document.moments.filter(({ id }) => wanted.has(id))
  if (removed.length < wanted.size) throw unknownMoment()
  return {
    document: { ...document, moments: document.moments.filter(({ id }) => !wanted.has(id)) },
    inverse: { do: 'add', moments: removed },
  }
}

function withChanged(document: MomentsDocument, changes: readonly ChangeById<MomentValues>[]): Edited {
  const { values, backwards } = changedById<Moment, MomentValues>(document.moments, changes, {
    check: checkMoment,
    missing: unknownMoment,
  })
  return { document: { ...document, moments: inOrder(values) }, inverse: { do: 'change', changes: backwards } }
}

function isSame(a: Dismissed, b: Dismissed): boolean {
  return a.kind === b.kind && a.atS === b.atS
}

function withDismissed(document: MomentsDocument, suggestions: readonly Dismissed[]): Edited {
  const fresh = suggestions.filter(
    (one, at) =>
      !document.dismissed.some((known) => isSame(known, one)) &&
      suggestions.findIndex((other) => isSame(other, one)) === at,
  )
  if (document.dismissed.length + fresh.length > MOMENT_LIMITS.dismissed)
    throw new EditError('too-many', messages.tooManySuggestionsArePut)
  return {
    document: { ...document, dismissed: [...document.dismissed, ...fresh] },
    inverse: { do: 'recall', suggestions: fresh },
  }
}

function withRecalled(document: MomentsDocument, suggestions: readonly Dismissed[]): Edited {
  const recalled = document.dismissed.filter((known) => suggestions.some((one) => isSame(known, one)))
  return {
    document: {
      ...document,
      dismissed: document.dismissed.filter((known) => !suggestions.some((one) => isSame(known, one))),
    },
    inverse: { do: 'dismiss', suggestions: recalled },
  }
}

function unknownMoment(): EditError {
  return new EditError('unknown-moment', messages.oneTheseMomentsNotThere)
}

function isTime(timeS: number): boolean {
  return Number.isFinite(timeS) && timeS >= 0 && timeS <= MOMENT_LIMITS.timeS
}

/** @throws {EditError} for a moment that cannot be. */
function checkMoment({ id, atS, endS, words, note, shortList, cutOutFromS }: Moment): void {
  if (!/^[\w-]{1,64}$/.test(id)) throw new EditError('bad-value', messages.momentHasNoProperId)
  if (!isTime(atS) || (endS !== null && !isTime(endS)) || (cutOutFromS !== null && !isTime(cutOutFromS)))
    throw new EditError('bad-time', messages.momentLiesBetweenStartCut)
  if (endS !== null && endS < atS) throw new EditError('bad-time', messages.spanEndsBeforeBeginsSwap)
  if (words.length > MOMENT_LIMITS.wordsLength)
    throw new EditError('bad-value', messages.sayInAtMostLetters(MOMENT_LIMITS.wordsLength))
  if (note.length > MOMENT_LIMITS.noteLength)
    throw new EditError('bad-value', messages.noteHasAtMostLetters(MOMENT_LIMITS.noteLength))
  const slots = new Set(shortList.map(({ slot }) => slot))
  const sounds = new Set(shortList.map(({ soundId }) => soundId))
  if (slots.size < shortList.length || sounds.size < shortList.length)
    throw new EditError('bad-value', messages.shortListNamesEachSound)
  if (shortList.length > SHORT_LIST_SLOTS.length)
    throw new EditError('too-many', messages.shortListHasAtMost(SHORT_LIST_SLOTS.length))
}

/**
 * Moves all moments from a time on.
 *
 * @param fromS Moments that begin here or later are moved. @param byS Negative for earlier; none goes before 0.
 */
export function shiftedAfter(document: MomentsDocument, { fromS, byS }: { fromS: number; byS: number }): MomentsEdit {
  const moved = (timeS: number): number => Math.max(0, timeS + byS)
  return {
    do: 'change',
    changes: document.moments
      .filter(({ atS }) => atS >= fromS)
      .map(({ id, atS, endS }) => ({ id, to: { atS: moved(atS), endS: endS === null ? null : moved(endS) } })),
  }
}
