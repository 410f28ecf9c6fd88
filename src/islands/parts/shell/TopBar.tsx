import { CircleHelp, Moon, ShoppingBasket, Sun } from 'lucide-react'
import { useState } from 'react'
import { Link, useRoute } from 'wouter'
import { useShell } from '../../api/queries'
import { counted } from '../../format/words'
import { HelpSheet } from './HelpSheet'
import { VideoInHand } from './VideoInHand'

/** The bar at the top: name, places, video in hand, theme and help. */
export function TopBar({ helpOpen, onHelp }: { helpOpen: boolean; onHelp: (open: boolean) => void }) {
  return (
    <header className="flex min-h-16 items-center gap-x-5 border-b ruled px-4 max-sm:flex-wrap max-sm:gap-x-2 max-sm:gap-y-2 max-sm:py-2">
      <Link href="/find" className="flex shrink-0 items-center gap-2" aria-label="Good Thud">
        <svg width="26" height="26" viewBox="0 0 32 32" aria-hidden="true">
          <path
            d="M2 20c4.500 0 4.500-10 8-10s2 15 5.500 15S19 5 22.500 5 25 20 30 20"
            fill="none"
            stroke="currentColor"
            strokeWidth="3.200"
            strokeLinecap="round"
          />
        </svg>
        <span className="font-display text-xl font-bold tracking-tight max-lg:hidden">Good Thud</span>
      </Link>
      <nav aria-label="Places" className="flex gap-1">
        <Place href="/desk" pattern="/desk">
          Desk
        </Place>
        <Place href="/find" pattern="/find/*?">
          Find
        </Place>
        <Place href="/shelf" pattern="/shelf">
          Shelf
        </Place>
        <Place href="/videos" pattern="/videos/*?">
          Videos
        </Place>
        <Place href="/papers" pattern="/papers/*?">
          Papers
        </Place>
        <Place href="/sources" pattern="/sources">
          Sources
        </Place>
      </nav>
      <div className="min-w-0 flex-1 max-sm:order-last max-sm:basis-full">
        <VideoInHand />
      </div>
      <BasketLink />
      <ThemeSwitch />
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label="Keys and help"
        onClick={() => onHelp(true)}
      >
        <CircleHelp size={18} aria-hidden="true" />
      </button>
      {helpOpen && <HelpSheet onClose={() => onHelp(false)} />}
    </header>
  )
}

/** The way to the basket, while something is in it. */
function BasketLink() {
  const count = useShell().data?.basketCount ?? 0
  if (count === 0) return null
  return (
    <Link href="/basket" className="btn btn-ghost btn-sm gap-1.5" aria-label={`Basket, ${counted(count, 'sound')}`}>
      <ShoppingBasket size={18} aria-hidden="true" />
      <span className="tabular-nums">{count}</span>
    </Link>
  )
}

function Place({ href, pattern, children }: { href: string; pattern: string; children: string }) {
  const [active] = useRoute(pattern)
  return (
    <Link
      href={href}
      aria-current={active ? 'page' : undefined}
      className={`border-b-2 px-2.5 py-1.5 font-semibold max-sm:px-1.5 max-sm:text-sm ${active ? 'border-primary' : 'border-transparent hover:border-base-300'}`}
    >
      {children}
    </Link>
  )
}

function ThemeSwitch() {
  const [dark, setDark] = useState(() => {
    const chosen = document.documentElement.dataset.theme
    return chosen ? chosen === 'ember' : matchMedia('(prefers-color-scheme: dark)').matches
  })
  const change = (): void => {
    const theme = dark ? 'bone' : 'ember'
    document.documentElement.dataset.theme = theme
    localStorage.setItem('theme', theme)
    setDark(!dark)
  }
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      aria-label={dark ? 'Use the light theme' : 'Use the dark theme'}
      onClick={change}
    >
      {dark ? <Sun size={18} aria-hidden="true" /> : <Moon size={18} aria-hidden="true" />}
    </button>
  )
}
