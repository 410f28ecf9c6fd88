import { Link, useLocation } from 'wouter'
import { messages } from '../../../messages'

const PARTS: readonly (readonly [string, string])[] = [
  ['/papers', messages.papers.copies],
  ['/papers/may-i', messages.papers.mayI],
  ['/papers/terms', messages.common.terms],
  ['/papers/orders', messages.common.orders],
  ['/papers/ledger', messages.papers.ledger],
]

/** Heading of the place Papers with the ways into it. */
export function PapersNav({ children }: { children?: React.ReactNode }) {
  const [location] = useLocation()
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2 px-4 pt-4 pb-3">
      <h1 className="text-2xl font-semibold">{messages.common.papers}</h1>
      <nav aria-label={messages.common.papers} className="flex gap-4">
        {PARTS.map(([href, name]) => {
          const here = href === '/papers' ? location === href : location.startsWith(href)
          return (
            <Link
              key={href}
              href={href}
              aria-current={here ? 'page' : undefined}
              className={`border-b-2 pb-0.5 ${here ? 'border-primary font-semibold' : 'border-transparent'}`}
            >
              {name}
            </Link>
          )
        })}
      </nav>
      {children}
    </div>
  )
}
