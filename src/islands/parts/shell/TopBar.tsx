import { CircleHelp, Compass, Moon, ShoppingBasket, Sun } from 'lucide-react'
import { Link, useRoute } from 'wouter'
import { messages } from '../../../messages'
import { useShell } from '../../api/queries'
import { changeTheme, useIsDark } from '../../state/theme'
import { HelpSheet } from './HelpSheet'
import { VideoInHand } from './VideoInHand'

/** The bar at the top: name, places, video in hand, theme and help. */
export function TopBar(props: {
  readonly helpOpen: boolean
  readonly onHelp: (open: boolean) => void
  readonly onPalette: () => void
}) {
  const { helpOpen, onHelp, onPalette } = props
  return (
    <header className="flex min-h-16 items-center gap-x-5 border-b ruled px-4 max-md:flex-wrap max-md:gap-x-2 max-md:gap-y-2 max-md:py-2">
      <Link href="/find" className="flex shrink-0 items-center gap-2" aria-label={messages.shell.goodThud}>
        <svg width="26" height="26" viewBox="0 0 32 32" aria-hidden="true">
          <path
            d="M2 20c4.500 0 4.500-10 8-10s2 15 5.500 15S19 5 22.500 5 25 20 30 20"
            fill="none"
            stroke="currentColor"
            strokeWidth="3.200"
            strokeLinecap="round"
          />
        </svg>
        <span className="font-display text-xl font-bold tracking-tight max-lg:hidden">{messages.shell.goodThud}</span>
      </Link>
      <nav aria-label={messages.shell.places} className="flex gap-1">
        <Place href="/desk" pattern="/desk">
          {messages.shell.desk}
        </Place>
        <Place href="/find" pattern="/find/*?">
          {messages.shell.find}
        </Place>
        <Place href="/shelf" pattern="/shelf">
          {messages.common.shelf}
        </Place>
        <Place href="/videos" pattern="/videos/*?">
          {messages.common.videos}
        </Place>
        <Place href="/papers" pattern="/papers/*?">
          {messages.common.papers}
        </Place>
        <Place href="/sources" pattern="/sources">
          {messages.shell.sources}
        </Place>
      </nav>
      <div className="min-w-0 flex-1 max-md:order-last max-md:basis-full">
        <VideoInHand />
      </div>
      <BasketLink />
      <div className="flex shrink-0 items-center gap-1 max-md:ml-auto">
        <button
          type="button"
          className="btn btn-ghost btn-sm gap-1.5 px-2"
          aria-label={messages.shell.goToOrDo}
          aria-keyshortcuts="Control+K Meta+K"
          title={messages.shell.goToAPlaceAVideoOrASound}
          onClick={onPalette}
        >
          <Compass size={18} aria-hidden="true" />
          <kbd className="kbd kbd-xs max-lg:hidden">Ctrl K</kbd>
        </button>
        <ThemeSwitch />
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={messages.shell.keysAndHelp}
          onClick={() => onHelp(true)}
        >
          <CircleHelp size={18} aria-hidden="true" />
        </button>
      </div>
      {helpOpen && <HelpSheet onClose={() => onHelp(false)} />}
    </header>
  )
}

/** The way to the basket, while something is in it. */
function BasketLink() {
  const count = useShell().data?.basketCount ?? 0
  if (count === 0) return null
  return (
    <Link
      href="/basket"
      className="btn btn-ghost btn-sm gap-1.5"
      aria-label={messages.shell.basketWithSounds(messages.counts.sounds(count))}
    >
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
  const isDark = useIsDark()
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      aria-label={isDark ? messages.shell.useTheLightTheme : messages.shell.useTheDarkTheme}
      onClick={changeTheme}
    >
      {isDark ? <Sun size={18} aria-hidden="true" /> : <Moon size={18} aria-hidden="true" />}
    </button>
  )
}
