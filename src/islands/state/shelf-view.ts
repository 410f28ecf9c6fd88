import type { Shelf, ShelfSound } from '../../contract'
import { messages } from '../../messages'

/** What of the Shelf is looked at. */
export type ShelfView =
  | { readonly kind: 'all' | 'kept' | 'copies' | 'own' | 'habits' | 'twice' }
  | { readonly kind: 'collection'; readonly id: number }

export const VIEW_WORDS: Readonly<Record<Exclude<ShelfView['kind'], 'collection'>, string>> = {
  all: messages.shell.everything,
  kept: messages.common.kept,
  copies: messages.shell.copies,
  own: messages.shell.myOwn,
  habits: messages.shell.withAHabit,
  twice: messages.shell.duplicates,
}

/** Sounds of a view, in its order; those of a collection in the one the creator gave it. @param text Words that all have to be there. */
export function shelfSounds({ sounds, collections, duplicates }: Shelf, view: ShelfView, text: string): ShelfSound[] {
  const byId = new Map(sounds.map((sound) => [sound.id, sound]))
  const named = (ids: readonly number[]): ShelfSound[] => ids.flatMap((id) => byId.get(id) ?? [])
  const inView =
    view.kind === 'collection'
      ? named(collections.find(({ id }) => id === view.id)?.soundIds ?? [])
      : view.kind === 'twice'
        ? named([...new Set(duplicates.flatMap(({ soundIds }) => soundIds))])
        : sounds.filter((sound) => isIn(sound, view.kind))
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  return inView.filter((sound) => words.every((word) => shelfText(sound).includes(word)))
}

function isIn(sound: ShelfSound, kind: Exclude<ShelfView['kind'], 'collection'>): boolean {
  switch (kind) {
    case 'kept':
      return sound.kept
    case 'copies':
      return sound.copySha256 !== null
    case 'own':
      return sound.source.kind !== 'library'
    case 'habits':
      return sound.habits.length > 0
    default:
      return true
  }
}

function shelfText(sound: ShelfSound): string {
  const { title, originalTitle, maker, category, note, habits, source, fileName } = sound
  return [title, originalTitle, maker, category, note, ...habits, source.name, fileName].join(' ').toLowerCase()
}

/** Where a sound of a collection comes to lie when it is dropped over another: the one it is put before, or null for the end. */
export function beforeAfterDrop(ids: readonly number[], moved: number, over: number): number | null {
  const from = ids.indexOf(moved)
  const to = ids.indexOf(over)
  if (to < 0 || from === to) return ids[from + 1] ?? null
  return from < to && from >= 0 ? (ids[to + 1] ?? null) : over
}
