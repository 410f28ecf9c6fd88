import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'
import type { SoundSummary } from '../../contract'

/** At most so many sounds are compared: as many as there are keys for at a glance. */
export const COMPARED_MAX = 6

/** Sounds that are pinned to be heard against each other. */
export interface Compare {
  readonly sounds: readonly SoundSummary[]
  has(id: number): boolean
  /** Pins a sound, or lets it go. The seventh takes the place of the first. */
  toggle(sound: SoundSummary): void
  clear(): void
}

const CompareContext = createContext<Compare | null>(null)

export function CompareProvider({ children }: { children: ReactNode }) {
  const [sounds, setSounds] = useState<readonly SoundSummary[]>([])
  const compare = useMemo(
    (): Compare => ({
      sounds,
      has: (id) => sounds.some((sound) => sound.id === id),
      toggle: (sound) => setSounds((known) => withToggled(known, sound)),
      clear: () => setSounds([]),
    }),
    [sounds],
  )
  return <CompareContext value={compare}>{children}</CompareContext>
}

export function withToggled<T extends { readonly id: number }>(known: readonly T[], sound: T): T[] {
  const rest = known.filter(({ id }) => id !== sound.id)
  return rest.length < known.length ? rest : [...rest, sound].slice(-COMPARED_MAX)
}

export function useCompare(): Compare {
  const compare = useContext(CompareContext)
  if (!compare) throw new Error('useCompare outside of CompareProvider')
  return compare
}
