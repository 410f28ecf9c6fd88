import { type RefObject, useEffect, useState } from 'react'
import type { MapInk } from './draw'

/** Names of the theme's colours for each part of the map. */
const NAMES: Readonly<Record<keyof MapInk, string>> = {
  wave: '--band-2',
  line: '--line',
  quiet: '--quiet',
  loudness: '--band-1',
  ink: '--color-base-content',
  error: '--color-error',
  warning: '--color-warning',
  success: '--color-success',
  primary: '--color-primary',
  speech: '--band-2',
  music: '--band-3',
  noise: '--band-4',
}

/** The colours of the theme as a canvas takes them; followed as the theme changes. Null before there is an element. */
export function useInk(ref: RefObject<HTMLElement | null>): MapInk | null {
  const [ink, setInk] = useState<MapInk | null>(null)
  useEffect(() => {
    const read = (): void => {
      const host = ref.current
      if (!host) return
      const probe = document.createElement('span')
      host.append(probe)
      const entries = Object.entries(NAMES).map(([key, name]) => {
        probe.style.color = `var(${name})`
        return [key, getComputedStyle(probe).color]
      })
      probe.remove()
      setInk(Object.fromEntries(entries) as unknown as MapInk)
    }
    read()
    const observer = new MutationObserver(read)
    observer.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] })
    const dark = matchMedia('(prefers-color-scheme: dark)')
    dark.addEventListener('change', read)
    return () => {
      observer.disconnect()
      dark.removeEventListener('change', read)
    }
  }, [ref])
  return ink
}
