import { useSyncExternalStore } from 'react'

const CHANGED = 'themechange'

function isDark(): boolean {
  const chosen = document.documentElement.dataset.theme
  return chosen ? chosen === 'ember' : matchMedia('(prefers-color-scheme: dark)').matches
}

function subscribe(onChange: () => void): () => void {
  const system = matchMedia('(prefers-color-scheme: dark)')
  document.addEventListener(CHANGED, onChange)
  system.addEventListener('change', onChange)
  return () => {
    document.removeEventListener(CHANGED, onChange)
    system.removeEventListener('change', onChange)
  }
}

/** Whether the dark theme is shown: as chosen, else as the system has it. */
export function useIsDark(): boolean {
  return useSyncExternalStore(subscribe, isDark)
}

/** Changes to the other theme, for this browser from now on. */
export function changeTheme(): void {
  const theme = isDark() ? 'bone' : 'ember'
  document.documentElement.dataset.theme = theme
  localStorage.setItem('theme', theme)
  document.dispatchEvent(new Event(CHANGED))
}
